package publish

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/release"
)

// Store is the storage that Publishing needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	// NewestReleaseFor returns the newest release in use that is rolled out to a lot.
	NewestReleaseFor(ctx context.Context, widget string, lot int) (release.Info, error)
	ReleaseByNumber(ctx context.Context, widget string, number int) (release.Info, error)
	// Publish stores p and r and makes them live under the key, if p.Number follows the newest one
	// and its schedule still waits. If not, it returns ErrChanged. A publication that takes the
	// pocket offline has no rendering.
	Publish(ctx context.Context, p delivery.Publication, r delivery.Rendering, rec *audit.Record) error
	AddSchedules(ctx context.Context, list []Schedule, rec *audit.Record) ([]int64, error)
	Schedules(ctx context.Context, key string, before int64, limit int) ([]Schedule, error) // newest first
	WaitingSchedules(ctx context.Context, key string) ([]Schedule, error)                   // newest first
	WaitingSchedule(ctx context.Context, id int64) (Schedule, error)                        // problem.ErrNotFound
	// FinishSchedule finishes a waiting schedule. If it does not wait, it returns ErrChanged.
	FinishSchedule(ctx context.Context, id int64, at time.Time, outcome, why string, rec *audit.Record) error
	Publications(ctx context.Context, key string, before, limit int) ([]delivery.Publication, error) // newest first
}
