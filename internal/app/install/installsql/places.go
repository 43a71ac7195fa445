package installsql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/install"
	"glasspocket/internal/store"
)

// Places implements install.Store.
func (s *InstallStore) Places(ctx context.Context, customer string) (list []install.UsedPlace, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT site, host, position, used_at FROM places WHERE customer_id = ? ORDER BY used_at DESC, site", customer))
}

// SavePlace implements install.Store.
func (s *InstallStore) SavePlace(ctx context.Context, customer string, p install.UsedPlace, most int) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO places (customer_id, site, host, position, used_at) VALUES (?, ?, ?, ?, ?) ON CONFLICT (customer_id, site) DO UPDATE SET host = excluded.host, position = excluded.position, used_at = excluded.used_at", customer, p.Site, p.Host, p.Where, store.UTC(p.UsedAt)); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "DELETE FROM places WHERE customer_id = ?1 AND site NOT IN (SELECT site FROM places WHERE customer_id = ?1 ORDER BY used_at DESC, site LIMIT ?2)", customer, most)
		return err
	})
}
