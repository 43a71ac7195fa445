package source

import (
	"context"
	"net/url"
	"path"
	"slices"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/work"
)

// Limits of the images of sources.
const (
	imagesItems    = 120              // of so many of the newest items
	imagesAtOnce   = 80               // in one fetch
	imagesPatience = 60 * time.Second // for all of one fetch
	ImagesMost     = 2_000            // of a customer
	ImageBytesMost = 300 << 20        // of a customer, all forms
	imageKept      = 7 * 24 * time.Hour
	imageRetried   = 24 * time.Hour
)

// Picture is an image of an item, as it is stored.
type Picture struct {
	Address   string // at the source
	Info      asset.Info
	FetchedAt time.Time
	Why       string // there is none
}

// pictures fetches the images of the newest items that are not stored yet, and reports whether
// there are new ones. An image that cannot be had is tried again a day later.
func (a *Sources) pictures(ctx context.Context, src Source, items []item.Item) (fresh bool) {
	known, err := a.store.Pictures(ctx, src.ID)
	if err != nil {
		return false
	}
	stored := map[string]Picture{}
	for _, p := range known {
		stored[p.Address] = p
	}
	newest := slices.Clone(items)
	slices.SortStableFunc(newest, func(a, b item.Item) int { return b.When().Compare(a.When()) })
	ctx, cancel := context.WithTimeout(ctx, imagesPatience)
	defer cancel()
	left := imagesAtOnce
	secret, _ := a.secret(src)
	for i := range newest[:min(len(newest), imagesItems)] {
		for _, address := range newest[i].Images() {
			has, is := stored[address]
			if is && (has.Why == "" || a.now().Sub(has.FetchedAt) < imageRetried) {
				continue
			}
			if left--; left < 0 || ctx.Err() != nil {
				return fresh
			}
			stored[address] = Picture{FetchedAt: a.now()}
			fresh = a.picture(ctx, src, address, secret) || fresh
		}
	}
	return fresh
}

// picture fetches, resizes and stores one image. It reports whether there is one now.
func (a *Sources) picture(ctx context.Context, src Source, address string, secret feed.Secret) bool {
	p := Picture{Address: address, FetchedAt: a.now()}
	count, bytes, err := a.store.PictureUsage(ctx, src.CustomerID)
	if err != nil {
		return false
	}
	var made *asset.Made
	if count >= ImagesMost || bytes >= ImageBytesMost {
		p.Why = "This account has reached its limit for images from sources."
	} else {
		ask := feed.Ask{Address: address, Accept: "image/avif;q=0, image/webp, image/png, image/jpeg, image/gif, image/svg+xml;q=0.8, */*;q=0.1", Image: true, Secret: sameHost(secret, src.Address, address)}
		answer, err := a.web.Ask(ctx, ask)
		if err != nil {
			if f := asFailure(err); f.Busy || ctx.Err() != nil {
				return false
			}
			p.Why = asFailure(err).What
		} else {
			image, faults, err := a.customers.MakeImage(ctx, src.CustomerID, nameOfImage(address), answer.Body)
			if err != nil {
				return false
			}
			if len(faults) > 0 {
				p.Why = faults[0].What
			} else {
				made, p.Info = image, image.Info
			}
		}
	}
	return a.store.SavePicture(ctx, src.ID, src.CustomerID, p, made) == nil && made != nil
}

func nameOfImage(address string) string {
	if u, err := url.Parse(address); err == nil {
		if name := path.Base(u.Path); name != "/" && name != "." {
			return name
		}
	}
	return "image"
}

// SweepTask is the kind of recurring task that deletes the images that no item has had for a week.
// Renderings and sealed scripts that still show one keep it.
func (a *Sources) SweepTask() work.Kind {
	return work.Kind{Name: "images-unused", About: "Deletion of images that no item shows", Limit: 1, Lasts: 5 * time.Minute, Every: time.Hour, Run: func(ctx context.Context, _ work.Task) error {
		for {
			n, err := a.store.DropPictures(ctx, a.now().Add(-imageKept), 100)
			if err != nil || n == 0 {
				return err
			}
		}
	}}
}
