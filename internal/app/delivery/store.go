package delivery

import (
	"context"
	"time"

	"glasspocket/internal/render"
	"glasspocket/internal/work"
)

// Store is the storage that Delivery needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	// Refuse records that a release does not accept a publication.
	Refuse(ctx context.Context, key string, publication int, release int64) error
	// VisibleFile returns the digest of the file of one form of an asset if visitors may have it:
	// if a release, a draft, or a customer who is not withheld has it. Error: ErrNotFound.
	VisibleFile(ctx context.Context, digest, name string) (file string, err error)
	FileBytes(ctx context.Context, file string) ([]byte, error) // ErrNotFound
	// SealedScript returns a sealed script by its digest. It returns ErrNotFound also if its pocket
	// or the customer is withheld.
	SealedScript(ctx context.Context, digest, key string) ([]byte, error)
	Publication(ctx context.Context, key string, number int) (Publication, error)
	Current(ctx context.Context, key string, part render.Part) (Current, error)
	SaveRendering(ctx context.Context, r Rendering) error
	// KeepRendering only changes when a rendering's items change by themselves.
	KeepRendering(ctx context.Context, key string, until *time.Time) error
	// KeysOfSource lists the published pockets that show items of a source, by key after a key.
	KeysOfSource(ctx context.Context, customer, id, after string, limit int) ([]string, error)
	AddTask(ctx context.Context, t work.Task) error
	KeysDue(ctx context.Context, now time.Time, limit int) ([]string, error) // pockets whose items have changed by themselves
}
