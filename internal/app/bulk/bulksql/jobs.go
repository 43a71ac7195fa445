package bulksql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
	"glasspocket/internal/work/worksql"
)

// AddJob implements bulk.Store.
func (s *BulkStore) AddJob(ctx context.Context, j bulk.Job, items []work.Task, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO jobs (id, does, customer_id, ask, by, client, role, created_at, state, of) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			j.ID, j.Does, j.CustomerID, []byte(j.Ask), j.By, j.Client, j.Role, store.UTC(j.CreatedAt), j.State, j.Of); err != nil {
			return err
		}
		return worksql.Add(tx, items...)
	})
}

// Job implements bulk.Store.
func (s *BulkStore) Job(ctx context.Context, id string) (j bulk.Job, err error) {
	return j, store.Translated(s.Read.GetContext(ctx, &j, "SELECT * FROM jobs WHERE id = ?", id))
}

// Jobs implements bulk.Store.
func (s *BulkStore) Jobs(ctx context.Context, customer string, limit int) (list []bulk.Job, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM jobs WHERE ? = '' OR customer_id = ? ORDER BY created_at DESC, id LIMIT ?", customer, customer, limit))
}

// JobItems implements bulk.Store.
func (s *BulkStore) JobItems(ctx context.Context, job, outcome string, after, limit int) (list []work.Task, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM tasks WHERE job = ? AND outcome = ? AND number > ? ORDER BY number LIMIT ?", job, outcome, after, limit))
}

// CancelJob implements bulk.Store.
func (s *BulkStore) CancelJob(ctx context.Context, id string, at time.Time, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE jobs SET state = ?, ended_at = ? WHERE id = ? AND state = 'running'", work.Cancelled, store.UTC(at), id)
		if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE tasks SET ended_at = ?, outcome = ?, lease = '', leased_until = NULL, about = X'' WHERE job = ? AND outcome = '' AND ended_at IS NULL", store.UTC(at), work.Cancelled, id)
		return err
	})
}
