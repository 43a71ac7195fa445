package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/setting"
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

// imagesAtATime is how many images are re-encoded at once. The largest need hundreds of megabytes.
const imagesAtATime = 2

// AddAsset stores a file of a customer. The same content again is the same asset (fresh is false).
func (a *App) AddAsset(ctx context.Context, s Scope, customer, name string, src []byte) (at Asset, fresh bool, err error) {
	if err := a.reach(ctx, s, uploadAssets, customer); err != nil {
		return at, false, err
	}
	if err := showable("name", name); err != nil {
		return at, false, err
	}
	if err := a.roomForAsset(ctx, s, customer); err != nil {
		return at, false, err
	}
	var made *asset.Made
	var faults fault.List
	if err := a.making.do(ctx, customer, func() { made, faults = asset.Make(name, src) }); err != nil {
		return at, false, err
	}
	if len(faults) > 0 {
		return at, false, &Error{Kind: Invalid, Code: string(faults[0].Code), Field: "bytes", What: faults[0].What, Hint: faults[0].Fix, Faults: faults}
	}
	info, _ := json.Marshal(made.Info)
	at = Asset{CustomerID: customer, Digest: made.Digest, Info: info, CreatedAt: a.now(), CreatedBy: s.Name}
	fresh, err = a.store.AddAsset(ctx, *made, at, newRecord(s, a.now(), Entry{CustomerID: customer, Did: "upload", Kind: "asset", Of: made.Digest[:12], Note: name}))
	if err == nil && !fresh {
		at, err = a.store.Asset(ctx, customer, made.Digest)
	}
	return at, fresh, err
}

// Assets lists a customer's assets by digest.
func (a *App) Assets(ctx context.Context, s Scope, customer string, p Page) ([]Asset, error) {
	if err := a.reach(ctx, s, seeLists, customer); err != nil {
		return nil, err
	}
	return a.store.Assets(ctx, customer, p)
}

// Asset returns an asset and the keys of the pockets that use it in the draft or the live version.
func (a *App) Asset(ctx context.Context, s Scope, customer, digest string) (Asset, []string, error) {
	if err := a.reach(ctx, s, seeLists, customer); err != nil {
		return Asset{}, nil, err
	}
	at, err := a.store.Asset(ctx, customer, digest)
	if errors.Is(err, ErrNotFound) {
		return at, nil, noAsset(digest)
	}
	if err != nil {
		return at, nil, err
	}
	uses, err := a.store.AssetUses(ctx, customer, digest)
	return at, uses, err
}

// DeleteAsset deletes an asset unless a pocket uses it.
func (a *App) DeleteAsset(ctx context.Context, s Scope, customer, digest string) error {
	if err := a.reach(ctx, s, uploadAssets, customer); err != nil {
		return err
	}
	uses, err := a.store.DeleteAsset(ctx, customer, digest, newRecord(s, a.now(), Entry{CustomerID: customer, Did: "delete", Kind: "asset", Of: digest[:min(12, len(digest))]}))
	if errors.Is(err, ErrNotFound) {
		return noAsset(digest)
	}
	if err == nil && len(uses) > 0 {
		return &Error{Kind: Conflict, Code: "asset-in-use", What: fmt.Sprintf("The asset is used by %s.", list(uses)), Hint: "Choose another asset there and publish. A sealed script keeps its assets until its pocket is deleted."}
	}
	return err
}

// AssetFile finds the file of one form of an asset by its address, for visitors. Assets that only
// withheld customers have are not found.
func (a *App) AssetFile(ctx context.Context, digest, name string) (file string, err error) {
	file, err = a.store.VisibleFile(ctx, digest, name)
	if errors.Is(err, ErrNotFound) {
		return "", noAsset(digest + "/" + name)
	}
	return file, err
}

// FileBytes returns the bytes of a file that AssetFile found.
func (a *App) FileBytes(ctx context.Context, file string) ([]byte, error) {
	return a.store.FileBytes(ctx, file)
}

func noAsset(digest string) *Error {
	return notFound("asset", digest, "List the customer's assets to see their digests.")
}

// AssetAddress returns the public address of the smallest form of an asset.
func (a *App) AssetAddress(i asset.Info) string {
	return a.site.Base + i.Address(i.Forms[len(i.Forms)-1])
}

// reach checks that a scope may do something for a customer, and that the customer exists.
func (a *App) reach(ctx context.Context, s Scope, do action, customer string) error {
	if err := s.require(do); err != nil {
		return err
	}
	if !s.sees(customer) {
		return noCustomer(customer)
	}
	if _, err := a.store.Customer(ctx, customer); errors.Is(err, ErrNotFound) {
		return noCustomer(customer)
	} else if err != nil {
		return err
	}
	return nil
}

// shown collects the descriptions of the uploaded assets in values, and faults for those that the
// customer does not have.
func (a *App) shown(ctx context.Context, customer string, schema *setting.Schema, values setting.Values) (map[string]asset.Info, fault.List, error) {
	brand, err := a.brandOf(ctx, customer)
	if err != nil {
		return nil, nil, err
	}
	return a.shownWith(ctx, customer, schema, values, brand.Brand)
}

// shownWith is shown with another brand than the customer's.
func (a *App) shownWith(ctx context.Context, customer string, schema *setting.Schema, values setting.Values, brand setting.Brand) (map[string]asset.Info, fault.List, error) {
	values = schema.WithBrand(values, brand)
	var faults fault.List
	infos := map[string]asset.Info{}
	for _, digest := range schema.Assets(values) {
		at, err := a.store.Asset(ctx, customer, digest)
		if errors.Is(err, ErrNotFound) {
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

// list lists a few names: "a, b and 3 others".
func list(names []string) string {
	if len(names) > 5 {
		return fmt.Sprintf("%s and %d others", strings.Join(names[:4], ", "), len(names)-4)
	}
	return strings.Join(slices.Clone(names), ", ")
}

// counted returns a number with its noun in the right form.
func counted(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return fmt.Sprintf("%d %ss", n, noun)
}
