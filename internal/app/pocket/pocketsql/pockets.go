package pocketsql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release/releasesql"
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
func (s *PocketStore) AddPocket(ctx context.Context, p pocket.Pocket, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error { return Add(ctx, tx, p) })
}

// Add adds a pocket in a transaction.
func Add(ctx context.Context, tx *sqlx.Tx, p pocket.Pocket) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO pockets (key, customer_id, widget, title, language, starter, settings, revision, draft_at, draft_by, created_at, lot, brand_draft, cues)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		p.Key, p.CustomerID, p.Widget, p.Title, p.Language, p.Starter, []byte(p.Settings), p.Revision, store.UTC(p.DraftAt), p.DraftBy, store.UTC(p.CreatedAt), p.Lot, p.BrandDraft, p.Cues)
	return err
}

// Pocket implements pocket.Store.
func (s *PocketStore) Pocket(ctx context.Context, key string) (p pocket.Pocket, err error) {
	return p, store.Translated(s.Read.GetContext(ctx, &p, "SELECT * FROM pockets WHERE key = ?", key))
}

// SavePocket implements pocket.Store.
func (s *PocketStore) SavePocket(ctx context.Context, p pocket.Pocket, revision int, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET title = ?, language = ?, starter = ?, settings = ?, revision = revision + 1, draft_at = ?, draft_by = ?, brand_draft = ?, cues = ? WHERE key = ? AND revision = ?",
			p.Title, p.Language, p.Starter, []byte(p.Settings), store.UTC(p.DraftAt), p.DraftBy, p.BrandDraft, p.Cues, p.Key, revision)
		return store.OneRow(r, err, problem.ErrChanged)
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
	for _, table := range []string{"publications", "renderings", "schedules", "preview_cases", "guest_pockets", "sealed", "handovers", "pockets"} {
		if _, err := tx.ExecContext(ctx, "DELETE FROM "+table+" WHERE key = ?", key); err != nil {
			return err
		}
	}
	return nil
}

// Branded implements pocket.Store.
func (s *PocketStore) Branded(ctx context.Context, customer string, names []string, p paging.Page) (list []pocket.Pocket, err error) {
	where, args := "", []any{customer, p.After}
	for i, name := range names {
		if i > 0 {
			where += " OR "
		}
		where += "instr(brand_draft, ?) > 0 OR instr(brand_published, ?) > 0"
		args = append(args, " "+name+" ", " "+name+" ")
	}
	query := "SELECT * FROM pockets WHERE customer_id = ? AND key > ? AND (brand_draft <> '' OR brand_published <> '') AND (" + where + ") ORDER BY key LIMIT ?"
	return list, store.Translated(s.Read.SelectContext(ctx, &list, query, append(args, p.Limit)...))
}

// WithholdPocket implements pocket.Store.
func (s *PocketStore) WithholdPocket(ctx context.Context, key string, w customer.Withheld, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET withheld_at = ?, withheld_why = ? WHERE key = ?", store.UTCOrNil(w.At), w.Why, key)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// ServedReleases implements pocket.Store.
func (s *PocketStore) ServedReleases(ctx context.Context, keys []string) (map[string]int, error) {
	query, args, err := sqlx.In(`SELECT key, (SELECT number FROM releases WHERE id = CASE WHEN refused = wanted THEN release_id ELSE wanted END) AS number
		FROM (SELECT k.key, r.release_id, r.refused, coalesce(`+releasesql.WantedFor+`, r.release_id) AS wanted FROM pockets AS k JOIN renderings AS r ON r.key = k.key WHERE k.follow AND k.publication > 0 AND k.key IN (?))`, keys)
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
