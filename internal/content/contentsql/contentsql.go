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
	settings, err := scan(src, &c.Content)
	if err != nil || settings == nil {
		return err
	}
	return json.Unmarshal(settings, &c.Settings)
}

// Brief is a column of which the settings are not read, for lists.
type Brief struct{ content.Content }

// Scan implements sql.Scanner.
func (b *Brief) Scan(src any) error {
	_, err := scan(src, &b.Content)
	return err
}

// scan reads everything but the settings, which are most of a content: encoding/json would read them
// several times.
func scan(src any, c *content.Content) (settings []byte, err error) {
	var text []byte
	switch src := src.(type) {
	case string:
		text = []byte(src)
	case []byte:
		text = src
	default:
		return nil, fmt.Errorf("a content is stored as %T", src)
	}
	settings, rest, ok := jsondoc.CutMember(text, "settings")
	if !ok {
		rest = text
	}
	return settings, json.Unmarshal(rest, c)
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
