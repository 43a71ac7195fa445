package setting

import (
	"fmt"
	"regexp"
	"slices"
	"sort"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
)

// Dialect is the JSON Schema dialect of settings.json.
const Dialect = "https://json-schema.org/draft/2020-12/schema"

// SettingsMost is the largest number of settings in a widget.
const SettingsMost = 200

// ReadSchema reads settings.json. folder has the assets of the widget's folder. The schema is nil
// only if the text is not a JSON object.
func ReadSchema(src []byte, folder Folder) (*Schema, fault.List) {
	doc, faults := jsondoc.Read(src)
	if doc == nil {
		return nil, faults
	}
	faults = append(faults, doc.Expect("the settings schema", SchemaKeys)...)
	if doc.Kind != jsondoc.Object {
		return nil, faults
	}
	if refs := references(doc); len(refs) > 0 {
		faults = append(faults, refs...)
	} else {
		faults = append(faults, metaschema(src, doc)...)
	}
	if d := doc.Get("$schema"); d != nil && d.Text != Dialect {
		faults = append(faults, d.Fault(fault.SchemaInvalid, "$schema", "The settings schema must be JSON Schema 2020-12.", fmt.Sprintf("Write %q.", Dialect)))
	}
	if folder == nil {
		folder = Folder{}
	}
	schema := &Schema{folder: folder}
	faults = append(faults, schema.readGroups(doc.Get("glass"))...)
	if props := doc.Get("properties"); props == nil || props.Kind != jsondoc.Object {
		return schema, faults
	}
	settings, more := readFields(doc, schema.Groups, folder, "")
	schema.Settings = settings
	faults = append(faults, more...)
	if glass := doc.Get("glass"); glass != nil {
		faults = append(faults, schema.readChanges(glass.Get("changes"))...)
	}
	if closed := doc.Get("additionalProperties"); closed != nil && !closed.Bool && doc.Get("properties").Get(SmallKey) == nil {
		if i := slices.IndexFunc(settings, func(s *Setting) bool { return s.Small }); i >= 0 {
			faults = append(faults, closed.Fault(fault.SchemaUnusable, SmallKey, fmt.Sprintf("%q can differ on small screens, and other validators would refuse such values.", settings[i].Key), `Add "small": {"type": "object"} to "properties".`))
		}
	}
	schema.placeGroups()
	rank := map[string]int{}
	for i, g := range schema.Groups {
		rank[g.Name] = i
	}
	sort.SliceStable(schema.Settings, func(i, j int) bool {
		a, b := schema.Settings[i], schema.Settings[j]
		if rank[a.Group] != rank[b.Group] {
			return rank[a.Group] < rank[b.Group]
		}
		return a.Order < b.Order
	})
	return schema, faults
}

// readFields reads the properties of v, an object of the schema: the top level, or the items of the
// list of.
func readFields(v *jsondoc.Value, groups []Group, folder Folder, of string) (list []*Setting, faults fault.List) {
	required, faults := readRequired(v)
	props := v.Get("properties")
	if len(props.Members) > SettingsMost {
		faults = append(faults, props.Fault(fault.SchemaUnusable, "properties", fmt.Sprintf("A widget can have at most %d settings; this one has %d.", SettingsMost, len(props.Members)), "Delete some."))
	}
	for _, m := range props.Members {
		if m.Key == SmallKey && of == "" && m.Value.Get("glass") == nil && m.Value.TextOf("type") == "object" {
			continue // declared for other validators; its content is known
		}
		s, more := readSetting(m, context{required: required[m.Key] != nil, groups: groups, folder: folder, of: of})
		faults = append(faults, more...)
		if s != nil {
			list = append(list, s)
		}
	}
	for key, place := range required {
		if props.Get(key) == nil {
			faults = append(faults, place.Fault(fault.SettingUnknown, key, fmt.Sprintf("\"required\" names %q, which is not a setting.", key), "Delete it, or declare the setting."))
		}
	}
	return list, append(faults, readRelations(props, list)...)
}

func (schema *Schema) readGroups(glass *jsondoc.Value) (faults fault.List) {
	if glass != nil && glass.Kind == jsondoc.Object {
		faults = append(faults, glass.Expect("the schema's \"glass\"", TopGlassKeys)...)
		if groups := glass.Get("groups"); groups != nil {
			for _, g := range groups.Items {
				more := g.Expect("a group", GroupKeys)
				faults = append(faults, more...)
				if len(more) > 0 {
					continue
				}
				label, more := message.ReadWords(g.Get("label"), "label")
				faults = append(faults, more...)
				part := g.TextOf("part")
				if part != "" && !slices.Contains(Parts, part) {
					faults = append(faults, g.Get("part").Fault(fault.ValueChoice, "part", fmt.Sprintf("The editor has no section %q.", part), fault.DidYouMean(part, Parts)))
				}
				schema.Groups = append(schema.Groups, Group{Name: g.TextOf("name"), Label: label, Part: part})
			}
		}
	}
	if len(schema.Groups) == 0 {
		schema.Groups = []Group{{Name: "settings", Label: message.Words{"en": "Settings", "de": "Einstellungen"}}}
	}
	return faults
}

// placeGroups assigns groups without a part of the form to one: groups whose settings reach the
// stylesheet to the look, and nearly all others to the content.
func (schema *Schema) placeGroups() {
	for i, g := range schema.Groups {
		if g.Part != "" {
			continue
		}
		look, all := 0, 0
		for _, s := range schema.Settings {
			if s.Group == g.Name {
				all++
				if s.Look {
					look++
				}
			}
		}
		schema.Groups[i].Part = "says"
		if look*2 > all {
			schema.Groups[i].Part = "looks"
		}
	}
}

func readRequired(doc *jsondoc.Value) (map[string]*jsondoc.Value, fault.List) {
	required := map[string]*jsondoc.Value{}
	var faults fault.List
	if r := doc.Get("required"); r != nil {
		for _, item := range r.Items {
			if item.Kind != jsondoc.String {
				faults = append(faults, item.Fault(fault.WrongType, "required", "\"required\" must list the keys of settings as strings.", "Put the key in double quotes."))
				continue
			}
			required[item.Text] = item
		}
	}
	return required, faults
}

func groupNames(groups []Group) []string {
	names := make([]string, len(groups))
	for i, g := range groups {
		names[i] = g.Name
	}
	return names
}

// Prepare completes a schema whose settings came as JSON from a service instead of from ReadSchema.
func (schema *Schema) Prepare() error { return prepare(schema.Settings) }

func prepare(list []*Setting) error {
	for _, s := range list {
		if types[s.Type] == nil {
			return fmt.Errorf("this program does not know the setting type %q. Use the same version as the service", s.Type)
		}
		if s.Pattern != "" {
			re, err := regexp.Compile(s.Pattern)
			if err != nil {
				return err
			}
			s.pattern = re
		}
		if s.ItemKind != "" {
			s.model = ItemFields
		}
		if err := prepare(s.Fields); err != nil {
			return err
		}
	}
	return nil
}
