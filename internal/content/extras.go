package content

import (
	"maps"
	"slices"
	"strings"

	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/item"
	"glasspocket/internal/setting"
)

// Extras are the fields of a Content besides the name, the language, the settings and the release.
// Every draft that the API returns has them.
type Extras struct {
	Cues cue.Cues `json:"cues"` // when and where it shows
	// Sources say which items its lists show, by the key of the setting.
	Sources Lists `json:"sources,omitzero"`
}

// Change has new values of Extras. Missing ones stay unchanged.
type Change struct {
	// Cues are when and where it shows. They replace all earlier ones.
	Cues *cue.Cues `json:"cues,omitempty"`
	// Sources say which items the lists show, by the key of the setting. They replace all earlier
	// ones.
	Sources *Lists `json:"sources,omitempty"`
}

// Lists are the items of a pocket's lists, by the key of the setting.
type Lists map[string]item.Listing

// extras are the rows of the Extras in Fields.
var extras = []Field{
	{Key: "cues", Label: "Where and when it shows", Copied: true, Of: func(c *Content) any { return &c.Cues }, Words: func(c Content, _ int) string { return placesInWords(c.Cues) },
		Set: func(c *Content, to Change) bool {
			if to.Cues != nil {
				c.Cues = *to.Cues
			}
			return to.Cues != nil
		},
		Faulty: "Some addresses are not valid.",
		Clean: func(c *Content) (faults fault.List) {
			c.Cues, faults = c.Cues.Clean()
			return faults
		}},
	{Key: "sources", Label: "Sources", Copied: true, Of: func(c *Content) any { return &c.Sources }, Words: func(c Content, _ int) string { return sourcesInWords(c.Sources) },
		Set: func(c *Content, to Change) bool {
			if to.Sources != nil {
				c.Sources = *to.Sources
			}
			return to.Sources != nil
		},
		Faulty: "Some rules for the items are not valid.",
		Clean: func(c *Content) (faults fault.List) {
			c.Sources, faults = c.Sources.clean()
			return faults
		}},
}

// Given returns settings in which lists with sources have a value, so that they need no typed-in
// items, and show none of the widget's sample.
func (l Lists) Given(values setting.Values) setting.Values {
	cloned := false
	for key, list := range l {
		if _, typed := values[key]; typed || len(list.From) == 0 {
			continue
		}
		if !cloned {
			values, cloned = maps.Clone(values), true
			if values == nil {
				values = setting.Values{}
			}
		}
		values[key] = []any{}
	}
	return values
}

// clean leaves out lists that only have typed-in items. No lists are nil.
func (l Lists) clean() (out Lists, faults fault.List) {
	for _, key := range slices.Sorted(maps.Keys(l)) {
		list, wrong := l[key].Clean()
		for _, f := range wrong {
			f.Field = "sources/" + key + "/" + f.Field
			faults = append(faults, f)
		}
		if !list.IsZero() {
			if out == nil {
				out = Lists{}
			}
			out[key] = list
		}
	}
	return out, faults
}

// sourcesInWords describes where a pocket's items come from, and the rules in force.
func sourcesInWords(l Lists) string {
	var parts []string
	for _, key := range slices.Sorted(maps.Keys(l)) {
		parts = append(parts, key+": "+l[key].InWords())
	}
	if parts == nil {
		return "typed in"
	}
	return strings.Join(parts, "; ")
}

// placesInWords describes where a pocket shows.
func placesInWords(c cue.Cues) string {
	if c.IsZero() {
		return "everywhere"
	}
	var parts []string
	if len(c.Only) > 0 {
		parts = append(parts, "at "+strings.Join(c.Only, ", "))
	}
	if len(c.Not) > 0 {
		parts = append(parts, "not at "+strings.Join(c.Not, ", "))
	}
	if c.OwnSites {
		sites := "on its customer's sites"
		if c.Local {
			sites += " and on a local computer"
		}
		parts = append(parts, sites)
	}
	return strings.Join(parts, "; ")
}
