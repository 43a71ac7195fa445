package pocket

import (
	"context"

	"glasspocket/internal/app/access"
	"glasspocket/internal/paging"
	"glasspocket/internal/setting"
)

// FromBrand lists which settings of a pocket's widget start with its customer's brand: by the
// starter's name, settings' keys with names of brand values.
func (a *Pockets) FromBrand(ctx context.Context, s access.Scope, key string) (map[string]map[string]string, error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return nil, err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return nil, err
	}
	kept, err := a.customers.BrandOf(ctx, p.CustomerID)
	if err != nil || len(kept.Brand) == 0 {
		return nil, err
	}
	all := map[string]map[string]string{}
	for _, starter := range w.Release.Starters {
		all[starter.Name] = map[string]string{}
		for key, value := range w.Release.Schema.Branded(starter.Settings, kept.Brand) {
			if name := setting.BrandName(value); name != "" {
				all[starter.Name][key] = name
			}
		}
	}
	return all, nil
}

// Restyled is what another brand would change.
type Restyled struct {
	Brand   setting.Brand
	Names   []string // of the values that differ
	Pockets []Pocket // those that refer to one of them, by key
}

// RestyledBy lists the pockets that another brand would change. It saves nothing.
func (a *Pockets) RestyledBy(ctx context.Context, s access.Scope, customer string, values []byte, p paging.Page) (r Restyled, err error) {
	if err := a.customers.Reach(ctx, s, access.SeeLists, customer); err != nil {
		return r, err
	}
	if r.Brand, err = a.customers.ReadBrand(ctx, customer, values); err != nil {
		return r, err
	}
	current, err := a.customers.BrandOf(ctx, customer)
	if err != nil {
		return r, err
	}
	if r.Names = current.Brand.Differs(r.Brand); len(r.Names) == 0 {
		return r, nil
	}
	r.Pockets, err = a.store.Branded(ctx, customer, r.Names, p)
	return r, err
}
