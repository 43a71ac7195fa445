package workshop

import (
	"context"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/paging"
)

// Store is the storage that Workshop needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	AddWidgetDraft(ctx context.Context, d Draft, files []File, rec *audit.Record) error // ErrExists
	// SaveWidgetDraft replaces the draft and the given files if its revision is still revision. If
	// not, it returns ErrChanged.
	SaveWidgetDraft(ctx context.Context, d Draft, revision int, files []File, rec *audit.Record) error
	WidgetDraft(ctx context.Context, widget string) (Draft, error)
	WidgetDrafts(ctx context.Context, p paging.Page) ([]Draft, error) // by widget
	WidgetDraftFiles(ctx context.Context, widget string) (Draft, []File, error)
	DeleteWidgetDraft(ctx context.Context, widget string, rec *audit.Record) error // ErrNotFound
}
