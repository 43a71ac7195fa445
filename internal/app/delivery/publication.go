package delivery

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/content"
	"glasspocket/internal/problem"
)

// Publication returns a publication of a pocket.
func (a *Delivery) Publication(ctx context.Context, key string, number int) (Publication, error) {
	pub, err := a.store.Publication(ctx, key, number)
	if errors.Is(err, problem.ErrNotFound) {
		return pub, problem.Missing("publication", fmt.Sprintf("%s %d", key, number), "List the publications to see their numbers.")
	}
	return pub, err
}

// Publication is an immutable snapshot of a pocket.
type Publication struct {
	Key        string `db:"key"`
	Number     int    `db:"number"` // 1, 2, … within the pocket
	CustomerID string `db:"customer_id"`
	ReleaseID  int64  `db:"release_id"`
	Release    int    `db:"release_number"`
	content.Content
	Heights     json.RawMessage `db:"heights"` // []widget.Height
	Revision    int             `db:"revision"`
	At          time.Time       `db:"at"`
	By          string          `db:"by"`
	Client      string          `db:"client"`
	Restores    int             `db:"restores"`    // number of the restored publication, 0 for none
	Unpublished bool            `db:"unpublished"` // it takes the pocket offline and has no settings
	// References are what it refers to. They are written with it, and not read.
	References []content.Reference `db:"-"`
	Schedule   int64               `db:"-"` // ID of its schedule, 0 for none
}
