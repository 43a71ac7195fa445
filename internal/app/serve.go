package app

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"sync/atomic"

	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Served is what visitors get at one address of a key. It is immutable.
type Served struct {
	Document    *render.Encoded // nil: nothing published, or withheld
	Publication int             // counts upwards; 0 for none
	Withheld    bool
	Ancestors   string // sources of frame-ancestors for the pocket's page; "" lets everybody frame it
	marks       [3]mark
}

// Fresh tells whether nothing has changed since s was loaded besides publishing, which
// puts what it made into the shelf itself: no withholding, no release that s follows.
func (s *Served) Fresh() bool {
	for _, m := range s.marks {
		if m.moved() {
			return false
		}
	}
	return true
}

// marks are counters that move when something behind a served key changes otherwise than
// by publishing. Names share them, which costs a load too many now and then, and saves
// going through memory to find what a change touches.
type marks struct {
	counters [1024]atomic.Uint32
	epoch    atomic.Uint64 // moves before any counter does
}

type mark struct {
	at  *atomic.Uint32
	was uint32
}

// moved tells whether the counter stands elsewhere than it did. The zero mark never moves.
func (m mark) moved() bool { return m.at != nil && m.at.Load() != m.was }

func (m *marks) at(kind, name string) *atomic.Uint32 {
	return &m.counters[hash(kind+" "+name)%uint32(len(m.counters))]
}

// see notes where the counter of a name stands. It is called before what is marked is read.
func (m *marks) see(kind, name string) mark {
	at := m.at(kind, name)
	return mark{at, at.Load()}
}

// move tells that what has the name has changed.
func (m *marks) move(kind, name string) {
	m.epoch.Add(1)
	m.at(kind, name).Add(1)
}

// The kinds of what is marked.
const (
	ofPocket   = "pocket"
	ofCustomer = "customer"
	ofWidget   = "widget"
)

// Serve loads one part of what visitors get under key, for a shelf that does not hold it:
// stored bytes; or a new rendering, made once, when the program or the release that the
// pocket follows has changed since.
func (a *App) Serve(ctx context.Context, key string, part render.Part) (*Served, error) {
	if !IsKey(key) {
		return &Served{}, nil
	}
	served, now, ready, err := a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	// One build at a time for a key: whoever waited finds what the other has made.
	lock := a.publishingOf(key)
	lock.Lock()
	defer lock.Unlock()
	served, now, ready, err = a.current(ctx, key, part)
	if ready || err != nil {
		return served, err
	}
	pub, err := a.store.Publication(ctx, key, now.Publication)
	if err != nil {
		return nil, err
	}
	delivery, rendering, err := a.build(ctx, now.wanted(), pub)
	if now.wanted() != now.ReleaseID && a.refused(err, pub, now.wanted()) {
		// Visitors keep what they have. Should noting that fail, lists say so later.
		_ = a.store.Refuse(ctx, key, pub.Number, now.wanted())
		if served.Document != nil {
			return served, nil
		}
		delivery, rendering, err = a.build(ctx, now.ReleaseID, pub)
		rendering.Refused = now.wanted()
	}
	if err != nil {
		// Visitors keep what they have rather than nothing: the brand's change broke it.
		if served.Document != nil && !now.brandFits() {
			a.notice("a pocket cannot use its customer's new brand and stays unchanged", "pocket", key, "error", err)
			return served, nil
		}
		return nil, err
	}
	// Should saving fail, visitors still get the new one; the next start renders once more.
	_ = a.store.SaveRendering(ctx, rendering)
	served.Document = delivery.Part(part)
	return served, nil
}

// current reads what the store has for a part of a key. ready means that served is what
// visitors get; otherwise it has to be made anew, and served.Document, if there is one,
// is what an older release made.
func (a *App) current(ctx context.Context, key string, part render.Part) (served *Served, now Current, ready bool, err error) {
	served = &Served{}
	served.marks[0] = a.marks.see(ofPocket, key)
	for epoch, read := uint64(0), false; !read || epoch != a.marks.epoch.Load(); read = true {
		epoch = a.marks.epoch.Load()
		if now, err = a.store.Current(ctx, key, part); errors.Is(err, ErrNotFound) {
			return served, now, true, nil
		} else if err != nil {
			return nil, now, false, err
		}
		// Customer and widget are known only now: read again if anything has moved meanwhile.
		served.marks[1] = a.marks.see(ofCustomer, now.CustomerID)
		if now.Follow {
			served.marks[2] = a.marks.see(ofWidget, now.Widget)
		}
	}
	served.Publication, served.Withheld, served.Ancestors = now.Publication, now.Withheld, ancestors(now.Cues, now.Sites)
	if now.Withheld {
		return served, now, true, nil
	}
	if now.Identity == a.site.Identity {
		document := render.Stored(now.Document)
		if now.Sums == "" || strings.Contains(now.Sums, document.ETag) {
			served.Document = &document
			return served, now, now.brandFits() && now.ReleaseID == a.under(now), nil
		}
		a.notice("a stored rendering is damaged and is rebuilt", "pocket", key)
	}
	return served, now, false, nil
}

// under is the id of the release that visitors get a pocket with: the one that is wanted, unless
// that does not take it.
func (a *App) under(now Current) int64 {
	if wanted := now.wanted(); wanted == now.ReleaseID || !a.refusals.has(now.Key, now.Publication, wanted, a.now()) {
		return wanted
	}
	return now.ReleaseID
}

// visited is the publication that visitors get under key, with the release that they get it
// with now in the place of the one that it was made with; nil when there is none.
func (a *App) visited(ctx context.Context, key string) (pub *Publication, withheld bool, err error) {
	_, now, ready, err := a.current(ctx, key, render.JSON)
	if err == nil && !ready { // a visitor's request would tell whether a new release takes it
		if _, err = a.Serve(ctx, key, render.JSON); err == nil {
			now, err = a.store.Current(ctx, key, render.JSON)
		}
	}
	if errors.Is(err, ErrNotFound) || err == nil && now.Key == "" {
		return nil, false, nil
	} else if err != nil {
		return nil, false, err
	}
	p, err := a.store.Publication(ctx, key, now.Publication)
	if err != nil {
		return nil, false, err
	}
	p.ReleaseID = a.under(now)
	return &p, now.Withheld, nil
}

// subject is a publication under one release, with its settings, but not what its customer has,
// see dress.
func (a *App) subject(ctx context.Context, releaseID int64, p Publication) (s render.Subject, err error) {
	r, err := a.open(ctx, releaseID)
	if err != nil {
		return s, err
	}
	return a.subjectOf(ctx, r, p, releaseID < p.ReleaseID)
}

// carry reads the settings of a publication as a release sees them. If back is set, that release is
// older than the one the publication was made with. faults are of values that it does not accept.
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

// carryWhole is carry with the release's defaults: a release that is followed may have settings that
// were added later.
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

// ancestors are the sources of frame-ancestors for a pocket with these cues and a customer
// with these sites; "" for none.
func ancestors(cues string, sites []byte) string {
	c, err := cue.Read([]byte(cues))
	if err != nil || !c.OwnSites {
		return ""
	}
	var list []string
	json.Unmarshal(sites, &list) // it was written by us; without it there are none
	return cue.Ancestors(list, c.Local)
}

// dress gives a subject what its customer has: the brand, whose revision it returns, the sites,
// and the assets that the settings name. An asset that has gone is not shown.
func (a *App) dress(ctx context.Context, customer string, s *render.Subject) (revision int, err error) {
	brand, err := a.brandOf(ctx, customer)
	if err != nil {
		return 0, err
	}
	s.Brand, s.Sites = brand.Brand, brand.Sites
	s.Assets, _, err = a.shownWith(ctx, customer, s.Release.Schema, s.Settings, brand.Brand)
	return brand.Revision, err
}

// build renders a publication under one release.
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
