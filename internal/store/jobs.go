package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddJob implements app.Store.
func (s *Store) AddJob(ctx context.Context, j app.Job, items []app.JobItem, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO jobs (id, does, customer_id, ask, by, client, role, created_at, state, of) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			j.ID, j.Does, j.CustomerID, []byte(j.Ask), j.By, j.Client, j.Role, utc(j.CreatedAt), j.State, j.Of); err != nil {
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

// Job implements app.Store.
func (s *Store) Job(ctx context.Context, id string) (j app.Job, err error) {
	return j, translated(s.read.GetContext(ctx, &j, "SELECT * FROM jobs WHERE id = ?", id))
}

// Jobs implements app.Store.
func (s *Store) Jobs(ctx context.Context, customer string, limit int) (list []app.Job, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM jobs WHERE ? = '' OR customer_id = ? ORDER BY created_at DESC, id LIMIT ?", customer, customer, limit))
}

// RunningJobs implements app.Store.
func (s *Store) RunningJobs(ctx context.Context) (list []app.Job, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, `SELECT * FROM jobs AS j WHERE state = 'running' AND NOT EXISTS (
		SELECT 1 FROM jobs AS k WHERE k.state = 'running' AND k.customer_id = j.customer_id AND (k.created_at, k.id) < (j.created_at, j.id)) ORDER BY created_at`))
}

// NextJobItem implements app.Store.
func (s *Store) NextJobItem(ctx context.Context, job string) (i app.JobItem, err error) {
	return i, translated(s.read.GetContext(ctx, &i, "SELECT * FROM job_items WHERE job = ? AND outcome = '' ORDER BY number LIMIT 1", job))
}

// JobItems implements app.Store.
func (s *Store) JobItems(ctx context.Context, job, outcome string, after, limit int) (list []app.JobItem, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT job, number, key, outcome, made, why, hint FROM job_items WHERE job = ? AND outcome = ? AND number > ? ORDER BY number LIMIT ?", job, outcome, after, limit))
}

func finishJobItem(tx *sqlx.Tx, i app.JobItem) error {
	r, err := tx.Exec("UPDATE job_items SET outcome = ?, made = ?, why = ?, hint = ?, ask = X'' WHERE job = ? AND number = ? AND outcome = ''", i.Outcome, i.Made, i.Why, i.Hint, i.Job, i.Number)
	if err := oneRow(r, err, app.ErrChanged); err != nil {
		return err
	}
	done, failed := 1, 0
	if i.Outcome == app.Failed {
		done, failed = 0, 1
	}
	_, err = tx.Exec("UPDATE jobs SET done = done + ?, failed = failed + ? WHERE id = ?", done, failed, i.Job)
	return err
}

// FinishJobItem implements app.Store.
func (s *Store) FinishJobItem(ctx context.Context, i app.JobItem) error {
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error { return finishJobItem(tx, i) })
}

// FinishJob implements app.Store.
func (s *Store) FinishJob(ctx context.Context, id, state, why string, at time.Time, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE jobs SET state = ?, why = ?, ended_at = ? WHERE id = ? AND state = 'running'", state, why, utc(at), id)
		return oneRow(r, err, app.ErrChanged)
	})
}
