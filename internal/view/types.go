package view

import (
	"strings"

	"glasspocket/internal/shape"
)

// takes tells whether a parameter of type want takes a value of type got; literal is a
// number written in the view.
func takes(want, got *shape.Type, literal bool) bool {
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

// isFloat tells how the template engine reads a number that is written in a view.
func isFloat(written string) bool {
	return !strings.HasPrefix(written, "0x") && strings.ContainsAny(written, ".eEpP")
}
