package sourcesql

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/source"
	"glasspocket/internal/asset"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// Pictures implements source.Store.
func (s *SourceStore) Pictures(ctx context.Context, id string) ([]source.Picture, error) {
	var rows []struct {
		Address   string    `db:"address"`
		Info      []byte    `db:"info"`
		FetchedAt time.Time `db:"fetched_at"`
		Why       string    `db:"why"`
	}
	if err := s.Read.SelectContext(ctx, &rows, "SELECT address, info, fetched_at, why FROM source_images WHERE source_id = ?", id); err != nil {
		return nil, store.Translated(err)
	}
	list := make([]source.Picture, len(rows))
	for i, r := range rows {
		list[i] = source.Picture{Address: r.Address, FetchedAt: r.FetchedAt, Why: r.Why}
		if len(r.Info) > 0 {
			if err := json.Unmarshal(r.Info, &list[i].Info); err != nil {
				return nil, err
			}
		}
	}
	return list, nil
}

// PictureUsage implements source.Store.
func (s *SourceStore) PictureUsage(ctx context.Context, customer string) (count int, bytes int64, err error) {
	return count, bytes, store.Translated(s.Read.QueryRowxContext(ctx, "SELECT count(*), coalesce(sum(bytes), 0) FROM source_images WHERE customer_id = ? AND digest <> ''", customer).Scan(&count, &bytes))
}

// SavePicture implements source.Store.
func (s *SourceStore) SavePicture(ctx context.Context, id, customer string, p source.Picture, made *asset.Made) error {
	var info []byte
	digest, bytes := "", 0
	if made != nil {
		info, _ = json.Marshal(made.Info)
		digest = made.Digest
		for _, f := range made.Forms {
			bytes += f.Bytes
		}
	}
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		if made != nil {
			if err := store.PutAsset(ctx, tx, *made); err != nil {
				return err
			}
		}
		r, err := tx.ExecContext(ctx, `INSERT INTO source_images (source_id, address, customer_id, digest, info, bytes, fetched_at, why) SELECT id, ?, ?, ?, ?, ?, ?, ? FROM sources WHERE id = ?
			ON CONFLICT (source_id, address) DO UPDATE SET digest = excluded.digest, info = excluded.info, bytes = excluded.bytes, fetched_at = excluded.fetched_at, why = excluded.why, unused_at = NULL`,
			p.Address, customer, digest, append([]byte{}, info...), bytes, store.UTC(p.FetchedAt), p.Why, id)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// keepPictures notes since when images are unused, after a source's items have changed.
func keepPictures(ctx context.Context, tx *sqlx.Tx, id string, items []item.Item, at time.Time) error {
	var known []string
	if err := tx.SelectContext(ctx, &known, "SELECT address FROM source_images WHERE source_id = ?", id); err != nil || len(known) == 0 {
		return err
	}
	used := map[string]bool{}
	for i := range items {
		for _, address := range items[i].Images() {
			used[address] = true
		}
	}
	for _, address := range known {
		query := "UPDATE source_images SET unused_at = coalesce(unused_at, ?) WHERE source_id = ? AND address = ?"
		if used[address] {
			query = "UPDATE source_images SET unused_at = NULL WHERE ? IS NOT NULL AND unused_at IS NOT NULL AND source_id = ? AND address = ?"
		}
		if _, err := tx.ExecContext(ctx, query, store.UTC(at), id, address); err != nil {
			return err
		}
	}
	return nil
}

// DropPictures implements source.Store.
func (s *SourceStore) DropPictures(ctx context.Context, before time.Time, most int) (n int, err error) {
	err = s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		n = 0
		var rows []struct {
			Source  string `db:"source_id"`
			Address string `db:"address"`
			Digest  string `db:"digest"`
		}
		if err := tx.SelectContext(ctx, &rows, "SELECT source_id, address, digest FROM source_images WHERE unused_at < ? AND NOT EXISTS (SELECT 1 FROM sealed_assets WHERE asset = digest) LIMIT ?", store.UTC(before), most); err != nil {
			return err
		}
		for _, r := range rows {
			if _, err := tx.ExecContext(ctx, "DELETE FROM source_images WHERE source_id = ? AND address = ?", r.Source, r.Address); err != nil {
				return err
			}
			if r.Digest != "" {
				if err := store.DropAsset(ctx, tx, r.Digest); err != nil {
					return err
				}
			}
		}
		n = len(rows)
		return nil
	})
	return n, err
}

// dropPicturesOf deletes the images of a source that is deleted.
func dropPicturesOf(ctx context.Context, tx *sqlx.Tx, id string) error {
	var digests []string
	if err := tx.SelectContext(ctx, &digests, "SELECT DISTINCT digest FROM source_images WHERE source_id = ? AND digest <> ''", id); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM source_images WHERE source_id = ?", id); err != nil {
		return err
	}
	for _, digest := range digests {
		if err := store.DropAsset(ctx, tx, digest); err != nil {
			return err
		}
	}
	return nil
}
