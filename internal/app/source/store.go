package source

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/asset"
	"glasspocket/internal/item"
	"glasspocket/internal/paging"
	"glasspocket/internal/work"
)

// Store is the storage that Sources needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	Source(ctx context.Context, id string) (Source, error)                             // ErrNotFound
	Sources(ctx context.Context, customer string, p paging.Page) ([]Source, error)     // by name; the page is after "NAME\x00ID"
	CountSources(ctx context.Context, customer string) (int, error)                    //
	SourceUses(ctx context.Context, customer, id string) ([]string, error)             // keys of pockets, at most 100
	KnownSources(ctx context.Context, customer string, ids []string) ([]string, error) // those of ids that are the customer's
	FailingSources(ctx context.Context, customer string, since time.Time, most int) ([]Failing, error)
	FailingIn(ctx context.Context, keys []string) ([]Failing, error)                           // of pockets
	Ages(ctx context.Context, key string) ([]Age, error)                                       // of a pocket's live version
	Fetches(ctx context.Context, id string, limit int) ([]Fetch, error)                        // newest first
	Stock(ctx context.Context, id string) (stock item.Stock, revision int64, err error)        // ErrNotFound
	SourceFile(ctx context.Context, id string) ([]byte, error)                                 // of an uploaded source
	AddSource(ctx context.Context, s Source, got Got, rec *audit.Record) error                 //
	SaveSource(ctx context.Context, s Source, revision int, rec *audit.Record) error           // ErrChanged; the settings alone
	SaveFetch(ctx context.Context, id string, got Got, rec *audit.Record) error                // ErrNotFound
	SavePush(ctx context.Context, id string, p Push) error                                     //
	PushedSource(ctx context.Context, token string) (Source, error)                            // ErrNotFound
	FetchSoon(ctx context.Context, id string, now time.Time, pause time.Duration) error        // a pause after its last fetch
	Pictures(ctx context.Context, id string) ([]Picture, error)                                // of a source
	PictureUsage(ctx context.Context, customer string) (count int, bytes int64, err error)     //
	SavePicture(ctx context.Context, id, customer string, p Picture, made *asset.Made) error   // ErrNotFound without the source
	DropPictures(ctx context.Context, before time.Time, most int) (n int, err error)           // those unused since then
	DeleteSource(ctx context.Context, id string, rec *audit.Record) (uses []string, err error) // unless it has uses; ErrNotFound
}

// Got is what came of a fetch, and is written as one.
type Got struct {
	At       time.Time
	Fetch    *Fetch      // the entry for the history; nil for none
	Stock    *item.Stock // the new items; nil if they have not changed
	Revision int64       // of Stock
	About    *About      // nil leaves it
	File     []byte      // of an upload; nil leaves it
	Health   Health
	Address  string // the new address, after permanent redirects; "" leaves it
	// Next is when the source is fetched next. Zero for never. Progress is for then.
	Next     time.Time
	Progress Progress
	// Leased is the task of the attempt whose result this is, nil for none. It waits until Next then,
	// unless Next is zero.
	Leased *work.Task
	Renew  bool // the pockets that use it have to be rendered again
}
