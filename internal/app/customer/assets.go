package customer

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
)

// Asset is an image, sound or font that a customer uploaded.
type Asset struct {
	CustomerID string          `db:"customer_id"`
	Digest     string          `db:"digest"`
	Info       json.RawMessage `db:"info"` // asset.Info
	CreatedAt  time.Time       `db:"created_at"`
	CreatedBy  string          `db:"created_by"`
}

// About returns the asset's description.
func (a Asset) About() (info asset.Info) {
	_ = json.Unmarshal(a.Info, &info) // valid, because AddAsset wrote it
	return info
}

// AddAsset stores a file of a customer. The same content again is the same asset (fresh is false).
func (a *Customers) AddAsset(ctx context.Context, s access.Scope, customer, name string, src []byte) (at Asset, fresh bool, err error) {
	if err := a.Reach(ctx, s, access.UploadAssets, customer); err != nil {
		return at, false, err
	}
	if err := problem.Showable("name", name); err != nil {
		return at, false, err
	}
	if err := a.roomForAsset(ctx, s, customer); err != nil {
		return at, false, err
	}
	var made *asset.Made
	var faults fault.List
	if err := a.making.Do(ctx, customer, func() { made, faults = asset.Make(name, src) }); err != nil {
		return at, false, err
	}
	if len(faults) > 0 {
		return at, false, &problem.Error{Kind: problem.Invalid, Code: string(faults[0].Code), Field: "bytes", What: faults[0].What, Hint: faults[0].Fix, Faults: faults}
	}
	info, _ := json.Marshal(made.Info)
	at = Asset{CustomerID: customer, Digest: made.Digest, Info: info, CreatedAt: a.now(), CreatedBy: s.Name}
	fresh, err = a.store.AddAsset(ctx, *made, at, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customer, Did: "upload", Kind: "asset", Of: made.Digest[:12], Note: name}))
	if err == nil && !fresh {
		at, err = a.store.Asset(ctx, customer, made.Digest)
	}
	return at, fresh, err
}

// MakeImage processes an image that is not an upload, as AddAsset does.
func (a *Customers) MakeImage(ctx context.Context, customer, name string, src []byte) (made *asset.Made, faults fault.List, err error) {
	err = a.making.Do(ctx, customer, func() {
		if kind, ok := asset.KindOf(src); ok && kind != asset.Image {
			faults = fault.List{{Code: fault.AssetUnknown, What: name + " is not an image."}}
			return
		}
		made, faults = asset.Make(name, src)
	})
	return made, faults, err
}

// Assets lists a customer's assets by digest.
func (a *Customers) Assets(ctx context.Context, s access.Scope, customer string, p paging.Page) ([]Asset, error) {
	if err := a.Reach(ctx, s, access.SeeLists, customer); err != nil {
		return nil, err
	}
	return a.store.Assets(ctx, customer, p)
}

// Asset returns an asset and the keys of the pockets that use it in the draft or the live version.
func (a *Customers) Asset(ctx context.Context, s access.Scope, customer, digest string) (Asset, []string, error) {
	if err := a.Reach(ctx, s, access.SeeLists, customer); err != nil {
		return Asset{}, nil, err
	}
	at, err := a.store.Asset(ctx, customer, digest)
	if errors.Is(err, problem.ErrNotFound) {
		return at, nil, NoAsset(digest)
	}
	if err != nil {
		return at, nil, err
	}
	uses, err := a.store.AssetUses(ctx, customer, digest)
	return at, uses, err
}

// DeleteAsset deletes an asset unless a pocket uses it.
func (a *Customers) DeleteAsset(ctx context.Context, s access.Scope, customer, digest string) error {
	if err := a.Reach(ctx, s, access.UploadAssets, customer); err != nil {
		return err
	}
	uses, err := a.store.DeleteAsset(ctx, customer, digest, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customer, Did: "delete", Kind: "asset", Of: digest[:min(12, len(digest))]}))
	if errors.Is(err, problem.ErrNotFound) {
		return NoAsset(digest)
	}
	if err == nil && len(uses) > 0 {
		return &problem.Error{Kind: problem.Conflict, Code: "asset-in-use", What: fmt.Sprintf("The asset is used by %s.", problem.List(uses)), Hint: "Choose another asset there and publish. A sealed script keeps its assets until its pocket is deleted."}
	}
	return err
}

func NoAsset(digest string) *problem.Error {
	return problem.Missing("asset", digest, "List the customer's assets to see their digests.")
}

// AssetAddress returns the public address of the smallest form of an asset.
func (a *Customers) AssetAddress(i asset.Info) string {
	return a.base + i.Address(i.Forms[len(i.Forms)-1])
}
