package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
	"glasspocket/internal/asset"
)

// putFile stores bytes once, however many owners they have, and returns their digest.
func putFile(ctx context.Context, tx *sqlx.Tx, bytes []byte) (string, error) {
	sum := sha256.Sum256(bytes)
	digest := hex.EncodeToString(sum[:])
	_, err := tx.ExecContext(ctx, "INSERT INTO files (digest, bytes) VALUES (?, ?) ON CONFLICT DO NOTHING", digest, append([]byte{}, bytes...))
	return digest, err
}

func putAsset(ctx context.Context, tx *sqlx.Tx, made asset.Made) error {
	for i, form := range made.Forms {
		if i >= len(made.Files) {
			break // opened from the store, so it is stored already
		}
		file, err := putFile(ctx, tx, made.Files[i])
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO asset_files (digest, name, file) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", made.Digest, form.Name, file); err != nil {
			return err
		}
	}
	return nil
}

// AddAsset implements app.Store.
func (s *Store) AddAsset(ctx context.Context, made asset.Made, a app.Asset, rec *app.Record) (fresh bool, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		if err := putAsset(ctx, tx, made); err != nil {
			return err
		}
		info, _ := json.Marshal(made.Info)
		r, err := tx.ExecContext(ctx, "INSERT INTO assets (customer_id, digest, info, created_at, created_by) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
			a.CustomerID, made.Digest, info, utc(a.CreatedAt), a.CreatedBy)
		if err != nil {
			return err
		}
		n, err := r.RowsAffected()
		if fresh = n > 0; !fresh {
			rec.Skip()
		}
		return err
	})
	return fresh, err
}

// Assets implements app.Store.
func (s *Store) Assets(ctx context.Context, customer string, p app.Page) (list []app.Asset, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM assets WHERE customer_id = ? AND digest > ? ORDER BY digest LIMIT ?", customer, p.After, p.Limit))
}

// Asset implements app.Store.
func (s *Store) Asset(ctx context.Context, customer, digest string) (a app.Asset, err error) {
	return a, translated(s.read.GetContext(ctx, &a, "SELECT * FROM assets WHERE customer_id = ? AND digest = ?", customer, digest))
}

// AssetUses implements app.Store.
func (s *Store) AssetUses(ctx context.Context, customer, digest string) (keys []string, err error) {
	return keys, translated(s.read.SelectContext(ctx, &keys, assetUses, customer, digest, digest, digest, digest, customer, digest))
}

const assetUses = `SELECT key FROM pockets WHERE customer_id = ? AND (instr(CAST(settings AS TEXT), ?) > 0
	OR EXISTS (SELECT 1 FROM publications AS p WHERE p.key = pockets.key AND p.number = pockets.publication AND instr(CAST(p.settings AS TEXT), ?) > 0)
	OR EXISTS (SELECT 1 FROM schedules AS s WHERE s.key = pockets.key AND s.ended_at IS NULL AND instr(CAST(s.publication AS TEXT), ?) > 0)
	OR EXISTS (SELECT 1 FROM sealed AS x JOIN sealed_assets AS y ON y.sealed = x.digest WHERE x.key = pockets.key AND y.asset = ?))
	UNION ALL SELECT 'the brand' FROM customers WHERE id = ? AND instr(CAST(brand AS TEXT), ?) > 0
	ORDER BY key LIMIT 100`

// CopyAsset implements app.Store.
func (s *Store) CopyAsset(ctx context.Context, from, to, digest, by string, at time.Time) error {
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO assets (customer_id, digest, info, created_at, created_by) SELECT ?, digest, info, ?, ? FROM assets WHERE customer_id = ? AND digest = ? ON CONFLICT (customer_id, digest) DO UPDATE SET digest = excluded.digest",
			to, utc(at), by, from, digest)
		return oneRow(r, err, app.ErrNotFound)
	})
}

// DeleteAsset implements app.Store. It deletes the bytes if nobody else has them.
func (s *Store) DeleteAsset(ctx context.Context, customer, digest string, rec *app.Record) (uses []string, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		uses = nil // because the write may run again
		if err := tx.SelectContext(ctx, &uses, assetUses, customer, digest, digest, digest, digest, customer, digest); err != nil {
			return err
		}
		if len(uses) > 0 {
			rec.Skip()
			return nil
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM assets WHERE customer_id = ? AND digest = ?", customer, digest)
		if err := oneRow(r, err, app.ErrNotFound); err != nil {
			return err
		}
		return dropAsset(ctx, tx, digest)
	})
	return uses, err
}

// dropAsset deletes the bytes of an asset without its former owner, unless others have it.
func dropAsset(ctx context.Context, tx *sqlx.Tx, digest string) error {
	var left int
	if err := tx.GetContext(ctx, &left, `SELECT (SELECT count(*) FROM assets WHERE digest = ?) + (SELECT count(*) FROM release_assets WHERE digest = ?)
		+ (SELECT count(*) FROM widget_draft_assets WHERE digest = ?)`, digest, digest, digest); err != nil || left > 0 {
		return err
	}
	var files []string
	if err := tx.SelectContext(ctx, &files, "SELECT file FROM asset_files WHERE digest = ?", digest); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM asset_files WHERE digest = ?", digest); err != nil {
		return err
	}
	for _, f := range files {
		if _, err := tx.ExecContext(ctx, `DELETE FROM files WHERE digest = ? AND NOT EXISTS (SELECT 1 FROM asset_files WHERE file = files.digest)
			AND NOT EXISTS (SELECT 1 FROM release_files WHERE digest = files.digest)`, f); err != nil {
			return err
		}
	}
	return nil
}

// VisibleFile implements app.Store.
func (s *Store) VisibleFile(ctx context.Context, digest, name string) (file string, err error) {
	return file, translated(s.read.GetContext(ctx, &file, `SELECT a.file FROM asset_files AS a WHERE a.digest = ? AND a.name = ? AND (
		EXISTS (SELECT 1 FROM release_assets WHERE digest = a.digest) OR EXISTS (SELECT 1 FROM widget_draft_assets WHERE digest = a.digest)
		OR EXISTS (SELECT 1 FROM assets AS x JOIN customers AS c ON c.id = x.customer_id WHERE x.digest = a.digest AND c.withheld_at IS NULL))`, digest, name))
}

// FileBytes implements app.Store.
func (s *Store) FileBytes(ctx context.Context, file string) (bytes []byte, err error) {
	return bytes, translated(s.read.GetContext(ctx, &bytes, "SELECT bytes FROM files WHERE digest = ?", file))
}

// AssetFile implements app.Store.
func (s *Store) AssetFile(ctx context.Context, digest, name string) (bytes []byte, err error) {
	return bytes, translated(s.read.GetContext(ctx, &bytes, "SELECT bytes FROM asset_files AS a JOIN files AS f ON f.digest = a.file WHERE a.digest = ? AND a.name = ?", digest, name))
}
