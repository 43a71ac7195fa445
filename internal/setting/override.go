package setting

import (
	"maps"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// InPage is what a page's script has to know of a setting that a mount point may override:
// how a value is checked, and how it gets into style or attributes.
type InPage struct {
	Key     string            `json:"key"`
	Name    string            `json:"name"` // as in data-set-NAME and --NAME
	Type    string            `json:"type"`
	As      string            `json:"as,omitempty"` // "property" or "attribute"
	Unit    string            `json:"unit,omitempty"`
	Least   *float64          `json:"least,omitempty"`
	Most    *float64          `json:"most,omitempty"` // characters of a text
	Step    float64           `json:"step,omitempty"`
	Of      []string          `json:"of,omitempty"` // the values, or the units of a length
	Names   map[string]string `json:"names,omitempty"`
	Inherit string            `json:"inherit,omitempty"`
}

// InPageTypes are the types that a page's script can check and put in place by itself. What
// a mount point gives a setting of another type, the service checks and renders.
var InPageTypes = []string{"alignment", "choice", "colour", "font", "heading", "icon", "length", "number", "switch", "text"}

// InPage is what travels of s when it may be overridden.
func (s *Setting) InPage() InPage {
	p := InPage{Key: s.Key, Name: Kebab(s.Key), Type: s.Type, Unit: s.Unit, Least: s.Minimum, Most: s.Maximum, Step: s.Step, Inherit: s.Inherit}
	row := cssTable[s.Type]
	if s.Look {
		p.As = row.As
	}
	switch s.Type {
	case "text":
		most := float64(s.MaxLength)
		p.Most = &most
	case "length":
		p.Of = s.Units
	case "font":
		p.Of, p.Names = Stacks(), row.Names
	case "choice", "alignment", "heading", "icon":
		p.Of = s.Shape().Of
	}
	return p
}

// Given checks what a mount point's attribute gives the setting, written as FromText has it.
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

// Give is values with those in given, each checked, instead of their own.
func (v Values) Give(given Values) Values {
	all := maps.Clone(v)
	maps.Copy(all, given)
	if small, ok := v[SmallKey].(map[string]any); ok {
		// What a page says counts on all its screens.
		small = maps.Clone(small)
		for key := range given {
			delete(small, key)
		}
		all[SmallKey] = small
	}
	return all
}
