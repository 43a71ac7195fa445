// Package worksql stores tasks.
package worksql

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

// WorkStore implements work.Store.
type WorkStore struct{ *store.DB }

// New returns the store in db.
func New(db *store.DB) *WorkStore { return &WorkStore{db} }

const insertTask = `INSERT INTO tasks (kind, key, customer_id, job, number, of, about, created_at, by, due) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
	ON CONFLICT (kind, key) WHERE key <> '' AND ended_at IS NULL DO NOTHING`

// Add adds tasks in a transaction, each unless an unfinished one of its kind has the same key.
func Add(tx *sqlx.Tx, list ...work.Task) error {
	add, err := tx.Preparex(insertTask)
	if err != nil {
		return err
	}
	defer add.Close()
	for _, t := range list {
		if _, err := add.Exec(t.Kind, t.Key, t.CustomerID, t.Job, t.Number, t.Of, append([]byte{}, t.About...), store.UTC(t.CreatedAt), t.By, store.UTC(t.Due)); err != nil {
			return err
		}
	}
	return nil
}

// Complete finishes a task in a transaction, and counts it in its job. Error: problem.ErrChanged if
// it is finished, or another attempt has it.
func Complete(tx *sqlx.Tx, c work.Completion, at time.Time) error {
	var job string
	err := tx.Get(&job, "UPDATE tasks SET ended_at = ?, outcome = ?, made = ?, why = ?, hint = ?, lease = '', leased_until = NULL, about = iif(? = 'failed', about, X'') WHERE id = ? AND lease = ? AND ended_at IS NULL RETURNING job",
		store.UTC(at), c.Outcome, c.Made, c.Why, c.Hint, c.Outcome, c.Task, c.Lease)
	if errors.Is(err, sql.ErrNoRows) {
		return problem.ErrChanged
	}
	if err != nil || job == "" {
		return err
	}
	done, failed := 1, 0
	if c.Outcome == work.Failed {
		done, failed = 0, 1
	}
	_, err = tx.Exec(`UPDATE jobs SET done = done + ?1, failed = failed + ?2, state = iif(done + failed + 1 >= of, 'done', state), ended_at = iif(done + failed + 1 >= of, ?3, ended_at)
		WHERE id = ?4 AND state = 'running'`, done, failed, store.UTC(at), job)
	return err
}

// Cancel finishes the waiting and running tasks of a kind with a key, in a transaction.
func Cancel(tx *sqlx.Tx, kind, key string, at time.Time) error {
	_, err := tx.Exec("UPDATE tasks SET ended_at = ?, outcome = ?, lease = '', leased_until = NULL WHERE kind = ? AND key = ? AND ended_at IS NULL", store.UTC(at), work.Cancelled, kind, key)
	return err
}

// AddTask implements work.Store.
func (s *WorkStore) AddTask(ctx context.Context, t work.Task) error {
	return s.Write(ctx, func(tx *sqlx.Tx) error { return Add(tx, t) })
}

// RenewLease implements work.Store.
func (s *WorkStore) RenewLease(ctx context.Context, lease string, until time.Time) error {
	return s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE tasks SET leased_until = ? WHERE lease = ? AND ended_at IS NULL", store.UTC(until), lease)
		return err
	})
}

// ExpireLeases implements work.Store.
func (s *WorkStore) ExpireLeases(ctx context.Context, now time.Time, except string) error {
	return s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE tasks SET lease = '', leased_until = NULL WHERE lease <> '' AND ended_at IS NULL AND (? AND lease <> ? OR NOT ? AND leased_until < ?)", now.IsZero(), except, now.IsZero(), store.UTC(now))
		return err
	})
}

// CompleteTask implements work.Store.
func (s *WorkStore) CompleteTask(ctx context.Context, c work.Completion, at time.Time) error {
	return s.Write(ctx, func(tx *sqlx.Tx) error { return Complete(tx, c, at) })
}

// PostponeTask implements work.Store.
func (s *WorkStore) PostponeTask(ctx context.Context, p work.Postponed) error {
	return s.WritePatiently(ctx, func(tx *sqlx.Tx) error { return Postpone(ctx, tx, p) })
}

// Postpone lets a leased task wait, in a transaction. Error: problem.ErrChanged if it is finished, or
// another attempt has it.
func Postpone(ctx context.Context, tx *sqlx.Tx, p work.Postponed) error {
	r, err := tx.ExecContext(ctx, "UPDATE tasks SET lease = '', leased_until = NULL, due = ?, attempts = ?, why = ?, about = coalesce(?, about) WHERE id = ? AND lease = ? AND ended_at IS NULL", store.UTC(p.Due), p.Attempts, p.Why, p.About, p.Task, p.Lease)
	return store.OneRow(r, err, problem.ErrChanged)
}

// PruneTasks implements work.Store.
func (s *WorkStore) PruneTasks(ctx context.Context, kind string, before time.Time) error {
	return s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM tasks WHERE kind = ? AND ended_at < ?", kind, store.UTC(before))
		return err
	})
}
