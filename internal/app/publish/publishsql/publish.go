package publishsql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/delivery/deliverysql"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

const (
	pointPocket       = "UPDATE pockets SET publication = ?, newest = ?, published_at = ?, published_revision = ?, release_number = ?, follow = ?, brand_published = ?, cues_published = ? WHERE key = ? AND newest = ?"
	insertPublication = `INSERT INTO publications (key, number, customer_id, release_id, release_number, settings, language, title, heights, revision, at, by, client, follow, restores, unpublished, cues)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`
)

// Publish implements publish.Store.
func (s *PublishStore) Publish(ctx context.Context, p delivery.Publication, r delivery.Rendering, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if p.Schedule != 0 {
			res, err := tx.ExecContext(ctx, finishSchedule, store.UTC(p.At), work.Done, "", p.Number, p.Schedule)
			if err := store.OneRow(res, err, problem.ErrChanged); err != nil {
				return err
			}
		}
		live := p.Number
		if p.Unpublished {
			live = 0
		}
		res, err := s.Exec(tx, pointPocket, live, p.Number, store.UTC(p.At), p.Revision, p.Release, p.Follow, p.Brand, p.Cues, p.Key, p.Number-1)
		if err := store.OneRow(res, err, problem.ErrChanged); err != nil {
			return err
		}
		if _, err := s.Exec(tx, insertPublication,
			p.Key, p.Number, p.CustomerID, p.ReleaseID, p.Release, []byte(p.Settings), p.Language, p.Title, []byte(p.Heights), p.Revision, store.UTC(p.At), p.By, p.Client, p.Follow, p.Restores, p.Unpublished, p.Cues); err != nil {
			return err
		}
		if p.Unpublished {
			_, err := tx.ExecContext(ctx, "DELETE FROM renderings WHERE key = ?", p.Key)
			return err
		}
		return deliverysql.PutRendering(s.DB, tx, r)
	})
}

// Publications implements publish.Store.
func (s *PublishStore) Publications(ctx context.Context, key string, before, limit int) (list []delivery.Publication, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM publications WHERE key = ? AND (? = 0 OR number < ?) ORDER BY number DESC LIMIT ?", key, before, before, limit))
}
