package view

import (
	"fmt"
	"slices"
	"strings"
	"text/template"
	"text/template/parse"

	"glasspocket/internal/fault"
	"glasspocket/internal/shape"
)

// inference follows types through a view: what a dot is inside range and with, what
// variables hold, what functions take. It reports what would stop the view while it runs,
// for some value or for every one, with its place.
type inference struct {
	w         *walker
	root      *shape.Type
	settings  *shape.Type
	trees     map[string]*parse.Tree
	seen      map[seen]bool // templates gone through, by the type of their dot
	used      map[string]bool
	actions   map[parse.Pos]*shape.Type // what each action shows
	variables []variable
}

type seen struct {
	name string
	dot  *shape.Type
}

type variable struct {
	name string
	is   *shape.Type
}

func infer(w *walker, t *template.Template, settings map[string]*shape.Type) *inference {
	i := &inference{w: w, trees: map[string]*parse.Tree{}, seen: map[seen]bool{}, used: map[string]bool{}, actions: map[parse.Pos]*shape.Type{}}
	i.settings = &shape.Type{Kind: shape.ObjectKind, Fields: settings}
	i.root = &shape.Type{Kind: shape.ObjectKind, Fields: map[string]*shape.Type{"settings": i.settings, "language": shape.Text}}
	for _, each := range t.Templates() {
		if each.Tree != nil {
			i.trees[each.Name()] = each.Tree
		}
	}
	i.template(t.Name(), i.root)
	// What nothing includes is looked at too, with a dot of which nothing is known.
	names := make([]string, 0, len(i.trees))
	for n := range i.trees {
		names = append(names, n)
	}
	slices.Sort(names)
	for _, n := range names {
		if !slices.ContainsFunc(names, func(other string) bool { return slices.Contains(w.includes[other], n) }) && n != t.Name() {
			i.template(n, shape.Any)
		}
	}
	return i
}

func (i *inference) template(name string, dot *shape.Type) {
	tree := i.trees[name]
	if tree == nil || i.seen[seen{name, dot}] {
		return
	}
	i.seen[seen{name, dot}] = true
	outer := i.variables
	i.variables = []variable{{"$", dot}}
	i.list(tree.Root, dot)
	i.variables = outer
}

func (i *inference) list(l *parse.ListNode, dot *shape.Type) {
	if l == nil {
		return
	}
	for _, n := range l.Nodes {
		switch n := n.(type) {
		case *parse.ActionNode:
			is := i.pipe(n.Pipe, dot)
			if len(n.Pipe.Decl) > 0 {
				continue
			}
			if is.Kind == shape.ObjectKind || is.Kind == shape.ListKind || is.Kind == shape.NothingKind {
				i.w.fault(n.Pipe.Pos, fault.ViewType, fmt.Sprintf("%s is %s, which cannot be shown as it is.", n.Pipe, is.Kind), shownAs(is))
			}
			i.actions[n.Pos] = is
		case *parse.IfNode:
			mark := len(i.variables)
			i.pipe(n.Pipe, dot)
			i.list(n.List, dot)
			i.list(n.ElseList, dot)
			i.variables = i.variables[:mark]
		case *parse.WithNode:
			mark := len(i.variables)
			i.list(n.List, i.pipe(n.Pipe, dot))
			i.list(n.ElseList, dot)
			i.variables = i.variables[:mark]
		case *parse.RangeNode:
			mark := len(i.variables)
			i.list(n.List, i.each(n, dot))
			i.variables = i.variables[:mark]
			i.list(n.ElseList, dot)
		case *parse.TemplateNode:
			given := shape.Nothing
			if n.Pipe != nil {
				given = i.pipe(n.Pipe, dot)
			}
			i.template(n.Name, given)
		}
	}
}

func shownAs(t *shape.Type) string {
	if t.Kind == shape.ListKind {
		return "Go through it with {{range}}."
	}
	if len(t.Fields) > 0 {
		return "Show one of its fields: " + strings.Join(t.Names(), ", ") + "."
	}
	return "Show one of its fields."
}

// each is what the dot is inside a range, whose variables it declares.
func (i *inference) each(n *parse.RangeNode, dot *shape.Type) *shape.Type {
	over := i.value(n.Pipe, dot)
	index, element := shape.Whole, shape.Any
	switch over.Kind {
	case shape.ListKind:
		element = over.Element
	case shape.WholeKind:
		element = shape.Whole
	case shape.ObjectKind:
		index = shape.Text
		if over == i.settings {
			i.useAll()
		}
	case shape.AnyKind:
		index = shape.Any
	default:
		i.w.fault(n.Pipe.Pos, fault.ViewType, fmt.Sprintf("{{range}} goes through a list, and %s is %s.", n.Pipe, over.Kind), "Use {{if}} or {{with}} to ask whether there is a value.")
	}
	switch decl := n.Pipe.Decl; len(decl) {
	case 1:
		i.variables = append(i.variables, variable{decl[0].Ident[0], element})
	case 2:
		i.variables = append(i.variables, variable{decl[0].Ident[0], index}, variable{decl[1].Ident[0], element})
	}
	return element
}

func (i *inference) useAll() {
	for name := range i.settings.Fields {
		i.used[name] = true
	}
}

// pipe is the type of a pipeline, whose variables it declares or sets.
func (i *inference) pipe(p *parse.PipeNode, dot *shape.Type) *shape.Type {
	is := i.value(p, dot)
	for _, v := range p.Decl {
		name := v.Ident[0]
		if !p.IsAssign {
			i.variables = append(i.variables, variable{name, is})
			continue
		}
		at := i.lookup(name)
		if at == nil {
			continue // the parser has refused it
		}
		if at.is.Kind != is.Kind && at.is.Kind != shape.AnyKind && is.Kind != shape.AnyKind {
			i.w.fault(v.Pos, fault.ViewType, fmt.Sprintf("The variable %s holds %s, and is set to %s.", name, at.is.Kind, is.Kind), "Use another variable, so that what follows knows what it has.")
		}
		if at.is.Kind == shape.AnyKind {
			at.is = is
		}
	}
	return is
}

func (i *inference) lookup(name string) *variable {
	for n := len(i.variables) - 1; n >= 0; n-- {
		if i.variables[n].name == name {
			return &i.variables[n]
		}
	}
	return nil
}

func (i *inference) value(p *parse.PipeNode, dot *shape.Type) *shape.Type {
	if p == nil || len(p.Cmds) == 0 {
		return shape.Any
	}
	is := shape.Any
	for _, c := range p.Cmds {
		is = i.command(c, dot)
	}
	return is
}

func (i *inference) command(c *parse.CommandNode, dot *shape.Type) *shape.Type {
	id, ok := c.Args[0].(*parse.IdentifierNode)
	if !ok {
		if len(c.Args) > 1 {
			i.w.fault(c.Pos, fault.ViewType, fmt.Sprintf("%s is no function and takes no arguments.", c.Args[0]), "Write the function first, as in {{say \"days\" .value}}.")
		}
		return i.argument(c.Args[0], dot)
	}
	var args []*shape.Type
	for _, a := range c.Args[1:] {
		args = append(args, i.argument(a, dot))
	}
	if own := function(id.Ident); own != nil {
		i.own(id, own, c.Args[1:], args)
		if own.gives == nil && len(args) > 0 { // what it takes last
			return args[len(args)-1]
		}
		if own.gives == nil {
			return shape.Any
		}
		return own.gives
	}
	return i.builtin(id, c.Args[1:], args)
}

func (i *inference) own(id *parse.IdentifierNode, s *Function, nodes []parse.Node, args []*shape.Type) {
	about := "Write {{" + s.Name + " " + s.Arguments + "}}."
	if len(args) > len(s.takes) || len(args) < len(s.takes)-s.optional {
		i.w.fault(id.Pos, fault.ViewType, fmt.Sprintf("%s takes %d arguments, and there are %d.", id.Ident, len(s.takes), len(args)), about)
		return
	}
	for n, got := range args {
		if _, literal := nodes[n].(*parse.NumberNode); !takes(s.takes[n], got, literal) {
			i.w.fault(begin(nodes[n]), fault.ViewType, fmt.Sprintf("%s takes %s here, and %s is %s.", id.Ident, kindOf(s.takes[n]), nodes[n], kindOf(got)), about)
		}
	}
}

func kindOf(t *shape.Type) string {
	if t.Name != "" {
		return article(t.Name)
	}
	return t.Kind.String()
}

func article(noun string) string {
	if strings.ContainsRune("aeiou", rune(noun[0])) {
		return "an " + noun
	}
	return "a " + noun
}

func (i *inference) builtin(id *parse.IdentifierNode, nodes []parse.Node, args []*shape.Type) *shape.Type {
	wrong := func(n int, what string) {
		i.w.fault(begin(nodes[n]), fault.ViewType, fmt.Sprintf("%s %s, and %s is %s.", id.Ident, what, nodes[n], args[n].Kind), "See “The view” in docs/widget-format.md.")
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
		i.w.fault(id.Pos, fault.ViewType, fmt.Sprintf("%s takes %s, and there are %d.", id.Ident, wants, len(args)), "See “The view” in docs/widget-format.md.")
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
				i.w.fault(begin(nodes[n]), fault.ViewType, fmt.Sprintf("%s compares like with like, and %s is %s while %s is %s.", id.Ident, nodes[0], args[0].Kind, nodes[n], t.Kind), mendComparison(args[0], t))
			} else if n > 0 {
				i.possible(args[0], nodes[n])
			} else if id.Ident[0] != 'e' && id.Ident != "ne" && t.Kind == shape.SwitchKind {
				wrong(n, "compares texts and numbers")
			}
		}
		return shape.Switch
	case "len":
		if k := args[0].Kind; k != shape.TextKind && k != shape.ListKind && k != shape.ObjectKind && k != shape.AnyKind {
			wrong(0, "counts what is in a list or a text")
		}
		return shape.Whole
	case "index":
		at := args[0]
		for n := 1; n < len(args); n++ {
			key, fixed := nodes[n].(*parse.StringNode)
			switch {
			case at.Kind == shape.ObjectKind && fixed:
				at = i.field(begin(nodes[n]), at, key.Text)
			case at.Kind == shape.ObjectKind:
				if at == i.settings {
					i.useAll()
				}
				at = shape.Any
			case at.Kind == shape.ListKind:
				at = at.Element
			case at.Kind != shape.AnyKind:
				wrong(0, "looks into a list or an object")
				return shape.Any
			}
		}
		return at
	}
	return shape.Switch // not
}

// possible reports a comparison with a text that a choice can never be.
func (i *inference) possible(choice *shape.Type, with parse.Node) {
	text, fixed := with.(*parse.StringNode)
	if fixed && choice.Of != nil && !slices.Contains(choice.Of, text.Text) {
		i.w.fault(text.Pos, fault.ViewType, fmt.Sprintf("This is never %q.", text.Text), fault.DidYouMean(text.Text, choice.Of))
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

func mendComparison(a, b *shape.Type) string {
	if a.Kind == shape.NumberKind && b.Kind == shape.WholeKind || a.Kind == shape.WholeKind && b.Kind == shape.NumberKind {
		return "A number setting is compared with a number that has a point, as in 12.0; a count with one that has none."
	}
	return "Compare with a value of the same type."
}

func (i *inference) argument(n parse.Node, dot *shape.Type) *shape.Type {
	switch n := n.(type) {
	case *parse.PipeNode:
		return i.value(n, dot)
	case *parse.DotNode:
		return dot
	case *parse.FieldNode:
		return i.path(begin(n), dot, n.Ident)
	case *parse.VariableNode:
		v := i.lookup(n.Ident[0])
		if v == nil {
			return shape.Any
		}
		return i.path(begin(n)+parse.Pos(len(n.Ident[0])), v.is, n.Ident[1:])
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

// begin is where a node's text begins. The parser places a path of several parts at its
// second part.
func begin(n parse.Node) parse.Pos {
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

// path goes from a value along the fields that are written from pos on.
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
		i.w.fault(pos, fault.ViewField, fmt.Sprintf("No setting %q is declared.", name), fault.DidYouMean(name, from.Names()))
	case from.Kind == shape.AnyKind, from.Kind == shape.ObjectKind && from.Fields == nil:
	case from.Kind == shape.ObjectKind:
		if is := from.Fields[name]; is != nil {
			return is
		}
		i.w.fault(pos, fault.ViewField, fmt.Sprintf("There is no field %q here.", name), i.mendField(name, from))
	default:
		i.w.fault(pos, fault.ViewField, fmt.Sprintf("This is %s and has no field %q.", from.Kind, name), i.mendField(name, from))
	}
	return shape.Any
}

func (i *inference) mendField(name string, from *shape.Type) string {
	if i.root.Fields[name] != nil {
		return "Inside range, with and define, write $." + name + "."
	}
	if len(from.Fields) > 0 {
		return fault.DidYouMean(name, from.Names())
	}
	return "Check the spelling, and what the dot is here."
}
