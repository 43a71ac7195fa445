// Package contentsql stores contents, and what they refer to.
package contentsql

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/content"
	"glasspocket/internal/jsondoc"
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
		return c.scan([]byte(text))
	case []byte:
		return c.scan(text)
	}
	return fmt.Errorf("a content is stored as %T", src)
}

// scan reads the settings, which are nearly all of a content, on their own: encoding/json would read
// them three times.
func (c *Column) scan(text []byte) error {
	settings, rest, ok := jsondoc.DecodeMember(text, "settings")
	if !ok {
		return json.Unmarshal(text, &c.Content)
	}
	err := json.Unmarshal(rest, &c.Content)
	c.Settings = settings
	return err
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
