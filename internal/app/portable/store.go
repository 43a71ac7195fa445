package portable

import (
	"context"
	"time"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
)

// Store is the storage that Files needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	Asset(ctx context.Context, customer, digest string) (customer.Asset, error) // ErrNotFound
	// CopyAsset adds another customer's asset to a customer. Error: ErrNotFound.
	CopyAsset(ctx context.Context, from, to, digest, by string, at time.Time) error
	AssetFile(ctx context.Context, digest, name string) ([]byte, error)  // ErrNotFound
	PreviewCases(ctx context.Context, key string) ([]pocket.Case, error) // in order
}
