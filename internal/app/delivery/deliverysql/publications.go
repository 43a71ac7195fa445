package deliverysql

import (
	"context"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/content/contentsql"
	"glasspocket/internal/store"
)

// PublicationRow is a stored publication.
type PublicationRow struct {
	delivery.Publication
	Stored contentsql.Column `db:"content"`
}

// Whole returns the publication with its content.
func (r PublicationRow) Whole() delivery.Publication {
	r.Publication.Content = r.Stored.Content
	return r.Publication
}

// Publication implements delivery.Store.
func (s *DeliveryStore) Publication(ctx context.Context, key string, number int) (delivery.Publication, error) {
	var r PublicationRow
	err := s.Read.GetContext(ctx, &r, "SELECT * FROM publications WHERE key = ? AND number = ?", key, number)
	return r.Whole(), store.Translated(err)
}
