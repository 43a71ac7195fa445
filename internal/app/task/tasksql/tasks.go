// Package tasksql stores what package task works with.
package tasksql

import (
	"context"
	"database/sql"
	"errors"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/app/task"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

// TaskStore implements task.Store.
type TaskStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *TaskStore { return &TaskStore{auditsql.DB{DB: db}} }

// Task implements task.Store.
func (s *TaskStore) Task(ctx context.Context, id int64) (t work.Task, err error) {
	return t, store.Translated(s.Read.GetContext(ctx, &t, "SELECT * FROM tasks WHERE id = ?", id))
}

// states are the conditions for the states of a task.
var states = map[string]string{
	work.Waiting:   "ended_at IS NULL AND lease = ''",
	work.Running:   "ended_at IS NULL AND lease <> ''",
	work.Failed:    "outcome = 'failed'",
	work.Done:      "outcome = 'done'",
	work.Cancelled: "outcome = 'cancelled'",
}

// Tasks implements task.Store.
func (s *TaskStore) Tasks(ctx context.Context, q task.Query) (list []work.Task, err error) {
	where, args := []string{"1"}, []any{}
	if q.State != "" {
		where = append(where, states[q.State])
	}
	if q.Kind != "" {
		where, args = append(where, "kind = ?"), append(args, q.Kind)
	}
	if q.Before > 0 {
		where, args = append(where, "id < ?"), append(args, q.Before)
	}
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM tasks WHERE "+strings.Join(where, " AND ")+" ORDER BY id DESC LIMIT ?", append(args, q.Limit)...))
}

// CountTasks implements task.Store. Each part reads an index that has only its rows.
func (s *TaskStore) CountTasks(ctx context.Context) (list []task.Count, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, `SELECT kind, 'waiting' AS state, count(*) AS count FROM tasks WHERE ended_at IS NULL AND lease = '' GROUP BY kind
		UNION ALL SELECT kind, 'running', count(*) FROM tasks WHERE lease <> '' GROUP BY kind
		UNION ALL SELECT kind, 'failed', count(*) FROM tasks WHERE outcome = 'failed' GROUP BY kind ORDER BY 1, 2`))
}

// RunTask implements task.Store.
func (s *TaskStore) RunTask(ctx context.Context, id int64, now time.Time, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE tasks SET due = ?, attempts = 0 WHERE id = ? AND ended_at IS NULL AND lease = ''", store.UTC(now), id)
		if err := store.OneRow(r, err, problem.ErrChanged); !errors.Is(err, problem.ErrChanged) {
			return err
		}
		// A failed one waits again, and so does its job; a cancelled job stays as it is.
		var job string
		err = tx.GetContext(ctx, &job, `UPDATE tasks SET due = ?, attempts = 0, ended_at = NULL, outcome = '', why = '', hint = '' WHERE id = ? AND outcome = 'failed'
			AND NOT EXISTS (SELECT 1 FROM jobs WHERE id = tasks.job AND state = 'cancelled') RETURNING job`, store.UTC(now), id)
		if errors.Is(err, sql.ErrNoRows) {
			return problem.ErrChanged
		}
		if err != nil || job == "" {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE jobs SET failed = failed - 1, state = 'running', ended_at = NULL WHERE id = ?", job)
		return err
	})
}

// CancelTask implements task.Store.
func (s *TaskStore) CancelTask(ctx context.Context, id int64, now time.Time, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		var t work.Task
		err := tx.GetContext(ctx, &t, "UPDATE tasks SET ended_at = ?, outcome = ?, lease = '', leased_until = NULL WHERE id = ? AND ended_at IS NULL RETURNING *", store.UTC(now), work.Cancelled, id)
		if errors.Is(err, sql.ErrNoRows) {
			return problem.ErrChanged
		}
		if err != nil {
			return err
		}
		// What it was for ends with it.
		if _, err := tx.ExecContext(ctx, "UPDATE schedules SET ended_at = ?, outcome = ? WHERE ? = 'schedule' AND id = ? AND ended_at IS NULL", store.UTC(now), work.Cancelled, t.Kind, t.Key); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "UPDATE dry_runs SET cancelled = 1 WHERE ? = 'dry-run' AND id = ?", t.Kind, t.Key); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE jobs SET failed = failed + 1, state = iif(done + failed + 1 >= of, 'done', state), ended_at = iif(done + failed + 1 >= of, ?, ended_at) WHERE id = ? AND state = 'running'`, store.UTC(now), t.Job)
		return err
	})
}
