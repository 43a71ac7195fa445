package deliverysql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/content/contentsql"
	"glasspocket/internal/store"
)

// KeepRendering implements delivery.Store.
func (s *DeliveryStore) KeepRendering(ctx context.Context, key string, until *time.Time) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE renderings SET until = ?1 WHERE key = ?2 AND until IS NOT ?1", store.UTCOrNil(until), key)
		return err
	})
}

// KeysOfSource implements delivery.Store.
func (s *DeliveryStore) KeysOfSource(ctx context.Context, customer, id, after string, limit int) (keys []string, err error) {
	return keys, store.Translated(s.Read.SelectContext(ctx, &keys, "SELECT key FROM uses WHERE customer_id = ? AND kind = 'source' AND id = ? AND of = ? AND key > ? ORDER BY key LIMIT ?", customer, id, contentsql.Live, after, limit))
}

// KeysDue implements delivery.Store.
func (s *DeliveryStore) KeysDue(ctx context.Context, now time.Time, limit int) (keys []string, err error) {
	return keys, store.Translated(s.Read.SelectContext(ctx, &keys, "SELECT key FROM renderings WHERE until <= ? ORDER BY until LIMIT ?", store.UTC(now), limit))
}
