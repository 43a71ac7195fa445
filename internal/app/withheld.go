package app

import (
	"context"

	"glasspocket/internal/signal"
)

// WithholdPocket stops serving a pocket from the next request on. why is for the record.
func (a *App) WithholdPocket(ctx context.Context, s Scope, key, why string) (Pocket, error) {
	w, err := withheldNow(why, a.now())
	if err != nil {
		return Pocket{}, err
	}
	return a.setPocket(ctx, s, key, w)
}

// BringBackPocket serves a withheld pocket again.
func (a *App) BringBackPocket(ctx context.Context, s Scope, key string) (Pocket, error) {
	return a.setPocket(ctx, s, key, Withheld{})
}

func (a *App) setPocket(ctx context.Context, s Scope, key string, w Withheld) (Pocket, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.require(withhold); err != nil {
		return p, err
	}
	if err := a.store.WithholdPocket(ctx, key, w, newRecord(s, a.now(), entryOf(w, p.CustomerID, "pocket", key))); err != nil {
		return p, err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Pocket, ID: key}})
	p.Withheld = w
	return p, nil
}
