package store

import (
	"database/sql"
	"strings"
)

// Containing returns a LIKE pattern with ESCAPE '\' that finds a text anywhere.
func Containing(text string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
}

// OneRow returns none if a statement has changed no row.
func OneRow(r sql.Result, err, none error) error {
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil {
		return err
	} else if n == 0 {
		return none
	}
	return nil
}
