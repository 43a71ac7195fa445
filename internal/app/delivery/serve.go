package delivery

import (
	"context"
	"errors"

	"glasspocket/internal/problem"
	"glasspocket/internal/render"
)

// Serve loads one part of what visitors receive under key, for a shelf that does not have it: the
// stored bytes, or a new rendering, made once, if the program or the followed release has changed
// since.
func (a *Delivery) Serve(ctx context.Context, key string, part render.Part) (*Served, error) {
	if !IsKey(key) {
		return &Served{}, nil
	}
	served, current, ready, err := a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	// Builds of a key are serialised: another one may just have made it.
	lock := a.Lock(key)
	lock.Lock()
	defer lock.Unlock()
	served, current, ready, err = a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	pub, err := a.store.Publication(ctx, key, current.Publication)
	if err != nil {
		return nil, err
	}
	delivery, rendering, err := a.Build(ctx, current.wanted(), pub)
	if current.wanted() != current.ReleaseID && a.Refused(err, pub, current.wanted()) {
		// Visitors keep what they have. If recording this fails, lists report it later.
		_ = a.store.Refuse(ctx, key, pub.Number, current.wanted())
		if served.Document != nil {
			return served, nil
		}
		delivery, rendering, err = a.Build(ctx, current.ReleaseID, pub)
		rendering.Refused = current.wanted()
	}
	if err != nil {
		// Visitors keep what they have instead of seeing nothing: a change of the brand broke it.
		if served.Document != nil && !current.brandFits() {
			a.notice("a pocket cannot use its customer's new brand and stays unchanged", "pocket", key, "error", err)
			return served, nil
		}
		return nil, err
	}
	// If saving fails, visitors still receive the new one, and the next start renders it again.
	_ = a.store.SaveRendering(ctx, rendering)
	served.Document = delivery.Part(part)
	return served, nil
}

// Visited returns the live version under key, with the release that visitors receive instead of the
// one that it was published with, or nil if there is none.
func (a *Delivery) Visited(ctx context.Context, key string) (pub *Publication, withheld bool, err error) {
	_, current, ready, err := a.current(ctx, key, render.JSON)
	if err == nil && !ready { // a request would determine whether a new release accepts it
		if _, err = a.Serve(ctx, key, render.JSON); err == nil {
			current, err = a.store.Current(ctx, key, render.JSON)
		}
	}
	if errors.Is(err, problem.ErrNotFound) || err == nil && current.Key == "" {
		return nil, false, nil
	} else if err != nil {
		return nil, false, err
	}
	p, err := a.store.Publication(ctx, key, current.Publication)
	if err != nil {
		return nil, false, err
	}
	p.ReleaseID = a.under(current)
	return &p, current.Withheld, nil
}
