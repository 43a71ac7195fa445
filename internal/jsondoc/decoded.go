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

// DecodeMember decodes the object in a member of a text that is an object, as Decode does. rest is the
// text with null in its place. If ok is false, there is no such object in the text, or it needs
// encoding/json to say what is wrong.
func DecodeMember(text []byte, key string) (object map[string]any, rest []byte, ok bool) {
	if !utf8.Valid(text) || len(text) == 0 || text[0] != '{' {
		return nil, nil, false
	}
	defer func() {
		if recover() != nil { // the text ended too soon
			ok = false
		}
	}()
	f := &fast{text: string(text), pos: 1}
	for f.skip(); f.text[f.pos] != '}' && !f.odd; f.skip() {
		found := f.str() == key
		f.skip()
		start := f.pos
		value := f.plain(1)
		if found {
			object, ok = value.(map[string]any)
			return object, slices.Concat(text[:start], []byte("null"), text[f.pos:]), ok && !f.odd
		}
	}
	return nil, nil, false
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
