package app

import (
	"context"
	"encoding/json"
	"errors"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
)

// keptBrand is a cached brand, valid until the customer moves. Only this program changes
// brands.
type keptBrand struct {
	Brand    setting.Brand
	Sites    []string
	Revision int // counts changes of what a customer's renderings depend on: brand and sites
	watch    signal.Watch
}

// brandOf returns a customer's present brand.
func (a *App) brandOf(ctx context.Context, customer string) (*keptBrand, error) {
	if b, ok := a.brands.Load(customer); ok && !b.(*keptBrand).watch.Moved() {
		return b.(*keptBrand), nil
	}
	since := a.signals.Now()
	c, err := a.store.Customer(ctx, customer)
	if errors.Is(err, ErrNotFound) {
		return &keptBrand{}, nil
	}
	if err != nil {
		return nil, err
	}
	b := &keptBrand{Revision: c.BrandRevision, watch: a.signals.Watch(since, signal.Object{Kind: signal.Customer, ID: customer})}
	if err := json.Unmarshal(c.Brand, &b.Brand); err != nil {
		return nil, err
	}
	if err := json.Unmarshal(c.Sites, &b.Sites); err != nil {
		return nil, err
	}
	a.brands.Store(customer, b)
	return b, nil
}

// spacedNames joins names so that each can be searched for with a space on both sides.
func spacedNames(names []string) string {
	if len(names) == 0 {
		return ""
	}
	return " " + strings.Join(names, " ") + " "
}

// FromBrand lists which settings of a pocket's widget start with its customer's brand: by the
// starter's name, settings' keys with names of brand values.
func (a *App) FromBrand(ctx context.Context, s Scope, key string) (map[string]map[string]string, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return nil, err
	}
	w, err := a.widgetFor(ctx, p.Widget, p.Lot)
	if err != nil {
		return nil, err
	}
	kept, err := a.brandOf(ctx, p.CustomerID)
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

// Brand returns a customer's brand.
func (a *App) Brand(ctx context.Context, s Scope, customer string) (setting.Brand, int, error) {
	c, err := a.Customer(ctx, s, customer)
	if err != nil {
		return nil, 0, err
	}
	b, err := a.brandOf(ctx, customer)
	if err != nil {
		return nil, 0, err
	}
	return b.Brand, c.Revision, nil
}

// readBrand reads a brand from a request, and checks that the customer has its assets.
func (a *App) readBrand(ctx context.Context, customer string, values []byte) (setting.Brand, error) {
	doc, faults := jsondoc.Read(values)
	if doc == nil {
		return nil, faulty("brand-faulty", "The brand cannot be read.", faults)
	}
	brand, faults := setting.CheckBrand(doc)
	if len(faults) > 0 {
		return nil, faulty("brand-faulty", "Some brand values are wrong. Nothing was saved.", faults)
	}
	for _, digest := range brand.Assets() {
		if _, err := a.store.Asset(ctx, customer, digest); errors.Is(err, ErrNotFound) {
			return nil, faulty("brand-faulty", "A brand value uses an asset that does not exist.", fault.List{{Field: "values", Code: fault.ValueAsset, What: "There is no asset " + digest[:min(12, len(digest))] + "….", Fix: "Upload it, or choose another one."}})
		} else if err != nil {
			return nil, err
		}
	}
	return brand, nil
}

// Restyled is what another brand would change.
type Restyled struct {
	Brand   setting.Brand
	Names   []string // of the values that differ
	Pockets []Pocket // those that refer to one of them, by key
}

// RestyledBy lists the pockets that another brand would change. It saves nothing.
func (a *App) RestyledBy(ctx context.Context, s Scope, customer string, values []byte, p Page) (r Restyled, err error) {
	if err := a.reach(ctx, s, seeLists, customer); err != nil {
		return r, err
	}
	if r.Brand, err = a.readBrand(ctx, customer, values); err != nil {
		return r, err
	}
	current, err := a.brandOf(ctx, customer)
	if err != nil {
		return r, err
	}
	if r.Names = current.Brand.Differs(r.Brand); len(r.Names) == 0 {
		return r, nil
	}
	r.Pockets, err = a.store.Branded(ctx, customer, r.Names, p)
	return r, err
}

// ChangeBrand changes a customer's brand. Pockets that refer to it are rendered again on the next
// request.
func (a *App) ChangeBrand(ctx context.Context, s Scope, customer string, revision int, values []byte) (Customer, error) {
	c, err := a.Customer(ctx, s, customer)
	if err != nil {
		return c, err
	}
	if err := s.require(publishPockets); err != nil {
		return c, err
	}
	brand, err := a.readBrand(ctx, customer, values)
	if err != nil {
		return c, err
	}
	if c.Revision != revision {
		return c, customerChanged(c)
	}
	current, err := a.brandOf(ctx, customer)
	if err != nil {
		return c, err
	}
	names := current.Brand.Differs(brand)
	c.Brand, _ = json.Marshal(brand)
	if len(names) > 0 {
		c.BrandRevision++
	}
	return a.saveCustomer(ctx, s, c, Entry{CustomerID: customer, Did: "change", Kind: "brand", Of: customer, Names: names})
}
