package pocket

import (
	"context"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/signal"
)

// Withhold stops serving a pocket from the next request on. why is for the record.
func (a *Pockets) Withhold(ctx context.Context, s access.Scope, key, why string) (Pocket, error) {
	w, err := customer.WithheldNow(why, a.now())
	if err != nil {
		return Pocket{}, err
	}
	return a.set(ctx, s, key, w)
}

// BringBack serves a withheld pocket again.
func (a *Pockets) BringBack(ctx context.Context, s access.Scope, key string) (Pocket, error) {
	return a.set(ctx, s, key, customer.Withheld{})
}

func (a *Pockets) set(ctx context.Context, s access.Scope, key string, w customer.Withheld) (Pocket, error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.Require(access.Withhold); err != nil {
		return p, err
	}
	if err := a.store.WithholdPocket(ctx, key, w, audit.NewRecord(s, a.now(), customer.WithholdEntry(w, p.CustomerID, "pocket", key))); err != nil {
		return p, err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Pocket, ID: key}})
	p.Withheld = w
	return p, nil
}
