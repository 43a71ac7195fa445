// Package contentsql stores contents, and what they refer to.
package contentsql

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/content"
	"glasspocket/internal/store"
)

// Column is a content in a column, as JSON.
type Column struct{ content.Content }

// Value implements driver.Valuer.
func (c Column) Value() (driver.Value, error) {
	text, err := json.Marshal(c.Content)
	return string(text), err
}

// Scan implements sql.Scanner.
func (c *Column) Scan(src any) error {
	switch text := src.(type) {
	case string:
		return json.Unmarshal([]byte(text), &c.Content)
	case []byte:
		return json.Unmarshal(text, &c.Content)
	}
	return fmt.Errorf("a content is stored as %T", src)
}

// Owners of references.
const (
	Draft = "draft"
	Live  = "live"
)

// Hot are the statements of SetUses, for store.DB.Hot.
var Hot = []string{deleteUses, insertUse}

const (
	deleteUses = "DELETE FROM uses WHERE key = ? AND of = ?"
	insertUse  = "INSERT INTO uses (customer_id, kind, id, key, of) VALUES (?, ?, ?, ?, ?)"
)

// SetUses replaces what one owner of a pocket refers to.
func SetUses(db *store.DB, tx *sqlx.Tx, customer, key, of string, list []content.Reference) error {
	if _, err := db.Exec(tx, deleteUses, key, of); err != nil {
		return err
	}
	for _, r := range list {
		if _, err := db.Exec(tx, insertUse, customer, r.Kind, r.ID, key, of); err != nil {
			return err
		}
	}
	return nil
}
