package sourcesql

import (
	"context"
	"database/sql"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/source"
	"glasspocket/internal/store"
)

const failing = "s.id, s.name, s.customer_id, s.failing_since, s.changed_at, s.why, s.hint, s.ended_at IS NOT NULL AS ended"

type failingRow struct {
	Key          string
	ID           string
	Name         string
	CustomerID   string       `db:"customer_id"`
	FailingSince time.Time    `db:"failing_since"`
	ChangedAt    sql.NullTime `db:"changed_at"`
	Why, Hint    string
	Ended        bool
}

func failings(rows []failingRow) []source.Failing {
	list := make([]source.Failing, len(rows))
	for i, r := range rows {
		list[i] = source.Failing{Key: r.Key, ID: r.ID, Name: r.Name, CustomerID: r.CustomerID, Since: r.FailingSince, Why: r.Why, Hint: r.Hint, Ended: r.Ended}
		if r.ChangedAt.Valid {
			list[i].ChangedAt = &r.ChangedAt.Time
		}
	}
	return list
}

// FailingSources lists the sources that have failed since a time or longer, or have ended; those of
// all customers for "".
func (s *SourceStore) FailingSources(ctx context.Context, customer string, since time.Time, most int) ([]source.Failing, error) {
	var rows []failingRow
	err := s.Read.SelectContext(ctx, &rows, "SELECT '' AS key, "+failing+" FROM sources AS s WHERE failing_since IS NOT NULL AND (failing_since <= ?1 OR ended_at IS NOT NULL) AND (?2 = '' OR customer_id = ?2) ORDER BY failing_since DESC, id LIMIT ?3", store.UTC(since), customer, most)
	return failings(rows), store.Translated(err)
}

// FailingIn lists the failing sources of the live versions and drafts of pockets.
func (s *SourceStore) FailingIn(ctx context.Context, keys []string) ([]source.Failing, error) {
	query, args, err := sqlx.In("SELECT DISTINCT u.key, "+failing+" FROM uses AS u JOIN sources AS s ON s.id = u.id WHERE u.key IN (?) AND u.kind = 'source' AND s.failing_since IS NOT NULL ORDER BY u.key, s.failing_since", keys)
	if err != nil {
		return nil, err
	}
	var rows []failingRow
	err = s.Read.SelectContext(ctx, &rows, query, args...)
	return failings(rows), store.Translated(err)
}

// Ages implements source.Store.
func (s *SourceStore) Ages(ctx context.Context, key string) ([]source.Age, error) {
	var rows []row
	if err := s.Read.SelectContext(ctx, &rows, selectSources+"WHERE s.id IN (SELECT id FROM uses WHERE key = ? AND of = 'live' AND kind = 'source') ORDER BY s.name, s.id", key); err != nil {
		return nil, store.Translated(err)
	}
	ages := make([]source.Age, len(rows))
	for i, r := range rows {
		src, err := r.source()
		if err != nil {
			return nil, err
		}
		ages[i] = source.Age{ChangedAt: src.ChangedAt, Since: src.FailingSince, Why: src.Why}
		if at := src.Progress.CheckedAt; !at.IsZero() {
			ages[i].CheckedAt = &at
		}
	}
	return ages, nil
}
