package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddHandover implements app.Store.
func (s *Store) AddHandover(ctx context.Context, h app.Handover, digest string, rec *app.Record) (id int64, err error) {
	return id, s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO handovers (digest, key, customer_id, about, note, created_at, created_by) VALUES (?, ?, ?, ?, ?, ?, ?)", digest, h.Key, h.CustomerID, h.About, h.Note, utc(h.CreatedAt), h.CreatedBy)
		if err == nil {
			id, err = r.LastInsertId()
		}
		return err
	})
}

const handoverColumns = "id, key, customer_id, about, note, created_at, created_by, seen_at"

// Handovers implements app.Store.
func (s *Store) Handovers(ctx context.Context, key string) (list []app.Handover, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT "+handoverColumns+" FROM handovers WHERE key = ? ORDER BY id DESC", key))
}

// SeeHandover implements app.Store.
func (s *Store) SeeHandover(ctx context.Context, digest string, at time.Time) (h app.Handover, err error) {
	err = s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE handovers SET seen_at = ? WHERE digest = ?", utc(at), digest)
		if err := oneRow(r, err, app.ErrNotFound); err != nil {
			return err
		}
		return tx.GetContext(ctx, &h, "SELECT "+handoverColumns+" FROM handovers WHERE digest = ?", digest)
	})
	return h, err
}

// RevokeHandover implements app.Store.
func (s *Store) RevokeHandover(ctx context.Context, key string, id int64, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM handovers WHERE key = ? AND id = ?", key, id)
		return oneRow(r, err, app.ErrNotFound)
	})
}

// OwnHosts implements app.Store.
func (s *Store) OwnHosts(ctx context.Context) (list []app.OwnHost, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM hosts ORDER BY name"))
}

// SaveOwnHost implements app.Store.
func (s *Store) SaveOwnHost(ctx context.Context, h app.OwnHost, revision int, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `INSERT INTO hosts (name, profile, revision, at, by) SELECT ?, ?, ?, ?, ? WHERE ? = coalesce((SELECT revision FROM hosts WHERE name = ?), 0)
			ON CONFLICT (name) DO UPDATE SET profile = excluded.profile, revision = excluded.revision, at = excluded.at, by = excluded.by`,
			h.Name, h.Profile, h.Revision, utc(h.At), h.By, revision, h.Name)
		return oneRow(r, err, app.ErrChanged)
	})
}

// DeleteOwnHost implements app.Store.
func (s *Store) DeleteOwnHost(ctx context.Context, name string, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM host_images WHERE host = ?", name); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM hosts WHERE name = ?", name)
		return oneRow(r, err, app.ErrNotFound)
	})
}

// SaveHostImage implements app.Store.
func (s *Store) SaveHostImage(ctx context.Context, host string, p app.HostImage, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO host_images (host, file, kind, bytes) VALUES (?, ?, ?, ?) ON CONFLICT (host, file) DO UPDATE SET kind = excluded.kind, bytes = excluded.bytes", host, p.File, p.Kind, p.Bytes)
		return err
	})
}

// HostImage implements app.Store.
func (s *Store) HostImage(ctx context.Context, host, file string) (p app.HostImage, err error) {
	return p, translated(s.read.GetContext(ctx, &p, "SELECT file, kind, bytes FROM host_images WHERE host = ? AND file = ?", host, file))
}

// HostImages implements app.Store.
func (s *Store) HostImages(ctx context.Context, host string) (list []string, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT file FROM host_images WHERE host = ? ORDER BY file", host))
}

// DeleteHostImage implements app.Store.
func (s *Store) DeleteHostImage(ctx context.Context, host, file string, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM host_images WHERE host = ? AND file = ?", host, file)
		return oneRow(r, err, app.ErrNotFound)
	})
}
