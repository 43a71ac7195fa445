package feed

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"glasspocket/internal/clip"
	"glasspocket/internal/item"
)

func isJSON(d *Document) bool {
	head := d.head()
	return strings.HasPrefix(head, "{") || strings.HasPrefix(head, "[")
}

// ListKey is the key of a mapping for the JSON Pointer of the list of items.
const ListKey = "items"

// readJSON makes an item of each object of a list in a JSON document. The mapping has the list's
// place, and the place of each field in an object, as JSON Pointers (RFC 6901).
func readJSON(_ context.Context, d *Document, o Options) (*Found, error) {
	root, err := anyJSON(d)
	if err != nil {
		return nil, err
	}
	mapping := o.Mapping
	if len(mapping) == 0 {
		out, _ := outlineJSON(d, o)
		mapping = out.Mapping
	}
	place := mapping[ListKey]
	at, ok := pointed(root, place)
	list, isList := at.([]any)
	if !isList && place == "" {
		return nil, &Error{What: d.named() + " is JSON without a list of objects.", Hint: "Enter the address of a list."}
	}
	if !ok || !isList {
		return nil, &Error{What: fmt.Sprintf("There is no list at “%s”.", clip.Input(place)), Hint: "Choose the list of the items again. Lists are at " + quoted(listsIn(root, "", 0)) + "."}
	}
	if len(mapping) == 1 || len(mapping) == 0 {
		return nil, &Error{What: "The service does not know which values to show.", Hint: "Choose a value for each field."}
	}
	f := &Found{}
	found := map[string]bool{}
	for _, each := range list[:min(len(list), ItemsMost)] {
		it := fill(d, f, o.Kind, func(field string) string {
			pointer, mapped := mapping[field]
			if !mapped {
				return ""
			}
			v, ok := pointed(each, pointer)
			if ok {
				found[field] = true
			}
			return joined(v)
		})
		if !empty(&it) {
			f.Items = append(f.Items, it)
		}
	}
	for _, field := range Fields {
		if pointer, mapped := mapping[field.Name]; mapped && !found[field.Name] && len(list) > 0 {
			if field.Name == "title" || field.Name == "text" {
				return nil, &Error{What: fmt.Sprintf("No item has “%s” any more, which is shown as %s.", clip.Input(pointer), strings.ToLower(field.Label)), Hint: "Check the mapping: the source may have renamed it."}
			}
			f.repair("No item has “%s” (%s).", clip.Input(pointer), strings.ToLower(field.Label))
		}
	}
	return f, nil
}

func anyJSON(d *Document) (v any, err error) {
	decoder := json.NewDecoder(strings.NewReader(strings.TrimPrefix(d.Text(), "\ufeff")))
	decoder.UseNumber()
	if err := decoder.Decode(&v); err != nil {
		return nil, brokenJSON(d, err)
	}
	return v, nil
}

// pointed returns the value at a JSON Pointer (RFC 6901).
func pointed(v any, pointer string) (any, bool) {
	if pointer == "" || pointer == "/" && !isObject(v) {
		return v, true
	}
	for token := range strings.SplitSeq(strings.TrimPrefix(pointer, "/"), "/") {
		token = strings.ReplaceAll(strings.ReplaceAll(token, "~1", "/"), "~0", "~")
		switch at := v.(type) {
		case map[string]any:
			next, ok := at[token]
			if !ok {
				return nil, false
			}
			v = next
		case []any:
			i, err := strconv.Atoi(token)
			if err != nil || i < 0 || i >= len(at) {
				return nil, false
			}
			v = at[i]
		default:
			return nil, false
		}
	}
	return v, true
}

func isObject(v any) bool { _, ok := v.(map[string]any); return ok }

// joined returns a value as text: a list with commas.
func joined(v any) string {
	switch v := v.(type) {
	case string:
		return v
	case json.Number:
		return v.String()
	case bool:
		return strconv.FormatBool(v)
	case []any:
		var parts []string
		for _, each := range v {
			if text := joined(each); text != "" {
				parts = append(parts, text)
			}
		}
		return strings.Join(parts, ", ")
	}
	return ""
}

// escaped writes a key as a token of a JSON Pointer.
func escaped(key string) string {
	return strings.ReplaceAll(strings.ReplaceAll(key, "~", "~0"), "/", "~1")
}

// listsIn lists the pointers of the lists of objects in a document, the longest first.
func listsIn(v any, at string, depth int) (list []string) {
	if depth > 6 {
		return nil
	}
	lengths := map[string]int{}
	var look func(v any, at string, depth int)
	look = func(v any, at string, depth int) {
		if depth > 6 || len(lengths) >= 20 {
			return
		}
		switch v := v.(type) {
		case []any:
			if len(v) > 0 && isObject(v[0]) {
				lengths[at] = len(v)
			}
		case map[string]any:
			for key, inner := range v {
				look(inner, at+"/"+escaped(key), depth+1)
			}
		}
	}
	look(v, at, depth)
	for pointer := range lengths {
		list = append(list, pointer)
	}
	slices.SortFunc(list, func(a, b string) int {
		if lengths[a] != lengths[b] {
			return lengths[b] - lengths[a]
		}
		return strings.Compare(a, b)
	})
	return list
}

func outlineJSON(d *Document, o Options) (out Outline, err error) {
	root, err := anyJSON(d)
	if err != nil {
		return out, err
	}
	out.Lists = listsIn(root, "", 0)
	place, chosen := o.Mapping[ListKey]
	if !chosen && len(out.Lists) > 0 {
		place = out.Lists[0]
	}
	at, _ := pointed(root, place)
	list, _ := at.([]any)
	values := map[string][]string{}
	var order []string
	var look func(v any, at string, depth int)
	look = func(v any, at string, depth int) {
		switch v := v.(type) {
		case map[string]any:
			keys := make([]string, 0, len(v))
			for key := range v {
				keys = append(keys, key)
			}
			slices.Sort(keys)
			for _, key := range keys {
				if depth < 4 {
					look(v[key], at+"/"+escaped(key), depth+1)
				}
			}
			return
		case []any:
			if len(v) > 0 && isObject(v[0]) {
				look(v[0], at+"/0", depth+1)
				return
			}
		}
		if at == "" || len(order) >= 100 {
			return
		}
		if _, known := values[at]; !known {
			order = append(order, at)
		}
		if text := item.Line(joined(v), 80); text != "" && len(values[at]) < 3 {
			values[at] = append(values[at], text)
		} else if values[at] == nil {
			values[at] = []string{}
		}
	}
	for _, each := range list[:min(len(list), 20)] {
		look(each, "", 0)
	}
	for _, pointer := range order {
		out.Cells = append(out.Cells, Cell{pointer, values[pointer]})
	}
	if out.Mapping = o.Mapping; len(o.Mapping) <= 1 {
		names := map[string]string{} // pointer by its last words
		var columns []string
		for _, pointer := range order {
			name := strings.TrimSuffix(strings.ReplaceAll(strings.TrimPrefix(pointer, "/"), "/", " "), " name")
			if _, known := names[name]; !known {
				names[name] = pointer
				columns = append(columns, name)
			}
		}
		out.Mapping = map[string]string{ListKey: place}
		for field, name := range guess(columns) {
			out.Mapping[field] = names[name]
		}
	}
	return out, nil
}
