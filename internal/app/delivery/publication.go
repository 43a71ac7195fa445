package delivery

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/problem"
)

func (a *Delivery) Publication(ctx context.Context, key string, number int) (Publication, error) {
	pub, err := a.store.Publication(ctx, key, number)
	if errors.Is(err, problem.ErrNotFound) {
		return pub, problem.Missing("publication", fmt.Sprintf("%s %d", key, number), "List the publications to see their numbers.")
	}
	return pub, err
}

// Publication is an immutable snapshot of a pocket.
type Publication struct {
	Key         string          `db:"key"`
	Number      int             `db:"number"` // 1, 2, … within the pocket
	CustomerID  string          `db:"customer_id"`
	ReleaseID   int64           `db:"release_id"`
	Release     int             `db:"release_number"`
	Settings    json.RawMessage `db:"settings"` // complete
	Language    string          `db:"language"`
	Title       string          `db:"title"`
	Heights     json.RawMessage `db:"heights"` // []widget.Height
	Revision    int             `db:"revision"`
	At          time.Time       `db:"at"`
	By          string          `db:"by"`
	Client      string          `db:"client"`
	Follow      bool            `db:"follow"`      // shown with the newest release that accepts its settings
	Restores    int             `db:"restores"`    // number of the restored publication, 0 for none
	Unpublished bool            `db:"unpublished"` // it takes the pocket offline and has no settings
	Cues        string          `db:"cues"`        // when and where it shows, as JSON; "" for everywhere
	Brand       string          `db:"-"`           // names of brand values that it refers to, with a space around each
	Schedule    int64           `db:"-"`           // ID of its schedule, 0 for none
}
