package audit

import (
	"context"
)

// Store is the storage that Log needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	Audit(ctx context.Context, q Query) ([]Entry, error) // newest first
}
