// Package setting knows the types that a widget's settings can have: how each is
// declared in JSON Schema, checked, written as CSS, and handed to view and script.
// A setting type is one file here and one row in types.
package setting

import (
	"regexp"
	"sort"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
)

// Setting is one declared setting of a widget.
type Setting struct {
	Key      string        `json:"key"`
	Type     string        `json:"type"` // "text", "number", "switch", "choice", "colour", "moment"
	Label    message.Words `json:"label"`
	Help     message.Words `json:"help,omitempty"`
	Group    string        `json:"group"`
	Order    float64       `json:"order"`
	Control  string        `json:"control"`
	Unit     string        `json:"unit,omitempty"` // CSS unit or "%" that a number is written with
	Look     bool          `json:"look"`           // reaches the stylesheet; see CSS
	Required bool          `json:"required"`
	Default  any           `json:"default,omitempty"` // string, float64 or bool; nil when required
	Options  []Option      `json:"options,omitempty"`
	// When names settings and the values of theirs with which this one matters. Otherwise
	// the form leaves it out, and it may lack a value though it is required.
	When map[string][]any `json:"when,omitempty"`

	MinLength int            `json:"minLength,omitempty"` // characters
	MaxLength int            `json:"maxLength,omitempty"` // characters
	Pattern   string         `json:"pattern,omitempty"`
	Format    string         `json:"format,omitempty"` // "uri" for a text that is a link
	Minimum   *float64       `json:"minimum,omitempty"`
	Maximum   *float64       `json:"maximum,omitempty"`
	Step      float64        `json:"step,omitempty"` // 0 allows any
	pattern   *regexp.Regexp // compiled Pattern

	Line, Column int `json:"-"` // where settings.json declares it
}

// Option is one value of a choice.
type Option struct {
	Value string        `json:"value"`
	Label message.Words `json:"label"`
}

// Group gathers settings under one heading of the form.
type Group struct {
	Name  string        `json:"name"`
	Label message.Words `json:"label"`
}

// Schema is everything settings.json declares.
type Schema struct {
	Groups   []Group    `json:"groups"`
	Settings []*Setting `json:"settings"` // by group, then order, then as written
}

// Values are checked values by setting key: string, float64 or bool.
type Values map[string]any

// Get returns the setting named key, or nil.
func (s *Schema) Get(key string) *Setting {
	for _, e := range s.Settings {
		if e.Key == key {
			return e
		}
	}
	return nil
}

// Keys returns the settings' keys in form order.
func (s *Schema) Keys() []string {
	keys := make([]string, len(s.Settings))
	for i, e := range s.Settings {
		keys[i] = e.Key
	}
	return keys
}

// problem is a value's fault before it is placed.
type problem struct {
	code       fault.Code
	what, mend string
}

// kind is what a setting type must tell; one implementation a file.
type kind interface {
	// jsonTypes lists the schema "type"s that declare it.
	jsonTypes() []string
	// controls lists the form controls it can have, the default first.
	controls() []string
	// keys lists the schema keywords it reads besides type, default, title, description, glass.
	keys() []string
	// read takes its own keywords from the property's schema.
	read(s *Setting, v *jsondoc.Value) fault.List
	// check returns the value in its one canonical form.
	check(s *Setting, v *jsondoc.Value) (any, *problem)
	// view returns what the view and the mount module see of a checked value.
	view(s *Setting, value any) any
}

var types = map[string]kind{
	"text":   text{},
	"number": number{},
	"switch": toggle{},
	"choice": choice{},
	"colour": colour{},
	"moment": moment{},
}

// TypeNames lists the setting types in alphabetical order.
func TypeNames() []string {
	names := make([]string, 0, len(types))
	for n := range types {
		names = append(names, n)
	}
	sort.Strings(names)
	return names
}

// View returns what a view and a mount module see of value: the value itself, but for
// a moment an object (see ViewMoment).
// A setting that does not matter (see When) may have no value, nil; a view sees an empty
// one of its type.
func (s *Setting) View(value any) any {
	if value == nil {
		switch s.Type {
		case "number":
			value = float64(0)
		case "switch":
			value = false
		default:
			value = ""
		}
	}
	return types[s.Type].view(s, value)
}
