package bulksql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

// AddJob implements bulk.Store.
func (s *BulkStore) AddJob(ctx context.Context, j bulk.Job, items []work.Item, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO jobs (id, does, customer_id, ask, by, client, role, created_at, state, of) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			j.ID, j.Does, j.CustomerID, []byte(j.Ask), j.By, j.Client, j.Role, store.UTC(j.CreatedAt), j.State, j.Of); err != nil {
			return err
		}
		add, err := tx.PreparexContext(ctx, "INSERT INTO job_items (job, number, key, ask) VALUES (?, ?, ?, ?)")
		if err != nil {
			return err
		}
		defer add.Close()
		for _, i := range items {
			if _, err := add.Exec(i.Job, i.Number, i.Key, append([]byte{}, i.Ask...)); err != nil {
				return err
			}
		}
		return nil
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

// RunningJobs implements bulk.Store.
func (s *BulkStore) RunningJobs(ctx context.Context) (list []bulk.Job, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, `SELECT * FROM jobs AS j WHERE state = 'running' AND NOT EXISTS (
		SELECT 1 FROM jobs AS k WHERE k.state = 'running' AND k.customer_id = j.customer_id AND (k.created_at, k.id) < (j.created_at, j.id)) ORDER BY created_at`))
}

// NextJobItem implements bulk.Store.
func (s *BulkStore) NextJobItem(ctx context.Context, job string) (i work.Item, err error) {
	return i, store.Translated(s.Read.GetContext(ctx, &i, "SELECT * FROM job_items WHERE job = ? AND outcome = '' ORDER BY number LIMIT 1", job))
}

// JobItems implements bulk.Store.
func (s *BulkStore) JobItems(ctx context.Context, job, outcome string, after, limit int) (list []work.Item, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT job, number, key, outcome, made, why, hint FROM job_items WHERE job = ? AND outcome = ? AND number > ? ORDER BY number LIMIT ?", job, outcome, after, limit))
}

// FinishJobItem implements bulk.Store.
func (s *BulkStore) FinishJobItem(ctx context.Context, i work.Item) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error { return auditsql.FinishItem(tx, i) })
}

// FinishJob implements bulk.Store.
func (s *BulkStore) FinishJob(ctx context.Context, id, state, why string, at time.Time, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE jobs SET state = ?, why = ?, ended_at = ? WHERE id = ? AND state = 'running'", state, why, store.UTC(at), id)
		return store.OneRow(r, err, problem.ErrChanged)
	})
}
