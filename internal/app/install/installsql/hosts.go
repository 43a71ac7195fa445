package installsql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/install"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// OwnHosts implements install.Store.
func (s *InstallStore) OwnHosts(ctx context.Context) (list []install.OwnHost, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM hosts ORDER BY name"))
}

// SaveOwnHost implements install.Store.
func (s *InstallStore) SaveOwnHost(ctx context.Context, h install.OwnHost, revision int, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `INSERT INTO hosts (name, profile, revision, at, by) SELECT ?, ?, ?, ?, ? WHERE ? = coalesce((SELECT revision FROM hosts WHERE name = ?), 0)
			ON CONFLICT (name) DO UPDATE SET profile = excluded.profile, revision = excluded.revision, at = excluded.at, by = excluded.by`,
			h.Name, h.Profile, h.Revision, store.UTC(h.At), h.By, revision, h.Name)
		return store.OneRow(r, err, problem.ErrChanged)
	})
}

// DeleteOwnHost implements install.Store.
func (s *InstallStore) DeleteOwnHost(ctx context.Context, name string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM host_images WHERE host = ?", name); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM hosts WHERE name = ?", name)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// SaveHostImage implements install.Store.
func (s *InstallStore) SaveHostImage(ctx context.Context, host string, p install.HostImage, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO host_images (host, file, kind, bytes) VALUES (?, ?, ?, ?) ON CONFLICT (host, file) DO UPDATE SET kind = excluded.kind, bytes = excluded.bytes", host, p.File, p.Kind, p.Bytes)
		return err
	})
}

// HostImage implements install.Store.
func (s *InstallStore) HostImage(ctx context.Context, host, file string) (p install.HostImage, err error) {
	return p, store.Translated(s.Read.GetContext(ctx, &p, "SELECT file, kind, bytes FROM host_images WHERE host = ? AND file = ?", host, file))
}

// HostImages implements install.Store.
func (s *InstallStore) HostImages(ctx context.Context, host string) (list []string, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT file FROM host_images WHERE host = ? ORDER BY file", host))
}

// DeleteHostImage implements install.Store.
func (s *InstallStore) DeleteHostImage(ctx context.Context, host, file string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM host_images WHERE host = ? AND file = ?", host, file)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}
