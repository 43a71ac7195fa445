package jsondoc

import (
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/fault"
)

// Key describes a member that an object can have.
type Key struct {
	Name string
	Must bool
	Is   []Kind // the allowed JSON types; empty allows any
	// About is its description in the reference of the format.
	About string
	// Earlier marks a key that only stored files have. It is read, but listed nowhere.
	Earlier bool
}

// Expect compares v with the keys that it can have. It reports if v is not an object, and unknown
// keys, missing keys, and values of the wrong type. what names v in messages, as in "the manifest".
func (v *Value) Expect(what string, keys []Key) fault.List {
	if v.Kind != Object {
		return fault.List{v.Fault(fault.WrongType, "", fmt.Sprintf("%s must be an object, not %s.", upper(what), v.Kind.Named()), "Write { … }.")}
	}
	var faults fault.List
	for _, m := range v.Members {
		i := slices.IndexFunc(keys, func(k Key) bool { return k.Name == m.Key })
		if i < 0 {
			names := make([]string, len(keys))
			for j, k := range keys {
				names[j] = k.Name
			}
			faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("%s has no key %q.", upper(what), m.Key), Fix: fault.DidYouMean(m.Key, names)})
			continue
		}
		if is := keys[i].Is; len(is) > 0 && !slices.Contains(is, m.Value.Kind) {
			faults = append(faults, m.Value.Fault(fault.WrongType, m.Key,
				fmt.Sprintf("%q must be %s, not %s.", m.Key, kinds(is), m.Value.Kind.Named()), "Change the value's type."))
		}
	}
	for _, k := range keys {
		if k.Must && v.Get(k.Name) == nil {
			faults = append(faults, v.Fault(fault.KeyMissing, k.Name, fmt.Sprintf("%s has no %q.", upper(what), k.Name), fmt.Sprintf("Add %q.", k.Name)))
		}
	}
	return faults
}

// TextOf returns the text under key, or "" if it is not a string.
func (v *Value) TextOf(key string) string {
	if e := v.Get(key); e != nil && e.Kind == String {
		return e.Text
	}
	return ""
}

func kinds(is []Kind) string {
	s := make([]string, len(is))
	for i, k := range is {
		s[i] = k.Named()
	}
	return strings.Join(s, " or ")
}

func upper(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
