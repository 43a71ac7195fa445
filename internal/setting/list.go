package setting

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"regexp"
	"strings"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Limits of a list's length.
const (
	ItemsDefault = 50  // if the schema gives no maxItems
	ItemsLargest = 500 // the largest maxItems
)

// IDKey is the member that identifies a list's item, whatever its position.
const IDKey = "id"

var idForm = regexp.MustCompile(`^[A-Za-z0-9_-]{1,64}$`)

// list is a list of groups of settings. Each item has an id that stays when items are moved,
// duplicated or deleted. An item without an id receives one.
type list struct{}

func (list) jsonTypes() []string { return []string{"array"} }
func (list) controls() []string  { return []string{"list"} }
func (list) keys() []string      { return []string{"items", "minItems", "maxItems"} }
func (list) glass() []string     { return nil }

func (list) read(s *Setting, v *jsondoc.Value) fault.List {
	faults := readLengths(s, v)
	items := v.Get("items")
	if items == nil || items.Kind != jsondoc.Object || items.TextOf("type") != "object" || items.Get("properties") == nil {
		return append(faults, at(v, "items").Fault(fault.SchemaUnusable, s.Key, "A list needs \"items\" of type object with properties.", `Add "items": {"type": "object", "properties": {"title": {…}}}.`))
	}
	faults = append(faults, items.Expect("\"items\"", itemsKeys)...)
	fields, more := readFields(items, nil, s.folder, s.Key)
	s.Fields = fields
	faults = append(faults, more...)
	if len(fields) == 0 && len(more) == 0 {
		faults = append(faults, items.Fault(fault.SchemaUnusable, s.Key, "The items of this list have no properties.", "Add at least one."))
	}
	return faults
}

var itemsKeys = []jsondoc.Key{
	{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}},
	{Name: "title", Is: []jsondoc.Kind{jsondoc.String}},
	{Name: "description", Is: []jsondoc.Kind{jsondoc.String}},
	{Name: "$comment", Is: []jsondoc.Kind{jsondoc.String}},
	{Name: "required", Is: []jsondoc.Kind{jsondoc.Array}},
	{Name: "properties", Must: true, Is: []jsondoc.Kind{jsondoc.Object}},
}

func readLengths(s *Setting, v *jsondoc.Value) fault.List {
	s.MinItems, s.MaxItems = int(numberAt(v, "minItems", 0)), int(numberAt(v, "maxItems", ItemsDefault))
	if s.MaxItems < 1 || s.MaxItems > ItemsLargest || s.MinItems > s.MaxItems {
		return fault.List{at(v, "maxItems").Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("maxItems must be between 1 and %d, and not less than minItems.", ItemsLargest), "Change maxItems or minItems.")}
	}
	return nil
}

func (list) shape(s *Setting) *shape.Type {
	return shape.ListOf(shape.Object("", fieldShapes(s.Fields, true)))
}

func fieldShapes(fields []*Setting, withID bool) map[string]*shape.Type {
	types := map[string]*shape.Type{}
	for _, f := range fields {
		types[f.Key] = f.Shape()
	}
	if withID {
		types[IDKey] = shape.Text
	}
	return types
}

func (list) check(s *Setting, v *jsondoc.Value) (any, problems) { return checkItems(s, v, s.Fields) }

// checkItems reads a list whose items have these fields.
func checkItems(s *Setting, v *jsondoc.Value, fields []*Setting) (any, problems) {
	if v.Kind != jsondoc.Array {
		return nil, wrongType(s, v, "a list", "Put the items in square brackets.")
	}
	if n := len(v.Items); n > s.MaxItems || n < s.MinItems {
		at := v
		if n > s.MaxItems {
			at = v.Items[s.MaxItems]
		}
		return nil, one(fault.ValueLength, fmt.Sprintf("%q has %s; %d to %d are allowed.", s.Key, countedItems(n), s.MinItems, s.MaxItems), "Delete or add some.").in(at, "")
	}
	items := make([]any, 0, len(v.Items))
	seen := map[string]bool{}
	var found problems
	for i, item := range v.Items {
		if len(found) >= fault.Most {
			break
		}
		value, ps := checkItem(s, item, fields, seen)
		found = append(found, ps.in(item, fmt.Sprint(i))...)
		items = append(items, value)
	}
	if found != nil {
		return nil, found
	}
	for _, item := range items {
		if m := item.(map[string]any); m[IDKey] == nil {
			m[IDKey] = newID(m, seen)
		}
	}
	return items, nil
}

func checkItem(s *Setting, v *jsondoc.Value, fields []*Setting, seen map[string]bool) (map[string]any, problems) {
	if v.Kind != jsondoc.Object {
		return nil, one(fault.ValueType, fmt.Sprintf("The items of %q must be objects, not %s.", s.Key, v.Kind.Named()), "Write { … }.")
	}
	value, found := checkFields(v, fields, true)
	if id := v.Get(IDKey); id != nil {
		switch {
		case id.Kind != jsondoc.String || !idForm.MatchString(id.Text):
			found = append(found, one(fault.BadName, "An item's ID must have 1 to 64 letters, digits, hyphens or underscores.", "Leave the ID out. The service then creates one.").in(id, IDKey)...)
		case seen[id.Text]:
			found = append(found, one(fault.ValueTwice, fmt.Sprintf("Two items have the ID %q.", id.Text), "Leave out the ID of the copy. The service then creates one.").in(id, IDKey)...)
		default:
			seen[id.Text] = true
			value[IDKey] = id.Text
		}
	}
	return value, found
}

// checkFields reads an object whose members are values of fields, and an id if withID is set.
func checkFields(v *jsondoc.Value, fields []*Setting, withID bool) (map[string]any, problems) {
	value := make(map[string]any, len(v.Members)+1)
	var found problems
	for _, m := range v.Members {
		if len(found) >= fault.Most {
			break
		}
		if withID && m.Key == IDKey {
			continue
		}
		field := named(fields, m.Key)
		if field == nil {
			found = append(found, one(fault.SettingUnknown, fmt.Sprintf("There is no field %q.", clip.Input(m.Key)), fault.DidYouMean(m.Key, keysOf(fields))).in(&jsondoc.Value{Line: m.Line, Column: m.Column}, m.Key)...)
			continue
		}
		if m.Value.Kind == jsondoc.Null {
			continue
		}
		of, ps := field.checkBrandRef(m.Value)
		if of == nil && ps == nil {
			of, ps = types[field.Type].check(field, m.Value)
		}
		found = append(found, ps.in(m.Value, m.Key)...)
		if ps == nil {
			value[m.Key] = of
		}
	}
	return value, found
}

// newID derives an id from the item's content, so that reading the same list twice gives the same
// ids. Later changes of the item keep the id.
func newID(item map[string]any, seen map[string]bool) string {
	written, _ := json.Marshal(item)
	for n := 0; ; n++ {
		sum := sha256.Sum256(fmt.Appendf(written, "%d", n))
		if id := hex.EncodeToString(sum[:])[:8]; !seen[id] {
			seen[id] = true
			return id
		}
	}
}

func (list) view(s *Setting, v any, w World) any { return viewItems(s.Fields, v, w) }

func viewItems(fields []*Setting, v any, w World) any {
	items, _ := v.([]any)
	seen := make([]any, 0, len(items))
	for _, item := range items {
		m, _ := item.(map[string]any)
		one := viewFields(fields, m, w)
		one[IDKey] = m[IDKey]
		seen = append(seen, one)
	}
	return seen
}

func viewFields(fields []*Setting, m map[string]any, w World) map[string]any {
	seen := make(map[string]any, len(fields)+1) // one more for the id
	for _, f := range fields {
		seen[f.Key] = f.View(m[f.Key], w)
	}
	return seen
}

func (list) refs(s *Setting, v any) (refs []string) { return itemRefs(s.Fields, v) }

func itemRefs(fields []*Setting, v any) (refs []string) {
	items, _ := v.([]any)
	for _, item := range items {
		m, _ := item.(map[string]any)
		refs = append(refs, fieldRefs(fields, m)...)
	}
	return refs
}

func fieldRefs(fields []*Setting, m map[string]any) (refs []string) {
	for _, f := range fields {
		if r, ok := types[f.Type].(refers); ok && m[f.Key] != nil {
			refs = append(refs, r.refs(f, m[f.Key])...)
		}
	}
	return refs
}

// Assets lists the digests of the uploaded assets in values, each once.
func (s *Schema) Assets(values Values) (digests []string) {
	all := fieldRefs(s.Settings, values)
	if small, _ := values[SmallKey].(map[string]any); small != nil {
		all = append(all, fieldRefs(s.Settings, small)...)
	}
	seen := map[string]bool{}
	for _, ref := range all {
		if !asset.OfFolder(ref) && !seen[ref] {
			seen[ref] = true
			digests = append(digests, ref)
		}
	}
	return digests
}

// Naming returns the key of the setting whose value names an asset, or "".
func (s *Schema) Naming(values Values, digest string) string {
	for _, set := range s.Settings {
		for _, ref := range fieldRefs([]*Setting{set}, values) {
			if ref == digest {
				return set.Key
			}
		}
	}
	return ""
}

// group is an object of settings. Only the item model has such objects; widgets do not.
type group struct{}

func (group) jsonTypes() []string                      { return []string{"object"} }
func (group) controls() []string                       { return []string{"group"} }
func (group) keys() []string                           { return nil }
func (group) glass() []string                          { return nil }
func (group) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (group) shape(s *Setting) *shape.Type             { return shape.Object("", fieldShapes(s.Fields, false)) }
func (group) refs(s *Setting, v any) []string {
	m, _ := v.(map[string]any)
	return fieldRefs(s.Fields, m)
}

func (group) view(s *Setting, v any, w World) any {
	m, _ := v.(map[string]any)
	return viewFields(s.Fields, m, w)
}

func (group) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.Object {
		return nil, wrongType(s, v, "an object", "Write "+exampleOf(s.Fields)+".")
	}
	return whole(checkFields(v, s.Fields, false))
}

func exampleOf(fields []*Setting) string {
	var parts []string
	for _, f := range fields {
		parts = append(parts, fmt.Sprintf("%q: …", f.Key))
	}
	return "{" + strings.Join(parts, ", ") + "}"
}

func (list) note() Note {
	return Note{"A list of groups of settings. `items` is an object with `properties` like those of the schema. Each item keeps its `id` when it moves; the service creates a missing `id`.", `[{"id": "1f2e3d4c", "title": "One"}]`}
}

func (list) words(_ *Setting, v any, _ string) string { return itemsInWords(v) }

func (list) allows(s *Setting) string { return s.allowsItems() }

func (list) holds(s *Setting) ([]*Setting, bool) { return s.Fields, true }

// complete fills in the items' defaults. Fields of the item model have none.
func (list) complete(set *Setting, v any, at string, faults *fault.List) any {
	items, _ := v.([]any)
	done := make([]any, len(items))
	for i, item := range items {
		m, _ := item.(map[string]any)
		full, more := complete(set.Fields, m, fmt.Sprintf("%s/%d/", at, i))
		*faults = append(*faults, more...)
		full[IDKey] = m[IDKey]
		done[i] = map[string]any(full)
	}
	return done
}

func (group) note() Note { return Note{} }

func (group) holds(s *Setting) ([]*Setting, bool) { return s.Fields, false }
