package customer

import (
	"context"
	"encoding/json"
	"errors"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
)

// BrandNow is what a customer's pockets depend on, valid until the customer moves. Only this program changes
// brands.
type BrandNow struct {
	Brand    setting.Brand
	Sites    []string
	Withheld bool
	Zone     string // IANA name of the customer's time zone
	Revision int    // counts changes of what a customer's renderings depend on: brand and sites
	watch    signal.Watch
}

// BrandOf returns a customer's present brand.
func (a *Customers) BrandOf(ctx context.Context, customer string) (*BrandNow, error) {
	if b, ok := a.brands.GetIfPresent(customer); ok && !b.watch.Moved() {
		return b, nil
	}
	since := a.signals.Now()
	c, err := a.store.Customer(ctx, customer)
	if errors.Is(err, problem.ErrNotFound) {
		return &BrandNow{}, nil
	}
	if err != nil {
		return nil, err
	}
	b := &BrandNow{Zone: c.Zone, Revision: c.BrandRevision, Withheld: c.Withheld.At != nil, watch: a.signals.Watch(since, signal.Object{Kind: signal.Customer, ID: customer})}
	if err := json.Unmarshal(c.Brand, &b.Brand); err != nil {
		return nil, err
	}
	if err := json.Unmarshal(c.Sites, &b.Sites); err != nil {
		return nil, err
	}
	a.brands.Set(customer, b)
	return b, nil
}

// ZoneOf returns the IANA name of a customer's time zone.
func (a *Customers) ZoneOf(ctx context.Context, customer string) (string, error) {
	b, err := a.BrandOf(ctx, customer)
	if err != nil || b.Zone == "" {
		return "UTC", err
	}
	return b.Zone, nil
}

// Brand returns a customer's brand.
func (a *Customers) Brand(ctx context.Context, s access.Scope, customer string) (setting.Brand, int, error) {
	c, err := a.Get(ctx, s, customer)
	if err != nil {
		return nil, 0, err
	}
	b, err := a.BrandOf(ctx, customer)
	if err != nil {
		return nil, 0, err
	}
	return b.Brand, c.Revision, nil
}

// ReadBrand reads a brand from a request, and checks that the customer has its assets.
func (a *Customers) ReadBrand(ctx context.Context, customer string, values []byte) (setting.Brand, error) {
	doc, faults := jsondoc.Read(values)
	if doc == nil {
		return nil, problem.Faulty("brand-faulty", "The brand cannot be read.", faults)
	}
	brand, faults := setting.CheckBrand(doc)
	if len(faults) > 0 {
		return nil, problem.Faulty("brand-faulty", "Some brand values are wrong. Nothing was saved.", faults)
	}
	for _, digest := range brand.Assets() {
		if _, err := a.store.Asset(ctx, customer, digest); errors.Is(err, problem.ErrNotFound) {
			return nil, problem.Faulty("brand-faulty", "A brand value uses an asset that does not exist.", fault.List{{Field: "values", Code: fault.ValueAsset, What: "There is no asset " + digest[:min(12, len(digest))] + "….", Fix: "Upload it, or choose another one."}})
		} else if err != nil {
			return nil, err
		}
	}
	return brand, nil
}

// ChangeBrand changes a customer's brand. Pockets that refer to it are rendered again on the next
// request.
func (a *Customers) ChangeBrand(ctx context.Context, s access.Scope, customer string, revision int, values []byte) (Customer, error) {
	c, err := a.Get(ctx, s, customer)
	if err != nil {
		return c, err
	}
	if err := s.Require(access.PublishPockets); err != nil {
		return c, err
	}
	brand, err := a.ReadBrand(ctx, customer, values)
	if err != nil {
		return c, err
	}
	if c.Revision != revision {
		return c, changed(c)
	}
	current, err := a.BrandOf(ctx, customer)
	if err != nil {
		return c, err
	}
	names := current.Brand.Differs(brand)
	c.Brand, _ = json.Marshal(brand)
	if len(names) > 0 {
		c.BrandRevision++
	}
	return a.save(ctx, s, c, audit.Entry{CustomerID: customer, Did: "change", Kind: "brand", Of: customer, Names: names})
}
