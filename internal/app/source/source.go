// Package source has the sources of customers' content: it connects them, fetches them in the
// background, keeps their items, and selects the items that a pocket shows.
package source

import (
	"context"
	"errors"
	"sync"
	"time"

	"github.com/maypok86/otter/v2"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
	"glasspocket/internal/vault"
)

// Source is where content comes from: an address that is fetched, or an uploaded file.
type Source struct {
	ID         string
	CustomerID string
	Name       string
	Reader     string // name of a feed.Reader
	Address    string // "" for a file
	FileName   string
	Options    feed.Options
	SecretIn   string // feed.Bearer and so on, "" without a secret
	SecretName string
	Secret     []byte // encrypted
	CreatedAt  time.Time
	CreatedBy  string
	Revision   int // of the fields above

	Items     int   // how many it has
	Stock     int64 // revision of the items
	About     About
	ChangedAt *time.Time // of the items
	Health

	Push     Push
	Progress Progress  // of its fetches
	Next     time.Time // when it is fetched next; zero for a file, and if it has ended
}

// About is what a source says about itself.
type About struct {
	Title    string      `json:"title,omitempty"`
	Link     string      `json:"link,omitempty"`
	Icon     string      `json:"icon,omitempty"`
	Place    string      `json:"place,omitempty"`
	Language string      `json:"language,omitempty"`
	Rated    feed.Rated  `json:"rated,omitzero"`
	Hub      string      `json:"hub,omitempty"`
	Topic    string      `json:"topic,omitempty"`
	Credit   item.Credit `json:"credit,omitzero"`
	Repairs  []string    `json:"repairs,omitempty"`
	Skipped  []string    `json:"skipped,omitempty"`
}

// Health is whether fetches succeed.
type Health struct {
	FailingSince *time.Time
	Why, Hint    string
	EndedAt      *time.Time // it says that it is gone, so it is not fetched any more
}

// Progress is what the last fetch learned for the next one. It is stored with the task.
type Progress struct {
	CheckedAt    time.Time `json:"checkedAt,omitzero"` // of the last response, changed or not
	ReadAt       time.Time `json:"readAt,omitzero"`    // when the items were last read
	ETag         string    `json:"etag,omitempty"`
	LastModified string    `json:"lastModified,omitempty"`
	Sum          string    `json:"sum,omitempty"` // digest of the document
	Rolling      bool      `json:"rolling,omitempty"`
	Every        int       `json:"every,omitempty"`     // seconds; the source asks not to be fetched more often
	Unchanged    int       `json:"unchanged,omitempty"` // fetches in a row
	Failures     int       `json:"failures,omitempty"`  // in a row
	// Pending says that the images of new items have not been fetched yet.
	Pending bool `json:"pending,omitempty"`
}

// Fetch is an entry of a source's history.
type Fetch struct {
	ID      int64     `db:"id"`
	At      time.Time `db:"at"`
	LastAt  time.Time `db:"last_at"` // of the last one with the same result
	Times   int       `db:"times"`
	Status  int       `db:"status"` // of HTTP, 0 for no response
	Bytes   int       `db:"bytes"`
	Took    int       `db:"took"` // milliseconds
	Added   int       `db:"added"`
	Changed int       `db:"changed"`
	Removed int       `db:"removed"`
	By      string    `db:"by"`  // who asked for it, "" for the service
	Why     string    `db:"why"` // it failed
}

// FetchesMost is how many entries of the history are kept.
const FetchesMost = 60

// Most is how many sources a customer can have.
const Most = 200

// Sources connects, fetches and selects. It is safe for concurrent use.
type Sources struct {
	store     Store
	customers *customer.Customers
	signals   *signal.Signals
	web       feed.Web
	vault     *vault.Vault
	base      string
	// directories are addresses of OpenSearch descriptions.
	directories []string
	wake        func()
	notice      func(what string, about ...any)
	now         func() time.Time
	stocks      *otter.Cache[string, *stocked]
	pushes      sync.Map // time of the last push, by source
	fetching    locks    // fetches of one source do not overlap
	// reading has room for one: documents are read one after another, because reading keeps a
	// processor busy, and visitors would wait.
	reading chan struct{}
}

// Options are the parts of Sources. All are required.
type Options struct {
	Store     Store
	Customers *customer.Customers
	Signals   *signal.Signals
	Web       feed.Web
	Vault     *vault.Vault
	Base      string // public address, which hubs call
	// Directories are the addresses of OpenSearch descriptions, in which businesses are searched.
	Directories []string
	Wake        func() // wakes the work engine
	// Notice tells the operator what no response can tell. about has keys and values alternately.
	Notice func(what string, about ...any)
	Now    func() time.Time
}

// stocksKept is how much memory the items of sources may take, in items.
const stocksKept = 60_000

// New returns Sources.
func New(o Options) *Sources {
	return &Sources{store: o.Store, customers: o.Customers, signals: o.Signals, web: o.Web, vault: o.Vault, base: o.Base, directories: o.Directories, wake: o.Wake, notice: o.Notice, now: o.Now,
		fetching: locks{held: map[string]*held{}}, reading: make(chan struct{}, 1),
		stocks: otter.Must(&otter.Options[string, *stocked]{MaximumWeight: stocksKept, Weigher: func(_ string, s *stocked) uint32 { return uint32(len(s.items)) + 1 }})}
}

// Get returns a source of a customer.
func (a *Sources) Get(ctx context.Context, s access.Scope, id string) (Source, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return Source{}, err
	}
	src, err := a.store.Source(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return src, Missing(id)
	}
	if err != nil {
		return src, err
	}
	if err := a.customers.Reach(ctx, s, access.SeeLists, src.CustomerID); err != nil {
		return Source{}, Missing(id)
	}
	return src, nil
}

// Missing is the error for a source that does not exist, or is another customer's.
func Missing(id string) *problem.Error {
	return problem.Missing("source", id, "List the customer's sources to see their IDs.")
}

// List lists a customer's sources by name.
func (a *Sources) List(ctx context.Context, s access.Scope, customer string, p paging.Page) ([]Source, error) {
	if err := a.customers.Reach(ctx, s, access.SeeLists, customer); err != nil {
		return nil, err
	}
	return a.store.Sources(ctx, customer, p)
}

// Uses returns the keys of the pockets that use a source, in the draft or in the live version.
func (a *Sources) Uses(ctx context.Context, s access.Scope, id string) ([]string, error) {
	src, err := a.Get(ctx, s, id)
	if err != nil {
		return nil, err
	}
	return a.store.SourceUses(ctx, src.CustomerID, id)
}

// Fetches returns a source's history, the newest first.
func (a *Sources) Fetches(ctx context.Context, s access.Scope, id string) ([]Fetch, error) {
	if _, err := a.Get(ctx, s, id); err != nil {
		return nil, err
	}
	return a.store.Fetches(ctx, id, FetchesMost)
}

// change is for whoever changes a source.
func (a *Sources) change(ctx context.Context, s access.Scope, id string) (Source, error) {
	src, err := a.Get(ctx, s, id)
	if err != nil {
		return src, err
	}
	return src, a.customers.Reach(ctx, s, access.ConnectSources, src.CustomerID)
}

// checkName checks a source's name.
func checkName(name string) error {
	if n := len([]rune(name)); n == 0 || n > 120 {
		return &problem.Error{Kind: problem.Invalid, Code: "source-name", Field: "name", What: "A source's name has 1 to 120 characters.", Hint: "Enter a name by which you recognise the source."}
	}
	return problem.Showable("name", name)
}
