package release

import (
	"context"

	"glasspocket/internal/widget"
)

// Store is the storage that Releases needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	NewestReleases(ctx context.Context) ([]Info, error) // one per widget, by name; only those in use
	// NewestReleaseFor returns the newest release in use that is rolled out to a lot.
	NewestReleaseFor(ctx context.Context, widget string, lot int) (Info, error)
	Releases(ctx context.Context, widget string, before, limit int) ([]Info, error) // newest first, including withdrawn ones
	ReleasesInUse(ctx context.Context, widget string) ([]Rolled, error)             // newest first
	ReleaseByNumber(ctx context.Context, widget string, number int) (Info, error)
	ReleaselessWidgets(ctx context.Context) ([]string, error) // widgets whose releases have all been withdrawn, by name
	ReleaseByDigest(ctx context.Context, digest string) (int64, error)
	ReleaseFiles(ctx context.Context, id int64) (widget.Files, widget.Opened, error) // assets without their bytes
	ReleaseFolder(ctx context.Context, id int64) (widget.Files, error)               // with the bytes of its assets
}
