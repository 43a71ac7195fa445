package store

import (
	"context"
	"encoding/json"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
	"glasspocket/internal/asset"
)

const draftColumns = "widget, revision, release, created_at, changed_at, changed_by"

// AddWidgetDraft implements app.Store.
func (s *Store) AddWidgetDraft(ctx context.Context, d app.WidgetDraft, files []app.DraftFile, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO widget_drafts ("+draftColumns+") VALUES (?, ?, ?, ?, ?, ?)",
			d.Widget, d.Revision, d.Release, utc(d.CreatedAt), utc(d.ChangedAt), d.ChangedBy)
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

func putDraftFile(ctx context.Context, tx *sqlx.Tx, widget string, f app.DraftFile) error {
	if err := dropDraftAsset(ctx, tx, widget, f.Path); err != nil {
		return err
	}
	if f.Removed {
		_, err := tx.ExecContext(ctx, "DELETE FROM widget_draft_files WHERE widget = ? AND path = ?", widget, f.Path)
		return err
	}
	_, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO widget_draft_files (widget, path, bytes, digest, changed_at, changed_by) VALUES (?, ?, ?, ?, ?, ?)",
		widget, f.Path, append([]byte{}, f.Bytes...), f.Digest, utc(f.ChangedAt), f.ChangedBy)
	if err != nil || f.Made == nil {
		return err
	}
	if err := putAsset(ctx, tx, *f.Made); err != nil {
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
		if err := dropAsset(ctx, tx, d); err != nil {
			return err
		}
	}
	return nil
}

// SaveWidgetDraft implements app.Store.
func (s *Store) SaveWidgetDraft(ctx context.Context, d app.WidgetDraft, revision int, files []app.DraftFile, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE widget_drafts SET revision = ?, release = ?, changed_at = ?, changed_by = ? WHERE widget = ? AND revision = ?",
			d.Revision, d.Release, utc(d.ChangedAt), d.ChangedBy, d.Widget, revision)
		if err := oneRow(r, err, app.ErrChanged); err != nil {
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

// DeleteWidgetDraft implements app.Store.
func (s *Store) DeleteWidgetDraft(ctx context.Context, widget string, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
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
		return oneRow(r, err, app.ErrNotFound)
	})
}

// WidgetDraft implements app.Store.
func (s *Store) WidgetDraft(ctx context.Context, widget string) (d app.WidgetDraft, err error) {
	return d, translated(s.read.GetContext(ctx, &d, "SELECT "+draftColumns+" FROM widget_drafts WHERE widget = ?", widget))
}

// WidgetDrafts implements app.Store.
func (s *Store) WidgetDrafts(ctx context.Context, p app.Page) (list []app.WidgetDraft, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT "+draftColumns+" FROM widget_drafts WHERE widget > ? ORDER BY widget LIMIT ?", p.After, p.Limit))
}

// WidgetDraftFiles implements app.Store.
func (s *Store) WidgetDraftFiles(ctx context.Context, widget string) (d app.WidgetDraft, files []app.DraftFile, err error) {
	// One transaction, because a change in between would mix two versions.
	tx, err := s.read.BeginTxx(ctx, nil)
	if err != nil {
		return d, nil, translated(err)
	}
	defer tx.Rollback()
	if err := tx.GetContext(ctx, &d, "SELECT "+draftColumns+" FROM widget_drafts WHERE widget = ?", widget); err != nil {
		return d, nil, translated(err)
	}
	if err := tx.SelectContext(ctx, &files, "SELECT path, bytes, digest, changed_at, changed_by FROM widget_draft_files WHERE widget = ? ORDER BY path", widget); err != nil {
		return d, nil, translated(err)
	}
	var assets []struct {
		Path string
		Info []byte
	}
	if err := tx.SelectContext(ctx, &assets, "SELECT path, info FROM widget_draft_assets WHERE widget = ?", widget); err != nil {
		return d, nil, translated(err)
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
