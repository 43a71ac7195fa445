package widget

import (
	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/js"
)

// members returns the members of the mount function's argument that a built script uses, from its
// syntax tree: also in functions of the script that get the argument. sure is false if there may be
// others, since the script stores the argument or names a member at run time.
func members(script string) (used map[string]bool, sure bool) {
	if script == "" {
		return nil, true
	}
	tree, err := js.Parse(parse.NewInputString(script), js.Options{})
	if err != nil {
		return nil, false
	}
	found := &functions{named: map[*js.Var]function{}}
	js.Walk(found, tree)
	mount := found.mount
	if mount == nil && found.name != nil {
		if f, ok := found.named[found.name]; ok {
			mount = &f
		}
	}
	reader := &reader{functions: found.named, used: map[string]bool{}, sure: true, seen: map[*js.Var]bool{}}
	if mount != nil {
		reader.argument(*mount, 0)
	}
	return reader.used, reader.sure && mount != nil
}

type function struct {
	params js.Params
	body   js.BlockStmt
}

// origin returns the declaration of a variable that a use refers to.
func origin(v *js.Var) *js.Var {
	for v.Link != nil {
		v = v.Link
	}
	return v
}

// functions finds a script's functions, and the one that is passed to $mount.
type functions struct {
	named map[*js.Var]function
	name  *js.Var   // passed to $mount
	mount *function // passed to $mount itself
}

func functionOf(e js.IExpr) (function, bool) {
	switch e := e.(type) {
	case *js.FuncDecl:
		return function{e.Params, e.Body}, true
	case *js.ArrowFunc:
		return function{e.Params, e.Body}, true
	}
	return function{}, false
}

func (f *functions) Enter(n js.INode) js.IVisitor {
	switch n := n.(type) {
	case *js.FuncDecl:
		if n.Name != nil {
			f.named[origin(n.Name)], _ = functionOf(n)
		}
	case *js.VarDecl:
		for _, b := range n.List {
			if v, ok := b.Binding.(*js.Var); ok {
				if made, ok := functionOf(b.Default); ok {
					f.named[origin(v)] = made
				}
			}
		}
	case *js.CallExpr:
		if v, ok := n.X.(*js.Var); ok && string(v.Name()) == "$mount" && len(n.Args.List) > 0 {
			if made, ok := functionOf(n.Args.List[0].Value); ok {
				f.mount = &made
			} else if v, ok := n.Args.List[0].Value.(*js.Var); ok {
				f.name = origin(v)
			}
		}
	}
	return f
}

func (f *functions) Exit(js.INode) {}

// reader follows the mount function's argument through a script.
type reader struct {
	functions map[*js.Var]function
	used      map[string]bool
	sure      bool
	seen      map[*js.Var]bool // the parameters that were followed
}

// argument reads what a function does with one of its arguments.
func (r *reader) argument(f function, n int) {
	if n >= len(f.params.List) {
		r.sure = r.sure && f.params.Rest == nil
		return
	}
	switch to := f.params.List[n].Binding.(type) {
	case *js.BindingObject:
		r.pattern(to)
	case *js.Var:
		if v := origin(to); !r.seen[v] {
			r.seen[v] = true
			js.Walk(&uses{reader: r, of: v}, &f.body)
		}
	default:
		r.sure = false
	}
}

// pattern adds the names in a pattern such as {root, now: clock}.
func (r *reader) pattern(pattern *js.BindingObject) {
	r.sure = r.sure && pattern.Rest == nil
	for _, item := range pattern.List {
		switch {
		case item.Key == nil:
			if v, ok := item.Value.Binding.(*js.Var); ok {
				r.used[string(v.Name())] = true
			}
		case item.Key.IsComputed():
			r.sure = false
		default:
			r.used[string(item.Key.Literal.Data)] = true
		}
	}
}

// uses reads the uses of one variable.
type uses struct {
	*reader
	of *js.Var
}

func (u *uses) is(e js.IExpr) bool {
	v, ok := e.(*js.Var)
	return ok && origin(v) == u.of
}

func (u *uses) Enter(n js.INode) js.IVisitor {
	switch n := n.(type) {
	case *js.DotExpr:
		if name, ok := n.Y.(js.LiteralExpr); ok && u.is(n.X) {
			u.used[string(name.Data)] = true
			return nil
		}
	case *js.VarDecl:
		for _, b := range n.List {
			if pattern, ok := b.Binding.(*js.BindingObject); ok && b.Default != nil && u.is(b.Default) {
				u.pattern(pattern)
			} else if b.Default != nil {
				js.Walk(u, b.Default)
			}
		}
		return nil
	case *js.CallExpr:
		callee, ok := n.X.(*js.Var)
		if !ok {
			return u
		}
		f, known := u.functions[origin(callee)]
		for i, arg := range n.Args.List {
			if known && !arg.Rest && u.is(arg.Value) {
				u.argument(f, i)
			} else {
				js.Walk(u, arg.Value)
			}
		}
		return nil
	case *js.Var:
		if u.is(n) {
			u.sure = false // stored, passed to something unknown, or read by a computed name
		}
	}
	return u
}

func (u *uses) Exit(js.INode) {}
