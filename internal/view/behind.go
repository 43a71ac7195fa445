package view

import (
	"slices"
	"strings"
	texttemplate "text/template"
	"text/template/parse"
)

// origin is where a value in a view comes from: the view's whole data, all settings, or some
// settings.
type origin struct {
	given, settings bool
	keys            []string // of settings, in order
}

func (o origin) with(other origin) origin {
	keys := o.keys
	for _, k := range other.keys {
		if at, there := slices.BinarySearch(keys, k); !there {
			keys = slices.Insert(slices.Clone(keys), at, k)
		}
	}
	return origin{keys: keys}
}

// part returns the origin of what a path into the value leads to.
func (o origin) part(path []string) origin {
	for _, name := range path {
		switch {
		case o.given && name == "settings":
			o = origin{settings: true}
		case o.given:
			o = origin{}
		case o.settings:
			o = origin{keys: []string{name}}
		}
	}
	return o
}

func (o origin) name() string {
	return strings.Join(o.keys, " ") + map[bool]string{true: "$"}[o.given] + map[bool]string{true: "*"}[o.settings]
}

// behind follows values through a view back to the settings and messages that they come from. The
// editor uses it to find the setting behind an element.
type behind struct {
	trees     map[string]*parse.Tree
	seen      map[string]bool
	variables []named
	settings  map[parse.Pos]origin   // by the start of an action's text
	messages  map[parse.Pos][]string // by the start of an action's text
	at        parse.Pos              // the action that is being followed
}

type named struct {
	name string
	from origin
}

// follow reads a view that parses without faults.
func follow(text string) (*behind, error) {
	t, err := texttemplate.New("view").Funcs(texttemplate.FuncMap((&Data{}).functions())).Parse(text)
	if err != nil {
		return nil, err
	}
	b := &behind{trees: map[string]*parse.Tree{}, seen: map[string]bool{}, settings: map[parse.Pos]origin{}, messages: map[parse.Pos][]string{}}
	for _, each := range t.Templates() {
		if each.Tree != nil {
			b.trees[each.Name()] = each.Tree
		}
	}
	b.template(t.Name(), origin{given: true})
	return b, nil
}

// within lists the origins of the actions between two offsets.
func (b *behind) within(start, end int) (settings, messages []string) {
	var all origin
	for pos, from := range b.settings {
		if int(pos) >= start && int(pos) < end {
			all = all.with(from)
		}
	}
	for pos, keys := range b.messages {
		if int(pos) >= start && int(pos) < end {
			messages = append(messages, keys...)
		}
	}
	slices.Sort(messages)
	return all.keys, slices.Compact(messages)
}

func (b *behind) template(name string, dot origin) {
	tree := b.trees[name]
	if tree == nil || b.seen[name+"\x00"+dot.name()] {
		return
	}
	b.seen[name+"\x00"+dot.name()] = true
	outer := b.variables
	b.variables = []named{{"$", dot}}
	b.list(tree.Root, dot)
	b.variables = outer
}

func (b *behind) list(l *parse.ListNode, dot origin) {
	if l == nil {
		return
	}
	for _, n := range l.Nodes {
		switch n := n.(type) {
		case *parse.ActionNode:
			b.pipe(n.Pos, n.Pipe, dot)
		case *parse.IfNode:
			b.branch(&n.BranchNode, dot, false, dot)
		case *parse.WithNode:
			b.branch(&n.BranchNode, dot, true, dot)
		case *parse.RangeNode:
			b.branch(&n.BranchNode, dot, true, dot)
		case *parse.TemplateNode:
			var given origin
			if n.Pipe != nil {
				given = b.pipe(n.Pos, n.Pipe, dot)
			}
			b.template(n.Name, given)
		}
	}
}

func (b *behind) branch(n *parse.BranchNode, dot origin, moves bool, otherwise origin) {
	mark := len(b.variables)
	from := b.pipe(n.Pos, n.Pipe, dot)
	if moves {
		dot = from
	}
	b.list(n.List, dot)
	b.list(n.ElseList, otherwise)
	b.variables = b.variables[:mark]
}

// pipe records the origin of an action, and assigns it to its variables.
func (b *behind) pipe(at parse.Pos, p *parse.PipeNode, dot origin) origin {
	b.at = at
	from := b.value(p, dot)
	for _, v := range p.Decl {
		if !p.IsAssign {
			b.variables = append(b.variables, named{v.Ident[0], from})
		} else if known := b.lookup(v.Ident[0]); known != nil {
			known.from = known.from.with(from)
		}
	}
	b.settings[at] = b.settings[at].with(from)
	return from
}

func (b *behind) value(p *parse.PipeNode, dot origin) origin {
	if p == nil {
		return origin{}
	}
	var all origin
	for _, c := range p.Cmds {
		if id, ok := c.Args[0].(*parse.IdentifierNode); ok && id.Ident == "say" && len(c.Args) > 1 {
			if key, ok := c.Args[1].(*parse.StringNode); ok {
				b.messages[b.at] = append(b.messages[b.at], key.Text)
			}
		}
		if len(p.Cmds) == 1 && len(c.Args) == 1 {
			return b.argument(c.Args[0], dot) // it returns its argument
		}
		for _, a := range c.Args {
			all = all.with(b.argument(a, dot))
		}
	}
	return all
}

func (b *behind) lookup(name string) *named {
	for i := len(b.variables) - 1; i >= 0; i-- {
		if b.variables[i].name == name {
			return &b.variables[i]
		}
	}
	return nil
}

func (b *behind) argument(n parse.Node, dot origin) origin {
	switch n := n.(type) {
	case *parse.PipeNode:
		return b.value(n, dot)
	case *parse.DotNode:
		return dot
	case *parse.FieldNode:
		return dot.part(n.Ident)
	case *parse.VariableNode:
		if v := b.lookup(n.Ident[0]); v != nil {
			return v.from.part(n.Ident[1:])
		}
	case *parse.ChainNode:
		return b.argument(n.Node, dot).part(n.Field)
	}
	return origin{}
}
