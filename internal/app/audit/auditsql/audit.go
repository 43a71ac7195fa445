package auditsql

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/store"
)

// entryRow is an app.Entry in its stored form.
type entryRow struct {
	audit.Entry
	Written string `db:"names"`
}

func (r entryRow) entry() audit.Entry {
	e := r.Entry
	_ = json.Unmarshal([]byte(r.Written), &e.Names) // valid, because we wrote it
	return e
}

const insertEntry = "INSERT INTO audit (at, since, customer_id, by, client, did, kind, of, names, number, note) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"

// note adds an entry to the audit, or combines it with the newest of its object.
func (db DB) note(tx *sqlx.Tx, e audit.Entry) error {
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
			_, err := tx.Exec("UPDATE audit SET at = ?, names = ? WHERE id = ?", store.UTC(e.At), string(names), e.ID)
			return err
		}
	}
	names, _ := json.Marshal(append([]string{}, e.Names...))
	_, err := db.Exec(tx, insertEntry,
		store.UTC(e.At), store.UTC(e.Since), e.CustomerID, e.By, e.Client, e.Did, e.Kind, e.Of, string(names), e.Number, e.Note)
	return err
}

// Audit implements audit.Store.
func (s *AuditStore) Audit(ctx context.Context, q audit.Query) ([]audit.Entry, error) {
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
	err := s.Read.SelectContext(ctx, &rows, "SELECT * FROM audit WHERE "+where+" ORDER BY id DESC LIMIT ?", append(args, q.Limit)...)
	list := make([]audit.Entry, len(rows))
	for i, r := range rows {
		list[i] = r.entry()
	}
	return list, store.Translated(err)
}
