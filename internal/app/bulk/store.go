package bulk

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/work"
)

// Store is the storage that Jobs needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	AddJob(ctx context.Context, j Job, items []work.Task, rec *audit.Record) error
	Job(ctx context.Context, id string) (Job, error)                                          // with its counts
	Jobs(ctx context.Context, customer string, limit int) ([]Job, error)                      // newest first, with their counts
	JobItems(ctx context.Context, job, outcome string, after, limit int) ([]work.Task, error) // by number
	// CancelJob cancels a job with its tasks. Error: ErrChanged if it is finished.
	CancelJob(ctx context.Context, id string, at time.Time, rec *audit.Record) error
}
