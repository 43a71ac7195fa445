package delivery

import (
	"context"

	"glasspocket/internal/app/source"
)

// Age is how current the items from one source are.
type Age = source.Age

// Ages returns the age of each source of a pocket's live version. It is empty if there is none.
func (a *Delivery) Ages(ctx context.Context, key string) ([]Age, error) {
	return a.sources.Ages(ctx, key)
}
