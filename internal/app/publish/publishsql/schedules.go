package publishsql

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/content/contentsql"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
	"glasspocket/internal/work/worksql"
)

// AddSchedules implements publish.Store.
func (s *PublishStore) AddSchedules(ctx context.Context, list []publish.Schedule, rec *audit.Record) (ids []int64, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		ids = nil
		for _, each := range list {
			r, err := tx.ExecContext(ctx, "INSERT INTO schedules (key, customer_id, due, moment, does, number, publication, created_at, by, client) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
				each.Key, each.CustomerID, store.UTC(each.Due), each.Moment, each.Does, each.Number, []byte(each.Publication), store.UTC(each.CreatedAt), each.By, each.Client)
			if err != nil {
				return err
			}
			id, err := r.LastInsertId()
			if err != nil {
				return err
			}
			if err := contentsql.SetUses(s.DB.DB, tx, each.CustomerID, each.Key, ownerOf(id), each.References); err != nil {
				return err
			}
			if err := worksql.Add(tx, work.Task{Kind: publish.ScheduleTask, Key: fmt.Sprint(id), CustomerID: each.CustomerID, Of: each.Key, CreatedAt: each.CreatedAt, By: each.By, Due: each.Due}); err != nil {
				return err
			}
			ids = append(ids, id)
		}
		return nil
	})
	return ids, err
}

// Schedules implements publish.Store.
func (s *PublishStore) Schedules(ctx context.Context, key string, before int64, limit int) (list []publish.Schedule, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM schedules WHERE key = ? AND (? = 0 OR id < ?) ORDER BY id DESC LIMIT ?", key, before, before, limit))
}

// WaitingSchedules implements publish.Store.
func (s *PublishStore) WaitingSchedules(ctx context.Context, key string) (list []publish.Schedule, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM schedules WHERE key = ? AND ended_at IS NULL ORDER BY id DESC", key))
}

// WaitingSchedule implements publish.Store.
func (s *PublishStore) WaitingSchedule(ctx context.Context, id int64) (each publish.Schedule, err error) {
	return each, store.Translated(s.Read.GetContext(ctx, &each, "SELECT * FROM schedules WHERE id = ? AND ended_at IS NULL", id))
}

// ownerOf is a schedule as the owner of references.
func ownerOf(id int64) string { return fmt.Sprint("schedule ", id) }

// finishSchedule finishes a waiting schedule in a transaction.
func (s *PublishStore) finishSchedule(ctx context.Context, tx *sqlx.Tx, id int64, at time.Time, outcome, why string, made int) error {
	var key string
	err := tx.GetContext(ctx, &key, "UPDATE schedules SET ended_at = ?, outcome = ?, why = ?, made = ? WHERE id = ? AND ended_at IS NULL RETURNING key", store.UTC(at), outcome, why, made, id)
	if errors.Is(err, sql.ErrNoRows) {
		return problem.ErrChanged
	}
	if err != nil {
		return err
	}
	return contentsql.SetUses(s.DB.DB, tx, "", key, ownerOf(id), nil)
}

// FinishSchedule implements publish.Store.
func (s *PublishStore) FinishSchedule(ctx context.Context, id int64, at time.Time, outcome, why string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if err := s.finishSchedule(ctx, tx, id, at, outcome, why, 0); err != nil || rec != nil && rec.Task != nil {
			return err
		}
		return worksql.Cancel(tx, publish.ScheduleTask, fmt.Sprint(id), at)
	})
}
