package item

import (
	"cmp"
	"encoding/json"
	"slices"
	"time"
)

// KeptMost is how many items of a source are kept.
const KeptMost = 10_000

// gone is how long an item that its source no longer has is remembered, so that one that comes back
// keeps its ID and its age.
const gone = 30 * 24 * time.Hour

// Stock is what is stored of a source's items.
type Stock struct {
	Items []Item `json:"items"`          // in the source's order
	Gone  []Gone `json:"gone,omitempty"` // items that it no longer has
}

// Gone is an item that its source no longer has.
type Gone struct {
	ID     string    `json:"id"`
	Origin string    `json:"uid"`
	Link   string    `json:"link,omitempty"`
	Seen   time.Time `json:"seen"`
	At     time.Time `json:"at"` // since when
}

// Changes are the differences between two stocks.
type Changes struct {
	Added, Changed, Removed int
	Renamed                 int // items whose ID at the source differs on every fetch, and that were recognised
}

// None reports whether there are no differences that a pocket could show.
func (c Changes) None() bool { return c.Added == 0 && c.Changed == 0 && c.Removed == 0 }

// Merge returns the stock after a fetch. window says that the source returns its newest items only:
// older ones are kept. Otherwise what it does not return is gone. Items without an ID of their own
// are identified by their link or their text, and so are items whose ID changes on every fetch.
func (s Stock) Merge(source string, fetched []Item, window bool, now time.Time) (Stock, Changes) {
	var c Changes
	// Of items with the same ID, the first counts. The second is identified by its content.
	claimed := map[string]bool{}
	for i := range fetched {
		it := &fetched[i]
		if it.Origin == "" || claimed[it.Origin] {
			it.Origin = fingerprint(it)
		}
		if claimed[it.Origin] {
			it.Origin = "" // the same item twice
			continue
		}
		claimed[it.Origin] = true
	}
	fetched = slices.DeleteFunc(fetched, func(it Item) bool { return it.Origin == "" })

	byOrigin, byLink, byText := map[string]int{}, map[string]int{}, map[string]int{}
	for i := range s.Items {
		old := &s.Items[i]
		byOrigin[old.Origin] = i
		if old.Link != "" {
			unique(byLink, occasion(old), i)
		}
		unique(byText, fingerprint(old), i)
	}
	links := map[string]int{}
	for i := range fetched {
		links[occasion(&fetched[i])]++
	}
	used := make([]bool, len(s.Items))
	matched := make([]int, len(fetched))
	for i := range fetched {
		matched[i] = -1
		if at, ok := byOrigin[fetched[i].Origin]; ok {
			matched[i], used[at] = at, true
		}
	}
	for i := range fetched {
		if matched[i] >= 0 {
			continue
		}
		it := &fetched[i]
		at, ok := byText[fingerprint(it)]
		if !ok && it.Link != "" && links[occasion(it)] == 1 {
			at, ok = byLink[occasion(it)]
		}
		if ok && at >= 0 && !used[at] {
			matched[i], used[at] = at, true
			it.Origin = s.Items[at].Origin
			c.Renamed++
		}
	}
	remembered := map[string]Gone{}
	for _, g := range s.Gone {
		remembered[g.Origin] = g
	}
	out := Stock{Items: make([]Item, 0, len(fetched))}
	for i := range fetched {
		it := fetched[i]
		it.ID, it.Seen = IDOf(source, it.Origin), now.UTC().Truncate(time.Second)
		if at := matched[i]; at >= 0 {
			it.ID, it.Seen = s.Items[at].ID, s.Items[at].Seen
			if !same(it, s.Items[at]) {
				c.Changed++
			}
		} else {
			c.Added++
			if g, ok := remembered[it.Origin]; ok {
				it.ID, it.Seen = g.ID, g.Seen
				delete(remembered, it.Origin)
			}
		}
		out.Items = append(out.Items, it)
	}
	last := time.Time{} // of the oldest in the window
	for i := range fetched {
		if when := fetched[i].When(); !when.IsZero() && (last.IsZero() || when.Before(last)) {
			last = when
		}
	}
	for i := range s.Items {
		old := &s.Items[i]
		switch {
		case used[i]:
		case window && !last.IsZero() && old.When().Before(last) && len(out.Items) < KeptMost:
			out.Items = append(out.Items, *old)
		default:
			c.Removed++
			remembered[old.Origin] = Gone{ID: old.ID, Origin: old.Origin, Link: old.Link, Seen: old.Seen, At: now.UTC().Truncate(time.Second)}
		}
	}
	for _, g := range remembered {
		if now.Sub(g.At) < gone {
			out.Gone = append(out.Gone, g)
		}
	}
	slices.SortFunc(out.Gone, func(a, b Gone) int { return cmp.Or(b.At.Compare(a.At), cmp.Compare(a.ID, b.ID)) })
	out.Gone = out.Gone[:min(len(out.Gone), goneMost)]
	return out, c
}

// goneMost is how many items that are gone are remembered.
const goneMost = 500

// unique maps a key to an index, or to -1 if several share the key.
func unique(m map[string]int, key string, i int) {
	if _, taken := m[key]; taken {
		i = -1
	}
	m[key] = i
}

// occasion identifies an item by its link and, for a date of a series, by its start.
func occasion(it *Item) string {
	start, _ := it.Start.MarshalText()
	return canonical(it.Link) + "\n" + string(start) + "\n" + Fold(it.Author.Name)
}

// fingerprint identifies an item by its content.
func fingerprint(it *Item) string {
	start, _ := it.Start.MarshalText()
	at, _ := it.At.MarshalText()
	return "#" + IDOf(it.Title+"\x00"+it.Text+"\x00"+it.Author.Name+"\x00"+canonical(it.Link), string(start)+"\x00"+string(at))
}

// same reports whether two items are equal in everything that a pocket could show.
func same(a, b Item) bool {
	a.Seen, b.Seen, a.Origin, b.Origin = time.Time{}, time.Time{}, "", ""
	x, err := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err == nil && err2 == nil && string(x) == string(y)
}
