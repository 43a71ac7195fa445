package content

import (
	"fmt"
	"reflect"
	"slices"

	"glasspocket/internal/fault"
)

// Field is a part of a Content.
type Field struct {
	Key   string // in the audit, and in a list of differences
	Label string // for people
	// Of returns the field of a Content, as a pointer.
	Of func(*Content) any
	// Words describes the field of a content for a release with that number; nil for the settings,
	// which are compared one by one.
	Words func(c Content, release int) string
	// Set takes the field from a change, and reports whether it is there; nil if it is not one of
	// the Extras.
	Set func(c *Content, to Change) bool
	// Clean brings the field into its usual form, or says what is wrong with it.
	Clean func(*Content) fault.List
	// Faulty introduces the faults that Clean returns.
	Faulty string
	// Copied fields go into a duplicate and into an exported file.
	Copied bool
}

// Fields are the fields of a Content, in the order in which people see them.
var Fields = slices.Concat([]Field{
	{Key: "title", Label: "Name", Copied: true, Of: func(c *Content) any { return &c.Title }, Words: func(c Content, _ int) string { return c.Title }},
	{Key: "language", Label: "Language", Copied: true, Of: func(c *Content) any { return &c.Language }, Words: func(c Content, _ int) string { return c.Language }},
	{Key: "settings", Label: "Settings", Copied: true, Of: func(c *Content) any { return &c.Settings }},
}, extras, []Field{
	{Key: "follow", Label: "Release of the widget", Of: func(c *Content) any { return &c.Follow }, Words: func(c Content, release int) string {
		if c.Follow {
			return "the newest"
		}
		return fmt.Sprintf("number %d", release)
	}},
})

// Equal reports whether two contents are the same.
func (c Content) Equal(other Content) bool {
	for _, f := range Fields {
		if !reflect.DeepEqual(f.Of(&c), f.Of(&other)) {
			return false
		}
	}
	return true
}

// Set takes what is in a change, and returns the keys of the fields that it has. The faults are of
// the field faulty.
func (c *Content) Set(to Change) (keys []string, faulty Field, faults fault.List) {
	for _, f := range Fields {
		if f.Set == nil || !f.Set(c, to) {
			continue
		}
		keys = append(keys, f.Key)
		if f.Clean == nil {
			continue
		}
		if faults = f.Clean(c); len(faults) > 0 {
			return keys, f, faults
		}
	}
	return keys, faulty, nil
}

// Clean brings all fields into their usual form. The faults are of the field faulty.
func (c *Content) Clean() (faulty Field, faults fault.List) {
	for _, f := range Fields {
		if f.Clean == nil {
			continue
		}
		if faults = f.Clean(c); len(faults) > 0 {
			return f, faults
		}
	}
	return faulty, nil
}

// Copy returns the fields that go into a copy of a pocket.
func (c Content) Copy() (copied Content) {
	for _, f := range Fields {
		if f.Copied {
			reflect.ValueOf(f.Of(&copied)).Elem().Set(reflect.ValueOf(f.Of(&c)).Elem())
		}
	}
	return copied
}

// Difference is a field that differs between two contents, in words.
type Difference struct{ Key, Label, Before, After string }

// Differences lists the fields that differ, except the settings. was and is are the numbers of the
// releases that the contents are for.
func (c Content) Differences(was int, after Content, is int) (list []Difference) {
	for _, f := range Fields {
		if f.Words == nil {
			continue
		}
		if b, a := f.Words(c, was), f.Words(after, is); b != a {
			list = append(list, Difference{f.Key, f.Label, b, a})
		}
	}
	return list
}
