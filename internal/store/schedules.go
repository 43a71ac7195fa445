package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddSchedules implements app.Store.
func (s *Store) AddSchedules(ctx context.Context, list []app.Schedule, rec *app.Record) (ids []int64, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		ids = nil
		for _, each := range list {
			r, err := tx.ExecContext(ctx, "INSERT INTO schedules (key, customer_id, due, moment, does, number, publication, created_at, by, client) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
				each.Key, each.CustomerID, utc(each.Due), each.Moment, each.Does, each.Number, []byte(each.Publication), utc(each.CreatedAt), each.By, each.Client)
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

// Schedules implements app.Store.
func (s *Store) Schedules(ctx context.Context, key string, before int64, limit int) (list []app.Schedule, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM schedules WHERE key = ? AND (? = 0 OR id < ?) ORDER BY id DESC LIMIT ?", key, before, before, limit))
}

// WaitingSchedules implements app.Store.
func (s *Store) WaitingSchedules(ctx context.Context, key string) (list []app.Schedule, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM schedules WHERE key = ? AND ended_at IS NULL ORDER BY id DESC", key))
}

// DueSchedules implements app.Store.
func (s *Store) DueSchedules(ctx context.Context, now time.Time, limit int) (list []app.Schedule, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM schedules WHERE ended_at IS NULL AND due <= ? ORDER BY due, id LIMIT ?", utc(now), limit))
}

const finishSchedule = "UPDATE schedules SET ended_at = ?, outcome = ?, why = ?, made = ? WHERE id = ? AND ended_at IS NULL"

// FinishSchedule implements app.Store.
func (s *Store) FinishSchedule(ctx context.Context, id int64, at time.Time, outcome, why string, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, finishSchedule, utc(at), outcome, why, 0, id)
		return oneRow(r, err, app.ErrChanged)
	})
}
