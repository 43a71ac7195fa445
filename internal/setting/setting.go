// Package setting knows the types that a widget's settings can have: how each is
// declared in JSON Schema, checked, written as CSS, and handed to view and script.
// A setting type is one file here and one row in types.
package setting

import (
	"regexp"
	"slices"
	"sort"

	"glasspocket/internal/asset"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
)

// Setting is one declared setting of a widget, or one field of a list's items.
type Setting struct {
	Key      string        `json:"key"`
	Type     string        `json:"type"` // see TypeNames
	Label    message.Words `json:"label"`
	Help     message.Words `json:"help,omitempty"`
	Search   message.Words `json:"search,omitempty"` // search synonyms, in addition to label and help
	Group    string        `json:"group,omitempty"`
	Order    float64       `json:"order"`
	Control  string        `json:"control"`
	Unit     string        `json:"unit,omitempty"` // CSS unit or "%" that a number is written with
	Look     bool          `json:"look"`           // reaches the stylesheet; see CSS
	Required bool          `json:"required"`
	Default  any           `json:"default,omitempty"` // in canonical form; nil when required
	Options  []Option      `json:"options,omitempty"`
	// When names settings and the values of theirs with which this one matters. Otherwise
	// the form leaves it out, and it may lack a value though it is required.
	When map[string][]any `json:"when,omitempty"`
	// Small says that it may have another value on small screens.
	Small bool `json:"small,omitempty"`
	// SortBy is the key of the choice that says in which order items show; "" for as they were typed.
	SortBy string `json:"sortBy,omitempty"`
	// Facts says that facts of the page may stand in the text, as {firstName}.
	Facts bool `json:"facts,omitempty"`
	// Inherit is the CSS property that comes from the page when the value is Inherited; ""
	// when the setting must have a value of its own.
	Inherit string `json:"inherit,omitempty"`
	// Override says that a mount point may give it another value.
	Override bool `json:"override,omitempty"`
	// On names the colour setting that this colour is read on; its contrast is looked at.
	On string `json:"on,omitempty"`
	// Brand names the value of the customer's brand that new pockets start from; see BrandNames.
	Brand string `json:"brand,omitempty"`

	MinLength int            `json:"minLength,omitempty"` // characters
	MaxLength int            `json:"maxLength,omitempty"` // characters
	Pattern   string         `json:"pattern,omitempty"`
	Format    string         `json:"format,omitempty"` // "uri" for a text that is a link
	Minimum   *float64       `json:"minimum,omitempty"`
	Maximum   *float64       `json:"maximum,omitempty"`
	Step      float64        `json:"step,omitempty"`     // 0 allows any
	Units     []string       `json:"units,omitempty"`    // of a length
	MinItems  int            `json:"minItems,omitempty"` // of a list or several choices
	MaxItems  int            `json:"maxItems,omitempty"`
	Fields    []*Setting     `json:"fields,omitempty"` // of each item of a list
	ItemKind  string         `json:"kind,omitempty"`   // of items: "review", "card", …
	pattern   *regexp.Regexp // compiled Pattern
	folder    Folder         // the widget's own assets; nil where they are not known
	nothing   any            // what a view sees when there is no value; shared, never written to
	model     []*Setting     // of items: the whole model, as this folder checks it

	Line, Column int `json:"-"` // where settings.json declares it
}

// Inherited is the value of a setting that is left as the page has it.
const Inherited = "inherit"

// SmallKey holds, within values, the ones for small screens. No setting can have that key.
const SmallKey = "small"

// Folder are the assets of a widget's folder by their path.
type Folder map[string]asset.Info

// Option is one value of a choice.
type Option struct {
	Value   string        `json:"value"`
	Label   message.Words `json:"label"`
	Picture string        `json:"picture,omitempty"` // an asset of the folder that shows it
}

// Group gathers settings under one heading of the form.
type Group struct {
	Name  string        `json:"name"`
	Label message.Words `json:"label"`
	Part  string        `json:"part"` // of the form; see Parts
}

// Parts are those of a form: what a widget says, how it looks, where it stands.
var Parts = []string{"says", "looks", "stands"}

// Schema is everything settings.json declares.
type Schema struct {
	Groups   []Group    `json:"groups"`
	Settings []*Setting `json:"settings"` // by group, then order, then as written
	// Changes are what becomes of values that were set under older releases, in their order.
	Changes []Change `json:"changes,omitempty"`
	folder  Folder
}

// Values are checked values by setting key, as encoding/json gives them: string, float64,
// bool, map[string]any, []any. Under SmallKey lie those for small screens.
type Values map[string]any

// Get returns the setting named key, or nil.
func (s *Schema) Get(key string) *Setting { return named(s.Settings, key) }

func named(list []*Setting, key string) *Setting {
	for _, e := range list {
		if e.Key == key {
			return e
		}
	}
	return nil
}

// Keys returns the settings' keys in form order.
func (s *Schema) Keys() []string { return keysOf(s.Settings) }

func keysOf(list []*Setting) []string {
	keys := make([]string, len(list))
	for i, e := range list {
		keys[i] = e.Key
	}
	return keys
}

// types has a row for each setting type; one implementation a file.
var types map[string]kind

func init() { // the table's rows know the table
	types = map[string]kind{
		"alignment": alignment{},
		"border":    border{},
		"choice":    choice{},
		"choices":   choices{},
		"colour":    colour{},
		"date":      date{},
		"duration":  duration{},
		"font":      font{},
		"gradient":  gradient{},
		"group":     group{},
		"heading":   heading{},
		"icon":      iconOf{},
		"image":     image{},
		"items":     items{},
		"language":  languageOf{},
		"length":    length{},
		"link":      link{},
		"list":      list{},
		"moment":    moment{},
		"money":     money{},
		"number":    number{},
		"rating":    rating{},
		"richText":  richText{},
		"shadow":    shadow{},
		"sound":     sound{},
		"spacing":   spacing{},
		"switch":    toggle{},
		"tags":      tags{},
		"text":      text{},
		"time":      timeOfDay{},
	}
	ItemFields = readModel(itemJSON)
}

// TypeNames lists the setting types that a widget can use, in alphabetical order.
func TypeNames() []string {
	names := make([]string, 0, len(types))
	for n := range types {
		if n != "group" {
			names = append(names, n)
		}
	}
	sort.Strings(names)
	return names
}

// Controls lists the form controls that a setting type can have, the default first.
func Controls(name string) []string { return slices.Clone(types[name].controls()) }

// Keywords lists the JSON Schema keywords that a setting type reads besides the common ones.
func Keywords(name string) []string { return slices.Clone(types[name].keys()) }

// JSONTypes lists the schema types that declare a setting type.
func JSONTypes(name string) []string { return slices.Clone(types[name].jsonTypes()) }

// World is what values are seen in.
type World struct {
	Base   string // public address, to which the addresses of assets are added
	Folder Folder // the widget's own assets
	Brand  Brand  // the customer's, to which settings may refer
	// Asset finds an uploaded asset by its digest.
	Asset func(digest string) (asset.Info, bool)
}

// find looks an asset up by its reference.
func (w World) find(ref string) (asset.Info, bool) {
	if asset.OfFolder(ref) {
		info, ok := w.Folder[ref]
		return info, ok
	}
	if w.Asset == nil || ref == "" {
		return asset.Info{}, false
	}
	return w.Asset(ref)
}

// scalar tells whether values of a setting are compared with ==.
func (s *Setting) scalar() bool {
	switch types[s.Type].(type) {
	case text, number, toggle, choice, alignment, heading, iconOf, languageOf:
		return true
	}
	return false
}

// member finds the value under key as an object's text, or nil.
func member(v *jsondoc.Value, key string) *jsondoc.Value {
	if e := v.Get(key); e != nil && e.Kind != jsondoc.Null {
		return e
	}
	return nil
}
