package item

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/fault"
)

// Listing says which items of which sources a list in a pocket shows, and in which order. It is a part
// of a pocket's content. The zero Listing shows the typed-in items alone.
type Listing struct {
	From  []From `json:"from,omitempty"`
	Rules `json:",omitzero"`
	Order string `json:"order,omitempty"` // one of Orders; "" is Newest
	Most  int    `json:"most,omitempty"`  // items shown at most; 0 is as many as the widget takes
	// Hidden and Pinned are IDs of items. Pinned items come first, in this order, whatever the rules.
	Hidden []string `json:"hidden,omitempty"`
	Pinned []string `json:"pinned,omitempty"`
	// Corrections replace fields of items, by the items' IDs, in the form of settings.
	Corrections map[string]map[string]any `json:"corrections,omitempty"`
	// Average is what an average rating covers: AllRatings or ShownRatings; "" is AllRatings.
	Average string `json:"average,omitempty"`
}

// From is a source of a list.
type From struct {
	Source string `json:"source"`         // its ID
	Most   int    `json:"most,omitempty"` // its newest items; 0 is all
}

// Rules drop items. A zero field drops none.
type Rules struct {
	Words     Terms    `json:"words,omitzero"`
	Tags      Terms    `json:"tags,omitzero"`
	Rating    float64  `json:"rating,omitempty"` // at least, in stars out of five
	WithText  bool     `json:"withText,omitempty"`
	WithImage bool     `json:"withImage,omitempty"`
	NoReplies bool     `json:"noReplies,omitempty"` // posts that answer another one are dropped
	Languages []string `json:"languages,omitempty"` // BCP 47
	Days      int      `json:"days,omitempty"`      // not older than that
	Upcoming  bool     `json:"upcoming,omitempty"`  // dates that are over are dropped
	Repeats   bool     `json:"repeats,omitempty"`   // duplicates are shown too
}

// Terms are words or phrases, compared without case and accents.
type Terms struct {
	Some []string `json:"some,omitempty"` // an item has at least one of these
	None []string `json:"none,omitempty"` // and none of these
}

// IsZero reports whether there are no terms.
func (t Terms) IsZero() bool { return len(t.Some) == 0 && len(t.None) == 0 }

// The orders of a list.
const (
	Listed   = "listed"   // source by source, in the order of each source
	Newest   = "newest"   // by publication
	Oldest   = "oldest"   //
	Best     = "best"     // by rating, then newest
	Next     = "upcoming" // by the start of dates; those that are over are dropped
	Shuffled = "shuffled" // at random, the same for a day
)

// Orders lists them.
var Orders = []string{Newest, Oldest, Best, Next, Shuffled, Listed}

// What an average rating covers.
const (
	AllRatings   = "all"   // all reviews of the sources
	ShownRatings = "shown" // the reviews that the list shows
)

// Limits of a Listing.
const (
	FromMost        = 20  // sources
	TermsMost       = 50  // words or tags, required or excluded
	TermMost        = 100 // characters
	HiddenMost      = 500 // items
	CorrectionsMost = 100
	DaysMost        = 36_500
)

// IsZero reports whether the list shows typed-in items only, as they are.
func (l Listing) IsZero() bool {
	return len(l.From) == 0 && l.Rules.isZero() && l.Order == "" && l.Most == 0 && len(l.Hidden) == 0 && len(l.Pinned) == 0 && len(l.Corrections) == 0 && l.Average == ""
}

func (r Rules) isZero() bool {
	return r.Words.IsZero() && r.Tags.IsZero() && r.Rating == 0 && !r.WithText && !r.WithImage && !r.NoReplies && len(r.Languages) == 0 && r.Days == 0 && !r.Upcoming && !r.Repeats
}

// Clean brings a list into its usual form, or says what is wrong with it. Fields are named as in
// JSON.
func (l Listing) Clean() (Listing, fault.List) {
	var faults fault.List
	wrong := func(field, what, fix string) {
		faults = append(faults, fault.Fault{Field: field, Code: fault.ValueRange, What: what, Fix: fix})
	}
	seen := map[string]bool{}
	for i, f := range l.From {
		switch {
		case f.Source == "" || seen[f.Source]:
			wrong("from", fmt.Sprintf("Source %d of the list has no ID, or is in the list already.", i+1), "Name each source once, by its ID.")
		case f.Most < 0:
			wrong("from", fmt.Sprintf("Source %q has a negative limit.", f.Source), "Use 0 for no limit.")
		}
		seen[f.Source] = true
	}
	if len(l.From) > FromMost {
		wrong("from", fmt.Sprintf("The list has %d sources; the limit is %d.", len(l.From), FromMost), "Remove some.")
	}
	l.Words.clean("words", wrong)
	l.Tags.clean("tags", wrong)
	if l.Rating < 0 || l.Rating > 5 {
		wrong("rating", fmt.Sprintf("The minimum rating is %v.", l.Rating), "Use a number of stars from 0 to 5.")
	}
	for i, tag := range l.Languages {
		if l.Languages[i] = Language(tag); l.Languages[i] == "" {
			wrong("languages", fmt.Sprintf("%q is not a language tag.", tag), "Use a BCP 47 tag such as en, de or pt-BR.")
		}
	}
	if l.Days < 0 || l.Days > DaysMost {
		wrong("days", fmt.Sprintf("The maximum age is %d days.", l.Days), fmt.Sprintf("Use 0 for any age, or at most %d days.", DaysMost))
	}
	if l.Order != "" && !slices.Contains(Orders, l.Order) {
		wrong("order", fmt.Sprintf("There is no order %q.", l.Order), fault.DidYouMean(l.Order, Orders))
	}
	if l.Average != "" && l.Average != AllRatings && l.Average != ShownRatings {
		wrong("average", fmt.Sprintf("The average covers %q.", l.Average), "Use \"all\" or \"shown\".")
	}
	if l.Most < 0 {
		wrong("most", "The number of items is negative.", "Use 0 for as many as the widget takes.")
	}
	l.Hidden, l.Pinned = once(l.Hidden), once(l.Pinned)
	l.Pinned = slices.DeleteFunc(l.Pinned, func(id string) bool { return slices.Contains(l.Hidden, id) })
	if len(l.Hidden) > HiddenMost || len(l.Pinned) > HiddenMost {
		wrong("hidden", fmt.Sprintf("More than %d items are hidden or pinned.", HiddenMost), "Use rules to drop many items.")
	}
	for id, fields := range l.Corrections {
		if len(fields) == 0 {
			delete(l.Corrections, id)
		}
	}
	if len(l.Corrections) > CorrectionsMost {
		wrong("corrections", fmt.Sprintf("More than %d items are corrected.", CorrectionsMost), "Correct them at their source.")
	}
	return l, faults
}

func (t *Terms) clean(field string, wrong func(field, what, fix string)) {
	for _, list := range []*[]string{&t.Some, &t.None} {
		var clean []string
		for _, text := range *list {
			text = strings.Join(strings.Fields(text), " ")
			switch {
			case len(text) > TermMost:
				wrong(field, fmt.Sprintf("A term in %q has more than %d characters.", field, TermMost), "Shorten it.")
			case strings.TrimSpace(Fold(text)) == "":
				if text != "" {
					wrong(field, fmt.Sprintf("%q has neither letters nor digits.", text), "Enter a word or phrase.")
				}
			case !slices.Contains(clean, text):
				clean = append(clean, text)
			}
		}
		if *list = clean; len(clean) > TermsMost {
			wrong(field, fmt.Sprintf("%q has %d terms; the limit is %d.", field, len(clean), TermsMost), "Delete some.")
		}
	}
}

func once(list []string) (out []string) {
	for _, id := range list {
		if id != "" && !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out
}

// oldest returns the time before which items are too old, or zero.
func (r Rules) oldest(now time.Time) time.Time {
	if r.Days == 0 {
		return time.Time{}
	}
	return now.AddDate(0, 0, -r.Days)
}

// InWords describes a list: its sources, order, limit and rules.
func (l Listing) InWords() string {
	text := fmt.Sprintf("%d sources", len(l.From))
	if len(l.From) == 1 {
		text = "1 source"
	}
	text += ", " + map[string]string{"": "newest first", Newest: "newest first", Oldest: "oldest first", Best: "best rating first", Next: "upcoming dates", Shuffled: "shuffled", Listed: "as listed"}[l.Order]
	if l.Most > 0 {
		text += fmt.Sprintf(", at most %d", l.Most)
	}
	var names []string
	for _, r := range rules {
		if r.Name != Expiry && r.set(&l) {
			names = append(names, r.Name)
		}
	}
	if len(names) > 0 {
		text += "; rules: " + strings.Join(names, ", ")
	}
	if n := len(l.Pinned); n > 0 {
		text += fmt.Sprintf("; %d pinned", n)
	}
	if n := len(l.Corrections); n > 0 {
		text += fmt.Sprintf("; %d corrected", n)
	}
	return text
}
