// Package shape describes the types of values before there are any. Views are type-checked with
// them, and the type declarations of mount modules are generated from them.
package shape

import "slices"

// Kind is the kind of a value.
type Kind int

// The kinds. Whole and Number differ like Go's int and float64: a setting is a Number, a count is
// Whole, and the template engine cannot compare the two.
const (
	AnyKind Kind = iota
	TextKind
	LinkKind       // a checked address
	MarkupKind     // sanitised HTML
	AttributesKind // attributes of an element, returned by a function of the view language
	NumberKind
	WholeKind
	SwitchKind
	ObjectKind
	ListKind
	NothingKind
)

var kindNames = []string{"a value", "text", "a link", "markup", "attributes", "a number", "a whole number", "true or false", "an object", "a list", "nothing"}

func (k Kind) String() string { return kindNames[k] }

// Type is a value's type. It is immutable.
type Type struct {
	Kind    Kind
	Fields  map[string]*Type // of an Object; nil if unknown
	Element *Type            // of a List
	Of      []string         // of a Text: its possible values; nil for any
	Name    string           // of an Object that functions require by name: "moment", "image", …
}

// Types that are used in many places.
var (
	Any     = &Type{Kind: AnyKind}
	Text    = &Type{Kind: TextKind}
	Address = &Type{Kind: LinkKind}
	HTML    = &Type{Kind: MarkupKind}
	Number  = &Type{Kind: NumberKind}
	Whole   = &Type{Kind: WholeKind}
	Switch  = &Type{Kind: SwitchKind}
	Nothing = &Type{Kind: NothingKind}
)

// OneOf is a text with these possible values.
func OneOf(values ...string) *Type { return &Type{Kind: TextKind, Of: values} }

// ListOf is a list of one type.
func ListOf(element *Type) *Type { return &Type{Kind: ListKind, Element: element} }

// Object is an object with these fields; name can be "".
func Object(name string, fields map[string]*Type) *Type {
	return &Type{Kind: ObjectKind, Name: name, Fields: fields}
}

// Names lists an object's fields in order.
func (t *Type) Names() []string {
	names := make([]string, 0, len(t.Fields))
	for n := range t.Fields {
		names = append(names, n)
	}
	slices.Sort(names)
	return names
}

// Link is a checked address as a value: http(s), mailto or tel, or one of the service's own.
type Link string

// Markup is sanitised HTML as a value.
type Markup string

// Zero returns an empty value of the type, which a view sees if a setting has no value.
func (t *Type) Zero() any {
	switch t.Kind {
	case TextKind:
		return ""
	case LinkKind:
		return Link("")
	case MarkupKind:
		return Markup("")
	case NumberKind:
		return float64(0)
	case WholeKind:
		return 0
	case SwitchKind:
		return false
	case ListKind:
		return []any{}
	case ObjectKind:
		m := make(map[string]any, len(t.Fields))
		for name, field := range t.Fields {
			m[name] = field.Zero()
		}
		return m
	}
	return nil
}
