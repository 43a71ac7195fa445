package manage

import (
	"slices"
	"time"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/release"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func (d *door) gallery(k *call) (any, error) {
	list, err := d.App.Releases.List(k, k.scope)
	if err != nil {
		return nil, err
	}
	out := wire.Gallery{Purposes: []wire.Purpose{}, Widgets: []wire.GalleryWidget{}}
	for _, p := range widget.Purposes {
		if slices.ContainsFunc(list, func(w release.Widget) bool { return w.Release.Manifest.Purpose == p.Name }) {
			out.Purposes = append(out.Purposes, wire.Purpose{Name: p.Name, Label: p.Label, About: p.About})
		}
	}
	for _, w := range list {
		m := w.Release.Manifest
		g := wire.GalleryWidget{Name: m.Name, Title: m.Title, Summary: m.Summary, Search: m.Search, Purpose: m.Purpose, Languages: m.Languages, Floats: m.Floats, Starters: []wire.GalleryStarter{}}
		for _, s := range w.Release.Starters {
			g.Starters = append(g.Starters, wire.GalleryStarter{Name: s.Name, Title: s.Title, Summary: s.Summary, Search: s.Search, Floats: m.Floats || s.Floats()})
		}
		out.Widgets = append(out.Widgets, g)
	}
	return out, nil
}

func (d *door) galleryPreviews(k *call) (any, error) {
	list, err := d.App.Pockets.GalleryPreviews(k, k.scope, k.Params("name"), k.Query("customer"), k.Query("language"))
	out := wire.GalleryPreviews{Previews: []wire.GalleryPreview{}}
	for _, p := range list {
		out.Previews = append(out.Previews, wire.GalleryPreview{Starter: p.Starter, Payload: p.Payload})
	}
	return out, err
}

// guestCookie returns the name of the cookie of a guest, who has no account.
func (d *door) guestCookie() string {
	if d.Secure {
		return "__Host-glass-begun"
	}
	return "glass-begun"
}

func (d *door) setGuestCookie(c fiber.Ctx, secret string, keeps time.Duration) {
	k := &fiber.Cookie{Name: d.guestCookie(), Value: secret, Path: "/", HTTPOnly: true, Secure: d.Secure, SameSite: fiber.CookieSameSiteStrictMode, Expires: time.Now().Add(keeps)}
	if secret == "" {
		k.Expires = time.Unix(1, 0)
	}
	c.Cookie(k)
}

func (d *door) startGuestPocket(k *call) (any, error) {
	var in wire.NewGuestPocket
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, secret, err := d.App.Guests.Start(k, in.Widget, in.Starter, in.Language, d.Proxies.Address(k.Ctx).String())
	if err != nil {
		return nil, err
	}
	_, keeps := d.App.Guests.Open()
	d.setGuestCookie(k.Ctx, secret, keeps)
	return wire.GuestPocket{Pocket: pocketOut(p), Secret: secret, Until: p.DraftAt.Add(keeps)}, nil
}

// resumeGuestPocket lets another device continue with a guest pocket, by the secret in its link.
func (d *door) resumeGuestPocket(k *call) (any, error) {
	var in wire.Secret
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	scope, err := d.App.Guests.Scope(k, in.Secret)
	if err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.Get(k, scope, scope.Key)
	if err != nil {
		return nil, err
	}
	_, keeps := d.App.Guests.Open()
	d.setGuestCookie(k.Ctx, in.Secret, keeps)
	return wire.GuestPocket{Pocket: pocketOut(p), Secret: in.Secret, Until: p.DraftAt.Add(keeps)}, nil
}

func (d *door) signUp(k *call) (any, error) {
	var in wire.SignUp
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	scope, secret, err := d.App.Guests.SignUp(k, k.scope, in.Customer, in.Name, in.Password, k.Get("User-Agent"))
	if err != nil {
		return nil, err
	}
	d.setGuestCookie(k.Ctx, "", 0)
	d.setCookie(k.Ctx, secret)
	return d.session(scope), nil
}

func (d *door) claim(k *call) (any, error) {
	var in wire.Claim
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Guests.Claim(k, k.scope, in.Secret, in.Customer)
	if err != nil {
		return nil, err
	}
	d.setGuestCookie(k.Ctx, "", 0)
	return pocketOut(p), nil
}
