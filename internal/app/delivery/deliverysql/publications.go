package deliverysql

import (
	"context"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/store"
)

// Publication implements delivery.Store.
func (s *DeliveryStore) Publication(ctx context.Context, key string, number int) (p delivery.Publication, err error) {
	return p, store.Translated(s.Read.GetContext(ctx, &p, "SELECT * FROM publications WHERE key = ? AND number = ?", key, number))
}
