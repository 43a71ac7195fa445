package customer

import (
	"context"
	"errors"
	"fmt"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// Shown collects the descriptions of the uploaded assets in values, and faults for those that the
// customer does not have.
func (a *Customers) Shown(ctx context.Context, customer string, schema *setting.Schema, values setting.Values) (map[string]asset.Info, fault.List, error) {
	brand, err := a.BrandOf(ctx, customer)
	if err != nil {
		return nil, nil, err
	}
	return a.ShownWith(ctx, customer, schema, values, brand.Brand)
}

// ShownWith is shown with another brand than the customer's.
func (a *Customers) ShownWith(ctx context.Context, customer string, schema *setting.Schema, values setting.Values, brand setting.Brand) (map[string]asset.Info, fault.List, error) {
	values = schema.WithBrand(values, brand)
	var faults fault.List
	infos := map[string]asset.Info{}
	for _, digest := range schema.Assets(values) {
		at, err := a.store.Asset(ctx, customer, digest)
		if errors.Is(err, problem.ErrNotFound) {
			faults = append(faults, fault.Fault{Field: schema.Naming(values, digest), Code: fault.ValueAsset, What: fmt.Sprintf("There is no asset %s….", digest[:12]), Fix: "Upload it, or choose another one."})
			continue
		}
		if err != nil {
			return nil, nil, err
		}
		infos[digest] = at.About()
	}
	return infos, faults, nil
}
