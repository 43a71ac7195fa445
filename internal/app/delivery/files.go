package delivery

import (
	"context"
	"errors"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/problem"
)

// Module returns the script of a release, by the digest in its address.
func (a *Delivery) Module(ctx context.Context, digest string) ([]byte, error) {
	r, err := a.releases.ByDigest(ctx, digest)
	if err != nil {
		return nil, err
	}
	return a.site.Module(r), nil
}

// AssetFile finds the file of one form of an asset by its address, for visitors. Assets that only
// withheld customers have are not found.
func (a *Delivery) AssetFile(ctx context.Context, digest, name string) (file string, err error) {
	file, err = a.store.VisibleFile(ctx, digest, name)
	if errors.Is(err, problem.ErrNotFound) {
		return "", customer.NoAsset(digest + "/" + name)
	}
	return file, err
}

// FileBytes returns the bytes of a file that AssetFile found.
func (a *Delivery) FileBytes(ctx context.Context, file string) ([]byte, error) {
	return a.store.FileBytes(ctx, file)
}

// SealedScript returns a sealed script compressed with brotli.
func (a *Delivery) SealedScript(ctx context.Context, digest, key string) ([]byte, error) {
	return a.store.SealedScript(ctx, digest, key)
}
