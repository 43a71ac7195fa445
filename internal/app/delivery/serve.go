package delivery

import (
	"context"

	"glasspocket/internal/render"
)

// Serve loads one part of what visitors receive under key, for a shelf that does not have it: the
// stored bytes, or a new rendering, made once, if the program or the followed release has changed
// since.
func (a *Delivery) Serve(ctx context.Context, key string, part render.Part) (*Served, error) {
	if !IsKey(key) {
		return &Served{}, nil
	}
	served, was, ready, err := a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	// Builds of a key are serialised: another one may just have made it.
	lock := a.Lock(key)
	lock.Lock()
	defer lock.Unlock()
	served, was, ready, err = a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	pub, err := a.store.Publication(ctx, key, was.Publication)
	if err != nil {
		return nil, err
	}
	delivery, rendering, err := a.Build(ctx, was.wanted, was.Target, pub)
	if was.wanted != was.release() && a.Refused(err, pub, was.wanted) {
		// Visitors keep what they have. If recording this fails, lists report it later.
		_ = a.store.Refuse(ctx, key, pub.Number, was.wanted)
		if served.Document != nil {
			return served, nil
		}
		delivery, rendering, err = a.Build(ctx, was.release(), was.Target, pub)
		rendering.Refused = was.wanted
	}
	if err != nil {
		// Visitors keep what they have instead of seeing nothing: a change of the brand broke it.
		if served.Document != nil && was.is(render.FromBrand) {
			a.notice("a pocket cannot use its customer's new brand and stays unchanged", "pocket", key, "error", err)
			return served, nil
		}
		return nil, err
	}
	// If saving fails, visitors still receive the new one, and the next start renders it again.
	_ = a.store.SaveRendering(ctx, rendering)
	served.Document, served.Ancestors = delivery.Part(part), rendering.Ancestors
	return served, nil
}

// Visited returns the live version under key, with the release that visitors receive instead of the
// one that it was published with, or nil if there is none.
func (a *Delivery) Visited(ctx context.Context, key string) (pub *Publication, withheld bool, err error) {
	_, now, ready, err := a.current(ctx, key, render.JSON)
	if err == nil && !ready { // a request determines whether a new release accepts it
		if _, err = a.Serve(ctx, key, render.JSON); err == nil {
			_, now, _, err = a.current(ctx, key, render.JSON)
		}
	}
	if err != nil || now.Key == "" {
		return nil, false, err
	}
	p, err := a.store.Publication(ctx, key, now.Publication)
	if err != nil {
		return nil, false, err
	}
	p.ReleaseID = now.under(&a.refusals, a)
	return &p, now.withheld, nil
}
