package workshopsql

import (
	"context"
	"encoding/json"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/asset"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

const draftColumns = "widget, revision, release, created_at, changed_at, changed_by"

// AddWidgetDraft implements workshop.Store.
func (s *WorkshopStore) AddWidgetDraft(ctx context.Context, d workshop.Draft, files []workshop.File, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO widget_drafts ("+draftColumns+") VALUES (?, ?, ?, ?, ?, ?)",
			d.Widget, d.Revision, d.Release, store.UTC(d.CreatedAt), store.UTC(d.ChangedAt), d.ChangedBy)
		if err != nil {
			return err
		}
		for _, f := range files {
			if err := putDraftFile(ctx, tx, d.Widget, f); err != nil {
				return err
			}
		}
		return nil
	})
}

func putDraftFile(ctx context.Context, tx *sqlx.Tx, widget string, f workshop.File) error {
	if err := dropDraftAsset(ctx, tx, widget, f.Path); err != nil {
		return err
	}
	if f.Removed {
		_, err := tx.ExecContext(ctx, "DELETE FROM widget_draft_files WHERE widget = ? AND path = ?", widget, f.Path)
		return err
	}
	_, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO widget_draft_files (widget, path, bytes, digest, changed_at, changed_by) VALUES (?, ?, ?, ?, ?, ?)",
		widget, f.Path, append([]byte{}, f.Bytes...), f.Digest, store.UTC(f.ChangedAt), f.ChangedBy)
	if err != nil || f.Made == nil {
		return err
	}
	if err := store.PutAsset(ctx, tx, *f.Made); err != nil {
		return err
	}
	info, _ := json.Marshal(f.Made.Info)
	_, err = tx.ExecContext(ctx, "INSERT INTO widget_draft_assets (widget, path, digest, info) VALUES (?, ?, ?, ?)", widget, f.Path, f.Made.Digest, info)
	return err
}

// dropDraftAsset deletes a draft's processed asset, and its bytes if nobody else has them.
func dropDraftAsset(ctx context.Context, tx *sqlx.Tx, widget, path string) error {
	var digests []string
	if err := tx.SelectContext(ctx, &digests, "DELETE FROM widget_draft_assets WHERE widget = ? AND path = ? RETURNING digest", widget, path); err != nil {
		return err
	}
	for _, d := range digests {
		if err := store.DropAsset(ctx, tx, d); err != nil {
			return err
		}
	}
	return nil
}

// SaveWidgetDraft implements workshop.Store.
func (s *WorkshopStore) SaveWidgetDraft(ctx context.Context, d workshop.Draft, revision int, files []workshop.File, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE widget_drafts SET revision = ?, release = ?, changed_at = ?, changed_by = ? WHERE widget = ? AND revision = ?",
			d.Revision, d.Release, store.UTC(d.ChangedAt), d.ChangedBy, d.Widget, revision)
		if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
			return err
		}
		for _, f := range files {
			if err := putDraftFile(ctx, tx, d.Widget, f); err != nil {
				return err
			}
		}
		return nil
	})
}

// DeleteWidgetDraft implements workshop.Store.
func (s *WorkshopStore) DeleteWidgetDraft(ctx context.Context, widget string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		var paths []string
		if err := tx.SelectContext(ctx, &paths, "SELECT path FROM widget_draft_assets WHERE widget = ?", widget); err != nil {
			return err
		}
		for _, p := range paths {
			if err := dropDraftAsset(ctx, tx, widget, p); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(ctx, "DELETE FROM widget_draft_files WHERE widget = ?", widget); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM widget_drafts WHERE widget = ?", widget)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// WidgetDraft implements workshop.Store.
func (s *WorkshopStore) WidgetDraft(ctx context.Context, widget string) (d workshop.Draft, err error) {
	return d, store.Translated(s.Read.GetContext(ctx, &d, "SELECT "+draftColumns+" FROM widget_drafts WHERE widget = ?", widget))
}

// WidgetDrafts implements workshop.Store.
func (s *WorkshopStore) WidgetDrafts(ctx context.Context, p paging.Page) (list []workshop.Draft, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT "+draftColumns+" FROM widget_drafts WHERE widget > ? ORDER BY widget LIMIT ?", p.After, p.Limit))
}

// WidgetDraftFiles implements workshop.Store.
func (s *WorkshopStore) WidgetDraftFiles(ctx context.Context, widget string) (d workshop.Draft, files []workshop.File, err error) {
	// One transaction, because a change in between would mix two versions.
	tx, err := s.Read.BeginTxx(ctx, nil)
	if err != nil {
		return d, nil, store.Translated(err)
	}
	defer tx.Rollback()
	if err := tx.GetContext(ctx, &d, "SELECT "+draftColumns+" FROM widget_drafts WHERE widget = ?", widget); err != nil {
		return d, nil, store.Translated(err)
	}
	if err := tx.SelectContext(ctx, &files, "SELECT path, bytes, digest, changed_at, changed_by FROM widget_draft_files WHERE widget = ? ORDER BY path", widget); err != nil {
		return d, nil, store.Translated(err)
	}
	var assets []struct {
		Path string
		Info []byte
	}
	if err := tx.SelectContext(ctx, &assets, "SELECT path, info FROM widget_draft_assets WHERE widget = ?", widget); err != nil {
		return d, nil, store.Translated(err)
	}
	for _, a := range assets {
		var made asset.Made
		if err := json.Unmarshal(a.Info, &made.Info); err != nil {
			return d, nil, err
		}
		for i := range files {
			if files[i].Path == a.Path {
				files[i].Made = &made
			}
		}
	}
	return d, files, nil
}
