package item

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"slices"
	"time"
)

// Selection is what a Listing selects from items.
type Selection struct {
	Shown []Item
	Out   []Dropped // in the order of the sources
	Rules []Count   // of the rules that the list has
	// All are the ratings of all items, without duplicates, whatever the rules; Kept are those of
	// the items that pass all rules, also beyond the limit.
	All, Kept Total
	// Until is when the same items give another selection, because something expires; zero for
	// never.
	Until time.Time
}

// Dropped is an item that the list does not show, and why.
type Dropped struct {
	Item    *Item    // in the items that were selected from
	Reasons []Reason // one for each rule that drops it; never empty
}

// Reason is a rule's reason, as a sentence.
type Reason struct{ Rule, Why string }

// Count is how many of all items a rule keeps and drops, whatever the other rules.
type Count struct {
	Rule         string
	Keeps, Drops int
}

// Conditions are what a selection depends on besides the list and the items.
type Conditions struct {
	Now  time.Time
	Zone *time.Location // of the customer, in which a day begins; nil for UTC
	Room int            // how many items the widget takes
	// Kinds are the kinds of items that the widget shows; nil for any. Needs are the fields without
	// which it does not show an item.
	Kinds, Needs []string
}

// Select applies a list to the items of its sources. Items are grouped by source, in the order of
// the list, each group in the source's own order.
func (l *Listing) Select(items []Item, in Conditions) (s Selection) {
	if in.Zone == nil {
		in.Zone = time.UTC
	}
	c := prepare(l, in)
	var used []rule
	for _, r := range widgetRules {
		if len(in.Kinds) > 0 && r.Name == WrongKind || len(in.Needs) > 0 && r.Name == Missing {
			used = append(used, r)
		}
	}
	for _, r := range rules {
		if r.set(l) {
			used = append(used, r)
		}
	}
	counts := make([]Count, len(used))
	why := make([][]Reason, len(items))
	pinned := map[string]int{}
	for i, id := range l.Pinned {
		pinned[id] = i + 1
	}
	folded := make([]string, len(items))
	for i := range items {
		it := &items[i]
		it.correct(l.Corrections[it.ID])
		folded[i] = Fold(it.Title + "\n" + it.Text)
		c.text = folded[i]
		for n, r := range used {
			if reason := r.why(c, it); reason != "" && (pinned[it.ID] == 0 || r.Name == ByHand || r.widget) {
				why[i] = append(why[i], Reason{r.Name, reason})
				counts[n].Drops++
			} else {
				counts[n].Keeps++
			}
		}
	}
	for n, r := range used {
		counts[n].Rule = r.Name
	}
	// Rules that nobody sets are listed only if they drop something.
	counts = slices.DeleteFunc(counts, func(c Count) bool {
		return c.Drops == 0 && (c.Rule == Expiry || c.Rule == WrongKind || c.Rule == Missing)
	})
	repeats := repeated(items, folded, pinned, func(i int) bool { return why[i] == nil })
	if !l.Repeats {
		count := Count{Rule: Repeats, Keeps: len(items)}
		for i, of := range repeats {
			if of >= 0 && why[i] == nil && pinned[items[i].ID] == 0 {
				why[i] = append(why[i], Reason{Repeats, "It repeats " + items[of].named() + "."})
				count.Drops++
				count.Keeps--
			}
		}
		if counts = append(counts, count); count.Drops == 0 {
			counts = counts[:len(counts)-1]
		}
	}
	if dropped := perSource(l, items, pinned, why); dropped >= 0 {
		counts = append(counts, Count{PerSource, len(items) - dropped, dropped})
	}
	var kept []int
	for i := range items {
		if repeats[i] < 0 {
			s.All.add(items[i].Rating)
		}
		if why[i] == nil {
			kept = append(kept, i)
			s.Kept.add(items[i].Rating)
		}
	}
	l.sort(items, kept, pinned, in)
	room := in.Room
	if l.Most > 0 {
		room = min(l.Most, room)
	}
	if dropped := max(0, len(kept)-room); dropped > 0 {
		counts = append(counts, Count{Limit, len(items) - dropped, dropped})
		limited := []Reason{{Limit, fmt.Sprintf("The list is limited to %d items.", room)}}
		for _, i := range kept[room:] {
			why[i] = limited
		}
		kept = kept[:room]
	}
	s.Shown, s.Out = make([]Item, 0, len(kept)), make([]Dropped, 0, len(items)-len(kept))
	for _, i := range kept {
		s.Shown = append(s.Shown, items[i])
	}
	for i := range items {
		if why[i] != nil {
			s.Out = append(s.Out, Dropped{&items[i], why[i]})
		}
	}
	s.Rules, s.Until = counts, l.until(items, in)
	return s
}

// named describes an item in a sentence.
func (it *Item) named() string {
	text := Line(cmp.Or(it.Title, it.Text, it.Link, it.ID), 40)
	if it.Author.Name != "" {
		return fmt.Sprintf("“%s” by %s", text, it.Author.Name)
	}
	return "“" + text + "”"
}

// perSource drops the older items of sources with a limit. It returns how many, or -1 if no source
// has a limit.
func perSource(l *Listing, items []Item, pinned map[string]int, why [][]Reason) (dropped int) {
	dropped = -1
	for _, f := range l.From {
		if f.Most == 0 {
			continue
		}
		dropped = max(dropped, 0)
		var of []int
		for i := range items {
			if items[i].Source == f.Source && why[i] == nil && pinned[items[i].ID] == 0 {
				of = append(of, i)
			}
		}
		slices.SortStableFunc(of, func(a, b int) int { return items[b].When().Compare(items[a].When()) })
		for _, i := range of[min(f.Most, len(of)):] {
			why[i] = []Reason{{PerSource, fmt.Sprintf("The list takes %d items of its source, and these are newer.", f.Most)}}
			dropped++
		}
	}
	return dropped
}

// sort orders the indexes of items. Pinned items come first. Items that lack what the order is by
// come last.
func (l *Listing) sort(items []Item, kept []int, pinned map[string]int, in Conditions) {
	date := in.Now.In(in.Zone).Format(time.DateOnly)
	place := make(map[int]uint64, len(kept))
	if l.Order == Shuffled {
		for _, i := range kept {
			h := fnv.New64a()
			h.Write([]byte(date + items[i].ID))
			place[i] = h.Sum64() * 0x9e3779b97f4a7c15 // spreads IDs that differ in their last letter
		}
	}
	newer := func(a, b int) int { return latest(items[a].When(), items[b].When()) }
	slices.SortStableFunc(kept, func(a, b int) int {
		if p, q := pinned[items[a].ID], pinned[items[b].ID]; p != q {
			switch {
			case p == 0:
				return 1
			case q == 0:
				return -1
			}
			return p - q
		}
		switch l.Order {
		case Listed:
			return 0
		case Oldest:
			return -latestKnown(items[a].When(), items[b].When())
		case Best:
			x, has := items[a].Rating.Share()
			y, hasToo := items[b].Rating.Share()
			if has != hasToo {
				return map[bool]int{true: -1, false: 1}[has]
			}
			return cmp.Or(cmp.Compare(y, x), newer(a, b))
		case Next:
			return items[a].Start.Compare(items[b].Start.Time)
		case Shuffled:
			return cmp.Compare(place[a], place[b])
		}
		return newer(a, b)
	})
}

// latest compares times so that the later one comes first, and none comes last.
func latest(a, b time.Time) int { return b.Compare(a) }

// latestKnown is latest, except that no time comes first.
func latestKnown(a, b time.Time) int {
	if a.IsZero() != b.IsZero() {
		return map[bool]int{true: -1, false: 1}[a.IsZero()]
	}
	return latest(a, b)
}

// until returns the earliest time after now at which an item expires, is over, or gets too old, or
// at which the list is shuffled again.
func (l *Listing) until(items []Item, in Conditions) (at time.Time) {
	sooner := func(t time.Time) {
		if t.After(in.Now) && (at.IsZero() || t.Before(at)) {
			at = t
		}
	}
	for i := range items {
		it := &items[i]
		sooner(it.Expires.Time)
		if l.Upcoming || l.Order == Next {
			sooner(it.Over(in.Zone))
		}
		if when := it.When(); l.Days > 0 && !when.IsZero() {
			sooner(when.AddDate(0, 0, l.Days))
		}
	}
	if l.Order == Shuffled {
		y, m, d := in.Now.In(in.Zone).Date()
		sooner(time.Date(y, m, d+1, 0, 0, 0, 0, in.Zone))
	}
	return at
}

// Total summarises ratings on a scale of five.
type Total struct {
	Count int     `json:"count"`
	Sum   float64 `json:"sum"`   // of the ratings, in stars out of five
	Steps [5]int  `json:"steps"` // how many round to five stars, four, … one
}

func (t *Total) add(r Rating) {
	share, ok := r.Share()
	if !ok {
		return
	}
	stars := share * 5
	t.Count++
	t.Sum += stars
	t.Steps[5-min(max(int(stars+0.5), 1), 5)]++
}
