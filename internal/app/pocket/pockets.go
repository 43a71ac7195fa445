// Package pocket has pockets and their drafts: making and changing them, lists, starters, and
// previews.
package pocket

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/source"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"

	"github.com/maypok86/otter/v2"
)

// Pockets manages pockets. It is safe for concurrent use.
type Pockets struct {
	store     Store
	log       *audit.Log
	customers *customer.Customers
	releases  *release.Releases
	delivery  *delivery.Delivery
	sources   *source.Sources
	signals   *signal.Signals
	site      *render.Site
	starters  *otter.Cache[string, *starterPreviews] // by widget and language
	markeds   *otter.Cache[string, *marked]          // by digest of a release
	keeps     time.Duration
	now       func() time.Time
}

// Options are the parts of Pockets. All are required, except Keeps if there are no guests.
type Options struct {
	Store     Store
	Audit     *audit.Log
	Customers *customer.Customers
	Releases  *release.Releases
	Delivery  *delivery.Delivery
	Sources   *source.Sources
	Signals   *signal.Signals
	Site      *render.Site
	Keeps     time.Duration // a guest pocket expires this long after its last change
	Now       func() time.Time
}

// cachedMost is how many widgets' previews, and marked releases, stay in memory.
const cachedMost = 500

// New returns Pockets.
func New(o Options) *Pockets {
	return &Pockets{store: o.Store, log: o.Audit, customers: o.Customers, releases: o.Releases, delivery: o.Delivery, sources: o.Sources, signals: o.Signals, site: o.Site, keeps: o.Keeps, now: o.Now,
		starters: otter.Must(&otter.Options[string, *starterPreviews]{MaximumSize: cachedMost}), markeds: otter.Must(&otter.Options[string, *marked]{MaximumSize: cachedMost})}
}

// NewPocket has the properties of a new pocket. Key can be empty; only the operator may choose one.
type NewPocket struct {
	CustomerID, Widget, Starter, Title, Language, Key string
}

// Add creates a pocket whose draft has its starter's settings.
func (a *Pockets) Add(ctx context.Context, s access.Scope, n NewPocket) (Pocket, error) {
	if err := s.Require(access.PublishPockets); err != nil {
		return Pocket{}, err
	}
	if n.CustomerID == "" {
		n.CustomerID = s.CustomerID
	}
	if !s.Sees(n.CustomerID) || n.CustomerID == customer.NobodysCustomer {
		return Pocket{}, access.NoCustomer(n.CustomerID)
	}
	if err := a.customers.RoomFor(ctx, s, n.CustomerID, 1); err != nil {
		return Pocket{}, err
	}
	p, err := a.Prepare(ctx, s, n)
	if err != nil {
		return p, err
	}
	if err := a.store.AddPocket(ctx, p, nil, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "add", Kind: "pocket", Of: p.Key, Note: p.Title})); errors.Is(err, problem.ErrExists) {
		return Pocket{}, &problem.Error{Kind: problem.Conflict, Code: "key-exists", Field: "key", What: fmt.Sprintf("The key %q is taken.", n.Key), Hint: "Choose another key, or leave it out."}
	} else if err != nil {
		return Pocket{}, err
	}
	return p, nil
}

// Prepare returns a new pocket with its defaults. It saves nothing.
func (a *Pockets) Prepare(ctx context.Context, s access.Scope, n NewPocket) (Pocket, error) {
	owner, err := a.store.Customer(ctx, n.CustomerID)
	if errors.Is(err, problem.ErrNotFound) {
		return Pocket{}, access.NoCustomer(n.CustomerID)
	} else if err != nil {
		return Pocket{}, err
	}
	w, err := a.releases.Newest(ctx, n.Widget)
	if err != nil {
		return Pocket{}, err
	}
	values := setting.Values{}
	if n.Starter != "" {
		starter, ok := w.Release.Starter(n.Starter)
		if !ok {
			return Pocket{}, noStarter(w, n.Starter)
		}
		values = starter.Settings
	}
	if n.Language == "" && owner.Language != "" && slices.Contains(w.Release.Manifest.Languages, w.Release.Language(owner.Language)) {
		n.Language = w.Release.Language(owner.Language)
	}
	if n.Language, err = LanguageOf(w, n.Language); err != nil {
		return Pocket{}, err
	}
	brand, err := a.customers.BrandOf(ctx, n.CustomerID)
	if err != nil {
		return Pocket{}, err
	}
	values = w.Release.Schema.Branded(values, brand.Brand)
	if n.Title = strings.TrimSpace(n.Title); n.Title == "" {
		n.Title = w.Release.Manifest.Title.In(n.Language)
	}
	if err := CheckTitle(n.Title); err != nil {
		return Pocket{}, err
	}
	if n.Key != "" {
		if !s.Operator() {
			return Pocket{}, &problem.Error{Kind: problem.Forbidden, Code: "key-not-chosen", Field: "key", What: "Only the operator can choose keys.", Hint: "Leave the key out. The service then creates one."}
		}
		if !delivery.IsKey(n.Key) {
			return Pocket{}, &problem.Error{Kind: problem.Invalid, Code: "key-form", Field: "key", What: fmt.Sprintf("%q is not a valid key.", n.Key), Hint: "Use 3 to 64 lower-case letters, digits and hyphens."}
		}
	} else {
		n.Key = NewKey()
	}
	now := a.now()
	return Pocket{Key: n.Key, CustomerID: n.CustomerID, Widget: n.Widget, Starter: n.Starter, Content: content.Content{Title: n.Title, Language: n.Language, Settings: values}, References: content.References(w.Release.Schema, values, nil),
		Revision: 1, Lot: newLot(), DraftAt: now, DraftBy: s.Name, CreatedAt: now}, nil
}

// Get returns a visible pocket.
func (a *Pockets) Get(ctx context.Context, s access.Scope, key string) (Pocket, error) {
	if err := s.Require(access.SeePockets); err != nil {
		return Pocket{}, err
	}
	if s.Role == access.Guest && s.Key != key {
		return Pocket{}, access.AccountNeeded() // the same whether the pocket exists or not
	}
	p, err := a.store.Pocket(ctx, key)
	if err == nil && s.Sees(p.CustomerID) {
		return p, nil
	}
	if err == nil || errors.Is(err, problem.ErrNotFound) {
		return Pocket{}, problem.Missing("pocket", key, "List the pockets to see their keys.")
	}
	return Pocket{}, err
}

// Change has the changes to a pocket. "" leaves a field unchanged.
type Change struct {
	Title, Language string
	Starter         string // only its name: the starter to compare settings with
	content.Change
}

// Change changes a pocket's name, language, starter or extras. They are part of its draft, and
// visitors see them when it is published.
func (a *Pockets) Change(ctx context.Context, s access.Scope, key string, revision int, c Change) (Pocket, error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.Require(access.EditPockets); err != nil {
		return p, err
	}
	if p.Revision != revision {
		return p, ChangedMeanwhile(p)
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return p, err
	}
	before := p
	var names []string
	if c.Title = strings.TrimSpace(c.Title); c.Title != "" {
		if err := CheckTitle(c.Title); err != nil {
			return p, err
		}
		p.Title, names = c.Title, append(names, "title")
	}
	if c.Language != "" {
		if p.Language, err = LanguageOf(w, c.Language); err != nil {
			return p, err
		}
		names = append(names, "language")
	}
	if c.Starter != "" {
		if _, ok := w.Release.Starter(c.Starter); !ok {
			return p, noStarter(w, c.Starter)
		}
		p.Starter, names = c.Starter, append(names, "starter")
	}
	keys, f, faults := p.Content.Set(c.Change)
	if len(faults) > 0 {
		return p, problem.Faulty(f.Key+"-faulty", f.Faulty, faults)
	}
	if c.Sources != nil {
		if err := a.checkLists(ctx, p.CustomerID, w, p.Sources); err != nil {
			return p, err
		}
	}
	return a.save(ctx, s, before, p, w, append(names, keys...))
}

// CheckTitle checks a pocket's title.
func CheckTitle(title string) error {
	if utf8.RuneCountInString(title) > 120 {
		return &problem.Error{Kind: problem.Invalid, Code: "title-too-long", Field: "title", What: "A title can have at most 120 characters.", Hint: "Shorten it."}
	}
	return problem.Showable("title", title)
}

// LanguageOf returns the language of a new pocket: the requested one, or the widget's first.
func LanguageOf(w release.Widget, asked string) (string, error) {
	if asked == "" {
		return w.Release.Manifest.Languages[0], nil
	}
	if !message.ValidTag(asked) || w.Release.Language(asked) != asked {
		return "", &problem.Error{Kind: problem.Invalid, Code: "language-unknown", Field: "language", What: fmt.Sprintf("The widget %s is not available in %q.", w.Widget, asked), Hint: fault.DidYouMean(asked, w.Release.Manifest.Languages)}
	}
	return asked, nil
}

// AddCopy adds a pocket that is a copy of another one, or of a file.
func (a *Pockets) AddCopy(ctx context.Context, s access.Scope, p Pocket, w release.Widget, cases []Case, did, from string) (Pocket, error) {
	if err := a.customers.RoomFor(ctx, s, p.CustomerID, 1); err != nil {
		return p, err
	}
	now := a.now()
	p.Revision, p.Lot, p.DraftAt, p.DraftBy, p.CreatedAt = 1, newLot(), now, s.Name, now
	accepted, _ := w.Release.Schema.Carried(p.Settings)
	p.References = content.References(w.Release.Schema, accepted, p.Sources)
	if err := a.store.AddPocket(ctx, p, cases, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: did, Kind: "pocket", Of: p.Key, Note: "from " + from})); err != nil {
		return p, err
	}
	return p, nil
}

// Delete deletes an unpublished pocket with its history.
func (a *Pockets) Delete(ctx context.Context, s access.Scope, key string) error {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.Require(access.EditPockets); err != nil {
		return err
	}
	lock := a.delivery.Lock(key)
	lock.Lock()
	defer lock.Unlock()
	err = a.store.DeletePocket(ctx, key, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "delete", Kind: "pocket", Of: key, Note: p.Title}))
	if errors.Is(err, problem.ErrChanged) {
		return &problem.Error{Kind: problem.Conflict, Code: "published-still", What: fmt.Sprintf("%s is published, and pages show it.", key), Hint: "Unpublish it first, then delete it."}
	}
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("pocket", key, "List the pockets to see their keys.")
	}
	return err
}

func NotPublished(key string) *problem.Error {
	return &problem.Error{Kind: problem.Conflict, Code: "not-published", What: fmt.Sprintf("%s is not published.", key), Hint: "Publish it first."}
}

// WidgetOf returns a pocket's widget in the newest release that is rolled out to it.
func (a *Pockets) WidgetOf(ctx context.Context, s access.Scope, name, key string) (release.Widget, error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return release.Widget{}, err
	}
	if p.Widget != name {
		return release.Widget{}, release.NoWidget(name)
	}
	return a.releases.For(ctx, p.Widget, p.Lot)
}
