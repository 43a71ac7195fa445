package pocket

import (
	"context"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
)

// Audit lists who changed what in one pocket, like Audit. A deleted pocket has entries too.
func (a *Pockets) Audit(ctx context.Context, s access.Scope, q audit.Query) ([]audit.Entry, error) {
	list, err := a.log.List(ctx, s, q)
	if err == nil && len(list) == 0 && q.Before == 0 {
		_, err = a.Get(ctx, s, q.Of)
	}
	return list, err
}
