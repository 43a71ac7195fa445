package manage

import (
	"glasspocket/internal/app/customer"
	"glasspocket/internal/wire"
)

func (d *door) assetOut(a customer.Asset) wire.Asset {
	info := a.About()
	return wire.Asset{Info: info, Address: d.App.Customers.AssetAddress(info), CreatedAt: a.CreatedAt, CreatedBy: a.CreatedBy}
}

func (d *door) uploadAsset(k *call) (any, error) {
	var in wire.NewAsset
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	a, fresh, err := d.App.Customers.AddAsset(k, k.scope, k.Params("id"), in.Name, in.Bytes)
	if err != nil {
		return nil, err
	}
	if !fresh {
		k.status = 200
	}
	out := d.assetOut(a)
	out.Fresh = fresh
	return out, nil
}

func (d *door) listAssets(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Customers.Assets(k, k.scope, k.Params("id"), page)
	out := wire.Assets{Assets: []wire.Asset{}}
	list, out.Next = cut(list, page.Limit, func(a customer.Asset) string { return a.Digest })
	for _, a := range list {
		out.Assets = append(out.Assets, d.assetOut(a))
	}
	return out, err
}

func (d *door) readAsset(k *call) (any, error) {
	a, uses, err := d.App.Customers.Asset(k, k.scope, k.Params("id"), k.Params("digest"))
	if err != nil {
		return nil, err
	}
	out := d.assetOut(a)
	out.UsedBy = uses
	return out, nil
}

func (d *door) deleteAsset(k *call) (any, error) {
	return nil, d.App.Customers.DeleteAsset(k, k.scope, k.Params("id"), k.Params("digest"))
}
