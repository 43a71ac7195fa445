package view

import (
	"strings"

	"glasspocket/internal/shape"
)

// accepts reports whether a parameter of type want accepts a value of type got. literal means that
// the value is a number in the view.
func accepts(want, got *shape.Type, literal bool) bool {
	switch {
	case want.Kind == shape.AnyKind, got.Kind == shape.AnyKind:
		return true
	case want.Kind == shape.NumberKind && got.Kind == shape.WholeKind:
		return literal
	case want.Kind == shape.TextKind && got.Kind == shape.LinkKind:
		return true
	case want.Kind != got.Kind:
		return false
	case want.Kind == shape.ObjectKind:
		for name := range want.Fields {
			if got.Fields != nil && got.Fields[name] == nil {
				return false
			}
		}
	}
	return true
}

// isFloat reports whether the template engine reads a number in a view as a float.
func isFloat(written string) bool {
	return !strings.HasPrefix(written, "0x") && strings.ContainsAny(written, ".eEpP")
}
