package item

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/setting"
)

// A rule decides about each item by itself. Rules that compare items are in select.go.
type rule struct {
	Name string // as in JSON
	set  func(l *Listing) bool
	// why returns the reason for which the rule drops an item, or "".
	why func(c *checks, it *Item) string
	// widget says that the rule is the widget's, so that pinning an item does not overrule it.
	widget bool
}

// The names of the other rules, and of what drops items without a rule.
const (
	ByHand    = "hidden"
	Expiry    = "expires"
	Repeats   = "repeats"
	PerSource = "from"
	Limit     = "most"
	WrongKind = "kind"
	Missing   = "needs"
)

// rules in the order in which people see them.
var rules = []rule{
	{ByHand, func(l *Listing) bool { return len(l.Hidden) > 0 }, func(c *checks, it *Item) string {
		if c.hidden[it.ID] {
			return "It is hidden."
		}
		return ""
	}, false},
	{Expiry, func(*Listing) bool { return true }, func(c *checks, it *Item) string {
		if !it.Expires.IsZero() && !it.Expires.After(c.now) {
			return "It expired on " + day(it.Expires) + "."
		}
		return ""
	}, false},
	{"words", func(l *Listing) bool { return !l.Words.IsZero() }, func(c *checks, it *Item) string {
		return c.words.why("word", c.text, Fold(it.Author.Name), Fold(strings.Join(it.Tags, "\n")))
	}, false},
	{"tags", func(l *Listing) bool { return !l.Tags.IsZero() }, func(c *checks, it *Item) string {
		var b strings.Builder
		for _, tag := range it.Tags {
			b.WriteString("\x00" + Fold(tag) + "\x00")
		}
		return c.tags.why("tag", b.String())
	}, false},
	{"rating", func(l *Listing) bool { return l.Rating > 0 }, func(c *checks, it *Item) string {
		share, ok := it.Rating.Share()
		switch {
		case !ok:
			return "It has no rating."
		case share*5 < c.list.Rating-1e-9:
			return fmt.Sprintf("Its rating is %s of %s, below %s of 5.", short(it.Rating.Value), short(it.Rating.Best), short(c.list.Rating))
		}
		return ""
	}, false},
	{"withText", func(l *Listing) bool { return l.WithText }, func(_ *checks, it *Item) string {
		if strings.TrimSpace(it.Text) == "" {
			return "It has no text."
		}
		return ""
	}, false},
	{"withImage", func(l *Listing) bool { return l.WithImage }, func(_ *checks, it *Item) string {
		if it.hasImage() {
			return ""
		}
		return "It has no image."
	}, false},
	{"noReplies", func(l *Listing) bool { return l.NoReplies }, func(_ *checks, it *Item) string {
		if it.InReplyTo != "" {
			return "It is a reply to another post."
		}
		return ""
	}, false},
	{"languages", func(l *Listing) bool { return len(l.Languages) > 0 }, func(c *checks, it *Item) string {
		for _, want := range c.list.Languages {
			if speaks(it.Language, want) {
				return ""
			}
		}
		if it.Language == "" {
			return "Its language is unknown."
		}
		return "Its language is " + it.Language + "."
	}, false},
	{"days", func(l *Listing) bool { return l.Days > 0 }, func(c *checks, it *Item) string {
		switch at := it.When(); {
		case at.IsZero():
			return "It has no date."
		case !at.After(c.oldest):
			return fmt.Sprintf("It is from %s, more than %d days ago.", at.Format("2 January 2006"), c.list.Days)
		}
		return ""
	}, false},
	{"upcoming", func(l *Listing) bool { return l.Upcoming || l.Order == Next }, func(c *checks, it *Item) string {
		switch over := it.Over(c.zone); {
		case over.IsZero():
			return "It has no start date."
		case !over.After(c.now):
			return "It was over on " + over.Format("2 January 2006") + "."
		}
		return ""
	}, false},
}

// widgetRules are not a list's, but those of the widget that shows it.
var widgetRules = []rule{
	{WrongKind, nil, func(c *checks, it *Item) string {
		if kind := orElse(it.Kind, Card); !slices.Contains(c.kinds, kind) {
			return fmt.Sprintf("It is a %s. The widget shows %s.", kind, plurals(c.kinds))
		}
		return ""
	}, true},
	{Missing, nil, func(c *checks, it *Item) string {
		for _, field := range c.needs {
			if !it.Has(field) {
				return fmt.Sprintf("It has no %s. The widget needs it.", fieldWords(field))
			}
		}
		return ""
	}, true},
}

// plurals names kinds in a sentence.
func plurals(kinds []string) string {
	names := make([]string, len(kinds))
	for i, k := range kinds {
		if names[i] = k + "s"; k == "person" {
			names[i] = "people"
		}
	}
	if len(names) == 1 {
		return names[0]
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

// fieldWords names a field in a sentence.
func fieldWords(field string) string {
	for _, s := range setting.ItemFields {
		if s.Key == field {
			return strings.ToLower(s.Label.In("en"))
		}
	}
	return field
}

// RuleNames lists all rules by their names, in the order in which people see them.
func RuleNames() (names []string) {
	for _, r := range rules {
		names = append(names, r.Name)
	}
	return append(append([]string{WrongKind, Missing}, names...), Repeats, PerSource, Limit)
}

// labels name the rules for people.
var labels = map[string]string{ByHand: "Hidden by hand", Expiry: "Not expired", "words": "Words", "tags": "Tags", "rating": "Minimum rating", "withText": "With text", "withImage": "With an image", "noReplies": "No replies",
	"languages": "Language", "days": "Maximum age", "upcoming": "Upcoming only", WrongKind: "Kind of item", Missing: "Required fields", Repeats: "No duplicates", PerSource: "Maximum from each source", Limit: "Number of items"}

// RuleLabel returns the label of a rule for people.
func RuleLabel(name string) string { return labels[name] }

// checks is a list's rules, prepared for many items.
type checks struct {
	list         *Listing
	now          time.Time
	zone         *time.Location
	oldest       time.Time
	hidden       map[string]bool
	words, tags  terms
	kinds, needs []string
	text         string // title and text of the item, as Fold returns them
}

type terms struct{ some, none []term }

func (t Terms) prepared(of func(string) term) (p terms) {
	for _, text := range t.Some {
		p.some = append(p.some, of(text))
	}
	for _, text := range t.None {
		p.none = append(p.none, of(text))
	}
	return p
}

// why looks for the terms in folded texts.
func (t terms) why(what string, folded ...string) string {
	has := func(term term) bool { return slices.ContainsFunc(folded, term.in) }
	if at := slices.IndexFunc(t.none, has); at >= 0 {
		return fmt.Sprintf("It has the %s “%s”.", what, t.none[at].said)
	}
	if len(t.some) == 0 || slices.ContainsFunc(t.some, has) {
		return ""
	}
	if len(t.some) == 1 {
		return fmt.Sprintf("It does not have the %s “%s”.", what, t.some[0].said)
	}
	return fmt.Sprintf("It has none of the %d required %ss.", len(t.some), what)
}

// tagTerm matches a whole tag.
func tagTerm(text string) term {
	text = strings.TrimPrefix(strings.TrimSpace(text), "#")
	return term{text, "\x00" + Fold(text) + "\x00"}
}

func prepare(l *Listing, in Conditions) *checks {
	c := &checks{list: l, now: in.Now, zone: in.Zone, oldest: l.oldest(in.Now), hidden: map[string]bool{}, words: l.Words.prepared(termOf), tags: l.Tags.prepared(tagTerm), kinds: in.Kinds, needs: in.Needs}
	for _, id := range l.Hidden {
		c.hidden[id] = true
	}
	return c
}

func day(t Time) string { return t.Format("2 January 2006") }

func short(n float64) string { return strconv.FormatFloat(n, 'f', -1, 64) }
