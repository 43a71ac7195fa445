package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddPocket implements app.Store.
func (s *Store) AddPocket(ctx context.Context, p app.Pocket) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO pockets (key, customer_id, widget, title, language, starter, settings, revision, draft_at, created_at)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			p.Key, p.CustomerID, p.Widget, p.Title, p.Language, p.Starter, []byte(p.Settings), p.Revision, utc(p.DraftAt), utc(p.CreatedAt))
		return err
	})
}

// Pocket implements app.Store.
func (s *Store) Pocket(ctx context.Context, key string) (p app.Pocket, err error) {
	return p, told(s.read.GetContext(ctx, &p, "SELECT * FROM pockets WHERE key = ?", key))
}

// Pockets implements app.Store.
func (s *Store) Pockets(ctx context.Context, only string, p app.Page) (list []app.Pocket, err error) {
	return list, told(s.read.SelectContext(ctx, &list, "SELECT * FROM pockets WHERE (? = '' OR customer_id = ?) AND key > ? ORDER BY key LIMIT ?", only, only, p.After, p.Limit))
}

// SaveDraft implements app.Store.
func (s *Store) SaveDraft(ctx context.Context, key string, revision int, settings json.RawMessage, at time.Time) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE pockets SET settings = ?, revision = revision + 1, draft_at = ? WHERE key = ? AND revision = ?", []byte(settings), utc(at), key, revision)
		return oneRow(r, err, app.ErrChanged)
	})
}

const (
	pointPocket       = "UPDATE pockets SET publication = ?, published_at = ?, published_revision = ?, release_number = ? WHERE key = ? AND publication = ?"
	insertPublication = `INSERT INTO publications (key, number, customer_id, release_id, release_number, settings, language, title, heights, revision, at, by, client)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`
	// A rendering of an older publication that comes late must not replace a newer one.
	upsertRendering = `INSERT INTO renderings (key, publication, identity, script, json, page) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (key) DO UPDATE SET publication = excluded.publication, identity = excluded.identity, script = excluded.script, json = excluded.json, page = excluded.page
		WHERE excluded.publication >= publication`
)

// Publish implements app.Store.
func (s *Store) Publish(ctx context.Context, p app.Publication, r app.Rendering) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		res, err := s.write.exec(tx, pointPocket, p.Number, utc(p.At), p.Revision, p.Release, p.Key, p.Number-1)
		if err := oneRow(res, err, app.ErrChanged); err != nil {
			return err
		}
		if _, err := s.write.exec(tx, insertPublication,
			p.Key, p.Number, p.CustomerID, p.ReleaseID, p.Release, []byte(p.Settings), p.Language, p.Title, []byte(p.Heights), p.Revision, utc(p.At), p.By, p.Client); err != nil {
			return err
		}
		return s.putRendering(tx, r)
	})
}

func (s *Store) putRendering(tx *sqlx.Tx, r app.Rendering) error {
	_, err := s.write.exec(tx, upsertRendering, r.Key, r.Publication, r.Identity, r.Script, r.JSON, r.Page)
	return err
}

// SaveRendering implements app.Store.
func (s *Store) SaveRendering(ctx context.Context, r app.Rendering) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error { return s.putRendering(tx, r) })
}

// Publications implements app.Store.
func (s *Store) Publications(ctx context.Context, key string, before, limit int) (list []app.Publication, err error) {
	return list, told(s.read.SelectContext(ctx, &list, "SELECT * FROM publications WHERE key = ? AND (? = 0 OR number < ?) ORDER BY number DESC LIMIT ?", key, before, before, limit))
}

// Publication implements app.Store.
func (s *Store) Publication(ctx context.Context, key string, number int) (p app.Publication, err error) {
	return p, told(s.read.GetContext(ctx, &p, "SELECT * FROM publications WHERE key = ? AND number = ?", key, number))
}

// Rendering implements app.Store.
func (s *Store) Rendering(ctx context.Context, key string) (r app.Rendering, err error) {
	return r, told(s.read.GetContext(ctx, &r, "SELECT * FROM renderings WHERE key = ?", key))
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
