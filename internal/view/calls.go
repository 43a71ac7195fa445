package view

import (
	"html/template"
	"reflect"
	"text/template/parse"

	"glasspocket/internal/shape"
)

// call compiles a call of one of our own functions.
func (m *maker) call(function int, nodes []parse.Node) expression {
	signature := reflect.TypeOf(Functions[function].of(&Data{}))
	least, most := signature.NumIn(), signature.NumIn()
	if signature.IsVariadic() {
		least, most = least-1, len(nodes)
	}
	if len(nodes) < least || len(nodes) > most {
		panic(errLeft)
	}
	values := make([]expression, len(nodes))
	for i, n := range nodes {
		values[i] = m.argument(n)
		number, ok := n.(*parse.NumberNode)
		if !ok || i >= signature.NumIn() {
			continue
		}
		// A number has the type that the function accepts.
		switch kind := signature.In(i).Kind(); {
		case kind == reflect.Float64 && number.IsFloat:
			values[i] = constant(number.Float64)
		case kind == reflect.Int && number.IsInt:
			values[i] = constant(int(number.Int64))
		}
	}
	return func(c *course, dot any) (any, error) {
		var room [6]any
		args := room[:0]
		for _, value := range values {
			v, err := value(c, dot)
			if err != nil {
				return nil, err
			}
			args = append(args, v)
		}
		v, err := apply(c.functions[function], args)
		if err != nil {
			return nil, errLeft
		}
		return v, nil
	}
}

// apply calls a function of Functions. TestProgram ensures that it has a case for each signature.
func apply(f any, a []any) (v any, err error) {
	defer func() {
		if recover() != nil { // html/template returns an error instead
			err = errLeft
		}
	}()
	switch f := f.(type) {
	case func(string) string:
		if x, ok := a[0].(string); ok {
			return f(x), nil
		}
	case func(float64) string:
		if x, ok := a[0].(float64); ok {
			return f(x), nil
		}
	case func(string) shape.Link:
		if x, ok := a[0].(string); ok {
			return f(x), nil
		}
	case func(map[string]any) (map[string]any, error):
		if x, ok := a[0].(map[string]any); ok {
			return f(x)
		}
	case func(string) template.HTML:
		if x, ok := a[0].(string); ok {
			return f(x), nil
		}
	case func(string) template.HTMLAttr:
		if x, ok := a[0].(string); ok {
			return f(x), nil
		}
	case func(string) (map[string]any, error):
		if x, ok := a[0].(string); ok {
			return f(x)
		}
	case func(int, int) int:
		x, ok := a[0].(int)
		if y, also := a[1].(int); ok && also {
			return f(x, y), nil
		}
	case func(float64, float64) string:
		x, ok := a[0].(float64)
		if y, also := a[1].(float64); ok && also {
			return f(x, y), nil
		}
	case func(float64, float64, float64) map[string]any:
		x, ok := a[0].(float64)
		y, also := a[1].(float64)
		if z, too := a[2].(float64); ok && also && too {
			return f(x, y, z), nil
		}
	case func(float64, []any) []any:
		x, ok := a[0].(float64)
		if y, also := a[1].([]any); ok && also {
			return f(x, y), nil
		}
	case func([]any, float64) []any:
		x, ok := a[0].([]any)
		if y, also := a[1].(float64); ok && also {
			return f(x, y), nil
		}
	case func([]any, string) bool:
		x, ok := a[0].([]any)
		if y, also := a[1].(string); ok && also {
			return f(x, y), nil
		}
	case func([]any) (map[string]any, error):
		if x, ok := a[0].([]any); ok {
			return f(x)
		}
	case func(map[string]any) template.HTMLAttr:
		if x, ok := a[0].(map[string]any); ok {
			return f(x), nil
		}
	case func(map[string]any) (string, error):
		if x, ok := a[0].(map[string]any); ok {
			return f(x)
		}
	case func(map[string]any, string) (template.HTML, error):
		x, ok := a[0].(map[string]any)
		if y, also := a[1].(string); ok && also {
			return f(x, y)
		}
	case func(map[string]any) (bool, error):
		if x, ok := a[0].(map[string]any); ok {
			return f(x)
		}
	case func(map[string]any, string) (string, error):
		x, ok := a[0].(map[string]any)
		if y, also := a[1].(string); ok && also {
			return f(x, y)
		}
	case func(map[string]any, string) ([]any, error):
		x, ok := a[0].(map[string]any)
		if y, also := a[1].(string); ok && also {
			return f(x, y)
		}
	case func(map[string]any, string, ...string) template.HTML:
		x, ok := a[0].(map[string]any)
		y, also := a[1].(string)
		var rest []string
		for _, each := range a[2:] {
			z, too := each.(string)
			rest, also = append(rest, z), also && too
		}
		if ok && also {
			return f(x, y, rest...), nil
		}
	case func(string, any) (string, error):
		if x, ok := a[0].(string); ok {
			return f(x, a[1])
		}
	case func(string, ...any) (string, error):
		if x, ok := a[0].(string); ok {
			return f(x, append([]any(nil), a[1:]...)...)
		}
	case func(float64, float64, map[string]any, map[string]any, float64) (string, error):
		from, ok := a[0].(float64)
		to, ok2 := a[1].(float64)
		starts, ok3 := a[2].(map[string]any)
		ends, ok4 := a[3].(map[string]any)
		if decimals, ok5 := a[4].(float64); ok && ok2 && ok3 && ok4 && ok5 {
			return f(from, to, starts, ends, decimals)
		}
	}
	return nil, errLeft
}

// builtin compiles a call of a function of html/template.
func (m *maker) builtin(name string, nodes []parse.Node) expression {
	values := make([]expression, len(nodes))
	for i, n := range nodes {
		values[i] = m.argument(n)
	}
	want := func(many bool) {
		if !many {
			panic(errLeft)
		}
	}
	switch name {
	case "and", "or":
		want(len(values) > 0)
		return func(c *course, dot any) (v any, err error) {
			for _, value := range values {
				if v, err = value(c, dot); err != nil {
					return nil, err
				}
				is, err := truth(v)
				if err != nil {
					return nil, err
				}
				if is == (name == "or") {
					break
				}
			}
			return v, nil
		}
	case "not":
		want(len(values) == 1)
		return func(c *course, dot any) (any, error) {
			v, err := values[0](c, dot)
			if err != nil {
				return nil, err
			}
			is, err := truth(v)
			return !is, err
		}
	case "eq":
		want(len(values) > 1)
		return func(c *course, dot any) (any, error) {
			a, err := values[0](c, dot)
			if err != nil {
				return nil, err
			}
			is := false
			for _, value := range values[1:] {
				b, err := value(c, dot)
				if err != nil {
					return nil, err
				}
				_, same, err := compare(a, b)
				if err != nil {
					return nil, err
				}
				is = is || same
			}
			return is, nil
		}
	case "ne", "lt", "le", "gt", "ge":
		want(len(values) == 2)
		return func(c *course, dot any) (any, error) {
			a, err := values[0](c, dot)
			if err != nil {
				return nil, err
			}
			b, err := values[1](c, dot)
			if err != nil {
				return nil, err
			}
			less, same, err := compare(a, b)
			if _, aSwitch := a.(bool); aSwitch && name != "ne" {
				return nil, errLeft // switches have no order
			}
			switch name {
			case "ne":
				return !same, err
			case "lt":
				return less, err
			case "le":
				return less || same, err
			case "gt":
				return !less && !same, err
			}
			return !less, err
		}
	case "len":
		want(len(values) == 1)
		return func(c *course, dot any) (any, error) {
			v, err := values[0](c, dot)
			switch v := v.(type) {
			case string:
				return len(v), err
			case []any:
				return len(v), err
			case map[string]any:
				return len(v), err
			}
			return nil, errLeft
		}
	case "index":
		want(len(values) == 2)
		return func(c *course, dot any) (any, error) {
			of, err := values[0](c, dot)
			if err != nil {
				return nil, err
			}
			at, err := values[1](c, dot)
			if err != nil {
				return nil, err
			}
			switch of := of.(type) {
			case []any:
				if i, ok := at.(int); ok && i >= 0 && i < len(of) {
					return of[i], nil
				}
			case map[string]any:
				if key, ok := at.(string); ok {
					if v, there := of[key]; there {
						return v, nil
					}
				}
			}
			return nil, errLeft
		}
	}
	panic(errLeft)
}

// compare compares two values of the same type.
func compare(a, b any) (less, same bool, err error) {
	switch a := a.(type) {
	case string:
		if b, ok := b.(string); ok {
			return a < b, a == b, nil
		}
	case float64:
		if b, ok := b.(float64); ok && a == a && b == b { // not NaN, which has no order
			return a < b, a == b, nil
		}
	case int:
		if b, ok := b.(int); ok {
			return a < b, a == b, nil
		}
	case bool:
		if b, ok := b.(bool); ok {
			return false, a == b, nil
		}
	}
	return false, false, errLeft
}
