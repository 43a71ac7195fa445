package install

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/pocket"
)

// Store is the storage that Installs needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	Pocket(ctx context.Context, key string) (pocket.Pocket, error)
	// Pockets returns one page of a list of pockets.
	Pockets(ctx context.Context, q pocket.Query) ([]pocket.Pocket, error)
	AddSealed(ctx context.Context, s Sealed, rec *audit.Record) error // no change if it is stored already
	SealedOf(ctx context.Context, key string) ([]Sealed, error)       // newest first, without scripts
	AddHandover(ctx context.Context, h Handover, digest string, rec *audit.Record) (int64, error)
	Handovers(ctx context.Context, key string) ([]Handover, error) // newest first
	// SeeHandover returns a handover by the digest of its secret, and records the visit. Error:
	// ErrNotFound.
	SeeHandover(ctx context.Context, digest string, at time.Time) (Handover, error)
	Places(ctx context.Context, customer string) ([]UsedPlace, error) // the last used first
	// SavePlace adds or replaces the place of a site, and keeps the most places that were used last.
	SavePlace(ctx context.Context, customer string, p UsedPlace, most int) error
	RevokeHandover(ctx context.Context, key string, id int64, rec *audit.Record) error // ErrNotFound
	OwnHosts(ctx context.Context) ([]OwnHost, error)                                   // by name
	// SaveOwnHost adds or replaces a profile whose revision is still revision, 0 for a new one. If
	// not, it returns ErrChanged.
	SaveOwnHost(ctx context.Context, h OwnHost, revision int, rec *audit.Record) error
	DeleteOwnHost(ctx context.Context, name string, rec *audit.Record) error // ErrNotFound
	SaveHostImage(ctx context.Context, host string, p HostImage, rec *audit.Record) error
	HostImage(ctx context.Context, host, file string) (HostImage, error)             // ErrNotFound
	HostImages(ctx context.Context, host string) ([]string, error)                   // names of files
	DeleteHostImage(ctx context.Context, host, file string, rec *audit.Record) error // ErrNotFound
}
