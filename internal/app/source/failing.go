package source

import (
	"context"
	"time"

	"glasspocket/internal/app/access"
)

// NoticeAfter is how long a source fails before its customer gets a notice. Shorter failures are
// common, and pass without anybody's help.
const NoticeAfter = 24 * time.Hour

// failingMost is how many sources a notice names.
const failingMost = 50

// Failing is a source that could not be fetched, in a pocket that shows its items.
type Failing struct {
	Key        string // of the pocket
	ID, Name   string
	CustomerID string
	Since      time.Time
	ChangedAt  *time.Time // of the items that visitors see
	Why, Hint  string
	Ended      bool // it is not fetched any more
}

// Failing lists the sources that have failed for NoticeAfter, or have ended, the latest first.
// Pockets do not matter: Key is "".
func (a *Sources) Failing(ctx context.Context, s access.Scope) ([]Failing, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return nil, err
	}
	only := ""
	if !s.Operator() {
		only = s.Only()
	}
	return a.store.FailingSources(ctx, only, a.now().Add(-NoticeAfter), failingMost)
}

// FailingIn lists the sources of pockets that could not be fetched last time.
func (a *Sources) FailingIn(ctx context.Context, keys []string) ([]Failing, error) {
	if len(keys) == 0 {
		return nil, nil
	}
	return a.store.FailingIn(ctx, keys)
}

// Age is how current the items of a published pocket are, for whoever looks at a page. It does not
// name the source.
type Age struct {
	CheckedAt *time.Time `json:"checkedAt,omitempty"` // the last response
	ChangedAt *time.Time `json:"changedAt,omitempty"` // of the items
	Since     *time.Time `json:"since,omitempty"`     // the first of the failures since then
	Why       string     `json:"why,omitempty"`
}

// Ages returns the age of each source of a pocket's live version. It is empty if there is none.
func (a *Sources) Ages(ctx context.Context, key string) ([]Age, error) {
	return a.store.Ages(ctx, key)
}
