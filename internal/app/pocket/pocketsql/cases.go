package pocketsql

import (
	"context"
	"encoding/json"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// PreviewCases implements pocket.Store.
func (s *PocketStore) PreviewCases(ctx context.Context, key string) ([]pocket.Case, error) {
	var rows []struct {
		Name  string `db:"name"`
		About []byte `db:"about"`
	}
	if err := s.Read.SelectContext(ctx, &rows, "SELECT name, about FROM preview_cases WHERE key = ? ORDER BY place, name", key); err != nil {
		return nil, store.Translated(err)
	}
	list := make([]pocket.Case, len(rows))
	for i, r := range rows {
		list[i].Name = r.Name
		if err := json.Unmarshal(r.About, &list[i].Conditions); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// SavePreviewCase implements pocket.Store.
func (s *PocketStore) SavePreviewCase(ctx context.Context, key string, c pocket.Case, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error { return putCase(ctx, tx, key, c) })
}

func putCase(ctx context.Context, tx *sqlx.Tx, key string, c pocket.Case) error {
	about, err := json.Marshal(c.Conditions)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO preview_cases (key, name, place, about) VALUES (?, ?, (SELECT coalesce(max(place), 0) + 1 FROM preview_cases WHERE key = ?), ?)
		ON CONFLICT (key, name) DO UPDATE SET about = excluded.about`, key, c.Name, key, about)
	return err
}

// DeletePreviewCase implements pocket.Store.
func (s *PocketStore) DeletePreviewCase(ctx context.Context, key, name string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM preview_cases WHERE key = ? AND name = ?", key, name)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}
