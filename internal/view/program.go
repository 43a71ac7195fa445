package view

import (
	"errors"
	"html/template"
	"slices"
	"sort"
	"text/template/parse"

	"glasspocket/internal/shape"
)

// A program is a compiled form of an escaped view. html/template evaluates every value by
// reflection, which takes most of the time of a rendering. A program supports only the value types
// of settings and functions, and only the case without errors. In any other case it stops with
// errLeft, and html/template runs the view from the start. So html/template alone reports faults
// and decides what is safe.
type program struct {
	main *body
}

// errLeft makes Render run the view with html/template.
var errLeft = errors.New("left to html/template")

// body is a template within the view.
type body struct {
	steps     []act
	variables int // the number of its variables; the first is the dot
}

// course is one run of a program.
type course struct {
	out       *writer
	functions []any // bound to the data, in the order of Functions
	variables []any // of the running bodies, the innermost last
	base      int   // the index of the innermost body's first variable
}

type (
	act        func(c *course, dot any) error
	expression func(c *course, dot any) (any, error)
)

func (p *program) run(c *course, dot any) error { return p.main.run(c, dot) }

func (b *body) run(c *course, dot any) error {
	outer := c.base
	c.base = len(c.variables)
	for range b.variables {
		c.variables = append(c.variables, nil)
	}
	c.variables[c.base] = dot
	err := each(b.steps, c, dot)
	c.variables = c.variables[:c.base]
	c.base = outer
	return err
}

func each(steps []act, c *course, dot any) error {
	for _, s := range steps {
		if err := s(c, dot); err != nil {
			return err
		}
	}
	return nil
}

// maker compiles the trees of an escaped view. It panics with errLeft at anything that it does not
// support.
type maker struct {
	trees  map[string]*parse.Tree
	bodies map[string]*body
	names  []string // the variables by slot; "" after the end of their scope
}

// makeProgram returns nil if the view contains something that programs do not support.
func makeProgram(escaped *template.Template) (p *program) {
	m := &maker{trees: map[string]*parse.Tree{}, bodies: map[string]*body{}}
	for _, t := range escaped.Templates() {
		if t.Tree != nil {
			m.trees[t.Name()] = t.Tree
		}
	}
	defer func() {
		if r := recover(); r != nil {
			if r != errLeft { //nolint:errorlint // panics with that very value
				panic(r)
			}
			p = nil
		}
	}()
	return &program{m.body(escaped.Name())}
}

func (m *maker) body(name string) *body {
	if b := m.bodies[name]; b != nil {
		return b
	}
	tree := m.trees[name]
	if tree == nil {
		panic(errLeft)
	}
	outer := m.names
	m.names = []string{"$"}
	b := &body{steps: m.list(tree.Root)}
	b.variables = len(m.names)
	m.names = outer
	m.bodies[name] = b
	return b
}

// declare assigns a slot to a variable.
func (m *maker) declare(name string) int {
	m.names = append(m.names, name)
	return len(m.names) - 1
}

func (m *maker) slot(name string) int {
	for i := len(m.names) - 1; i >= 0; i-- {
		if m.names[i] == name {
			return i
		}
	}
	panic(errLeft)
}

// leave ends the scope of the variables from index many on.
func (m *maker) leave(many int) {
	for i := many; i < len(m.names); i++ {
		m.names[i] = ""
	}
}

func (m *maker) list(l *parse.ListNode) (steps []act) {
	if l == nil {
		return nil
	}
	for _, n := range l.Nodes {
		switch n := n.(type) {
		case *parse.TextNode:
			steps = append(steps, text(n.Text))
		case *parse.ActionNode:
			steps = append(steps, m.action(n))
		case *parse.IfNode:
			steps = append(steps, m.branch(&n.BranchNode, false))
		case *parse.WithNode:
			steps = append(steps, m.branch(&n.BranchNode, true))
		case *parse.RangeNode:
			steps = append(steps, m.loop(n))
		case *parse.TemplateNode:
			steps = append(steps, m.include(n))
		case *parse.CommentNode:
		default: // break, continue
			panic(errLeft)
		}
	}
	return steps
}

func text(written []byte) act {
	return func(c *course, _ any) error {
		_, err := c.out.Write(written)
		return err
	}
}

// action compiles an action, which shows a value or sets a variable.
func (m *maker) action(n *parse.ActionNode) act {
	if len(n.Pipe.Decl) > 0 {
		value := m.pipe(n.Pipe)
		return func(c *course, dot any) error {
			_, err := value(c, dot)
			return err
		}
	}
	value := m.command(n.Pipe.Cmds[0])
	escaped := escaperOf(n.Pipe.Cmds[1:])
	if escaped == nil {
		panic(errLeft)
	}
	return func(c *course, dot any) error {
		v, err := value(c, dot)
		if err != nil {
			return err
		}
		return escaped.write(c.out, v)
	}
}

func (m *maker) branch(n *parse.BranchNode, with bool) act {
	many := len(m.names)
	value := m.pipe(n.Pipe)
	then := m.list(n.List)
	otherwise := m.list(n.ElseList)
	m.leave(many)
	return func(c *course, dot any) error {
		v, err := value(c, dot)
		if err != nil {
			return err
		}
		is, err := truth(v)
		switch {
		case err != nil:
			return err
		case !is:
			return each(otherwise, c, dot)
		case with:
			return each(then, c, v)
		}
		return each(then, c, dot)
	}
}

func (m *maker) loop(n *parse.RangeNode) act {
	if n.Pipe.IsAssign {
		panic(errLeft)
	}
	many := len(m.names)
	value := m.value(n.Pipe)
	index, element := -1, -1
	switch d := n.Pipe.Decl; len(d) {
	case 1:
		element = m.declare(d[0].Ident[0])
	case 2:
		index = m.declare(d[0].Ident[0])
		element = m.declare(d[1].Ident[0])
	}
	pass := m.list(n.List)
	m.leave(many)
	otherwise := m.list(n.ElseList)
	once := func(c *course, i, e any) error {
		if index >= 0 {
			c.variables[c.base+index] = i
		}
		if element >= 0 {
			c.variables[c.base+element] = e
		}
		return each(pass, c, e)
	}
	return func(c *course, dot any) error {
		over, err := value(c, dot)
		if err != nil {
			return err
		}
		passes := 0
		switch over := over.(type) {
		case []any:
			passes = len(over)
			for i, e := range over {
				if err := once(c, i, e); err != nil {
					return err
				}
			}
		case map[string]any:
			keys := make([]string, 0, len(over))
			for k := range over {
				keys = append(keys, k)
			}
			sort.Strings(keys)
			passes = len(keys)
			for _, k := range keys {
				if err := once(c, k, over[k]); err != nil {
					return err
				}
			}
		case int:
			passes = max(over, 0)
			for i := range passes {
				if err := once(c, i, i); err != nil {
					return err
				}
			}
		default:
			return errLeft
		}
		if passes == 0 {
			return each(otherwise, c, dot)
		}
		return nil
	}
}

func (m *maker) include(n *parse.TemplateNode) act {
	b := m.body(n.Name)
	value := func(*course, any) (any, error) { return nil, nil }
	if n.Pipe != nil {
		value = m.pipe(n.Pipe)
	}
	return func(c *course, dot any) error {
		given, err := value(c, dot)
		if err != nil {
			return err
		}
		return b.run(c, given)
	}
}

// pipe compiles a pipeline, and the assignment to the variable that it declares or sets.
func (m *maker) pipe(p *parse.PipeNode) expression {
	value := m.value(p)
	if len(p.Decl) == 0 {
		return value
	}
	if len(p.Decl) > 1 {
		panic(errLeft)
	}
	var slot int
	if name := p.Decl[0].Ident[0]; p.IsAssign {
		slot = m.slot(name)
	} else {
		slot = m.declare(name)
	}
	return func(c *course, dot any) (any, error) {
		v, err := value(c, dot)
		if err == nil {
			c.variables[c.base+slot] = v
		}
		return v, err
	}
}

func (m *maker) value(p *parse.PipeNode) expression {
	if len(p.Cmds) != 1 {
		panic(errLeft)
	}
	return m.command(p.Cmds[0])
}

func (m *maker) command(n *parse.CommandNode) expression {
	id, ok := n.Args[0].(*parse.IdentifierNode)
	if !ok {
		if len(n.Args) > 1 {
			panic(errLeft)
		}
		return m.argument(n.Args[0])
	}
	if i := slices.IndexFunc(Functions, func(f Function) bool { return f.Name == id.Ident }); i >= 0 {
		return m.call(i, n.Args[1:])
	}
	if id.Ident == asDecimal {
		return m.decimal(n.Args[1])
	}
	return m.builtin(id.Ident, n.Args[1:])
}

func (m *maker) decimal(n parse.Node) expression {
	value := m.argument(n)
	return func(c *course, dot any) (any, error) {
		v, err := value(c, dot)
		if n, ok := v.(float64); ok && err == nil {
			return decimal(n), nil
		}
		return nil, errLeft
	}
}

func (m *maker) argument(n parse.Node) expression {
	switch n := n.(type) {
	case *parse.DotNode:
		return func(_ *course, dot any) (any, error) { return dot, nil }
	case *parse.FieldNode:
		return fields(func(_ *course, dot any) (any, error) { return dot, nil }, n.Ident)
	case *parse.VariableNode:
		slot := m.slot(n.Ident[0])
		return fields(func(c *course, _ any) (any, error) { return c.variables[c.base+slot], nil }, n.Ident[1:])
	case *parse.ChainNode:
		return fields(m.argument(n.Node), n.Field)
	case *parse.PipeNode:
		if len(n.Decl) > 0 {
			panic(errLeft)
		}
		return m.value(n)
	case *parse.StringNode:
		return constant(n.Text)
	case *parse.BoolNode:
		return constant(n.True)
	case *parse.NumberNode:
		return constant(numberOf(n))
	case *parse.IdentifierNode:
		return m.command(&parse.CommandNode{NodeType: parse.NodeCommand, Pos: n.Pos, Args: []parse.Node{n}})
	}
	panic(errLeft)
}

func constant(v any) expression { return func(*course, any) (any, error) { return v, nil } }

// numberOf is the value of a number in the view where no other type is required.
func numberOf(n *parse.NumberNode) any {
	switch {
	case n.IsFloat && isFloat(n.Text):
		return n.Float64
	case n.IsInt && n.Text[0] != '\'':
		return int(n.Int64)
	}
	panic(errLeft)
}

// fields follows a path into maps. A missing key stops a view with a message.
func fields(from expression, path []string) expression {
	for _, name := range path {
		inner := from
		from = func(c *course, dot any) (any, error) {
			v, err := inner(c, dot)
			if err != nil {
				return nil, err
			}
			if m, ok := v.(map[string]any); ok {
				if v, ok := m[name]; ok {
					return v, nil
				}
			}
			return nil, errLeft
		}
	}
	return from
}

// truth evaluates the condition of an {{if}}.
func truth(v any) (bool, error) {
	switch v := v.(type) {
	case bool:
		return v, nil
	case string:
		return v != "", nil
	case float64:
		return v != 0, nil
	case int:
		return v != 0, nil
	case []any:
		return len(v) > 0, nil
	case map[string]any:
		return len(v) > 0, nil
	case shape.Link:
		return v != "", nil
	case shape.Markup:
		return v != "", nil
	case template.HTML:
		return v != "", nil
	case template.HTMLAttr:
		return v != "", nil
	}
	return false, errLeft
}
