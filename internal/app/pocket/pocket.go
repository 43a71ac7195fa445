package pocket

import (
	"encoding/json"
	"glasspocket/internal/app/customer"
	"time"
)

// Pocket is a customer's configured copy of a widget.
type Pocket struct {
	Key         string          `db:"key"`
	CustomerID  string          `db:"customer_id"`
	Widget      string          `db:"widget"`
	Title       string          `db:"title"`
	Language    string          `db:"language"`
	Starter     string          `db:"starter"`
	Settings    json.RawMessage `db:"settings"` // the draft: an object of checked values
	Revision    int             `db:"revision"` // counts the draft's changes, from 1
	DraftAt     time.Time       `db:"draft_at"`
	DraftBy     string          `db:"draft_by"` // who last changed it
	CreatedAt   time.Time       `db:"created_at"`
	Publication int             `db:"publication"`        // number of the live version, 0 for none
	Newest      int             `db:"newest"`             // number of the newest publication, live or not
	PublishedAt time.Time       `db:"published_at"`       // of the live version
	PublishedOf int             `db:"published_revision"` // the revision of the draft that was published
	Release     int             `db:"release_number"`     // of the live version
	Follow      bool            `db:"follow"`             // publications follow the newest release
	// Names of brand values in the draft and in the live version, with a space around each.
	BrandDraft     string `db:"brand_draft"`
	BrandPublished string `db:"brand_published"`
	// When and where it shows, as JSON, "" for everywhere: of the draft, and of the live version;
	// see cue.Read.
	Cues          string `db:"cues"`
	CuesPublished string `db:"cues_published"`
	Lot           int    `db:"lot"` // 0 to 99, random: a release with a larger share is rolled out to it
	customer.Withheld
}
