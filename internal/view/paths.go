package view

import (
	"fmt"
	"text/template/parse"

	"glasspocket/internal/fault"
	"glasspocket/internal/shape"
)

// argument returns the type of an argument.
func (i *inference) argument(n parse.Node, dot *shape.Type) *shape.Type {
	switch n := n.(type) {
	case *parse.PipeNode:
		return i.value(n, dot)
	case *parse.DotNode:
		return dot
	case *parse.FieldNode:
		return i.path(startOf(n), dot, n.Ident)
	case *parse.VariableNode:
		v := i.lookup(n.Ident[0])
		if v == nil {
			return shape.Any
		}
		return i.path(startOf(n)+parse.Pos(len(n.Ident[0])), v.is, n.Ident[1:])
	case *parse.ChainNode:
		return i.path(n.Pos, i.argument(n.Node, dot), n.Field)
	case *parse.StringNode:
		return shape.Text
	case *parse.BoolNode:
		return shape.Switch
	case *parse.NumberNode:
		if isFloat(n.Text) {
			return shape.Number
		}
		return shape.Whole
	case *parse.NilNode:
		return shape.Nothing
	case *parse.IdentifierNode: // a function without arguments
		return i.command(&parse.CommandNode{Pos: n.Pos, Args: []parse.Node{n}}, dot)
	}
	return shape.Any
}

// startOf returns the start of a node's text. The parser places a path of several parts at its
// second part.
func startOf(n parse.Node) parse.Pos {
	pos := n.Position()
	switch n := n.(type) {
	case *parse.FieldNode:
		if len(n.Ident) > 1 {
			pos -= parse.Pos(len(n.Ident[0]) + 1)
		}
	case *parse.VariableNode:
		if len(n.Ident) > 1 {
			pos -= parse.Pos(len(n.Ident[0]))
		}
	}
	return pos
}

// path returns the type at the end of the fields that are written at pos, starting from a value.
func (i *inference) path(pos parse.Pos, from *shape.Type, path []string) *shape.Type {
	for _, name := range path {
		from = i.field(pos, from, name)
		pos += parse.Pos(len(name) + 1)
	}
	return from
}

func (i *inference) field(pos parse.Pos, from *shape.Type, name string) *shape.Type {
	switch {
	case from == i.settings:
		i.used[name] = true
		if from.Fields == nil {
			return shape.Any
		}
		if is := from.Fields[name]; is != nil {
			return is
		}
		i.w.fault(pos, fault.ViewField, fmt.Sprintf("There is no setting %q in this schema.", name), fault.DidYouMean(name, from.Names()))
	case from.Kind == shape.AnyKind, from.Kind == shape.ObjectKind && from.Fields == nil:
	case from.Kind == shape.ObjectKind:
		if is := from.Fields[name]; is != nil {
			return is
		}
		i.w.fault(pos, fault.ViewField, fmt.Sprintf("There is no field %q here.", name), i.fixField(name, from))
	default:
		i.w.fault(pos, fault.ViewField, fmt.Sprintf("This is %s, which has no field %q.", from.Kind, name), i.fixField(name, from))
	}
	return shape.Any
}

func (i *inference) fixField(name string, from *shape.Type) string {
	if i.root.Fields[name] != nil {
		return "Inside range, with and define, write $." + name + "."
	}
	if len(from.Fields) > 0 {
		return fault.DidYouMean(name, from.Names())
	}
	return "Check the spelling, and check what the dot refers to here."
}
