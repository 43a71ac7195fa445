package setting

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// kind is what each setting type implements, one type per file.
type kind interface {
	// jsonTypes lists the values of "type" in the schema that declare it.
	jsonTypes() []string
	// controls lists the form controls that it can have, the default first.
	controls() []string
	// keys lists the schema keywords that it reads in addition to type, default, title, description
	// and glass.
	keys() []string
	// glass lists the keys of "glass" that it reads in addition to the common ones.
	glass() []string
	// read reads its keywords from the property's schema.
	read(s *Setting, v *jsondoc.Value) fault.List
	// check returns the value in canonical form.
	check(s *Setting, v *jsondoc.Value) (any, problems)
	// shape returns the type of what the view and the mount module see.
	shape(s *Setting) *shape.Type
	// view returns what the view and the mount module see of a checked value.
	view(s *Setting, value any, w World) any
	// note describes it for the format's reference.
	note() Note
}

// What only some setting types implement.
type (
	// worded describes a checked value for people; other values are described by their text or CSS.
	worded interface {
		words(s *Setting, value any, language string) string
	}
	// bounded describes which values it accepts.
	bounded interface{ allows(s *Setting) string }
	// styled is passed to the stylesheet by a row of css.json, as JSON; see cssRow.
	styled interface{ css() string }
	// writer writes some values differently from its row.
	writer interface {
		write(value any, w World) (css string, face *Face, ok bool)
	}
	// paged is checked and applied by a page's script; see InPage.
	paged interface{ inPage(s *Setting, p *InPage) }
	// decisive can decide about other settings: condition reads a value of "when".
	decisive interface {
		condition(s *Setting, v *jsondoc.Value) (any, problems)
	}
	// inBrands can refer to a brand's value.
	inBrands interface{ inBrands() }
	// holder has values that consist of other settings' values, or of many such objects.
	holder interface {
		holds(s *Setting) (fields []*Setting, many bool)
	}
	// completes fills in defaults within a value.
	completes interface {
		complete(s *Setting, value any, at string, faults *fault.List) any
	}
	// settles replaces values that are relative to now, in a sample.
	settles interface {
		settle(v *jsondoc.Value, now time.Time)
	}
	// lengthens replaces a text by one of long words.
	lengthens interface {
		longer(s *Setting, v string) string
	}
	// naming is how people recognise the item that it is part of.
	naming interface{ names() }
	// unheard reports values without the text alternative that they need.
	unheard interface{ unheard(v *jsondoc.Value) bool }
)

// refers is implemented by setting types whose values name assets.
type refers interface {
	refs(s *Setting, value any) []string
}

// problem is a fault of a value, before its place is known.
type problem struct {
	at        *jsondoc.Value // the part of the value; nil for all of it
	path      string         // path within the value: "stops/2/colour"
	code      fault.Code
	what, fix string
}

type problems []*problem

// one returns a single problem with the whole value.
func one(code fault.Code, what, fix string) problems {
	return problems{{code: code, what: what, fix: fix}}
}

// in places problems within an enclosing value.
func (ps problems) in(at *jsondoc.Value, step string) problems {
	for _, p := range ps {
		if p.at == nil {
			p.at = at
		}
		p.path = strings.TrimSuffix(step+"/"+p.path, "/")
	}
	return ps
}

// faults converts problems of the setting's value v to faults.
func (ps problems) faults(v *jsondoc.Value, key, ahead string) (list fault.List) {
	for _, p := range ps {
		at, field := v, key
		if p.at != nil {
			at = p.at
		}
		if p.path != "" {
			field += "/" + p.path
		}
		list = append(list, at.Fault(p.code, field, ahead+p.which()+p.what, p.fix))
	}
	return list
}

// which names the item of a list that has the problem, counted from 1, or "" if it is not in an
// item.
func (p *problem) which() string {
	var items []string
	for step := range strings.SplitSeq(p.path, "/") {
		if n, err := strconv.Atoi(step); err == nil {
			items = append(items, fmt.Sprintf("item %d", n+1))
		}
	}
	if items == nil {
		return ""
	}
	return "In " + strings.Join(items, ", ") + ": "
}

// part is a member of a value that is an object.
type part struct {
	name      string
	read      func(s *Setting, v *jsondoc.Value) (any, problems)
	otherwise any // the value of a missing part; nil if the part is required, leftOut if its absence is the value
}

// leftOut marks a part whose absence has a meaning.
var leftOut any = struct{}{}

// readParts reads a value that is an object of parts. form is an example for messages.
func readParts(s *Setting, v *jsondoc.Value, form string, parts []part) (map[string]any, problems) {
	if v.Kind != jsondoc.Object {
		return nil, wrongType(s, v, "an object", "Write it as "+form+".")
	}
	value := make(map[string]any, len(parts))
	var found problems
	names := make([]string, len(parts))
	for i, p := range parts {
		names[i] = p.name
		m := member(v, p.name)
		switch {
		case m != nil:
			read, ps := p.read(s, m)
			if ps != nil { // read again with full names for the messages; valid values skip that
				read, ps = p.read(s.as(s.Key+"."+p.name), m)
			}
			value[p.name] = read
			found = append(found, ps.in(m, p.name)...)
		case p.otherwise == nil:
			found = append(found, one(fault.ValueType, fmt.Sprintf("%q has no %q.", s.Key, p.name), "Write it as "+form+".")...)
		case p.otherwise != leftOut:
			value[p.name] = p.otherwise
		}
	}
	for _, m := range v.Members {
		if !contains(names, m.Key) {
			found = append(found, &problem{at: m.Value, path: m.Key, code: fault.KeyUnknown, what: fmt.Sprintf("%q has no key %q.", s.Key, clip.Input(m.Key)), fix: fault.DidYouMean(m.Key, names)})
		}
	}
	if len(found) > 0 {
		return nil, found
	}
	return value, nil
}

// numberPart reads a number within bounds, and only whole numbers if whole is set.
func numberPart(min, max float64, whole bool) func(*Setting, *jsondoc.Value) (any, problems) {
	bounds := Setting{Minimum: &min, Maximum: &max}
	if whole {
		bounds.Step = 1
	}
	return func(s *Setting, v *jsondoc.Value) (any, problems) {
		value, ps := number{}.check(&bounds, v)
		if ps != nil { // read again with names for the messages
			_, ps = number{}.check(bounds.as(s.Key), v)
		}
		return value, ps
	}
}

// as returns the setting under another key.
func (s *Setting) as(key string) *Setting {
	of := *s
	of.Key = key
	return &of
}

// onePart reads one of several texts.
func onePart(values ...string) func(*Setting, *jsondoc.Value) (any, problems) {
	of := make([]Option, len(values))
	for i, v := range values {
		of[i].Value = v
	}
	return func(s *Setting, v *jsondoc.Value) (any, problems) {
		return choice{}.check(&Setting{Key: s.Key, Options: of}, v)
	}
}

// linePart reads a single line of text.
func linePart(most int) func(*Setting, *jsondoc.Value) (any, problems) {
	return func(s *Setting, v *jsondoc.Value) (any, problems) {
		return text{}.check(&Setting{Key: s.Key, MaxLength: most}, v)
	}
}

func colourPart(s *Setting, v *jsondoc.Value) (any, problems) { return colour{}.check(s, v) }

func contains(list []string, s string) bool {
	for _, e := range list {
		if e == s {
			return true
		}
	}
	return false
}
