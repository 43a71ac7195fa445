package jsondoc

import (
	"encoding/json"
	"math"
	"slices"
	"strconv"
	"unicode/utf8"
)

// Of converts a value in the types of encoding/json to a Value without a place in a text. Members
// are in alphabetical order.
func Of(value any) *Value {
	var s slab
	return s.of(value)
}

func (s *slab) of(value any) *Value {
	at := s.value()
	switch v := value.(type) {
	case nil:
		at.Kind = Null
	case bool:
		at.Kind, at.Bool = Boolean, v
	case string:
		at.Kind, at.Text = String, v
	case float64:
		at.Kind, at.Text = Number, number(v)
	case int:
		at.Kind, at.Text = Number, strconv.Itoa(v)
	case json.Number:
		at.Kind, at.Text = Number, v.String()
	case []any:
		at.Kind, at.Items = Array, make([]*Value, len(v))
		for i, item := range v {
			at.Items[i] = s.of(item)
		}
	case map[string]any:
		at.Kind, at.Members = Object, make([]Member, len(v))
		var room [16]string // enough for most objects
		keys := room[:0]
		for key := range v {
			keys = append(keys, key)
		}
		slices.Sort(keys)
		for i, key := range keys {
			at.Members[i] = Member{Key: key, Value: s.of(v[key])}
		}
	default:
		text, _ := json.Marshal(value) // a named type, such as a map of settings
		at, _ = Read(text)
	}
	return at
}

// number writes a number as encoding/json does.
func number(v float64) string {
	if whole := int(v); float64(whole) == v && (whole != 0 || !math.Signbit(v)) && -1e15 < v && v < 1e15 {
		return strconv.Itoa(whole)
	}
	text, _ := json.Marshal(v)
	return string(text)
}

// slab makes Values many at a time, because a document has hundreds.
type slab struct{ free []Value }

func (s *slab) value() *Value {
	if len(s.free) == 0 {
		s.free = make([]Value, 32)
	}
	v := &s.free[0]
	s.free = s.free[1:]
	return v
}

// Decode decodes an object, or null, to the types of encoding/json, but faster. text must be valid
// JSON, as it is for every json.Unmarshaler. Errors are those of encoding/json.
func Decode(text []byte) (object map[string]any, err error) {
	if utf8.Valid(text) && len(text) > 0 && text[0] == '{' {
		f := &fast{text: string(text)}
		if object = f.plain(0).(map[string]any); !f.odd {
			return object, nil
		}
		object = nil
	}
	return object, json.Unmarshal(text, &object)
}

// CutMember returns the text of the value of a member, and the whole text with null in its place.
// text must be valid JSON of an object without space at its start. If ok is false, it has no such
// member.
func CutMember(text []byte, key string) (value, rest []byte, ok bool) {
	defer func() {
		if recover() != nil { // the text is not valid and ended too soon
			ok = false
		}
	}()
	f := &fast{text: string(text)}
	if f.text[0] != '{' {
		return nil, nil, false
	}
	for f.pos = 1; ; {
		if f.skip(); f.text[f.pos] == '}' {
			return nil, nil, false
		}
		found := f.str() == key
		f.skip()
		start := f.pos
		f.pass()
		if found {
			return text[start:f.pos], slices.Concat(text[:start], []byte("null"), text[f.pos:]), true
		}
	}
}

// Decoded converts v to the types of encoding/json: map, slice, string, float64, bool, nil.
func (v *Value) Decoded() any {
	switch v.Kind {
	case Object:
		m := make(map[string]any, len(v.Members))
		for _, e := range v.Members {
			m[e.Key] = e.Value.Decoded()
		}
		return m
	case Array:
		l := make([]any, len(v.Items))
		for i, e := range v.Items {
			l[i] = e.Decoded()
		}
		return l
	case Number:
		n, _ := strconv.ParseFloat(v.Text, 64)
		return n
	}
	return v.Plain()
}
