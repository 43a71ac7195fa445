package publishsql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
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

// DueSchedules implements publish.Store.
func (s *PublishStore) DueSchedules(ctx context.Context, now time.Time, limit int) (list []publish.Schedule, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM schedules WHERE ended_at IS NULL AND due <= ? ORDER BY due, id LIMIT ?", store.UTC(now), limit))
}

const finishSchedule = "UPDATE schedules SET ended_at = ?, outcome = ?, why = ?, made = ? WHERE id = ? AND ended_at IS NULL"

// FinishSchedule implements publish.Store.
func (s *PublishStore) FinishSchedule(ctx context.Context, id int64, at time.Time, outcome, why string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, finishSchedule, store.UTC(at), outcome, why, 0, id)
		return store.OneRow(r, err, problem.ErrChanged)
	})
}
