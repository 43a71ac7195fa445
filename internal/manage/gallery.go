package manage

import (
	"slices"
	"time"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func (d *door) gallery(k *call) (any, error) {
	list, err := d.App.Widgets(k, k.scope)
	if err != nil {
		return nil, err
	}
	out := wire.Gallery{Purposes: []wire.Purpose{}, Widgets: []wire.GalleryWidget{}}
	for _, p := range widget.Purposes {
		if slices.ContainsFunc(list, func(w app.WidgetInfo) bool { return w.Release.Manifest.Purpose == p.Name }) {
			out.Purposes = append(out.Purposes, wire.Purpose{Name: p.Name, Label: p.Label, About: p.About})
		}
	}
	for _, w := range list {
		m := w.Release.Manifest
		g := wire.GalleryWidget{Name: m.Name, Title: m.Title, Summary: m.Summary, Search: m.Search, Purpose: m.Purpose, Languages: m.Languages, Floats: m.Floats, Starters: []wire.GalleryStarter{}}
		for _, s := range w.Release.Starters {
			g.Starters = append(g.Starters, wire.GalleryStarter{Name: s.Name, Title: s.Title, Summary: s.Summary, Search: s.Search})
		}
		out.Widgets = append(out.Widgets, g)
	}
	return out, nil
}

func (d *door) galleryPictures(k *call) (any, error) {
	list, err := d.App.GalleryPictures(k, k.scope, k.Params("name"), k.Query("customer"), k.Query("language"))
	out := wire.GalleryPictures{Pictures: []wire.GalleryPicture{}}
	for _, p := range list {
		out.Pictures = append(out.Pictures, wire.GalleryPicture{Starter: p.Starter, Payload: p.Payload})
	}
	return out, err
}

// begunCookie names the cookie of who has begun a pocket without an account.
func (d *door) begunCookie() string {
	if d.Secure {
		return "__Host-glass-begun"
	}
	return "glass-begun"
}

func (d *door) setBegun(c fiber.Ctx, secret string, keeps time.Duration) {
	k := &fiber.Cookie{Name: d.begunCookie(), Value: secret, Path: "/", HTTPOnly: true, Secure: d.Secure, SameSite: fiber.CookieSameSiteStrictMode, Expires: time.Now().Add(keeps)}
	if secret == "" {
		k.Expires = time.Unix(1, 0)
	}
	c.Cookie(k)
}

func (d *door) begin(k *call) (any, error) {
	var in wire.Begin
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, secret, err := d.App.Begin(k, in.Widget, in.Starter, in.Language, d.Proxies.Address(k.Ctx).String())
	if err != nil {
		return nil, err
	}
	_, keeps := d.App.Open()
	d.setBegun(k.Ctx, secret, keeps)
	return wire.Begun{Pocket: pocketOut(p), Secret: secret, Until: p.DraftAt.Add(keeps)}, nil
}

// goOn lets another device go on with a pocket, by the secret in its link.
func (d *door) goOn(k *call) (any, error) {
	var in wire.Secret
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	scope, err := d.App.ByBegun(k, in.Secret)
	if err != nil {
		return nil, err
	}
	p, err := d.App.Pocket(k, scope, scope.Key)
	if err != nil {
		return nil, err
	}
	_, keeps := d.App.Open()
	d.setBegun(k.Ctx, in.Secret, keeps)
	return wire.Begun{Pocket: pocketOut(p), Secret: in.Secret, Until: p.DraftAt.Add(keeps)}, nil
}

func (d *door) signUp(k *call) (any, error) {
	var in wire.SignUp
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	scope, secret, err := d.App.SignUp(k, k.scope, in.Customer, in.Name, in.Password, k.Get("User-Agent"))
	if err != nil {
		return nil, err
	}
	d.setBegun(k.Ctx, "", 0)
	d.setCookie(k.Ctx, secret)
	return d.session(scope), nil
}

func (d *door) claim(k *call) (any, error) {
	var in wire.Claim
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Claim(k, k.scope, in.Secret, in.Customer)
	if err != nil {
		return nil, err
	}
	d.setBegun(k.Ctx, "", 0)
	return pocketOut(p), nil
}
