package setting

import (
	_ "embed"
	"fmt"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// items is the content of a widget that shows reviews, posts, dates, cards, people or notices: a list in the
// shared item model. The widget declares the kind and the fields that it shows. Items that somebody
// typed and items from an external source have the same form.
type items struct{}

// ItemKinds are the kinds of items.
var ItemKinds = []string{"review", "post", "date", "card", "person", "notice"}

//go:embed item.json
var itemJSON []byte

// ItemFields is the item model: every field of an item, in form order. The names follow schema.org
// where it has the term.
var ItemFields []*Setting

// readModel reads a model that is part of the service. It supports nested groups, which widgets do
// not have.
func readModel(src []byte) []*Setting {
	doc, faults := jsondoc.Read(src)
	if len(faults) > 0 {
		panic(faults.Error())
	}
	var read func(*jsondoc.Value) []*Setting
	read = func(v *jsondoc.Value) (fields []*Setting) {
		for _, m := range v.Get("properties").Members {
			s := &Setting{Key: m.Key, Type: m.Value.Get("glass").TextOf("type")}
			if _, nested := types[s.Type].(holder); nested {
				inner := m.Value
				if s.Many() {
					inner, s.MaxItems = inner.Get("items"), int(numberAt(m.Value, "maxItems", 1))
				}
				s.Fields = read(inner)
				s.Label, faults = message.ReadWords(m.Value.Get("glass").Get("label"), m.Key)
				s.Control = s.Type
			} else {
				s, faults = readSetting(m, context{})
			}
			if len(faults) > 0 {
				panic(m.Key + ": " + faults.Error())
			}
			s.nothing = s.Shape().Zero()
			fields = append(fields, s)
		}
		return fields
	}
	return read(doc)
}

// within returns a copy of fields for the widget whose folder has these assets.
func within(fields []*Setting, folder Folder) []*Setting {
	list := make([]*Setting, len(fields))
	for i, f := range fields {
		of := *f
		of.folder, of.Fields = folder, within(f.Fields, folder)
		list[i] = &of
	}
	return list
}

func (items) jsonTypes() []string { return []string{"array"} }
func (items) controls() []string  { return []string{"items"} }
func (items) keys() []string      { return []string{"items", "minItems", "maxItems"} }
func (items) glass() []string     { return []string{"kind", "kinds", "needs", "fields", "sortBy", "page"} }

func (items) read(s *Setting, v *jsondoc.Value) fault.List {
	faults := readLengths(s, v)
	glass := v.Get("glass")
	s.ItemKind, s.SortBy, s.Page = glass.TextOf("kind"), glass.TextOf("sortBy"), glass.TextOf("page")
	if !slices.Contains(ItemKinds, s.ItemKind) {
		faults = append(faults, at(glass, "kind").Fault(fault.SchemaUnusable, s.Key, "Items need a \"kind\".", fault.DidYouMean(s.ItemKind, ItemKinds)))
	}
	fields := glass.Get("fields")
	if fields == nil || len(fields.Items) == 0 {
		return append(faults, at(glass, "fields").Fault(fault.KeyMissing, s.Key, "Items need the \"fields\" that the widget shows.", `Add "fields": ["title", "text"] to "glass".`))
	}
	s.model = within(ItemFields, s.folder)
	for _, item := range fields.Items {
		f := named(s.model, item.Text)
		if f == nil {
			faults = append(faults, item.Fault(fault.SettingUnknown, s.Key, fmt.Sprintf("Items have no field %q.", item.Text), fault.DidYouMean(item.Text, keysOf(ItemFields))))
			continue
		}
		s.Fields = append(s.Fields, f)
	}
	return append(faults, s.readNeeds(glass)...)
}

// readNeeds reads which items the widget can show: of which other kinds, and with which fields.
func (s *Setting) readNeeds(glass *jsondoc.Value) (faults fault.List) {
	if kinds := glass.Get("kinds"); kinds != nil {
		s.Kinds = []string{s.ItemKind}
		for _, item := range kinds.Items {
			if !slices.Contains(ItemKinds, item.Text) {
				faults = append(faults, item.Fault(fault.ValueChoice, s.Key, fmt.Sprintf("There is no kind %q.", item.Text), fault.DidYouMean(item.Text, ItemKinds)))
			} else if !slices.Contains(s.Kinds, item.Text) {
				s.Kinds = append(s.Kinds, item.Text)
			}
		}
	}
	if needs := glass.Get("needs"); needs != nil {
		for _, item := range needs.Items {
			if named(s.Fields, item.Text) == nil {
				faults = append(faults, item.Fault(fault.SettingUnknown, s.Key, fmt.Sprintf("\"needs\" names %q, which is not in \"fields\".", item.Text), fault.DidYouMean(item.Text, keysOf(s.Fields))))
				continue
			}
			s.Needs = append(s.Needs, item.Text)
		}
	}
	return faults
}

func (items) shape(s *Setting) *shape.Type {
	return shape.ListOf(shape.Object("", fieldShapes(s.Fields, true)))
}

// check accepts every field of the model, so that an item loses nothing when another widget shows
// it. A widget also shows items of other kinds, as well as it can.
func (items) check(s *Setting, v *jsondoc.Value) (any, problems) { return checkItems(s, v, s.model) }
func (items) view(s *Setting, v any, w World) any                { return viewItems(s.Fields, v, w) }
func (items) refs(_ *Setting, v any) []string                    { return itemRefs(ItemFields, v) }

func (items) note() Note {
	return Note{"Content in the common item model, below.", `[{"id": "r1", "title": "Good", "rating": {"value": 5, "best": 5}}]`}
}

func (items) words(_ *Setting, v any, _ string) string { return itemsInWords(v) }

func (items) allows(s *Setting) string { return s.allowsItems() }

func (items) holds(s *Setting) ([]*Setting, bool) { return s.model, true }

// CheckItemFields checks some fields of an item, and brings them into their usual form.
func CheckItemFields(doc *jsondoc.Value) (map[string]any, fault.List) {
	if doc.Kind != jsondoc.Object {
		return nil, fault.List{doc.Fault(fault.ValueType, "", "The fields of an item are an object.", `Write {"title": "…"}.`)}
	}
	value, found := checkFields(doc, ItemFields, false)
	return value, found.faults(doc, "item", "")
}
