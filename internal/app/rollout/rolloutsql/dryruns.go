package rolloutsql

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
	"glasspocket/internal/work/worksql"
)

// AddDryRun implements rollout.Store.
func (s *RolloutStore) AddDryRun(ctx context.Context, d rollout.StoredDryRun) (deleted []string, err error) {
	err = s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		deleted = nil
		if _, err := tx.ExecContext(ctx, "INSERT INTO dry_runs (id, widget, digest, after, began, of, by, folder) VALUES (?, ?, ?, ?, ?, ?, ?, ?)", d.ID, d.Widget, d.Digest, d.After, store.UTC(d.Began), d.Of, d.By, d.Folder); err != nil {
			return err
		}
		if err := tx.SelectContext(ctx, &deleted, "DELETE FROM dry_runs WHERE id NOT IN (SELECT id FROM dry_runs ORDER BY began DESC, rowid DESC LIMIT ?) RETURNING id", rollout.DryRunsKept); err != nil {
			return err
		}
		return worksql.Add(tx, work.Task{Kind: rollout.DryRunTask, Key: d.ID, Of: d.Widget, CreatedAt: d.Began, By: d.By, Due: d.Began})
	})
	return deleted, err
}

// DryRun implements rollout.Store.
func (s *RolloutStore) DryRun(ctx context.Context, id string) (d rollout.StoredDryRun, err error) {
	return d, store.Translated(s.Read.GetContext(ctx, &d, "SELECT * FROM dry_runs WHERE id = ?", id))
}

// FinishDryRun implements rollout.Store.
func (s *RolloutStore) FinishDryRun(ctx context.Context, id string, result []byte, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE dry_runs SET result = ? WHERE id = ?", result, id)
		return err
	})
}

// CancelDryRun implements rollout.Store.
func (s *RolloutStore) CancelDryRun(ctx context.Context, id string, now time.Time) (task int64, err error) {
	err = s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE dry_runs SET cancelled = 1 WHERE id = ? AND length(result) = 0 AND NOT cancelled", id)
		if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
			return err
		}
		err = tx.GetContext(ctx, &task, "SELECT id FROM tasks WHERE kind = ? AND key = ? AND ended_at IS NULL", rollout.DryRunTask, id)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		return worksql.Cancel(tx, rollout.DryRunTask, id, now)
	})
	return task, err
}
