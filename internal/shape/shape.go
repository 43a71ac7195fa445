// Package shape says what a value looks like before it is there: to the view, whose types
// are followed through it, and to the mount module, whose type declarations are made of it.
package shape

import "slices"

// Kind is what sort of value a place holds.
type Kind int

// The kinds. Whole and Number differ as Go's int and float64 do: a setting is a Number, a
// count is Whole, and the template engine compares neither with the other.
const (
	AnyKind Kind = iota
	TextKind
	LinkKind       // an address that has been checked
	MarkupKind     // HTML that has been sanitised
	AttributesKind // attributes of an element, made by a function of the view language
	NumberKind
	WholeKind
	SwitchKind
	ObjectKind
	ListKind
	NothingKind
)

var kindNames = []string{"a value", "text", "a link", "markup", "attributes", "a number", "a whole number", "true or false", "an object", "a list", "nothing"}

func (k Kind) String() string { return kindNames[k] }

// Type is what is known of a value before it is there. It is immutable.
type Type struct {
	Kind    Kind
	Fields  map[string]*Type // of an Object; nil for one with any
	Element *Type            // of a List
	Of      []string         // of a Text: the only values it can have; nil for any
	Name    string           // of an Object that functions ask for by name: "moment", "image", …
}

// The types that many places share.
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

// OneOf is a text that can only have these values.
func OneOf(values ...string) *Type { return &Type{Kind: TextKind, Of: values} }

// ListOf is a list of one type.
func ListOf(element *Type) *Type { return &Type{Kind: ListKind, Element: element} }

// Object is an object with these fields; name may be "".
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

// Zero is an empty value of a type: what a view sees of a setting that has none.
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
