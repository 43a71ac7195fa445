package rolloutsql

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/release/releasesql"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/widget"
)

// AddRelease implements rollout.Store.
func (s *RolloutStore) AddRelease(ctx context.Context, r *widget.Release, n rollout.NewRelease, rec *audit.Record) (info release.Info, fresh bool, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		fresh = false
		newest := release.Info{}
		err := tx.GetContext(ctx, &newest, "SELECT "+releasesql.Columns+" FROM releases WHERE widget = ? ORDER BY number DESC LIMIT 1", r.Manifest.Name)
		if err != nil && store.Translated(err) != problem.ErrNotFound {
			return err
		}
		if n.After >= 0 && newest.Number != n.After {
			return problem.ErrChanged
		}
		// Unchanged since the newest: nothing to release. The files of an older or withdrawn
		// release can return under a new number.
		if newest.Digest == r.Digest && newest.WithdrawnAt == nil {
			info = newest
			rec.Skip()
			return nil
		}
		info = release.Info{Widget: r.Manifest.Name, Number: newest.Number + 1, Digest: r.Digest, CreatedAt: store.UTC(n.At), CreatedBy: n.By, Note: n.Note, Share: n.Share}
		if newest.Number == 0 {
			info.Share = 100 // no other release could serve the rest
		}
		res, err := tx.ExecContext(ctx, "INSERT INTO releases (widget, number, digest, style, mount, created_at, created_by, note, share) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
			info.Widget, info.Number, info.Digest, r.Built.Style, r.Built.Mount, info.CreatedAt, info.CreatedBy, info.Note, info.Share)
		if err != nil {
			return err
		}
		if info.ID, err = res.LastInsertId(); err != nil {
			return err
		}
		for _, path := range r.Files.Paths() {
			digest, err := store.PutFile(ctx, tx, r.Files[path])
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO release_files (release_id, path, digest) VALUES (?, ?, ?)", info.ID, path, digest); err != nil {
				return err
			}
		}
		for path, made := range r.Built.Assets {
			if err := store.PutAsset(ctx, tx, made); err != nil {
				return err
			}
			about, _ := json.Marshal(made.Info)
			if _, err := tx.ExecContext(ctx, "INSERT INTO release_assets (release_id, path, digest, info) VALUES (?, ?, ?, ?)", info.ID, path, made.Digest, about); err != nil {
				return err
			}
		}
		fresh = true
		rec.SetNumber(info.Number)
		return nil
	})
	return info, fresh, err
}

// ShareRelease implements rollout.Store.
func (s *RolloutStore) ShareRelease(ctx context.Context, name string, number, share int, rec *audit.Record) (release.Info, error) {
	err := s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE releases SET share = ? WHERE widget = ? AND number = ?", share, name, number)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
	if err != nil {
		return release.Info{}, err
	}
	return releasesql.ByNumber(ctx, s.DB.DB, name, number)
}

// Withdraw implements rollout.Store.
func (s *RolloutStore) Withdraw(ctx context.Context, name string, number int, at *time.Time, rec *audit.Record) (release.Info, error) {
	err := s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE releases SET withdrawn_at = ? WHERE widget = ? AND number = ?", store.UTCOrNil(at), name, number)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
	if err != nil {
		return release.Info{}, err
	}
	return releasesql.ByNumber(ctx, s.DB.DB, name, number)
}
