package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// entryRow is an app.Entry in its stored form.
type entryRow struct {
	app.Entry
	Written string `db:"names"`
}

func (r entryRow) entry() app.Entry {
	e := r.Entry
	_ = json.Unmarshal([]byte(r.Written), &e.Names) // valid, because we wrote it
	return e
}

const insertEntry = "INSERT INTO audit (at, since, customer_id, by, client, did, kind, of, names, number, note) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"

// note adds an entry to the audit, or combines it with the newest of its object.
func note(w *writer, tx *sqlx.Tx, e app.Entry) error {
	if e.Did == "" {
		return nil
	}
	if len(e.Names) > 0 {
		var last entryRow
		err := tx.Get(&last, "SELECT * FROM audit WHERE kind = ? AND of = ? ORDER BY id DESC LIMIT 1", e.Kind, e.Of)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if before := last.entry(); err == nil && e.Joins(before) {
			e = e.Joined(before)
			names, _ := json.Marshal(e.Names)
			_, err := tx.Exec("UPDATE audit SET at = ?, names = ? WHERE id = ?", utc(e.At), string(names), e.ID)
			return err
		}
	}
	names, _ := json.Marshal(append([]string{}, e.Names...))
	_, err := w.exec(tx, insertEntry,
		utc(e.At), utc(e.Since), e.CustomerID, e.By, e.Client, e.Did, e.Kind, e.Of, string(names), e.Number, e.Note)
	return err
}

// Audit implements app.Store.
func (s *Store) Audit(ctx context.Context, q app.AuditQuery) ([]app.Entry, error) {
	where, args := "1", []any{}
	and := func(what string, with ...any) {
		where += " AND " + what
		args = append(args, with...)
	}
	if q.CustomerID != "" {
		and("customer_id = ?", q.CustomerID)
	}
	if q.Of != "" {
		and("kind = ? AND of = ?", q.Kind, q.Of)
	}
	if q.Before > 0 {
		and("id < ?", q.Before)
	}
	var rows []entryRow
	err := s.read.SelectContext(ctx, &rows, "SELECT * FROM audit WHERE "+where+" ORDER BY id DESC LIMIT ?", append(args, q.Limit)...)
	list := make([]app.Entry, len(rows))
	for i, r := range rows {
		list[i] = r.entry()
	}
	return list, translated(err)
}
