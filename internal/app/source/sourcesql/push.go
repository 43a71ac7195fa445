package sourcesql

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/source"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// SavePush implements source.Store.
func (s *SourceStore) SavePush(ctx context.Context, id string, p source.Push) error {
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE sources SET push = ?, push_token = ? WHERE id = ?", string(text), p.Token, id)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// PushedSource implements source.Store.
func (s *SourceStore) PushedSource(ctx context.Context, token string) (source.Source, error) {
	if token == "" {
		return source.Source{}, problem.ErrNotFound
	}
	var r row
	if err := s.Read.GetContext(ctx, &r, selectSources+"WHERE s.push_token = ? AND s.push_token <> ''", token); err != nil {
		return source.Source{}, store.Translated(err)
	}
	return r.source()
}

// FetchSoon implements source.Store.
func (s *SourceStore) FetchSoon(ctx context.Context, id string, now time.Time, pause time.Duration) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		var checked *string
		if err := tx.GetContext(ctx, &checked, "SELECT about ->> '$.checkedAt' FROM tasks WHERE kind = ? AND key = ? AND ended_at IS NULL", source.FetchTask, id); err != nil {
			return store.Translated(err)
		}
		due := now
		if checked != nil {
			if at, err := time.Parse(time.RFC3339Nano, *checked); err == nil && at.Add(pause).After(now) {
				due = at.Add(pause)
			}
		}
		_, err := tx.ExecContext(ctx, "UPDATE tasks SET due = min(due, ?) WHERE kind = ? AND key = ? AND ended_at IS NULL", store.UTC(due), source.FetchTask, id)
		return err
	})
}
