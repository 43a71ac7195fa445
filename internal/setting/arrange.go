package setting

import (
	"cmp"
	"slices"
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Orders are the ways to sort items: as typed, by moment, by rating, or by the start of dates.
var Orders = []string{"typed", "newest", "oldest", "best", "worst", "soonest"}

// hiddenKey is the field of an item that hides it from visitors.
const hiddenKey = "hidden"

// Shown returns the indexes of the items that visitors see, in the order in which they see them:
// without hidden ones, sorted by the setting that SortBy names. values must be complete. The result
// is nil for a setting of another type.
func (s *Setting) Shown(values Values) []int {
	if _, is := types[s.Type].(items); !is {
		return nil
	}
	items, _ := values[s.Key].([]any)
	shown := []int{}
	for i, item := range items {
		if m, _ := item.(map[string]any); m[hiddenKey] != true {
			shown = append(shown, i)
		}
	}
	order, _ := values[s.SortBy].(string)
	by := map[string]func(map[string]any) (float64, bool){"newest": instant, "oldest": instant, "best": share, "worst": share, "soonest": starts}[order]
	if by == nil {
		return shown
	}
	down := order == "newest" || order == "best"
	of := func(i int) (float64, bool) { m, _ := items[i].(map[string]any); return by(m) }
	slices.SortStableFunc(shown, func(a, b int) int {
		x, has := of(a)
		y, hasToo := of(b)
		switch {
		case has != hasToo: // items without the field come last
			return map[bool]int{true: -1, false: 1}[has]
		case down:
			return cmp.Compare(y, x)
		}
		return cmp.Compare(x, y)
	})
	return shown
}

// arranged returns the setting's value as visitors see it: sorted, and without hidden items.
func (s *Setting) arranged(values Values) any {
	items, _ := values[s.Key].([]any)
	shown := s.Shown(values)
	if shown == nil {
		return values[s.Key]
	}
	list := make([]any, len(shown))
	for to, from := range shown {
		list[to] = items[from]
	}
	return list
}

// Seen returns what the view and the mount module see of the setting. values must be complete.
func (s *Setting) Seen(values Values, w World) any { return s.View(s.arranged(values), w) }

func instant(item map[string]any) (float64, bool) { return momentOf(item, "at") }

func starts(item map[string]any) (float64, bool) { return momentOf(item, "startDate") }

func momentOf(item map[string]any, key string) (float64, bool) {
	text, _ := item[key].(string)
	m, f := ReadMoment(text)
	if text == "" || f != nil {
		return 0, false
	}
	return float64(m.At.UnixNano()) / float64(time.Second), true
}

func share(item map[string]any) (float64, bool) {
	r, _ := item["rating"].(map[string]any)
	value, has := r["value"].(float64)
	best, _ := r["best"].(float64)
	if !has || best == 0 {
		return 0, false
	}
	return value / best, true
}

// readSortBy checks that "sortBy" names a choice of orders.
func (s *Setting) readSortBy(glass *jsondoc.Value, list []*Setting) (faults fault.List) {
	by := glass.Get("sortBy")
	if by == nil {
		return nil
	}
	other := named(list, s.SortBy)
	if !isChoice(other) {
		s.SortBy = ""
		return fault.List{by.Fault(fault.SettingUnknown, s.Key, "\"sortBy\" names "+by.Text+", which is not a choice setting.", fault.DidYouMean(by.Text, keysOf(list)))}
	}
	for _, o := range other.Options {
		if !slices.Contains(Orders, o.Value) {
			faults = append(faults, by.Fault(fault.SchemaUnusable, s.Key, "Items cannot be sorted by "+o.Value+", a value of "+other.Key+".", fault.DidYouMean(o.Value, Orders)))
		}
	}
	return faults
}

func isChoice(s *Setting) bool {
	if s == nil {
		return false
	}
	_, is := types[s.Type].(choice)
	return is
}
