package pocket

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
)

// Orders of a list of pockets.
const (
	ByKey    = "key"
	ByTitle  = "title"
	ByChange = "changed" // by the last change of the draft
)

// States by which a list can be filtered.
const (
	StateUnpublished = "unpublished"
	StatePublished   = "published"
	StateChanged     = "changed"
	StateWithheld    = "withheld"
)

var (
	orders = []string{ByKey, ByTitle, ByChange}
	states = []string{StateUnpublished, StatePublished, StateChanged, StateWithheld}
)

// Query filters and orders a list of pockets.
type Query struct {
	CustomerID string // "" for all that are visible
	Search     string // in title or key, ignoring case
	Widget     string
	State      string
	Behind     bool // published with an older release than the newest, and not following
	Order      string
	Descending bool
	After      *Mark // start after it; nil for the first page
	Limit      int
}

// Mark is a position in a list: the values that sorted the last row. If the list changes,
// rows that stay in place are neither repeated nor left out.
type Mark struct {
	Title string    `json:"t,omitempty"`
	At    time.Time `json:"a,omitzero"`
	Key   string    `json:"k"`
}

// Mark returns the position of a pocket in a list.
func (q Query) Mark(p Pocket) Mark {
	m := Mark{Key: p.Key}
	switch q.Order {
	case ByTitle:
		m.Title = p.Title
	case ByChange:
		m.At = p.DraftAt
	}
	return m
}

// String returns a mark as a cursor.
func (m Mark) String() string {
	text, _ := json.Marshal(m)
	return base64.RawURLEncoding.EncodeToString(text)
}

// ReadMark reads a cursor.
func ReadMark(cursor string) (*Mark, error) {
	if cursor == "" {
		return nil, nil
	}
	text, err := base64.RawURLEncoding.DecodeString(cursor)
	var m Mark
	if err == nil {
		err = json.Unmarshal(text, &m)
	}
	if err != nil || m.Key == "" {
		return nil, faultyCursor()
	}
	return &m, nil
}

func faultyCursor() *problem.Error {
	return &problem.Error{Kind: problem.Invalid, Code: "cursor-faulty", Field: "cursor", What: "This cursor does not belong to this list.", Hint: "Send the value of “next” from the last response."}
}

func (q *Query) check() error {
	q.Search = strings.TrimSpace(q.Search)
	switch {
	case q.Order == "":
		q.Order = ByKey
	case !slices.Contains(orders, q.Order):
		return &problem.Error{Kind: problem.Invalid, Code: "order-unknown", Field: "order", What: fmt.Sprintf("Pockets cannot be sorted by %q.", q.Order), Hint: fault.DidYouMean(q.Order, orders)}
	}
	if q.State != "" && !slices.Contains(states, q.State) {
		return &problem.Error{Kind: problem.Invalid, Code: "state-unknown", Field: "state", What: fmt.Sprintf("There is no state %q.", q.State), Hint: fault.DidYouMean(q.State, states)}
	}
	if m := q.After; m != nil && (q.Order == ByTitle && m.Title == "" || q.Order == ByChange && m.At.IsZero()) {
		return faultyCursor() // it is from a list in another order
	}
	if utf8.RuneCountInString(q.Search) > problem.SearchMost {
		return problem.SearchTooLong()
	}
	return nil
}

// Owners returns the names of the pockets' customers by ID. Everybody who can read the pockets may
// read these.
func (a *Pockets) Owners(ctx context.Context, pockets []Pocket) (map[string]string, error) {
	var ids []string
	for _, p := range pockets {
		if !slices.Contains(ids, p.CustomerID) {
			ids = append(ids, p.CustomerID)
		}
	}
	return a.store.CustomerNames(ctx, ids)
}

// List lists visible pockets, without their settings.
func (a *Pockets) List(ctx context.Context, s access.Scope, q Query) ([]Pocket, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return nil, err
	}
	if err := q.check(); err != nil {
		return nil, err
	}
	if only := s.Only(); !s.Operator() {
		if q.CustomerID != "" && q.CustomerID != only {
			return nil, nil
		}
		q.CustomerID = only
	}
	return a.store.Pockets(ctx, q)
}

// ServedReleases sets, for pockets that follow, the release that their visitors receive instead of
// the one that they were published with.
func (a *Pockets) ServedReleases(ctx context.Context, list []Pocket) error {
	var keys []string
	for _, p := range list {
		if p.Follow && p.Publication > 0 {
			keys = append(keys, p.Key)
		}
	}
	if len(keys) == 0 {
		return nil
	}
	numbers, err := a.store.ServedReleases(ctx, keys)
	for i, p := range list {
		if n := numbers[p.Key]; n > 0 {
			list[i].Release = n
		}
	}
	return err
}
