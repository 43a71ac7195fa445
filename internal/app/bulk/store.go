package bulk

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/work"
)

// Store is the storage that Jobs needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	AddJob(ctx context.Context, j Job, items []work.Item, rec *audit.Record) error
	Job(ctx context.Context, id string) (Job, error)                     // with its counts
	Jobs(ctx context.Context, customer string, limit int) ([]Job, error) // newest first, with their counts
	RunningJobs(ctx context.Context) ([]Job, error)                      // the oldest of each customer
	NextJobItem(ctx context.Context, job string) (work.Item, error)      // the first that waits; ErrNotFound
	JobItems(ctx context.Context, job, outcome string, after, limit int) ([]work.Item, error)
	FinishJobItem(ctx context.Context, i work.Item) error
	FinishJob(ctx context.Context, id, state, why string, at time.Time, rec *audit.Record) error // ErrChanged if it is finished
}
