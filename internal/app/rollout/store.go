package rollout

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/release"
	"glasspocket/internal/widget"
)

// Store is the storage that Rollouts needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	// AddDryRun adds a dry run with its task, and deletes all but the DryRunsKept newest. It returns
	// the IDs of the deleted ones.
	AddDryRun(ctx context.Context, d StoredDryRun) (deleted []string, err error)
	DryRun(ctx context.Context, id string) (StoredDryRun, error) // problem.ErrNotFound
	FinishDryRun(ctx context.Context, id string, result []byte, rec *audit.Record) error
	// CancelDryRun cancels a dry run with its task, whose ID it returns. Error: problem.ErrChanged
	// if it has ended.
	CancelDryRun(ctx context.Context, id string, now time.Time) (task int64, err error)
	// AddRelease adds the next release. newest is the number of its expected predecessor, -1 for
	// any. It returns ErrChanged if there is a newer one.
	AddRelease(ctx context.Context, r *widget.Release, n NewRelease, rec *audit.Record) (info release.Info, fresh bool, err error)
	// NewestReleaseFor returns the newest release in use that is rolled out to a lot.
	NewestReleaseFor(ctx context.Context, widget string, lot int) (release.Info, error)
	// ShareRelease sets the percentage of pockets that a release is rolled out to.
	ShareRelease(ctx context.Context, widget string, number, share int, rec *audit.Record) (release.Info, error) // ErrNotFound
	Releases(ctx context.Context, widget string, before, limit int) ([]release.Info, error)                      // newest first, including withdrawn ones
	ReleaseByNumber(ctx context.Context, widget string, number int) (release.Info, error)
	// ReleaseUses lists, at most limit each, the pockets whose visitors receive a release because
	// they follow, and those that were published with it.
	ReleaseUses(ctx context.Context, info release.Info, limit int) (Uses, error)
	// Refuse records that a release does not accept a publication.
	Refuse(ctx context.Context, key string, publication int, release int64) error
	Withdraw(ctx context.Context, widget string, number int, at *time.Time, rec *audit.Record) (release.Info, error) // nil at puts it back into use
	// Followers returns the live versions of pockets that follow a widget, by key.
	Followers(ctx context.Context, widget, after string, limit int) ([]Follower, error)
	CountFollowers(ctx context.Context, widget string) (int, error)
	Publication(ctx context.Context, key string, number int) (delivery.Publication, error)
}
