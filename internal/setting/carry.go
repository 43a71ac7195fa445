package setting

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Change describes how values that were stored under an older release become values of this one.
// Changes apply whenever stored values are read, and do not affect values that are already in this
// release's form. So the list of changes can grow with every release.
type Change struct {
	Kind   string                    `json:"kind"` // rename, drop, split or values
	From   string                    `json:"from"` // the earlier setting; for values, the present one
	To     []string                  `json:"to,omitempty"`
	At     string                    `json:"at,omitempty"` // the separator at which a text is split
	values map[string]*jsondoc.Value // new values by old ones, in the notation of written
}

// The keys of an entry of "changes", by its kind.
var changeKeys = map[string][]jsondoc.Key{
	"rename": {{Name: "rename", Must: true, Is: []jsondoc.Kind{jsondoc.String}}, {Name: "to", Must: true, Is: []jsondoc.Kind{jsondoc.String}}},
	"drop":   {{Name: "drop", Must: true, Is: []jsondoc.Kind{jsondoc.String}}},
	"split":  {{Name: "split", Must: true, Is: []jsondoc.Kind{jsondoc.String}}, {Name: "at", Must: true, Is: []jsondoc.Kind{jsondoc.String}}, {Name: "into", Must: true, Is: []jsondoc.Kind{jsondoc.Array}}},
	"values": {{Name: "values", Must: true, Is: []jsondoc.Kind{jsondoc.String}}, {Name: "become", Must: true, Is: []jsondoc.Kind{jsondoc.Object}}},
}

// ChangeKinds lists the kinds of changes, for the reference page.
var ChangeKinds = [][2]string{
	{`{"rename": "accent", "to": "tone"}`, "the setting has a new key"},
	{`{"drop": "shade"}`, "the setting no longer exists; customers' values are kept, but not shown"},
	{`{"split": "name", "at": " ", "into": ["first", "last"]}`, "a text becomes two or more settings; the last one gets the rest"},
	{`{"values": "layout", "become": {"row": "line"}}`, "the values of a setting have new names"},
}

func (schema *Schema) readChanges(v *jsondoc.Value) (faults fault.List) {
	if v == nil || v.Kind != jsondoc.Array {
		return nil
	}
	sources := map[string]bool{}
	for _, item := range v.Items {
		for _, kind := range []string{"rename", "drop", "split"} {
			sources[item.TextOf(kind)] = true
		}
	}
	for _, item := range v.Items {
		kind := ""
		for k := range changeKeys {
			if item.Get(k) != nil {
				kind = k
			}
		}
		if kind == "" {
			faults = append(faults, item.Fault(fault.SchemaUnusable, "changes", "This change does not say what happens to a setting.", `Write {"rename": "accent", "to": "tone"}, {"drop": "shade"}, {"split": …} or {"values": …}.`))
			continue
		}
		more := item.Expect("a change", changeKeys[kind])
		if faults = append(faults, more...); len(more) > 0 {
			continue
		}
		c := Change{Kind: kind, From: item.TextOf(kind)}
		declared := func(key string, at *jsondoc.Value) {
			if schema.Get(key) == nil && !sources[key] {
				faults = append(faults, at.Fault(fault.SettingUnknown, key, fmt.Sprintf("There is no setting %q in this schema.", key), fault.DidYouMean(key, schema.Keys())))
			}
		}
		if kind != "values" && schema.Get(c.From) != nil {
			faults = append(faults, item.Get(kind).Fault(fault.SchemaUnusable, c.From, fmt.Sprintf("%q is a setting of this release, so it cannot be an old key.", c.From), "Name the key in older releases."))
		}
		switch kind {
		case "rename":
			c.To = []string{item.TextOf("to")}
			declared(c.To[0], item.Get("to"))
		case "split":
			if c.At = item.TextOf("at"); c.At == "" {
				faults = append(faults, item.Get("at").Fault(fault.SchemaUnusable, c.From, "The split has no \"at\".", `Write "at": " ".`))
			}
			for _, into := range item.Get("into").Items {
				c.To = append(c.To, into.Text)
				declared(into.Text, into)
			}
			if len(c.To) < 2 {
				faults = append(faults, item.Get("into").Fault(fault.SchemaUnusable, c.From, "A split needs at least two settings.", `Write "into": ["first", "last"].`))
			}
		case "values":
			declared(c.From, item.Get("values"))
			c.values = map[string]*jsondoc.Value{}
			for _, m := range item.Get("become").Members {
				c.values[m.Key] = m.Value
			}
		}
		schema.Changes = append(schema.Changes, c)
	}
	return faults
}

// written returns a value in the notation of the keys of "become".
func written(v *jsondoc.Value) string {
	switch v.Kind {
	case jsondoc.String, jsondoc.Number:
		return v.Text
	case jsondoc.Boolean:
		return strconv.FormatBool(v.Bool)
	}
	return ""
}

// Carry converts stored settings of any release into settings of this one, in place. A converted
// value never replaces one that is already set. With keep, the old values stay too, so that a
// return to an older release finds them.
func (schema *Schema) Carry(doc *jsondoc.Value, keep bool) {
	if len(schema.Changes) == 0 || doc == nil || doc.Kind != jsondoc.Object {
		return
	}
	schema.carry(doc, keep)
	if small := doc.Get(SmallKey); small != nil && small.Kind == jsondoc.Object {
		schema.carry(small, keep)
	}
}

func (schema *Schema) carry(doc *jsondoc.Value, keep bool) {
	for _, c := range schema.Changes {
		i := slices.IndexFunc(doc.Members, func(m jsondoc.Member) bool { return m.Key == c.From })
		if i < 0 {
			continue
		}
		old := doc.Members[i]
		if c.Kind == "values" {
			if become := c.values[written(old.Value)]; become != nil {
				fresh := become.Clone()
				fresh.Line, fresh.Column = old.Value.Line, old.Value.Column
				doc.Members[i].Value = fresh
			}
			continue
		}
		put := func(key string, v *jsondoc.Value) {
			if doc.Get(key) == nil {
				doc.Members = append(doc.Members, jsondoc.Member{Key: key, Line: old.Line, Column: old.Column, Value: v})
			}
		}
		switch c.Kind {
		case "rename":
			put(c.To[0], old.Value)
		case "split":
			if old.Value.Kind == jsondoc.String {
				parts := strings.SplitN(old.Value.Text, c.At, len(c.To))
				for j, part := range parts {
					v := *old.Value
					v.Text = strings.TrimSpace(part)
					put(c.To[j], &v)
				}
			}
		}
		if !keep {
			doc.Members = slices.DeleteFunc(doc.Members, func(m jsondoc.Member) bool { return m.Key == c.From })
		}
	}
}

// Carried converts stored settings of any release for this one. It reports a fault for each value
// that this release does not accept and no change explains. stored stays as it is.
func (schema *Schema) Carried(stored Values) (Values, fault.List) {
	doc := jsondoc.Of(map[string]any(stored))
	schema.Carry(doc, false)
	return schema.Check(doc)
}

// CarriedWhole converts stored settings of any release for this one, and keeps everything else that
// they contain. It checks nothing. stored stays as it is.
func (schema *Schema) CarriedWhole(stored Values) Values {
	doc := jsondoc.Of(map[string]any(stored))
	schema.Carry(doc, true)
	return doc.Decoded().(map[string]any)
}

// Sources lists the earlier names of a setting. When its value is deleted, their values must go
// too, or the old value would return.
func (schema *Schema) Sources(key string) (list []string) {
	for i := len(schema.Changes) - 1; i >= 0; i-- {
		c := schema.Changes[i]
		for _, to := range c.To {
			if to == key || slices.Contains(list, to) {
				list = append(list, c.From)
			}
		}
	}
	return list
}
