package publishsql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/delivery/deliverysql"
	"glasspocket/internal/content/contentsql"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

const (
	pointPocket       = "UPDATE pockets SET publication = ?, newest = ?, published_at = ?, published_revision = ?, release_number = ?, follow = ? WHERE key = ? AND newest = ?"
	insertPublication = "INSERT INTO publications (key, number, customer_id, release_id, release_number, content, heights, revision, at, by, client, restores, unpublished) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)

// Publish implements publish.Store.
func (s *PublishStore) Publish(ctx context.Context, p delivery.Publication, r delivery.Rendering, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if p.Schedule != 0 {
			if err := s.finishSchedule(ctx, tx, p.Schedule, p.At, work.Done, "", p.Number); err != nil {
				return err
			}
		}
		live := p.Number
		if p.Unpublished {
			live = 0
		}
		res, err := s.Exec(tx, pointPocket, live, p.Number, store.UTC(p.At), p.Revision, p.Release, p.Follow, p.Key, p.Number-1)
		if err := store.OneRow(res, err, problem.ErrChanged); err != nil {
			return err
		}
		if _, err := s.Exec(tx, insertPublication,
			p.Key, p.Number, p.CustomerID, p.ReleaseID, p.Release, contentsql.Column{Content: p.Content}, []byte(p.Heights), p.Revision, store.UTC(p.At), p.By, p.Client, p.Restores, p.Unpublished); err != nil {
			return err
		}
		if err := contentsql.SetUses(s.DB.DB, tx, p.CustomerID, p.Key, contentsql.Live, p.References); err != nil {
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
func (s *PublishStore) Publications(ctx context.Context, key string, before, limit int) ([]delivery.Publication, error) {
	var rows []deliverysql.PublicationRow
	err := s.Read.SelectContext(ctx, &rows, "SELECT * FROM publications WHERE key = ? AND (? = 0 OR number < ?) ORDER BY number DESC LIMIT ?", key, before, before, limit)
	list := make([]delivery.Publication, len(rows))
	for i, r := range rows {
		list[i] = r.Whole()
	}
	return list, store.Translated(err)
}
