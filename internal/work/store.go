package work

import (
	"context"
	"time"
)

// Store is the storage of tasks. A write that returns nil is durable. Times are UTC.
type Store interface {
	// AddTask adds a task, unless an unfinished one of its kind has the same key.
	AddTask(ctx context.Context, t Task) error
	// ClaimTasks leases up to most due tasks of a kind, in turn for each customer, beginning with
	// the one after the customer after, in alphabetical order. It counts an attempt for each.
	ClaimTasks(ctx context.Context, kind, after string, most int, lease string, now, until time.Time) ([]Task, error)
	// RenewLease extends the leases of running tasks.
	RenewLease(ctx context.Context, lease string, until time.Time) error
	// ExpireLeases takes the tasks back whose lease has ended by now, or all except those of lease.
	ExpireLeases(ctx context.Context, now time.Time, except string) error
	CompleteTask(ctx context.Context, c Completion, at time.Time) error  // problem.ErrChanged
	PostponeTask(ctx context.Context, p Postponed) error                 // problem.ErrChanged
	PruneTasks(ctx context.Context, kind string, before time.Time) error // deletes finished ones
}

// Postponed lets a leased task wait until Due.
type Postponed struct {
	Task     int64
	Lease    string
	Due      time.Time
	Attempts int
	Why      string
	About    []byte // nil leaves it as it is
}
