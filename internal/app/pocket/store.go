package pocket

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/paging"
)

// Store is the storage that Pockets needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	Customer(ctx context.Context, id string) (customer.Customer, error)
	CustomerNames(ctx context.Context, ids []string) (map[string]string, error) // by ID
	// Branded lists the pockets of a customer that refer to any of names, by key,
	// without their settings.
	Branded(ctx context.Context, customer string, names []string, p paging.Page) ([]Pocket, error)
	KeepGuestPocket(ctx context.Context, key string, until time.Time) error
	// ServedReleases returns the numbers of the releases that visitors of following pockets
	// receive.
	ServedReleases(ctx context.Context, keys []string) (map[string]int, error)
	AddPocket(ctx context.Context, p Pocket, cases []Case, rec *audit.Record) error // ErrExists
	Pocket(ctx context.Context, key string) (Pocket, error)
	// Pockets returns one page of a list of pockets, without their settings.
	Pockets(ctx context.Context, q Query) ([]Pocket, error)
	// DeletePocket deletes a pocket with everything that belongs to it. Errors: ErrNotFound, and
	// ErrChanged if it is published.
	DeletePocket(ctx context.Context, key string, rec *audit.Record) error
	// SavePocket replaces title, language and draft if the revision is still revision, and
	// increments it. If not, it returns ErrChanged.
	SavePocket(ctx context.Context, p Pocket, revision int, rec *audit.Record) error
	PreviewCases(ctx context.Context, key string) ([]Case, error)                                 // in order
	SavePreviewCase(ctx context.Context, key string, c Case, rec *audit.Record) error             // replaces one with the same name
	DeletePreviewCase(ctx context.Context, key, name string, rec *audit.Record) error             // ErrNotFound
	WithholdPocket(ctx context.Context, key string, w customer.Withheld, rec *audit.Record) error // ErrNotFound
}
