package app

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/fault"
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

// PocketQuery filters and orders a list of pockets.
type PocketQuery struct {
	CustomerID string // "" for all that are visible
	Search     string // in title or key, ignoring case
	Widget     string
	State      string
	Behind     bool // published with an older release than the newest, and not following
	Order      string
	Descending bool
	After      *PocketMark // start after it; nil for the first page
	Limit      int
}

// PocketMark is a position in a list: the values that sorted the last row. If the list changes,
// rows that stay in place are neither repeated nor left out.
type PocketMark struct {
	Title string    `json:"t,omitempty"`
	At    time.Time `json:"a,omitzero"`
	Key   string    `json:"k"`
}

// Mark returns the position of a pocket in a list.
func (q PocketQuery) Mark(p Pocket) PocketMark {
	m := PocketMark{Key: p.Key}
	switch q.Order {
	case ByTitle:
		m.Title = p.Title
	case ByChange:
		m.At = p.DraftAt
	}
	return m
}

// String returns a mark as a cursor.
func (m PocketMark) String() string {
	text, _ := json.Marshal(m)
	return base64.RawURLEncoding.EncodeToString(text)
}

// ReadMark reads a cursor.
func ReadMark(cursor string) (*PocketMark, error) {
	if cursor == "" {
		return nil, nil
	}
	text, err := base64.RawURLEncoding.DecodeString(cursor)
	var m PocketMark
	if err == nil {
		err = json.Unmarshal(text, &m)
	}
	if err != nil || m.Key == "" {
		return nil, faultyCursor()
	}
	return &m, nil
}

func faultyCursor() *Error {
	return &Error{Kind: Invalid, Code: "cursor-faulty", Field: "cursor", What: "This cursor does not belong to this list.", Hint: "Send the value of “next” from the last response."}
}

// searchMost is the longest search, in characters.
const searchMost = 100

func (q *PocketQuery) check() error {
	q.Search = strings.TrimSpace(q.Search)
	switch {
	case q.Order == "":
		q.Order = ByKey
	case !slices.Contains(orders, q.Order):
		return &Error{Kind: Invalid, Code: "order-unknown", Field: "order", What: fmt.Sprintf("Pockets cannot be sorted by %q.", q.Order), Hint: fault.DidYouMean(q.Order, orders)}
	}
	if q.State != "" && !slices.Contains(states, q.State) {
		return &Error{Kind: Invalid, Code: "state-unknown", Field: "state", What: fmt.Sprintf("There is no state %q.", q.State), Hint: fault.DidYouMean(q.State, states)}
	}
	if m := q.After; m != nil && (q.Order == ByTitle && m.Title == "" || q.Order == ByChange && m.At.IsZero()) {
		return faultyCursor() // it is from a list in another order
	}
	if utf8.RuneCountInString(q.Search) > searchMost {
		return searchTooLong()
	}
	return nil
}

func searchTooLong() *Error {
	return &Error{Kind: Invalid, Code: "search-too-long", Field: "search", What: fmt.Sprintf("A search can have at most %d characters.", searchMost), Hint: "Shorten it."}
}

// Owners returns the names of the pockets' customers by ID. Everybody who can read the pockets may
// read these.
func (a *App) Owners(ctx context.Context, pockets []Pocket) (map[string]string, error) {
	var ids []string
	for _, p := range pockets {
		if !slices.Contains(ids, p.CustomerID) {
			ids = append(ids, p.CustomerID)
		}
	}
	return a.store.CustomerNames(ctx, ids)
}

// Pockets lists visible pockets.
func (a *App) Pockets(ctx context.Context, s Scope, q PocketQuery) ([]Pocket, error) {
	if err := s.require(seeLists); err != nil {
		return nil, err
	}
	if err := q.check(); err != nil {
		return nil, err
	}
	if only := s.only(); !s.Operator() {
		if q.CustomerID != "" && q.CustomerID != only {
			return nil, nil
		}
		q.CustomerID = only
	}
	return a.store.Pockets(ctx, q)
}
