package store

import (
	"context"
	"database/sql"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
	"glasspocket/internal/render"
)

// AddPocket implements app.Store.
func (s *Store) AddPocket(ctx context.Context, p app.Pocket, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error { return addPocket(ctx, tx, p) })
}

func addPocket(ctx context.Context, tx *sqlx.Tx, p app.Pocket) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO pockets (key, customer_id, widget, title, language, starter, settings, revision, draft_at, draft_by, created_at, lot, brand_draft, cues)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		p.Key, p.CustomerID, p.Widget, p.Title, p.Language, p.Starter, []byte(p.Settings), p.Revision, utc(p.DraftAt), p.DraftBy, utc(p.CreatedAt), p.Lot, p.BrandDraft, p.Cues)
	return err
}

// Pocket implements app.Store.
func (s *Store) Pocket(ctx context.Context, key string) (p app.Pocket, err error) {
	return p, translated(s.read.GetContext(ctx, &p, "SELECT * FROM pockets WHERE key = ?", key))
}

// SavePocket implements app.Store.
func (s *Store) SavePocket(ctx context.Context, p app.Pocket, revision int, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET title = ?, language = ?, starter = ?, settings = ?, revision = revision + 1, draft_at = ?, draft_by = ?, brand_draft = ?, cues = ? WHERE key = ? AND revision = ?",
			p.Title, p.Language, p.Starter, []byte(p.Settings), utc(p.DraftAt), p.DraftBy, p.BrandDraft, p.Cues, p.Key, revision)
		return oneRow(r, err, app.ErrChanged)
	})
}

const (
	pointPocket       = "UPDATE pockets SET publication = ?, newest = ?, published_at = ?, published_revision = ?, release_number = ?, follow = ?, brand_published = ?, cues_published = ? WHERE key = ? AND newest = ?"
	insertPublication = `INSERT INTO publications (key, number, customer_id, release_id, release_number, settings, language, title, heights, revision, at, by, client, follow, restores, unpublished, cues)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`
	// A late rendering of an older publication must not replace a newer one.
	upsertRendering = `INSERT INTO renderings (key, publication, release_id, identity, sums, brand, script, json, page, refused) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (key) DO UPDATE SET publication = excluded.publication, release_id = excluded.release_id, identity = excluded.identity, sums = excluded.sums, brand = excluded.brand, refused = excluded.refused, script = excluded.script, json = excluded.json, page = excluded.page
		WHERE excluded.publication >= publication`
)

// Publish implements app.Store.
func (s *Store) Publish(ctx context.Context, p app.Publication, r app.Rendering, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		if p.Schedule != 0 {
			res, err := tx.ExecContext(ctx, finishSchedule, utc(p.At), app.Done, "", p.Number, p.Schedule)
			if err := oneRow(res, err, app.ErrChanged); err != nil {
				return err
			}
		}
		live := p.Number
		if p.Unpublished {
			live = 0
		}
		res, err := s.write.exec(tx, pointPocket, live, p.Number, utc(p.At), p.Revision, p.Release, p.Follow, p.Brand, p.Cues, p.Key, p.Number-1)
		if err := oneRow(res, err, app.ErrChanged); err != nil {
			return err
		}
		if _, err := s.write.exec(tx, insertPublication,
			p.Key, p.Number, p.CustomerID, p.ReleaseID, p.Release, []byte(p.Settings), p.Language, p.Title, []byte(p.Heights), p.Revision, utc(p.At), p.By, p.Client, p.Follow, p.Restores, p.Unpublished, p.Cues); err != nil {
			return err
		}
		if p.Unpublished {
			_, err := tx.ExecContext(ctx, "DELETE FROM renderings WHERE key = ?", p.Key)
			return err
		}
		return s.putRendering(tx, r)
	})
}

func (s *Store) putRendering(tx *sqlx.Tx, r app.Rendering) error {
	_, err := s.write.exec(tx, upsertRendering, r.Key, r.Publication, r.ReleaseID, r.Identity, r.Sums, r.Brand, r.Script, r.JSON, r.Page, r.Refused)
	return err
}

// SaveRendering implements app.Store.
func (s *Store) SaveRendering(ctx context.Context, r app.Rendering) error {
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error { return s.putRendering(tx, r) })
}

// Publications implements app.Store.
func (s *Store) Publications(ctx context.Context, key string, before, limit int) (list []app.Publication, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM publications WHERE key = ? AND (? = 0 OR number < ?) ORDER BY number DESC LIMIT ?", key, before, before, limit))
}

// Publication implements app.Store.
func (s *Store) Publication(ctx context.Context, key string, number int) (p app.Publication, err error) {
	return p, translated(s.read.GetContext(ctx, &p, "SELECT * FROM publications WHERE key = ? AND number = ?", key, number))
}

// current uses primary keys only, and reads one document of three, because it runs for everything
// that is not cached.
const current = `SELECT r.key, r.publication, r.release_id, r.identity, r.sums, r.brand, c.brand_revision, r.%s AS document, p.customer_id, p.widget, p.follow, p.cues_published, c.sites,
		p.withheld_at IS NOT NULL OR c.withheld_at IS NOT NULL AS withheld,
		CASE WHEN p.follow THEN coalesce((SELECT id FROM releases WHERE widget = p.widget AND withdrawn_at IS NULL AND share > p.lot ORDER BY number DESC LIMIT 1),
			(SELECT id FROM releases WHERE widget = p.widget AND withdrawn_at IS NULL ORDER BY number LIMIT 1), 0) ELSE 0 END AS newest
	FROM renderings AS r JOIN pockets AS p ON p.key = r.key JOIN customers AS c ON c.id = p.customer_id WHERE r.key = ?`

var columns = [...]string{render.Script: "script", render.JSON: "json", render.Page: "page"}

// Current implements app.Store.
func (s *Store) Current(ctx context.Context, key string, part render.Part) (c app.Current, err error) {
	return c, translated(s.current[part].GetContext(ctx, &c, key))
}

// DeletePocket implements app.Store.
func (s *Store) DeletePocket(ctx context.Context, key string, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error { return deletePocket(ctx, tx, key) })
}

func deletePocket(ctx context.Context, tx *sqlx.Tx, key string) error {
	var publication int
	if err := tx.GetContext(ctx, &publication, "SELECT publication FROM pockets WHERE key = ?", key); err != nil {
		return err
	}
	if publication > 0 {
		return app.ErrChanged
	}
	for _, table := range []string{"publications", "renderings", "schedules", "preview_cases", "guest_pockets", "sealed", "handovers", "pockets"} {
		if _, err := tx.ExecContext(ctx, "DELETE FROM "+table+" WHERE key = ?", key); err != nil {
			return err
		}
	}
	return nil
}

// Branded implements app.Store.
func (s *Store) Branded(ctx context.Context, customer string, names []string, p app.Page) (list []app.Pocket, err error) {
	where, args := "", []any{customer, p.After}
	for i, name := range names {
		if i > 0 {
			where += " OR "
		}
		where += "instr(brand_draft, ?) > 0 OR instr(brand_published, ?) > 0"
		args = append(args, " "+name+" ", " "+name+" ")
	}
	query := "SELECT * FROM pockets WHERE customer_id = ? AND key > ? AND (brand_draft <> '' OR brand_published <> '') AND (" + where + ") ORDER BY key LIMIT ?"
	return list, translated(s.read.SelectContext(ctx, &list, query, append(args, p.Limit)...))
}

// WithholdPocket implements app.Store.
func (s *Store) WithholdPocket(ctx context.Context, key string, w app.Withheld, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET withheld_at = ?, withheld_why = ? WHERE key = ?", utcOrNil(w.At), w.Why, key)
		return oneRow(r, err, app.ErrNotFound)
	})
}

func oneRow(r sql.Result, err, none error) error {
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil {
		return err
	} else if n == 0 {
		return none
	}
	return nil
}
