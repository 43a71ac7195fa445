package pocket

import (
	"time"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/content"
)

// Pocket is a customer's configured copy of a widget.
type Pocket struct {
	Key        string `db:"key"`
	CustomerID string `db:"customer_id"`
	Widget     string `db:"widget"`
	Starter    string `db:"starter"`
	// The draft. It follows if the live version does.
	content.Content
	Revision    int       `db:"revision"` // counts the draft's changes, from 1
	DraftAt     time.Time `db:"draft_at"`
	DraftBy     string    `db:"draft_by"` // who last changed it
	CreatedAt   time.Time `db:"created_at"`
	Publication int       `db:"publication"`        // number of the live version, 0 for none
	Newest      int       `db:"newest"`             // number of the newest publication, live or not
	PublishedAt time.Time `db:"published_at"`       // of the live version
	PublishedOf int       `db:"published_revision"` // the revision of the draft that was published
	Release     int       `db:"release_number"`     // of the live version
	Lot         int       `db:"lot"`                // 0 to 99, random: a release with a larger share is rolled out to it
	customer.Withheld
	// References are what the draft refers to. They are written with it, and not read.
	References []content.Reference `db:"-"`
}
