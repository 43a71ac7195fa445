package source

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"maps"
	"slices"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/asset"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
)

// stocked are the items of a source in memory, valid until the source moves.
type stocked struct {
	customer string
	name     string
	items    []item.Item
	revision int64
	about    About
	images   map[string]asset.Info // by their address at the source
	watch    signal.Watch
}

// stocked returns the items of a source, or nil if it does not exist.
func (a *Sources) stocked(ctx context.Context, id string) (*stocked, error) {
	if s, ok := a.stocks.GetIfPresent(id); ok && !s.watch.Moved() {
		return s, nil
	}
	since := a.signals.Now()
	src, err := a.store.Source(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	stock, revision, err := a.store.Stock(ctx, id)
	if err != nil && !errors.Is(err, problem.ErrNotFound) {
		return nil, err
	}
	for i := range stock.Items {
		stock.Items[i].Source = id
	}
	pictures, err := a.store.Pictures(ctx, id)
	if err != nil {
		return nil, err
	}
	images := map[string]asset.Info{}
	for _, p := range pictures {
		if p.Info.Digest != "" {
			images[p.Address] = p.Info
		}
	}
	s := &stocked{customer: src.CustomerID, name: src.Name, items: stock.Items, revision: revision, about: src.About, images: images, watch: a.signals.Watch(since, signal.Object{Kind: signal.Source, ID: id})}
	a.stocks.Set(id, s)
	return s, nil
}

// Filled are a pocket's settings with the items of its sources.
type Filled struct {
	Values setting.Values
	Totals map[string]setting.Total // by the key of the list
	Images map[string]asset.Info    // in Values, by digest
	Pages  map[string]setting.Page  // of lists with pages, of which Values has one page
	// Digest identifies the items. It is "" for a pocket without sources.
	Digest string
	// Until is when the same items give another selection; zero for never.
	Until time.Time
	watch []signal.Watch
}

// Moved reports whether a source has new items since the settings were filled.
func (f *Filled) Moved() bool {
	return slices.ContainsFunc(f.watch, func(w signal.Watch) bool { return w.Moved() })
}

// Over reports whether the same items give another selection by now.
func (f *Filled) Over(now time.Time) bool { return !f.Until.IsZero() && !now.Before(f.Until) }

// Dress gives a subject the filled settings.
func (f *Filled) Dress(s *render.Subject) {
	s.Settings, s.Totals, s.Pages = f.Values, f.Totals, f.Pages
	if len(f.Images) > 0 {
		s.Assets = maps.Clone(s.Assets)
		maps.Copy(s.Assets, f.Images)
	}
}

// Into is what the items are selected for.
type Into struct {
	Customer string
	Schema   *setting.Schema
	Values   setting.Values
	Lists    map[string]item.Listing // by the key of the setting
	Language string
	Now      time.Time
	// Page is which page of a list to fill, if it is not the first.
	Page Next
}

// Next is a page of a list after the first: after From items, of which the last has the ID After. New
// items before that one do not change which page it is.
type Next struct {
	List  string
	From  int
	After string
	Whole int // instead, that many items of every list, whatever its pages
}

// of returns how many of the selected items come before the page of a list.
func (n Next) of(key string, list []item.Item) int {
	if n.List != key {
		return 0
	}
	if at := slices.IndexFunc(list, func(it item.Item) bool { return it.ID == n.After }); n.After != "" && at >= 0 {
		return at + 1
	}
	return min(n.From, len(list))
}

// listing returns the list of a setting. Dates are ordered by their start unless the list has an
// order. Dates that are over and notices that have expired are not shown, wherever they come from.
func listing(set *setting.Setting, l item.Listing, value any) item.Listing {
	typed, _ := value.([]any)
	own := l.IsZero()
	switch {
	case own && len(typed) == 0:
		return l
	case set.ItemKind == item.Date && l.Order == "":
		l.Order = item.Next
	case set.ItemKind == item.Notice && own:
		l.Order = item.Listed
	default:
		return l
	}
	l.Repeats = l.Repeats || own // what somebody types twice is meant
	return l
}

// Fill returns settings whose lists have the items that the pocket's sources have and its rules
// select. A source that does not exist any more has no items.
func (a *Sources) Fill(ctx context.Context, to Into) (*Filled, error) {
	f := &Filled{Values: to.Values}
	lists := map[string]item.Listing{}
	for _, set := range to.Schema.Settings {
		if set.ItemKind == "" {
			continue
		}
		if l := listing(set, to.Lists[set.Key], to.Values[set.Key]); !l.IsZero() {
			lists[set.Key] = l
		}
	}
	if len(lists) == 0 {
		return f, nil
	}
	zone, err := a.customers.ZoneOf(ctx, to.Customer)
	if err != nil {
		return nil, err
	}
	f.Values, f.Totals, f.Images, f.Pages = maps.Clone(to.Values), map[string]setting.Total{}, map[string]asset.Info{}, map[string]setting.Page{}
	h := sha256.New()
	for _, key := range slices.Sorted(maps.Keys(lists)) {
		set, l := to.Schema.Get(key), lists[key]
		selected, of, err := a.selected(ctx, to, set, l, zone)
		if err != nil {
			return nil, err
		}
		for _, s := range of {
			f.watch = append(f.watch, s.watch)
		}
		if !selected.Until.IsZero() && (f.Until.IsZero() || selected.Until.Before(f.Until)) {
			f.Until = selected.Until
		}
		shown := selected.Shown
		if set.Page != "" {
			page := setting.Page{From: to.Page.of(key, shown), Total: len(shown)}
			f.Pages[key] = page
			shown = shown[page.From:]
			shown = shown[:min(len(shown), cmp.Or(to.Page.Whole, to.Schema.LargestPage(set, to.Values)))]
		}
		list := make([]any, len(shown))
		for i := range shown {
			it := &shown[i]
			list[i] = it.Values(item.World{Zone: zone, Language: to.Language, Asset: func(address string) string {
				if s := of[it.Source]; s != nil {
					if info, ok := s.images[address]; ok {
						f.Images[info.Digest] = info
						return info.Digest
					}
				}
				return ""
			}})
		}
		f.Values[key] = list
		if set.SortBy != "" {
			f.Values[set.SortBy] = "typed" // the list has its own order
		}
		f.Totals[key] = total(l, selected, of)
		written, err := json.Marshal([]any{key, list, f.Totals[key], f.Pages[key].Total})
		if err != nil {
			return nil, err
		}
		h.Write(written)
	}
	f.Digest = hex.EncodeToString(h.Sum(nil)[:16])
	return f, nil
}

// selected applies a list to its typed-in items and those of its sources.
func (a *Sources) selected(ctx context.Context, to Into, set *setting.Setting, l item.Listing, zone string) (item.Selection, map[string]*stocked, error) {
	items := item.Typed(to.Values[set.Key])
	of := map[string]*stocked{}
	for _, from := range l.From {
		s, err := a.stocked(ctx, from.Source)
		if err != nil {
			return item.Selection{}, nil, err
		}
		if s == nil || s.customer != to.Customer {
			continue
		}
		items = append(items, s.items...)
		of[from.Source] = s
	}
	return l.Select(items, item.Conditions{Now: to.Now, Zone: item.ZoneOf(zone), Room: set.ItemsRoom(), Kinds: set.Kinds, Needs: set.Needs}), of, nil
}

// total returns the ratings that the list's average covers. A rating that a source states for the
// whole counts if it covers more reviews than the source lists.
func total(l item.Listing, s item.Selection, of map[string]*stocked) setting.Total {
	read, all := s.All, l.Average != item.ShownRatings
	if !all {
		read = s.Kept
	}
	t := setting.Total{All: all, Count: read.Count, Best: 5, Steps: slices.Clone(read.Steps[:])}
	sum := read.Sum
	if all {
		stated, statedSum := 0, 0.0
		for _, s := range of {
			if r := s.about.Rated; r.Best > 0 {
				stated += r.Count
				statedSum += float64(r.Count) * r.Value / r.Best * 5
			}
		}
		if stated > t.Count {
			t.Count, sum, t.Steps = stated, statedSum, nil
		}
	}
	if t.Count > 0 {
		t.Average = sum / float64(t.Count)
	}
	return t
}

// Selected is a list's selection, with the names of its sources, for people who edit it.
type Selected struct {
	item.Selection
	Names map[string]string // of the sources, by ID
}

// Select shows what a list selects from a pocket's typed-in items and its sources.
func (a *Sources) Select(ctx context.Context, to Into, key string, l item.Listing) (out Selected, err error) {
	zone, err := a.customers.ZoneOf(ctx, to.Customer)
	if err != nil {
		return out, err
	}
	set := to.Schema.Get(key)
	l = listing(set, l, to.Values[key])
	out.Names = map[string]string{}
	for _, from := range l.From {
		s, err := a.stocked(ctx, from.Source)
		if err != nil {
			return out, err
		}
		if s != nil && s.customer == to.Customer {
			out.Names[from.Source] = s.name
		}
	}
	out.Selection, _, err = a.selected(ctx, to, set, l, zone)
	return out, err
}

// Check returns a problem if lists name sources that the customer does not have.
func (a *Sources) Check(ctx context.Context, customer string, lists map[string]item.Listing) error {
	var ids []string
	for _, l := range lists {
		for _, from := range l.From {
			ids = append(ids, from.Source)
		}
	}
	if len(ids) == 0 {
		return nil
	}
	known, err := a.store.KnownSources(ctx, customer, ids)
	if err != nil {
		return err
	}
	for _, id := range ids {
		if !slices.Contains(known, id) {
			return Missing(id)
		}
	}
	return nil
}

// World is what the values of a customer's items depend on.
func (a *Sources) World(ctx context.Context, customer string) (item.World, error) {
	zone, err := a.customers.ZoneOf(ctx, customer)
	return item.World{Zone: zone}, err
}

// Items returns the items of a source in its order: those that have all words of search, or all.
func (a *Sources) Items(ctx context.Context, s access.Scope, id, search string) (Source, []item.Item, error) {
	src, err := a.Get(ctx, s, id)
	if err != nil {
		return src, nil, err
	}
	of, err := a.stocked(ctx, id)
	if err != nil || of == nil {
		return src, nil, err
	}
	return src, item.Having(of.items, search), nil
}
