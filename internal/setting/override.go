package setting

import (
	"slices"
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

// Overridable are the types that a page's script can check by itself.
var Overridable = []string{"alignment", "choice", "colour", "font", "heading", "icon", "length", "number", "switch", "text"}

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

func overridable(typ string) bool { return slices.Contains(Overridable, typ) }
