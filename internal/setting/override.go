package setting

import (
	"maps"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// InPage is what a page's script needs to know about a setting that a mount point can override: how
// to check a value, and how to put it into style or attributes.
type InPage struct {
	Key     string            `json:"key"`
	Name    string            `json:"name"` // as in data-set-NAME and --NAME
	Type    string            `json:"type"`
	As      string            `json:"as,omitempty"` // "property" or "attribute"
	Unit    string            `json:"unit,omitempty"`
	Least   *float64          `json:"least,omitempty"`
	Most    *float64          `json:"most,omitempty"` // the longest text, in characters
	Step    float64           `json:"step,omitempty"`
	Of      []string          `json:"of,omitempty"` // the values of a choice, or the units of a length
	Names   map[string]string `json:"names,omitempty"`
	Inherit string            `json:"inherit,omitempty"`
}

// InPageTypes are the types whose values a page's script checks and applies by itself. The service
// checks and renders overrides of all other types.
var InPageTypes []string

// InPage returns the part of s that the page needs for overrides.
func (s *Setting) InPage() InPage {
	p := InPage{Key: s.Key, Name: Kebab(s.Key), Type: s.Type, Unit: s.Unit, Least: s.Minimum, Most: s.Maximum, Step: s.Step, Inherit: s.Inherit}
	if s.Look {
		p.As = cssTable[s.Type].As
	}
	if of, ok := types[s.Type].(paged); ok {
		of.inPage(s, &p)
	}
	return p
}

// Given checks the attribute of a mount point that overrides the setting, in the notation of
// FromText.
func (s *Setting) Given(text string) (any, fault.List) {
	doc, faults := jsondoc.Read(s.FromText(text))
	if doc == nil {
		return nil, faults
	}
	value, ps := s.check(doc)
	if ps != nil {
		return nil, ps.faults(doc, s.Key, "")
	}
	return value, nil
}

// Give returns values with the checked values in given replacing their own.
func (v Values) Give(given Values) Values {
	all := maps.Clone(v)
	maps.Copy(all, given)
	if small, ok := v[SmallKey].(map[string]any); ok {
		// A value from the page applies to all screen sizes.
		small = maps.Clone(small)
		for key := range given {
			delete(small, key)
		}
		all[SmallKey] = small
	}
	return all
}
