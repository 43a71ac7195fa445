package jsondoc

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
)

// Of converts a value in the types of encoding/json to a Value without a place in a text. Members
// are in alphabetical order.
func Of(value any) *Value {
	switch v := value.(type) {
	case nil:
		return &Value{Kind: Null}
	case bool:
		return &Value{Kind: Boolean, Bool: v}
	case string:
		return &Value{Kind: String, Text: v}
	case float64:
		text, _ := json.Marshal(v)
		return &Value{Kind: Number, Text: string(text)}
	case int:
		return &Value{Kind: Number, Text: strconv.Itoa(v)}
	case json.Number:
		return &Value{Kind: Number, Text: v.String()}
	case []any:
		list := &Value{Kind: Array, Items: make([]*Value, len(v))}
		for i, item := range v {
			list.Items[i] = Of(item)
		}
		return list
	case map[string]any:
		object := &Value{Kind: Object, Members: make([]Member, 0, len(v))}
		for _, key := range slices.Sorted(maps.Keys(v)) {
			object.Members = append(object.Members, Member{Key: key, Value: Of(v[key])})
		}
		return object
	}
	text, _ := json.Marshal(value) // a named type, such as a map of settings
	v, _ := Read(text)
	return v
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
