package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
	"glasspocket/internal/render"
)

// AddSealed implements app.Store.
func (s *Store) AddSealed(ctx context.Context, x app.Sealed, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO sealed (digest, key, publication, address, integrity, policy, script, at, by) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
			ON CONFLICT (digest) DO UPDATE SET at = excluded.at`, x.Digest, x.Key, x.Publication, x.Address, x.Integrity, x.Policy, x.Script, utc(x.At), x.By); err != nil {
			return err
		}
		return noteAssets(ctx, tx, x.Digest, x.Script)
	})
}

// noteAssets records which assets a sealed script shows, so that they are kept with it.
func noteAssets(ctx context.Context, tx *sqlx.Tx, digest string, script []byte) error {
	stored := render.Stored(script)
	for _, asset := range render.AssetsIn(stored.Plain()) {
		if _, err := tx.ExecContext(ctx, "INSERT INTO sealed_assets (sealed, asset) VALUES (?, ?) ON CONFLICT DO NOTHING", digest, asset); err != nil {
			return err
		}
	}
	_, err := tx.ExecContext(ctx, "UPDATE sealed SET read = 1 WHERE digest = ?", digest)
	return err
}

// readSealed records the assets of scripts that were sealed by older programs.
func (s *Store) readSealed(ctx context.Context) error {
	var digests []string
	if err := s.read.SelectContext(ctx, &digests, "SELECT digest FROM sealed WHERE read = 0"); err != nil {
		return err
	}
	for _, digest := range digests {
		if err := s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
			var script []byte
			if err := tx.GetContext(ctx, &script, "SELECT script FROM sealed WHERE digest = ?", digest); err != nil {
				return err
			}
			return noteAssets(ctx, tx, digest, script)
		}); err != nil {
			return err
		}
	}
	return nil
}

// SealedOf implements app.Store.
func (s *Store) SealedOf(ctx context.Context, key string) (list []app.Sealed, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT digest, key, publication, address, integrity, policy, at, by FROM sealed WHERE key = ? ORDER BY at DESC LIMIT 200", key))
}

// SealedScript implements app.Store.
func (s *Store) SealedScript(ctx context.Context, digest, key string) (script []byte, err error) {
	return script, translated(s.read.GetContext(ctx, &script, `SELECT x.script FROM sealed AS x JOIN pockets AS p ON p.key = x.key JOIN customers AS c ON c.id = p.customer_id
		WHERE x.digest = ? AND x.key = ? AND p.withheld_at IS NULL AND c.withheld_at IS NULL`, digest, key))
}
