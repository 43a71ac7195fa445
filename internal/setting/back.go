package setting

import (
	"reflect"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// CarriedBack converts settings that were stored under a newer release, for this older one: it
// reverses the changes that newer declares, and leaves out settings that only newer has. It reports
// a fault for each value that this release does not accept. stored stays as it is.
func (schema *Schema) CarriedBack(stored Values, newer *Schema) (Values, fault.List) {
	doc := jsondoc.Of(map[string]any(stored))
	schema.back(doc, newer)
	if small := doc.Get(SmallKey); small != nil && small.Kind == jsondoc.Object {
		schema.back(small, newer)
	}
	return schema.Check(doc)
}

func (schema *Schema) back(doc *jsondoc.Value, newer *Schema) {
	// remove deletes a member that this release does not have, and returns it.
	remove := func(key string) *jsondoc.Member {
		i := slices.IndexFunc(doc.Members, func(m jsondoc.Member) bool { return m.Key == key })
		if i < 0 || schema.Get(key) != nil {
			return nil
		}
		m := doc.Members[i]
		doc.Members = slices.Delete(doc.Members, i, i+1)
		return &m
	}
	for _, c := range slices.Backward(newer.Changes) {
		if slices.ContainsFunc(schema.Changes, func(own Change) bool { return own.is(c) }) {
			continue // an older release declared it
		}
		switch c.Kind {
		case "rename":
			if m := remove(c.To[0]); m != nil && doc.Get(c.From) == nil {
				m.Key = c.From
				doc.Members = append(doc.Members, *m)
			}
		case "split":
			var parts []string
			var first *jsondoc.Member
			for _, to := range c.To {
				if m := remove(to); m != nil && m.Value.Kind == jsondoc.String {
					if first == nil {
						first = m
					}
					parts = append(parts, m.Value.Text)
				}
			}
			if first != nil && doc.Get(c.From) == nil {
				whole := *first.Value
				whole.Text = strings.TrimSpace(strings.Join(parts, c.At))
				doc.Members = append(doc.Members, jsondoc.Member{Key: c.From, Line: first.Line, Column: first.Column, Value: &whole})
			}
		case "values":
			i := slices.IndexFunc(doc.Members, func(m jsondoc.Member) bool { return m.Key == c.From })
			if i >= 0 {
				doc.Members[i].Value = c.before(doc.Members[i].Value)
			}
		}
	}
	doc.Members = slices.DeleteFunc(doc.Members, func(m jsondoc.Member) bool {
		return m.Key != SmallKey && schema.Get(m.Key) == nil && newer.Get(m.Key) != nil
	})
}

// is reports whether two releases declare the same change.
func (c Change) is(other Change) bool {
	plain := func(c Change) map[string]any {
		values := map[string]any{}
		for k, v := range c.values {
			values[k] = v.Plain()
		}
		return values
	}
	return c.Kind == other.Kind && c.From == other.From && c.At == other.At && slices.Equal(c.To, other.To) && reflect.DeepEqual(plain(c), plain(other))
}

// before returns a renamed value's earlier name. Where several values were merged, it returns the
// first in alphabetical order.
func (c Change) before(v *jsondoc.Value) *jsondoc.Value {
	old, found := "", false
	for was, is := range c.values {
		if written(is) == written(v) && written(v) != "" && (!found || was < old) {
			old, found = was, true
		}
	}
	if !found || v.Kind != jsondoc.String {
		return v
	}
	out := *v
	out.Text = old
	return &out
}
