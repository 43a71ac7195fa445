// Package setting defines the types of a widget's settings: how each is declared in JSON Schema,
// checked, written as CSS, and passed to the view and the script. Each type has a file here and a
// row in types.
package setting

import (
	"encoding/json"
	"maps"
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
	Look     bool          `json:"look"`           // used in the stylesheet; see Look
	Required bool          `json:"required"`
	Default  any           `json:"default,omitempty"` // in canonical form; nil if required
	Options  []Option      `json:"options,omitempty"`
	// When names other settings and those of their values with which this setting has an effect.
	// With other values the form hides it, and it needs no value even if it is required.
	When map[string][]any `json:"when,omitempty"`
	// Small says that the setting can have a different value for small screens.
	Small bool `json:"small,omitempty"`
	// SortBy is the key of the choice that determines the order of items; "" for the order in which
	// they were typed.
	SortBy string `json:"sortBy,omitempty"`
	// Page is the key of the number of items that a page of the list has; "" shows the whole list.
	Page string `json:"page,omitempty"`
	// Kinds are the kinds of items that the widget can show, ItemKind first; nil for any.
	Kinds []string `json:"kinds,omitempty"`
	// Needs are fields without which the widget cannot show an item.
	Needs []string `json:"needs,omitempty"`
	// Facts says that the text can contain facts of the page, such as {firstName}.
	Facts bool `json:"facts,omitempty"`
	// Inherit is the CSS property that comes from the page if the value is Inherited; "" if the
	// setting cannot inherit.
	Inherit string `json:"inherit,omitempty"`
	// Override says that a mount point can override the value.
	Override bool `json:"override,omitempty"`
	// On names the colour setting that is the background of this colour; their contrast is checked.
	On string `json:"on,omitempty"`
	// Brand names the value of the customer's brand with which new pockets start; see BrandNames.
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
	folder    Folder         // the widget's own assets; nil if unknown
	nothing   any            // what a view sees if there is no value; shared, so never change it
	model     []*Setting     // for items: the whole model, checked with this folder

	Line, Column int `json:"-"` // where settings.json declares it
}

// Inherited is the value of a setting that inherits from the page.
const Inherited = "inherit"

// SmallKey is the key within values of those for small screens. No setting can have this key.
const SmallKey = "small"

// Folder has the assets of a widget's folder by their paths.
type Folder map[string]asset.Info

// Option is one value of a choice.
type Option struct {
	Value string        `json:"value"`
	Label message.Words `json:"label"`
	Image string        `json:"image,omitempty"` // an asset of the folder that illustrates it
}

// Group is a group of settings under one heading of the form.
type Group struct {
	Name  string        `json:"name"`
	Label message.Words `json:"label"`
	Part  string        `json:"part"` // of the form; see Parts
}

// Parts are the parts of a form: content, look, and position.
var Parts = []string{"says", "looks", "stands"}

// Schema is everything settings.json declares.
type Schema struct {
	Groups   []Group    `json:"groups"`
	Settings []*Setting `json:"settings"` // by group, then order, then as written
	// Changes convert values that were stored under older releases, in order.
	Changes []Change `json:"changes,omitempty"`
	folder  Folder
}

// Values are checked values by setting key, in the types of encoding/json: string, float64, bool,
// map[string]any, []any. SmallKey has those for small screens.
type Values map[string]any

// UnmarshalJSON implements json.Unmarshaler, because encoding/json is slow for values of unknown
// types, and settings are read with every pocket.
func (v *Values) UnmarshalJSON(text []byte) (err error) {
	*v, err = jsondoc.Decode(text)
	return err
}

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

// types has a row for each setting type, with one implementation per file.
var types map[string]kind

func init() { // in init, because the rows refer to the table
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
	for _, name := range slices.Sorted(maps.Keys(types)) {
		if of, ok := types[name].(styled); ok {
			var row cssRow
			if err := json.Unmarshal([]byte(of.css()), &row); err != nil {
				panic(name + ": " + err.Error())
			}
			cssTable[name] = row
		}
		if _, ok := types[name].(paged); ok {
			InPageTypes = append(InPageTypes, name)
		}
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

// Keywords lists the JSON Schema keywords that a setting type reads in addition to the common ones.
func Keywords(name string) []string { return slices.Clone(types[name].keys()) }

// JSONTypes lists the schema types that declare a setting type.
func JSONTypes(name string) []string { return slices.Clone(types[name].jsonTypes()) }

// World is the context that values refer to.
type World struct {
	Base   string // the service's public address, the base of the assets' addresses
	Folder Folder // the widget's own assets
	Brand  Brand  // the customer's brand
	// Asset finds an uploaded asset by its digest.
	Asset func(digest string) (asset.Info, bool)
	// Totals summarise the ratings of lists whose items come from sources, by the key of the setting.
	Totals map[string]Total
	// Pages are the lists whose values are one page, with what that page is.
	Pages map[string]Page
	// From is how many items of the other lists come before the page.
	From map[string]int
	// Link returns the address of a page of a list, with what the page is and the ID of the item
	// before it, if the list comes from sources. It is nil in a preview.
	Link func(key string, from int, after string) string
	// Calendar is the address of the pocket's dates as an iCalendar file; "" in a preview.
	Calendar string
}

// Total summarises ratings. It can cover more reviews than the list shows.
type Total struct {
	All     bool    `json:"all"` // of all reviews, not only of those that the rules keep
	Count   int     `json:"count"`
	Average float64 `json:"average"`
	Best    float64 `json:"best"`
	Steps   []int   `json:"steps"` // how many have the best rating, the next, …; nil if that is unknown
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

// member returns the value under key, or nil if it is not an object's text.
func member(v *jsondoc.Value, key string) *jsondoc.Value {
	if e := v.Get(key); e != nil && e.Kind != jsondoc.Null {
		return e
	}
	return nil
}

// Holds returns the settings of which a value consists, and whether the value is a list of such
// objects; nil for a setting with values of its own.
func (s *Setting) Holds() (fields []*Setting, many bool) {
	if of, ok := types[s.Type].(holder); ok {
		return of.holds(s)
	}
	return nil, false
}

// Many reports whether a value is a list of objects with the settings that Inner returns.
func (s *Setting) Many() bool {
	_, many := s.Holds()
	return many
}

// IsColour reports whether values are colours.
func (s *Setting) IsColour() bool {
	_, is := types[s.Type].(colour)
	return is
}

// IsText reports whether values are plain text.
func (s *Setting) IsText() bool {
	_, is := types[s.Type].(text)
	return is
}

// Names reports whether people recognise an item by the setting's value.
func (s *Setting) Names() bool {
	_, is := types[s.Type].(naming)
	return is
}

// LacksAlternative reports whether v, a value of the setting, needs a text alternative.
func (s *Setting) LacksAlternative(v *jsondoc.Value) bool {
	of, is := types[s.Type].(unheard)
	return is && of.unheard(v)
}
