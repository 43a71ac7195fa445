package app

import (
	"context"
	"encoding/json"
	"errors"
	"strings"

	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"
)

// Served is what visitors receive at one address of a key. It is immutable.
type Served struct {
	Document    *render.Encoded // nil: nothing published, or withheld
	Publication int             // counts up; 0 for none
	Withheld    bool
	Ancestors   string // sources of frame-ancestors for the pocket's page; "" allows every page
	// Inputs are the objects on which this depends: what is here is current until one moves.
	Inputs []signal.Object
}

// Serve loads one part of what visitors receive under key, for a shelf that does not have it: the
// stored bytes, or a new rendering, made once, if the program or the followed release has changed
// since.
func (a *App) Serve(ctx context.Context, key string, part render.Part) (*Served, error) {
	if !IsKey(key) {
		return &Served{}, nil
	}
	served, current, ready, err := a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	// Builds of a key are serialised: another one may just have made it.
	lock := a.publishingOf(key)
	lock.Lock()
	defer lock.Unlock()
	served, current, ready, err = a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	pub, err := a.store.Publication(ctx, key, current.Publication)
	if err != nil {
		return nil, err
	}
	delivery, rendering, err := a.build(ctx, current.wanted(), pub)
	if current.wanted() != current.ReleaseID && a.refused(err, pub, current.wanted()) {
		// Visitors keep what they have. If recording this fails, lists report it later.
		_ = a.store.Refuse(ctx, key, pub.Number, current.wanted())
		if served.Document != nil {
			return served, nil
		}
		delivery, rendering, err = a.build(ctx, current.ReleaseID, pub)
		rendering.Refused = current.wanted()
	}
	if err != nil {
		// Visitors keep what they have instead of seeing nothing: a change of the brand broke it.
		if served.Document != nil && !current.brandFits() {
			a.notice("a pocket cannot use its customer's new brand and stays unchanged", "pocket", key, "error", err)
			return served, nil
		}
		return nil, err
	}
	// If saving fails, visitors still receive the new one, and the next start renders it again.
	_ = a.store.SaveRendering(ctx, rendering)
	served.Document = delivery.Part(part)
	return served, nil
}

// current reads what the store has for a part of a key. ready means that served is up to date. If
// not, it has to be made again, and served.Document, if present, was made by an older release.
func (a *App) current(ctx context.Context, key string, part render.Part) (served *Served, current Current, ready bool, err error) {
	served = &Served{Inputs: []signal.Object{{Kind: signal.Pocket, ID: key}}}
	if current, err = a.store.Current(ctx, key, part); errors.Is(err, ErrNotFound) {
		return served, current, true, nil
	} else if err != nil {
		return nil, current, false, err
	}
	served.Inputs = append(served.Inputs, signal.Object{Kind: signal.Customer, ID: current.CustomerID})
	if current.Follow {
		served.Inputs = append(served.Inputs, signal.Object{Kind: signal.Widget, ID: current.Widget})
	}
	served.Publication, served.Withheld, served.Ancestors = current.Publication, current.Withheld, ancestors(current.Cues, current.Sites)
	if current.Withheld {
		return served, current, true, nil
	}
	if current.Identity == a.site.Identity {
		document := render.Stored(current.Document)
		if current.Sums == "" || strings.Contains(current.Sums, document.ETag) {
			served.Document = &document
			return served, current, current.brandFits() && current.ReleaseID == a.under(current), nil
		}
		a.notice("a stored rendering is damaged and is rebuilt", "pocket", key)
	}
	return served, current, false, nil
}

// under returns the ID of the release that visitors of a pocket receive: the wanted one, unless
// that does not accept the settings.
func (a *App) under(current Current) int64 {
	if wanted := current.wanted(); wanted == current.ReleaseID || !a.refusals.has(current.Key, current.Publication, wanted, a.now()) {
		return wanted
	}
	return current.ReleaseID
}

// visited returns the live version under key, with the release that visitors receive instead of the
// one that it was published with, or nil if there is none.
func (a *App) visited(ctx context.Context, key string) (pub *Publication, withheld bool, err error) {
	_, current, ready, err := a.current(ctx, key, render.JSON)
	if err == nil && !ready { // a request would determine whether a new release accepts it
		if _, err = a.Serve(ctx, key, render.JSON); err == nil {
			current, err = a.store.Current(ctx, key, render.JSON)
		}
	}
	if errors.Is(err, ErrNotFound) || err == nil && current.Key == "" {
		return nil, false, nil
	} else if err != nil {
		return nil, false, err
	}
	p, err := a.store.Publication(ctx, key, current.Publication)
	if err != nil {
		return nil, false, err
	}
	p.ReleaseID = a.under(current)
	return &p, current.Withheld, nil
}

// subject returns a publication with one release and its settings, but without the customer's data,
// see dress.
func (a *App) subject(ctx context.Context, releaseID int64, p Publication) (s render.Subject, err error) {
	r, err := a.open(ctx, releaseID)
	if err != nil {
		return s, err
	}
	return a.subjectOf(ctx, r, p, releaseID < p.ReleaseID)
}

// carry converts the settings of a publication for a release. If back is set, that release is older
// than the publication's. faults are for values that it does not accept.
func (a *App) carry(ctx context.Context, r *widget.Release, p Publication, back bool) (values setting.Values, faults fault.List, err error) {
	values, faults = r.Schema.CarryJSON(p.Settings)
	if len(faults) > 0 && back {
		own, err := a.open(ctx, p.ReleaseID)
		if err != nil {
			return nil, nil, err
		}
		values, faults = r.Schema.CarryBackJSON(p.Settings, own.Schema)
	}
	return values, faults, nil
}

// carryWhole is carry with the release's defaults, because a followed release may have settings
// that were added later.
func (a *App) carryWhole(ctx context.Context, r *widget.Release, p Publication, back bool) (setting.Values, fault.List, error) {
	values, faults, err := a.carry(ctx, r, p, back)
	if err == nil && len(faults) == 0 {
		values, faults = r.Schema.Complete(values)
	}
	return values, faults, err
}

func (a *App) subjectOf(ctx context.Context, r *widget.Release, p Publication, back bool) (s render.Subject, err error) {
	values, faults, err := a.carryWhole(ctx, r, p, back)
	if err != nil {
		return s, err
	}
	if len(faults) > 0 {
		return s, faulty("settings-faulty", "A published setting is no longer valid.", faults)
	}
	cues, err := cue.Read([]byte(p.Cues))
	if err != nil {
		return s, err
	}
	return render.Subject{Cues: cues, Key: p.Key, Title: p.Title, Publication: p.Number, Release: r, Settings: values, Language: p.Language, Now: a.now(), Published: p.At}, nil
}

// ancestors returns the sources of frame-ancestors for a pocket with these cues and a customer with
// these sites; "" for none.
func ancestors(cues string, sites []byte) string {
	c, err := cue.Read([]byte(cues))
	if err != nil || !c.OwnSites {
		return ""
	}
	var list []string
	json.Unmarshal(sites, &list) // valid, because we wrote it
	return cue.Ancestors(list, c.Local)
}

// dress adds the customer's data to a subject: the brand, whose revision it returns, the sites, and
// the assets in the settings. A deleted asset is not shown.
func (a *App) dress(ctx context.Context, customer string, s *render.Subject) (revision int, err error) {
	brand, err := a.brandOf(ctx, customer)
	if err != nil {
		return 0, err
	}
	s.Brand, s.Sites = brand.Brand, brand.Sites
	s.Assets, _, err = a.shownWith(ctx, customer, s.Release.Schema, s.Settings, brand.Brand)
	return brand.Revision, err
}

// build renders a publication with one release.
func (a *App) build(ctx context.Context, releaseID int64, p Publication) (*render.Delivery, Rendering, error) {
	subject, err := a.subject(ctx, releaseID, p)
	if err != nil {
		return nil, Rendering{}, err
	}
	brand, err := a.dress(ctx, p.CustomerID, &subject)
	if err != nil {
		return nil, Rendering{}, err
	}
	made := -1
	if len(subject.Release.Schema.BrandUses(subject.Settings)) > 0 || subject.Cues.OwnSites {
		made = brand
	}
	d, faults := a.site.Deliver(subject)
	if len(faults) > 0 {
		return nil, Rendering{}, faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	return d, Rendering{Key: p.Key, Publication: p.Number, ReleaseID: releaseID, Identity: a.site.Identity, Sums: d.Sums(), Brand: made, Script: d.Script.Brotli, JSON: d.JSON.Brotli, Page: d.Page.Brotli}, nil
}
