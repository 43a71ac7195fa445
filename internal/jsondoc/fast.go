package jsondoc

import (
	"encoding/json"
	"strconv"
	"strings"

	"glasspocket/internal/fault"
)

// fast reads text that json.Valid accepts, several times faster than with encoding/json's tokens,
// because stored settings are read whenever a pocket is rendered. reader handles all other text,
// and says what is wrong with it.
type fast struct {
	text string // its parts are the strings of the values
	pos  int
	odd  bool // it has what only reader or encoding/json can report, such as deep nesting

	slab
	counted
	twice fault.List
}

// few is the number of members above which an object's keys are looked up in a map. Comparing each
// with all others is faster for few members, but takes quadratic time.
const few = 32

func (f *fast) skip() {
	for f.pos < len(f.text) {
		switch f.text[f.pos] {
		case ' ', '\t', '\r', '\n', ',', ':':
			f.pos++
		default:
			return
		}
	}
}

func (f *fast) str() string {
	start := f.pos
	f.pos++
	for plain := true; ; f.pos++ {
		switch f.text[f.pos] {
		case '\\':
			plain = false
			f.pos++
		case '"':
			f.pos++
			if plain {
				return f.text[start+1 : f.pos-1]
			}
			var s string
			_ = json.Unmarshal([]byte(f.text[start:f.pos]), &s) // it is valid
			return s
		}
	}
}

func (f *fast) value(depth int) *Value {
	f.skip()
	v := f.slab.value()
	v.Line, v.Column = f.place(f.text, f.pos)
	if depth >= MaxDepth {
		f.odd = true
		return v
	}
	switch c := f.text[f.pos]; c {
	case '{':
		v.Kind = Object
		f.pos++
		var seen map[string]bool // for an object with many members
		for f.skip(); f.text[f.pos] != '}' && !f.odd; f.skip() {
			m := Member{}
			m.Line, m.Column = f.place(f.text, f.pos)
			m.Key = f.str()
			m.Value = f.value(depth + 1)
			if len(v.Members) == few {
				seen = make(map[string]bool, 2*few)
				for _, have := range v.Members {
					seen[have.Key] = true
				}
			}
			if seen[m.Key] || seen == nil && v.Get(m.Key) != nil {
				f.twice = twice(f.twice, m)
				continue
			}
			if seen != nil {
				seen[m.Key] = true
			}
			if v.Members == nil {
				v.Members = make([]Member, 0, 8) // enough for most objects
			}
			v.Members = append(v.Members, m)
		}
		f.pos++
	case '[':
		v.Kind = Array
		f.pos++
		for f.skip(); f.text[f.pos] != ']' && !f.odd; f.skip() {
			v.Items = append(v.Items, f.value(depth+1))
		}
		f.pos++
	case '"':
		v.Kind, v.Text = String, f.str()
	case 't':
		v.Kind, v.Bool = Boolean, true
		f.pos += len("true")
	case 'f':
		v.Kind = Boolean
		f.pos += len("false")
	case 'n':
		v.Kind = Null
		f.pos += len("null")
	default:
		v.Kind, v.Text = Number, f.number()
	}
	return v
}

func (f *fast) number() string {
	start := f.pos
	for f.pos < len(f.text) && strings.IndexByte("0123456789+-.eE", f.text[f.pos]) >= 0 {
		f.pos++
	}
	return f.text[start:f.pos]
}

// plain reads a value into the types of encoding/json.
func (f *fast) plain(depth int) any {
	f.skip()
	if depth >= MaxDepth {
		f.odd = true
		return nil
	}
	switch c := f.text[f.pos]; c {
	case '{':
		type member struct {
			key   string
			value any
		}
		var room [24]member // enough for most objects; a map of the right size need not grow
		members := room[:0]
		f.pos++
		for f.skip(); f.text[f.pos] != '}' && !f.odd; f.skip() {
			key := f.str()
			members = append(members, member{key, f.plain(depth + 1)})
		}
		f.pos++
		object := make(map[string]any, len(members))
		for _, m := range members {
			object[m.key] = m.value
		}
		return object
	case '[':
		f.pos++
		list := []any{}
		for f.skip(); f.text[f.pos] != ']' && !f.odd; f.skip() {
			list = append(list, f.plain(depth+1))
		}
		f.pos++
		return list
	case '"':
		return f.str()
	case 't':
		f.pos += len("true")
		return true
	case 'f':
		f.pos += len("false")
		return false
	case 'n':
		f.pos += len("null")
		return nil
	}
	n, err := strconv.ParseFloat(f.number(), 64)
	if err != nil {
		f.odd = true // too large: encoding/json reports it
	}
	return n
}

// pass moves behind a value.
func (f *fast) pass() {
	for depth := 0; ; f.pos++ {
		switch f.text[f.pos] {
		case '"':
			for f.pos++; f.text[f.pos] != '"'; f.pos++ {
				if f.text[f.pos] == '\\' {
					f.pos++
				}
			}
			if depth == 0 {
				f.pos++
				return
			}
		case '{', '[':
			depth++
		case '}', ']':
			if depth--; depth < 0 { // the end of a number or a word
				return
			}
			if depth == 0 {
				f.pos++
				return
			}
		case ',', ' ', '\t', '\r', '\n':
			if depth == 0 {
				return
			}
		}
	}
}

// readFast returns nil if reader must report a fault.
func readFast(text []byte) (*Value, fault.List) {
	if !json.Valid(text) {
		return nil, nil
	}
	f := &fast{text: string(text)}
	v := f.value(0)
	if f.odd {
		return nil, nil
	}
	return v, f.twice
}
