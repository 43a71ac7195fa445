package installsql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/install"
	"glasspocket/internal/render"
	"glasspocket/internal/store"
)

// AddSealed implements install.Store.
func (s *InstallStore) AddSealed(ctx context.Context, x install.Sealed, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO sealed (digest, key, publication, address, integrity, policy, script, at, by) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
			ON CONFLICT (digest) DO UPDATE SET at = excluded.at`, x.Digest, x.Key, x.Publication, x.Address, x.Integrity, x.Policy, x.Script, store.UTC(x.At), x.By); err != nil {
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
func (s *InstallStore) readSealed(ctx context.Context) error {
	var digests []string
	if err := s.Read.SelectContext(ctx, &digests, "SELECT digest FROM sealed WHERE read = 0"); err != nil {
		return err
	}
	for _, digest := range digests {
		if err := s.Write(ctx, nil, func(tx *sqlx.Tx) error {
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

// SealedOf implements install.Store.
func (s *InstallStore) SealedOf(ctx context.Context, key string) (list []install.Sealed, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT digest, key, publication, address, integrity, policy, at, by FROM sealed WHERE key = ? ORDER BY at DESC LIMIT 200", key))
}
