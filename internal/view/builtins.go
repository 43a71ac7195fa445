package view

import (
	"fmt"
	"slices"
	"text/template/parse"

	"glasspocket/internal/fault"
	"glasspocket/internal/shape"
)

// builtin checks a call of a function of text/template, and returns its result type.
func (i *inference) builtin(id *parse.IdentifierNode, nodes []parse.Node, args []*shape.Type) *shape.Type {
	wrong := func(n int, what string) {
		i.w.fault(startOf(nodes[n]), fault.ViewType, fmt.Sprintf("%s %s, but %s is %s.", id.Ident, what, nodes[n], args[n].Kind), "See “The view” in docs/widget-format.md.")
	}
	least, most := 1, 1
	switch id.Ident {
	case "eq", "and", "or", "index":
		least, most = 1, 100
	case "ne", "lt", "le", "gt", "ge":
		least, most = 2, 2
	}
	if id.Ident == "eq" || id.Ident == "index" {
		least = 2
	}
	if len(args) < least || len(args) > most {
		wants := fmt.Sprintf("at least %d arguments", least)
		if least == most {
			wants = map[int]string{1: "one argument", 2: "two arguments"}[least]
		}
		i.w.fault(id.Pos, fault.ViewType, fmt.Sprintf("%s needs %s, but there are %d.", id.Ident, wants, len(args)), "See “The view” in docs/widget-format.md.")
		return shape.Any
	}
	switch id.Ident {
	case "and", "or":
		for _, t := range args[1:] {
			if t.Kind != args[0].Kind {
				return shape.Any
			}
		}
		return args[0]
	case "eq", "ne", "lt", "le", "gt", "ge":
		for n, t := range args {
			if t.Kind == shape.ObjectKind || t.Kind == shape.ListKind {
				wrong(n, "compares texts, numbers and switches")
			} else if n > 0 && !comparable(args[0], t) {
				i.w.fault(startOf(nodes[n]), fault.ViewType, fmt.Sprintf("%s needs values of the same type, but %s is %s and %s is %s.", id.Ident, nodes[0], args[0].Kind, nodes[n], t.Kind), fixComparison(args[0], t))
			} else if n > 0 {
				i.possible(args[0], nodes[n])
			} else if id.Ident[0] != 'e' && id.Ident != "ne" && t.Kind == shape.SwitchKind {
				wrong(n, "compares texts and numbers")
			}
		}
		return shape.Switch
	case "len":
		if k := args[0].Kind; k != shape.TextKind && k != shape.ListKind && k != shape.ObjectKind && k != shape.AnyKind {
			wrong(0, "needs a list or a text")
		}
		return shape.Whole
	case "index":
		at := args[0]
		for n := 1; n < len(args); n++ {
			key, fixed := nodes[n].(*parse.StringNode)
			switch {
			case at.Kind == shape.ObjectKind && fixed:
				at = i.field(startOf(nodes[n]), at, key.Text)
			case at.Kind == shape.ObjectKind:
				if at == i.settings {
					i.useAll()
				}
				at = shape.Any
			case at.Kind == shape.ListKind:
				at = at.Element
			case at.Kind != shape.AnyKind:
				wrong(0, "needs a list or an object")
				return shape.Any
			}
		}
		return at
	}
	return shape.Switch // not
}

// possible reports a comparison of a choice with a text that it can never be.
func (i *inference) possible(choice *shape.Type, with parse.Node) {
	text, fixed := with.(*parse.StringNode)
	if fixed && choice.Of != nil && !slices.Contains(choice.Of, text.Text) {
		i.w.fault(text.Pos, fault.ViewType, fmt.Sprintf("This value is never %q.", text.Text), fault.DidYouMean(text.Text, choice.Of))
	}
}

func comparable(a, b *shape.Type) bool {
	like := func(t *shape.Type) shape.Kind {
		if t.Kind == shape.LinkKind {
			return shape.TextKind
		}
		return t.Kind
	}
	return a.Kind == shape.AnyKind || b.Kind == shape.AnyKind || like(a) == like(b)
}

func fixComparison(a, b *shape.Type) string {
	if a.Kind == shape.NumberKind && b.Kind == shape.WholeKind || a.Kind == shape.WholeKind && b.Kind == shape.NumberKind {
		return "Compare a number setting with a number with a decimal point, as in 12.0, and a count with a whole number."
	}
	return "Compare it with a value of the same type."
}
