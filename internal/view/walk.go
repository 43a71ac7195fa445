package view

import (
	"fmt"
	"html/template"
	"slices"
	"sort"
	"strings"
	"text/template/parse"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// walker visits a parsed view: it collects faults, and changes the tree so that every loop step is
// counted.
type walker struct {
	text     string
	places   *jsondoc.Placer
	includes map[string][]string // template → templates that it includes
	at       map[string]parse.Pos
	faults   fault.List
	says     []Said
	own      []string
	called   map[string]bool
}

func (w *walker) fault(pos parse.Pos, code fault.Code, what, fix string) {
	if len(w.faults) >= fault.Most {
		return
	}
	line, column := w.places.Place(int(pos))
	w.faults = append(w.faults, fault.Fault{Line: line, Column: column, Code: code, What: what, Fix: fix})
}

func (w *walker) template(name string, root *parse.ListNode) {
	if w.at == nil {
		w.at = map[string]parse.Pos{}
		for _, f := range Functions {
			w.own = append(w.own, f.Name)
		}
	}
	w.at[name] = root.Pos
	w.list(name, root)
	step(root)
}

// step inserts an empty text at the start of a body, so that each pass calls our writer, which
// counts. Without it, {{range 1000000000}}{{end}} would never return.
func step(body *parse.ListNode) {
	if body != nil {
		body.Nodes = append([]parse.Node{&parse.TextNode{NodeType: parse.NodeText, Pos: body.Pos, Text: []byte{}}}, body.Nodes...)
	}
}

func (w *walker) list(name string, l *parse.ListNode) {
	if l == nil {
		return
	}
	for _, n := range l.Nodes {
		switch n := n.(type) {
		case *parse.ActionNode:
			w.pipe(n.Pipe)
		case *parse.IfNode:
			w.branch(name, &n.BranchNode)
		case *parse.WithNode:
			w.branch(name, &n.BranchNode)
		case *parse.RangeNode:
			w.branch(name, &n.BranchNode)
			step(n.List)
		case *parse.TemplateNode:
			w.includes[name] = append(w.includes[name], n.Name)
			w.at[name+"→"+n.Name] = n.Pos
			w.pipe(n.Pipe)
		}
	}
}

func (w *walker) branch(name string, b *parse.BranchNode) {
	w.pipe(b.Pipe)
	w.list(name, b.List)
	w.list(name, b.ElseList)
}

func (w *walker) pipe(p *parse.PipeNode) {
	if p == nil {
		return
	}
	for i, c := range p.Cmds {
		if i > 0 {
			w.fault(c.Pos, fault.ViewFunction, "A view cannot pipe one value into another.", "Write the function with its arguments after it, as in {{say \"days\" .value}}.")
		}
		for _, a := range c.Args {
			w.argument(a)
		}
		if id, ok := c.Args[0].(*parse.IdentifierNode); ok {
			w.call(c, id)
		}
	}
}

func (w *walker) argument(n parse.Node) {
	switch n := n.(type) {
	case *parse.PipeNode:
		w.pipe(n)
	case *parse.ChainNode:
		w.argument(n.Node)
	}
}

func (w *walker) call(c *parse.CommandNode, id *parse.IdentifierNode) {
	if w.called == nil {
		w.called = map[string]bool{}
	}
	w.called[id.Ident] = true
	if slices.Contains(w.own, id.Ident) {
		if id.Ident == "say" && len(c.Args) > 1 {
			if key, ok := c.Args[1].(*parse.StringNode); ok {
				line, column := w.places.Place(int(key.Pos))
				w.says = append(w.says, Said{key.Text, line, column})
			}
		}
		return
	}
	if !slices.Contains(builtins, id.Ident) {
		w.fault(id.Pos, fault.ViewFunction, fmt.Sprintf("Views have no function %q.", id.Ident), fault.DidYouMean(id.Ident, FunctionNames()))
	}
}

// rangesMost is the deepest nesting of loops, including those of included templates. The escaper
// processes each body twice, so every level doubles its work.
const rangesMost = 8

// nested reports loops that are nested too deeply. The templates must not include themselves.
func (w *walker) nested(trees []*template.Template) {
	bodies, depths := map[string]*parse.ListNode{}, map[string]int{}
	for _, t := range trees {
		if t.Tree != nil {
			bodies[t.Name()] = t.Tree.Root
		}
	}
	var list func(l *parse.ListNode, above int) int
	var body func(name string) int
	list = func(l *parse.ListNode, above int) (deepest int) {
		if l == nil {
			return 0
		}
		for _, n := range l.Nodes {
			depth := 0
			switch n := n.(type) {
			case *parse.IfNode:
				depth = max(list(n.List, above), list(n.ElseList, above))
			case *parse.WithNode:
				depth = max(list(n.List, above), list(n.ElseList, above))
			case *parse.RangeNode:
				if above == rangesMost {
					w.fault(n.Pos, fault.TooDeep, fmt.Sprintf("Loops are nested more than %d levels deep.", rangesMost), "Remove the inner loops.")
					continue
				}
				depth = max(1+list(n.List, above+1), list(n.ElseList, above))
			case *parse.TemplateNode:
				if depth = body(n.Name); above+depth > rangesMost {
					w.fault(n.Pos, fault.TooDeep, fmt.Sprintf("Together with the loops of the template %q, loops are nested more than %d levels deep.", n.Name, rangesMost), "Include it outside the inner loops.")
				}
			}
			deepest = max(deepest, depth)
		}
		return deepest
	}
	body = func(name string) int {
		if depth, done := depths[name]; done {
			return depth
		}
		depths[name] = 0 // while it is being visited
		depth := list(bodies[name], 0)
		depths[name] = depth
		return depth
	}
	for _, t := range trees {
		body(t.Name())
	}
}

// cycles reports templates that include themselves, directly or through others.
func (w *walker) cycles() {
	names := make([]string, 0, len(w.includes))
	for n := range w.includes {
		names = append(names, n)
	}
	sort.Strings(names)
	done := map[string]bool{}
	var visit func(path []string)
	visit = func(path []string) {
		name := path[len(path)-1]
		for _, next := range w.includes[name] {
			if i := slices.Index(path, next); i >= 0 {
				w.fault(w.at[name+"→"+next], fault.ViewRecursion, fmt.Sprintf("The template %q includes itself: %s.", next, strings.Join(append(path[i:], next), " → ")), "Remove one of these calls.")
				continue
			}
			if !done[next] {
				visit(append(slices.Clone(path), next))
			}
		}
		done[name] = true
	}
	for _, n := range names {
		if !done[n] {
			visit([]string{n})
		}
	}
}

// eachAction visits the actions of a view and of the templates that it defines.
func eachAction(t *template.Template, do func(*parse.ActionNode)) {
	var list func(l *parse.ListNode)
	list = func(l *parse.ListNode) {
		if l == nil {
			return
		}
		for _, n := range l.Nodes {
			switch n := n.(type) {
			case *parse.ActionNode:
				do(n)
			case *parse.IfNode:
				list(n.List)
				list(n.ElseList)
			case *parse.WithNode:
				list(n.List)
				list(n.ElseList)
			case *parse.RangeNode:
				list(n.List)
				list(n.ElseList)
			}
		}
	}
	for _, each := range t.Templates() {
		if each.Tree != nil {
			list(each.Tree.Root)
		}
	}
}
