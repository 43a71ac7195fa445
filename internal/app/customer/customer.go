package customer

import (
	"encoding/json"
	"time"
)

// Customer owns pockets.
type Customer struct {
	ID        string    `db:"id"` // readable, never changes
	Name      string    `db:"name"`
	CreatedAt time.Time `db:"created_at"`
	Withheld
	Revision      int             `db:"revision"` // counts changes of the fields below, from 1
	Zone          string          `db:"zone"`     // IANA name
	Language      string          `db:"language"` // of new pockets if the widget supports it; "" for the widget's first
	Sites         json.RawMessage `db:"sites"`    // []string: domains
	Brand         json.RawMessage `db:"brand"`    // setting.Brand
	BrandRevision int             `db:"brand_revision"`
	Assets        []string        `db:"-"` // digests of the brand's; they are written with it, and not read
}
