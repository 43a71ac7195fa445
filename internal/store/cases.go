package store

import (
	"context"
	"encoding/json"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// PreviewCases implements app.Store.
func (s *Store) PreviewCases(ctx context.Context, key string) ([]app.PreviewCase, error) {
	var rows []struct {
		Name  string `db:"name"`
		About []byte `db:"about"`
	}
	if err := s.read.SelectContext(ctx, &rows, "SELECT name, about FROM preview_cases WHERE key = ? ORDER BY place, name", key); err != nil {
		return nil, translated(err)
	}
	list := make([]app.PreviewCase, len(rows))
	for i, r := range rows {
		list[i].Name = r.Name
		if err := json.Unmarshal(r.About, &list[i].Conditions); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// SavePreviewCase implements app.Store.
func (s *Store) SavePreviewCase(ctx context.Context, key string, c app.PreviewCase, rec *app.Record) error {
	about, err := json.Marshal(c.Conditions)
	if err != nil {
		return err
	}
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO preview_cases (key, name, place, about) VALUES (?, ?, (SELECT coalesce(max(place), 0) + 1 FROM preview_cases WHERE key = ?), ?)
			ON CONFLICT (key, name) DO UPDATE SET about = excluded.about`, key, c.Name, key, about)
		return err
	})
}

// DeletePreviewCase implements app.Store.
func (s *Store) DeletePreviewCase(ctx context.Context, key, name string, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM preview_cases WHERE key = ? AND name = ?", key, name)
		return oneRow(r, err, app.ErrNotFound)
	})
}
