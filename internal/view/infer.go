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

// inference follows types through a view: the dot inside range and with, variables, and arguments
// of functions. It reports whatever would stop the view at run time, for some or all values, with
// its place.
type inference struct {
	w         *walker
	root      *shape.Type
	settings  *shape.Type
	trees     map[string]*parse.Tree
	seen      map[seen]bool // templates that were visited, by the type of their dot
	used      map[string]bool
	actions   map[parse.Pos]*shape.Type // the type that each action shows
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
	// Templates that nothing includes are checked too, with a dot of unknown type.
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
				i.w.fault(n.Pipe.Pos, fault.ViewType, fmt.Sprintf("%s is %s, which cannot be shown directly.", n.Pipe, is.Kind), shownAs(is))
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
		return "Loop over it with {{range}}."
	}
	if len(t.Fields) > 0 {
		return "Show one of its fields: " + strings.Join(t.Names(), ", ") + "."
	}
	return "Show one of its fields."
}

// each returns the type of the dot inside a range, and declares the range's variables.
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
		i.w.fault(n.Pipe.Pos, fault.ViewType, fmt.Sprintf("{{range}} needs a list, but %s is %s.", n.Pipe, over.Kind), "To check whether there is a value, use {{if}} or {{with}}.")
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

// pipe returns the type of a pipeline, and declares or sets its variables.
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
			continue // the parser has reported it
		}
		if at.is.Kind != is.Kind && at.is.Kind != shape.AnyKind && is.Kind != shape.AnyKind {
			i.w.fault(v.Pos, fault.ViewType, fmt.Sprintf("The variable %s is %s and cannot be set to %s.", name, at.is.Kind, is.Kind), "Use another variable.")
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
			i.w.fault(c.Pos, fault.ViewType, fmt.Sprintf("%s is not a function and cannot have arguments.", c.Args[0]), "Write the function first, as in {{say \"days\" .value}}.")
		}
		return i.argument(c.Args[0], dot)
	}
	var args []*shape.Type
	for _, a := range c.Args[1:] {
		args = append(args, i.argument(a, dot))
	}
	if own := function(id.Ident); own != nil {
		i.own(id, own, c.Args[1:], args)
		if own.gives == nil { // the type of its list argument
			if i := slices.IndexFunc(args, func(t *shape.Type) bool { return t.Kind == shape.ListKind }); i >= 0 {
				return args[i]
			}
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
		i.w.fault(id.Pos, fault.ViewType, fmt.Sprintf("%s needs %s, but there are %d.", id.Ident, s.wants(), len(args)), about)
		return
	}
	for n, got := range args {
		if _, literal := nodes[n].(*parse.NumberNode); !accepts(s.takes[n], got, literal) {
			i.w.fault(startOf(nodes[n]), fault.ViewType, fmt.Sprintf("%s needs %s here, but %s is %s.", id.Ident, kindOf(s.takes[n]), nodes[n], kindOf(got)), about)
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
