package installsql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/install"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddHandover implements install.Store.
func (s *InstallStore) AddHandover(ctx context.Context, h install.Handover, digest string, rec *audit.Record) (id int64, err error) {
	return id, s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO handovers (digest, key, customer_id, about, note, created_at, created_by) VALUES (?, ?, ?, ?, ?, ?, ?)", digest, h.Key, h.CustomerID, h.About, h.Note, store.UTC(h.CreatedAt), h.CreatedBy)
		if err == nil {
			id, err = r.LastInsertId()
		}
		return err
	})
}

const handoverColumns = "id, key, customer_id, about, note, created_at, created_by, seen_at"

// Handovers implements install.Store.
func (s *InstallStore) Handovers(ctx context.Context, key string) (list []install.Handover, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT "+handoverColumns+" FROM handovers WHERE key = ? ORDER BY id DESC", key))
}

// SeeHandover implements install.Store.
func (s *InstallStore) SeeHandover(ctx context.Context, digest string, at time.Time) (h install.Handover, err error) {
	err = s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE handovers SET seen_at = ? WHERE digest = ?", store.UTC(at), digest)
		if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
			return err
		}
		return tx.GetContext(ctx, &h, "SELECT "+handoverColumns+" FROM handovers WHERE digest = ?", digest)
	})
	return h, err
}

// RevokeHandover implements install.Store.
func (s *InstallStore) RevokeHandover(ctx context.Context, key string, id int64, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM handovers WHERE key = ? AND id = ?", key, id)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}
