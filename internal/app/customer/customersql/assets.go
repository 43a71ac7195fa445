package customersql

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/asset"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddAsset implements customer.Store.
func (s *CustomerStore) AddAsset(ctx context.Context, made asset.Made, a customer.Asset, rec *audit.Record) (fresh bool, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if err := store.PutAsset(ctx, tx, made); err != nil {
			return err
		}
		info, _ := json.Marshal(made.Info)
		r, err := tx.ExecContext(ctx, "INSERT INTO assets (customer_id, digest, info, created_at, created_by) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
			a.CustomerID, made.Digest, info, store.UTC(a.CreatedAt), a.CreatedBy)
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

// Assets implements customer.Store.
func (s *CustomerStore) Assets(ctx context.Context, customer string, p paging.Page) (list []customer.Asset, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM assets WHERE customer_id = ? AND digest > ? ORDER BY digest LIMIT ?", customer, p.After, p.Limit))
}

// Asset implements customer.Store.
func (s *CustomerStore) Asset(ctx context.Context, customer, digest string) (a customer.Asset, err error) {
	return a, store.Translated(s.Read.GetContext(ctx, &a, "SELECT * FROM assets WHERE customer_id = ? AND digest = ?", customer, digest))
}

// AssetUses implements customer.Store.
func (s *CustomerStore) AssetUses(ctx context.Context, customer, digest string) (keys []string, err error) {
	return keys, store.Translated(s.Read.SelectContext(ctx, &keys, assetUses, customer, digest, customer, digest, customer, digest))
}

const assetUses = `SELECT key FROM (SELECT DISTINCT key FROM uses WHERE customer_id = ? AND kind = 'asset' AND id = ? AND key <> ''
	UNION SELECT p.key FROM sealed_assets AS y JOIN sealed AS x ON x.digest = y.sealed JOIN pockets AS p ON p.key = x.key WHERE p.customer_id = ? AND y.asset = ?)
	UNION ALL SELECT 'the brand' FROM uses WHERE customer_id = ? AND kind = 'asset' AND id = ? AND key = ''
	ORDER BY key LIMIT 100`

// CopyAsset implements customer.Store.
func (s *CustomerStore) CopyAsset(ctx context.Context, from, to, digest, by string, at time.Time) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO assets (customer_id, digest, info, created_at, created_by) SELECT ?, digest, info, ?, ? FROM assets WHERE customer_id = ? AND digest = ? ON CONFLICT (customer_id, digest) DO UPDATE SET digest = excluded.digest",
			to, store.UTC(at), by, from, digest)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// DeleteAsset implements customer.Store. It deletes the bytes if nobody else has them.
func (s *CustomerStore) DeleteAsset(ctx context.Context, customer, digest string, rec *audit.Record) (uses []string, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		uses = nil // because the write may run again
		if err := tx.SelectContext(ctx, &uses, assetUses, customer, digest, customer, digest, customer, digest); err != nil {
			return err
		}
		if len(uses) > 0 {
			rec.Skip()
			return nil
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM assets WHERE customer_id = ? AND digest = ?", customer, digest)
		if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
			return err
		}
		return store.DropAsset(ctx, tx, digest)
	})
	return uses, err
}

// AssetFile implements customer.Store.
func (s *CustomerStore) AssetFile(ctx context.Context, digest, name string) (bytes []byte, err error) {
	return bytes, store.Translated(s.Read.GetContext(ctx, &bytes, "SELECT bytes FROM asset_files AS a JOIN files AS f ON f.digest = a.file WHERE a.digest = ? AND a.name = ?", digest, name))
}
