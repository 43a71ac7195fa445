package pocketsql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release/releasesql"
	"glasspocket/internal/content/contentsql"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// KeepGuestPocket implements pocket.Store.
func (s *PocketStore) KeepGuestPocket(ctx context.Context, key string, until time.Time) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE guest_pockets SET expires_at = ? WHERE key = ?", store.UTC(until), key)
		return err
	})
}

// AddPocket implements pocket.Store.
func (s *PocketStore) AddPocket(ctx context.Context, p pocket.Pocket, cases []pocket.Case, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if err := Add(ctx, s.DB.DB, tx, p); err != nil {
			return err
		}
		for _, c := range cases {
			if err := putCase(ctx, tx, p.Key, c); err != nil {
				return err
			}
		}
		return nil
	})
}

// Add adds a pocket in a transaction.
func Add(ctx context.Context, db *store.DB, tx *sqlx.Tx, p pocket.Pocket) error {
	if _, err := tx.ExecContext(ctx, "INSERT INTO pockets (key, customer_id, widget, starter, content, revision, draft_at, draft_by, created_at, lot) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
		p.Key, p.CustomerID, p.Widget, p.Starter, contentsql.Column{Content: p.Content}, p.Revision, store.UTC(p.DraftAt), p.DraftBy, store.UTC(p.CreatedAt), p.Lot); err != nil {
		return err
	}
	return contentsql.SetUses(db, tx, p.CustomerID, p.Key, contentsql.Draft, p.References)
}

// columns are those of a row.
const columns = "key, customer_id, widget, starter, content, revision, draft_at, draft_by, created_at, publication, newest, published_at, published_revision, release_number, follow, lot, withheld_at, withheld_why"

// row is a stored pocket.
type row struct {
	pocket.Pocket
	Stored  contentsql.Column `db:"content"`
	Follows bool              `db:"follow"`
}

func (r row) pocket() pocket.Pocket {
	p := r.Pocket
	p.Content = r.Stored.Content
	p.Follow = r.Follows
	return p
}

// listed is a stored pocket in a list, without its settings.
type listed struct {
	pocket.Pocket
	Stored  contentsql.Brief `db:"content"`
	Follows bool             `db:"follow"`
}

// list reads pockets without their settings.
func (s *PocketStore) list(ctx context.Context, query string, args ...any) ([]pocket.Pocket, error) {
	var rows []listed
	err := s.Read.SelectContext(ctx, &rows, "SELECT "+columns+" FROM pockets "+query, args...)
	list := make([]pocket.Pocket, len(rows))
	for i, r := range rows {
		list[i] = r.Pocket
		list[i].Content, list[i].Follow = r.Stored.Content, r.Follows
	}
	return list, store.Translated(err)
}

// Pocket implements pocket.Store.
func (s *PocketStore) Pocket(ctx context.Context, key string) (pocket.Pocket, error) {
	var r row
	err := s.Read.GetContext(ctx, &r, "SELECT "+columns+" FROM pockets WHERE key = ?", key)
	return r.pocket(), store.Translated(err)
}

// SavePocket implements pocket.Store.
func (s *PocketStore) SavePocket(ctx context.Context, p pocket.Pocket, revision int, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET starter = ?, content = ?, revision = revision + 1, draft_at = ?, draft_by = ? WHERE key = ? AND revision = ?",
			p.Starter, contentsql.Column{Content: p.Content}, store.UTC(p.DraftAt), p.DraftBy, p.Key, revision)
		if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
			return err
		}
		return contentsql.SetUses(s.DB.DB, tx, p.CustomerID, p.Key, contentsql.Draft, p.References)
	})
}

// DeletePocket implements pocket.Store.
func (s *PocketStore) DeletePocket(ctx context.Context, key string, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error { return Delete(ctx, tx, key) })
}

// Delete deletes an unpublished pocket in a transaction. Errors: problem.ErrNotFound, and
// problem.ErrChanged if it is published.
func Delete(ctx context.Context, tx *sqlx.Tx, key string) error {
	var publication int
	if err := tx.GetContext(ctx, &publication, "SELECT publication FROM pockets WHERE key = ?", key); err != nil {
		return err
	}
	if publication > 0 {
		return problem.ErrChanged
	}
	for _, table := range []string{"publications", "renderings", "schedules", "preview_cases", "guest_pockets", "sealed", "handovers", "uses", "pockets"} {
		if _, err := tx.ExecContext(ctx, "DELETE FROM "+table+" WHERE key = ?", key); err != nil {
			return err
		}
	}
	return nil
}

// Branded implements pocket.Store.
func (s *PocketStore) Branded(ctx context.Context, customer string, names []string, p paging.Page) (list []pocket.Pocket, err error) {
	query, args, err := sqlx.In("WHERE key IN (SELECT key FROM uses WHERE customer_id = ? AND kind = 'brand' AND id IN (?) AND key > ?) ORDER BY key LIMIT ?", customer, names, p.After, p.Limit)
	if err != nil {
		return nil, err
	}
	return s.list(ctx, query, args...)
}

// WithholdPocket implements pocket.Store.
func (s *PocketStore) WithholdPocket(ctx context.Context, key string, w customer.Withheld, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET withheld_at = ?, withheld_why = ? WHERE key = ?", store.UTCOrNil(w.At), w.Why, key)
		if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE renderings SET withheld = ? WHERE key = ?", w.At != nil, key)
		return err
	})
}

// ServedReleases implements pocket.Store.
func (s *PocketStore) ServedReleases(ctx context.Context, keys []string) (map[string]int, error) {
	query, args, err := sqlx.In(`SELECT key, (SELECT number FROM releases WHERE id = CASE WHEN refused = wanted THEN release_id ELSE wanted END) AS number
		FROM (SELECT k.key, `+releasesql.MadeFrom+` AS release_id, r.refused, coalesce(`+releasesql.WantedFor+`, `+releasesql.MadeFrom+`) AS wanted FROM pockets AS k JOIN renderings AS r ON r.key = k.key WHERE k.follow AND k.publication > 0 AND k.key IN (?))`, keys)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		Key    string
		Number int
	}
	err = s.Read.SelectContext(ctx, &rows, query, args...)
	numbers := map[string]int{}
	for _, r := range rows {
		numbers[r.Key] = r.Number
	}
	return numbers, store.Translated(err)
}
