package compare

import (
	"fmt"
	"reflect"
	"slices"

	"glasspocket/internal/setting"
)

// ValueChange is a setting whose value changed, described in words.
type ValueChange struct {
	Key    string `json:"key"` // "small/KEY" for the value on small screens
	Label  string `json:"label"`
	Group  string `json:"group"` // label of its group
	Before string `json:"before"`
	After  string `json:"after"`
	// Colours says that before and after are colours, and can be shown as such.
	Colours bool         `json:"colours,omitempty"`
	Items   []ItemChange `json:"items,omitempty"` // of a list
}

// ItemChange is an item of a list that was added, removed, moved or changed.
type ItemChange struct {
	Name string        `json:"name"` // the text by which people recognise it
	Kind string        `json:"kind"` // added, removed, changed or moved
	What []ValueChange `json:"what,omitempty"`
}

// Moved is the kind of an unchanged item in another position.
const Moved = "moved"

// Values lists the changes from before to after in form order. Both must be complete. Settings
// without effect on either side are left out.
func Values(schema *setting.Schema, before, after setting.Values, language string) []ValueChange {
	groups := map[string]string{}
	for _, g := range schema.Groups {
		groups[g.Name] = g.Label.In(language)
	}
	list := []ValueChange{}
	small := func(v setting.Values) map[string]any {
		m, _ := v[setting.SmallKey].(map[string]any)
		return m
	}
	for _, s := range schema.Settings {
		if c, differ := value(s, before[s.Key], after[s.Key], language); differ && (s.Matters(before) || s.Matters(after)) {
			c.Group = groups[s.Group]
			list = append(list, c)
		}
		was, had := small(before)[s.Key]
		is, has := small(after)[s.Key]
		if !had && !has {
			continue
		}
		if c, differ := value(s, was, is, language); differ || had != has {
			c.Key, c.Label, c.Group = setting.SmallKey+"/"+s.Key, label(s)+" on small screens", groups[s.Group]
			if !had {
				c.Before = "the same"
			}
			if !has {
				c.After = "the same"
			}
			list = append(list, c)
		}
	}
	return list
}

func value(s *setting.Setting, before, after any, language string) (c ValueChange, differ bool) {
	if reflect.DeepEqual(before, after) {
		return c, false
	}
	c = ValueChange{Key: s.Key, Label: label(s), Before: s.InWords(before, language), After: s.InWords(after, language), Colours: s.IsColour()}
	if s.Many() {
		if c.Before == c.After {
			c.After += ", changed"
		}
		c.Items = items(s, before, after, language)
	}
	return c, true
}

// items compares two lists by the ids of their items.
func items(s *setting.Setting, before, after any, language string) (changes []ItemChange) {
	was, is := list(before), list(after)
	id := func(item map[string]any) any { return item[setting.IDKey] }
	find := func(in []map[string]any, wanted any) int {
		return slices.IndexFunc(in, func(item map[string]any) bool { return id(item) == wanted })
	}
	var stayed []any // ids in both lists, in the order of before
	for _, item := range was {
		if find(is, id(item)) >= 0 {
			stayed = append(stayed, id(item))
		} else {
			changes = append(changes, ItemChange{Name: name(s, item), Kind: Removed})
		}
	}
	place := 0
	for _, item := range is {
		i := find(was, id(item))
		if i < 0 {
			changes = append(changes, ItemChange{Name: name(s, item), Kind: Added})
			continue
		}
		change := ItemChange{Name: name(s, item), Kind: Changed}
		change.What = fields(s.Inner(), was[i], item, language)
		moved := place < len(stayed) && stayed[place] != id(item)
		if moved {
			change.Kind = Moved
			stayed = slices.DeleteFunc(stayed, func(other any) bool { return other == id(item) })
			stayed = slices.Insert(stayed, place, id(item))
		}
		place++
		if moved || len(change.What) > 0 {
			changes = append(changes, change)
		}
	}
	return changes
}

// fields lists the changes of one item. Fields in a group are named by both labels.
func fields(list []*setting.Setting, before, after map[string]any, language string) (what []ValueChange) {
	for _, f := range list {
		if inner, many := f.Holds(); inner == nil || many {
			if c, differ := value(f, before[f.Key], after[f.Key], language); differ {
				what = append(what, c)
			}
			continue
		}
		was, _ := before[f.Key].(map[string]any)
		is, _ := after[f.Key].(map[string]any)
		for _, c := range fields(f.Fields, was, is, language) {
			c.Key, c.Label = f.Key+"/"+c.Key, label(f)+", "+c.Label
			what = append(what, c)
		}
	}
	return what
}

func list(v any) []map[string]any {
	items, _ := v.([]any)
	all := make([]map[string]any, 0, len(items))
	for _, item := range items {
		if m, ok := item.(map[string]any); ok {
			all = append(all, m)
		}
	}
	return all
}

// name returns the text by which people recognise an item: its first text that is not empty.
func name(s *setting.Setting, item map[string]any) string {
	for _, f := range s.Inner() {
		if f.Names() {
			if words := f.InWords(item[f.Key], "en"); words != "" {
				return words
			}
		}
		if group, ok := item[f.Key].(map[string]any); ok && f.Fields != nil && group["name"] != nil {
			return fmt.Sprint(group["name"])
		}
	}
	return fmt.Sprintf("item %v", item[setting.IDKey])
}
