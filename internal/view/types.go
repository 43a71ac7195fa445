package view

import (
	"slices"
	"strings"
)

// Kind is what sort of value a place in a view holds.
type Kind int

// The kinds. Whole and Number differ as Go's int and float64 do: a setting is a Number, a
// count is Whole, and the template engine compares neither with the other.
const (
	AnyKind Kind = iota
	TextKind
	LinkKind // an address that has been checked
	NumberKind
	WholeKind
	SwitchKind
	ObjectKind
	ListKind
	NothingKind
)

var kindNames = []string{"a value", "a text", "a link", "a number", "a whole number", "true or false", "an object", "a list", "nothing"}

func (k Kind) String() string { return kindNames[k] }

// Type is what is known of a value before the view runs. It is immutable.
type Type struct {
	Kind    Kind
	Fields  map[string]*Type // of an Object; nil for one with any
	Element *Type            // of a List
}

// The types that views meet.
var (
	anything = &Type{Kind: AnyKind}
	text     = &Type{Kind: TextKind}
	number_  = &Type{Kind: NumberKind}
	whole    = &Type{Kind: WholeKind}
	switch_  = &Type{Kind: SwitchKind}
	nothing  = &Type{Kind: NothingKind}
	// Moment is what a moment setting gives.
	Moment = &Type{Kind: ObjectKind, Fields: map[string]*Type{"at": number_, "utc": text, "local": text, "zone": text}}
	unit   = &Type{Kind: ObjectKind, Fields: map[string]*Type{"unit": text, "value": whole, "digits": text}}
)

func (t *Type) names() []string {
	names := make([]string, 0, len(t.Fields))
	for n := range t.Fields {
		names = append(names, n)
	}
	slices.Sort(names)
	return names
}

// signature is what a function takes and gives. A Number parameter takes a number as it
// is written in the view too; count is how many arguments may be left out at the end.
type signature struct {
	takes    []*Type
	optional int
	gives    *Type
}

// signatures are those of our own functions; the builtins have rules of their own.
var signatures = map[string]signature{
	"say":       {[]*Type{text, anything}, 1, text},
	"timeLeft":  {[]*Type{Moment, text}, 0, &Type{Kind: ListKind, Element: unit}},
	"fromNow":   {[]*Type{number_, number_, number_}, 0, Moment},
	"numberAt":  {[]*Type{number_, number_, Moment, Moment, number_}, 0, text},
	"hasPassed": {[]*Type{Moment}, 0, switch_},
}

// takes tells whether a parameter of type want takes a value of type got; literal is a
// number written in the view.
func takes(want, got *Type, literal bool) bool {
	switch {
	case want.Kind == AnyKind, got.Kind == AnyKind:
		return true
	case want.Kind == NumberKind && got.Kind == WholeKind:
		return literal
	case want.Kind != got.Kind:
		return false
	case want.Kind == ObjectKind:
		for name := range want.Fields {
			if got.Fields != nil && got.Fields[name] == nil {
				return false
			}
		}
	}
	return true
}

// isFloat tells how the template engine reads a number that is written in a view.
func isFloat(written string) bool {
	return !strings.HasPrefix(written, "0x") && strings.ContainsAny(written, ".eEpP")
}
