package jsondoc

import (
	"bytes"
	"encoding/json"

	"glasspocket/internal/fault"
)

// fast reads text that json.Valid accepts, several times faster than with encoding/json's tokens,
// because stored settings are read whenever a pocket is rendered. reader handles all other text,
// and says what is wrong with it.
type fast struct {
	text []byte
	pos  int
	deep bool // nested too deeply: reader reports it

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
				return string(f.text[start+1 : f.pos-1])
			}
			var s string
			_ = json.Unmarshal(f.text[start:f.pos], &s) // it is valid
			return s
		}
	}
}

func (f *fast) value(depth int) *Value {
	f.skip()
	v := &Value{}
	v.Line, v.Column = f.place(f.text, f.pos)
	if depth >= MaxDepth {
		f.deep = true
		return v
	}
	switch c := f.text[f.pos]; c {
	case '{':
		v.Kind = Object
		f.pos++
		var seen map[string]bool // for an object with many members
		for f.skip(); f.text[f.pos] != '}' && !f.deep; f.skip() {
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
		for f.skip(); f.text[f.pos] != ']' && !f.deep; f.skip() {
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
		start := f.pos
		for f.pos < len(f.text) && bytes.IndexByte([]byte("0123456789+-.eE"), f.text[f.pos]) >= 0 {
			f.pos++
		}
		v.Kind, v.Text = Number, string(f.text[start:f.pos])
	}
	return v
}

// readFast returns nil if reader must report a fault.
func readFast(text []byte) (*Value, fault.List) {
	if !json.Valid(text) {
		return nil, nil
	}
	f := &fast{text: text}
	v := f.value(0)
	if f.deep {
		return nil, nil
	}
	return v, f.twice
}
