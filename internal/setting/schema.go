package setting

import (
	"bytes"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"sort"
	"strconv"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
)

// Dialect is the one JSON Schema dialect that settings.json may be written in.
const Dialect = "https://json-schema.org/draft/2020-12/schema"

// SettingsMost is how many settings a widget may declare.
const SettingsMost = 200

// KeyForm is what a setting's key must look like, so that it can be a template field,
// a custom property and a data attribute.
var KeyForm = regexp.MustCompile(`^[a-z][a-zA-Z0-9]{0,39}$`)

// The keys of settings.json, of a property, and of the annotation object "glass".
var (
	SchemaKeys = []jsondoc.Key{
		{Name: "$schema", Must: true, Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "$comment", Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "title", Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "description", Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "additionalProperties", Is: []jsondoc.Kind{jsondoc.Boolean}},
		{Name: "required", Is: []jsondoc.Kind{jsondoc.Array}},
		{Name: "properties", Must: true, Is: []jsondoc.Kind{jsondoc.Object}},
		{Name: "glass", Is: []jsondoc.Kind{jsondoc.Object}},
	}
	TopGlassKeys = []jsondoc.Key{{Name: "groups", Is: []jsondoc.Kind{jsondoc.Array}}}
	GroupKeys    = []jsondoc.Key{
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}},
	}
	commonKeys = []string{"type", "default", "title", "description", "$comment", "glass"}
	GlassKeys  = []jsondoc.Key{
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}},
		{Name: "help", Is: []jsondoc.Kind{jsondoc.Object}},
		{Name: "group", Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "order", Is: []jsondoc.Kind{jsondoc.Number}},
		{Name: "control", Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "unit", Is: []jsondoc.Kind{jsondoc.String}},
		{Name: "options", Is: []jsondoc.Kind{jsondoc.Object}},
		{Name: "look", Is: []jsondoc.Kind{jsondoc.Boolean}},
		{Name: "when", Is: []jsondoc.Kind{jsondoc.Object}},
	}
)

// ReadSchema reads settings.json. The schema is nil only when the text is no JSON object.
func ReadSchema(src []byte) (*Schema, fault.List) {
	doc, faults := jsondoc.Read(src)
	if doc == nil {
		return nil, faults
	}
	more := doc.Expect("the settings schema", SchemaKeys)
	faults = append(faults, more...)
	if doc.Kind != jsondoc.Object {
		return nil, faults
	}
	faults = append(faults, metaschema(src, doc)...)
	if d := doc.Get("$schema"); d != nil && d.Text != Dialect {
		faults = append(faults, d.Fault(fault.SchemaInvalid, "$schema", "The settings schema must be JSON Schema 2020-12.", fmt.Sprintf("Write %q.", Dialect)))
	}
	schema := &Schema{}
	faults = append(faults, schema.readGroups(doc.Get("glass"))...)
	required, more := readRequired(doc)
	faults = append(faults, more...)
	props := doc.Get("properties")
	if props == nil || props.Kind != jsondoc.Object {
		return schema, faults
	}
	if len(props.Members) > SettingsMost {
		faults = append(faults, props.Fault(fault.SchemaUnusable, "properties", fmt.Sprintf("A widget may have at most %d settings; these are %d.", SettingsMost, len(props.Members)), "Remove some."))
	}
	for _, m := range props.Members {
		s, more := schema.readSetting(m, required)
		faults = append(faults, more...)
		if s != nil {
			schema.Settings = append(schema.Settings, s)
		}
	}
	for key, place := range required {
		if props.Get(key) == nil {
			faults = append(faults, place.Fault(fault.SettingUnknown, key, fmt.Sprintf("\"required\" names %q, which is not a setting.", key), "Remove it or declare the setting."))
		}
	}
	faults = append(faults, schema.readWhen(props)...)
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
				schema.Groups = append(schema.Groups, Group{Name: g.TextOf("name"), Label: label})
			}
		}
	}
	if len(schema.Groups) == 0 {
		schema.Groups = []Group{{Name: "settings", Label: message.Words{"en": "Settings", "de": "Einstellungen"}}}
	}
	return faults
}

func readRequired(doc *jsondoc.Value) (map[string]*jsondoc.Value, fault.List) {
	required := map[string]*jsondoc.Value{}
	var faults fault.List
	if r := doc.Get("required"); r != nil {
		for _, item := range r.Items {
			if item.Kind != jsondoc.String {
				faults = append(faults, item.Fault(fault.WrongType, "required", "\"required\" lists setting keys as texts.", "Put the key in double quotes."))
				continue
			}
			required[item.Text] = item
		}
	}
	return required, faults
}

func (schema *Schema) readSetting(m jsondoc.Member, required map[string]*jsondoc.Value) (*Setting, fault.List) {
	var faults fault.List
	v := m.Value
	if !KeyForm.MatchString(m.Key) {
		faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.BadName,
			What: fmt.Sprintf("%q cannot be the key of a setting.", m.Key), Mend: "Start with a lower-case letter; then letters and digits, at most 40, as in cornerRadius."})
	}
	glass := v.Get("glass")
	if v.Kind != jsondoc.Object || glass == nil || glass.Kind != jsondoc.Object {
		return nil, append(faults, v.Fault(fault.KeyMissing, m.Key, fmt.Sprintf("The setting %q has no \"glass\" object.", m.Key), `Add "glass": {"type": "text", "label": {"en": "…"}}.`))
	}
	more := glass.Expect("\"glass\"", GlassKeys)
	faults = append(faults, more...)
	if len(more) > 0 {
		return nil, faults
	}
	s := &Setting{Key: m.Key, Line: m.Line, Column: m.Column, Type: glass.TextOf("type"), Unit: glass.TextOf("unit"), Group: glass.TextOf("group"), Control: glass.TextOf("control")}
	t, ok := types[s.Type]
	if !ok {
		return nil, append(faults, glass.Get("type").Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("There is no setting type %q.", s.Type), fault.DidYouMean(s.Type, TypeNames())))
	}
	keys := append(append([]string{}, commonKeys...), t.keys()...)
	for _, e := range v.Members {
		if !slices.Contains(keys, e.Key) {
			faults = append(faults, fault.Fault{Line: e.Line, Column: e.Column, Field: m.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("A %s setting has no keyword %q.", s.Type, e.Key), Mend: fault.DidYouMean(e.Key, keys)})
		}
	}
	if jt := v.TextOf("type"); !slices.Contains(t.jsonTypes(), jt) {
		faults = append(faults, at(v, "type").Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("A %s setting has the schema type %q, not %q.", s.Type, t.jsonTypes()[0], jt), fmt.Sprintf("Write \"type\": %q.", t.jsonTypes()[0])))
		return nil, faults
	}
	s.Label, more = message.ReadWords(glass.Get("label"), "label")
	faults = append(faults, more...)
	if h := glass.Get("help"); h != nil {
		s.Help, more = message.ReadWords(h, "help")
		faults = append(faults, more...)
	}
	if s.Group == "" {
		s.Group = schema.Groups[0].Name
	} else if names := schema.groupNames(); !slices.Contains(names, s.Group) {
		faults = append(faults, glass.Get("group").Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("There is no group %q.", s.Group), fault.DidYouMean(s.Group, names)))
	}
	s.Order = numberAt(glass, "order", 0)
	if s.Control == "" {
		s.Control = t.controls()[0]
	} else if !slices.Contains(t.controls(), s.Control) {
		faults = append(faults, glass.Get("control").Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("A %s setting has no control %q.", s.Type, s.Control), fault.DidYouMean(s.Control, t.controls())))
	}
	if u := glass.Get("unit"); u != nil && (s.Type != "number" || !slices.Contains(Units, s.Unit)) {
		faults = append(faults, u.Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("A %s setting cannot have the unit %q.", s.Type, s.Unit), "Numbers may have px, em, %, ch, deg, s, ms or fr."))
	}
	if l := glass.Get("look"); l != nil {
		s.Look = l.Bool
		if s.Look && cssTable[s.Type].As == "" {
			faults = append(faults, l.Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("A %s setting cannot reach the stylesheet.", s.Type), "Remove \"look\"."))
		}
	}
	faults = append(faults, t.read(s, v)...)
	s.Required = required[m.Key] != nil
	return s, append(faults, s.readDefault(v, t)...)
}

func (s *Setting) readDefault(v *jsondoc.Value, t kind) fault.List {
	d := v.Get("default")
	if d == nil {
		if s.Required {
			return nil
		}
		return fault.List{v.Fault(fault.NoDefault, s.Key, fmt.Sprintf("The setting %q is not required and has no default.", s.Key), "Add a \"default\", or list the key in \"required\".")}
	}
	value, p := t.check(s, d)
	if p != nil {
		return fault.List{d.Fault(p.code, s.Key, "The default does not fit: "+p.what, p.mend)}
	}
	s.Default = value
	return nil
}

func (schema *Schema) groupNames() []string {
	names := make([]string, len(schema.Groups))
	for i, g := range schema.Groups {
		names[i] = g.Name
	}
	return names
}

// refuse is a schema loader that loads nothing: a schema must never reach the network or a disk.
type refuse struct{}

func (refuse) Load(url string) (any, error) {
	return nil, fmt.Errorf("%s is not loaded from anywhere", url)
}

// metaschema reports where the document is not valid JSON Schema 2020-12.
func metaschema(src []byte, doc *jsondoc.Value) fault.List {
	plain, err := jsonschema.UnmarshalJSON(bytes.NewReader(src))
	if err != nil {
		return nil // duplicate keys and the like are reported already
	}
	c := jsonschema.NewCompiler()
	c.UseLoader(refuse{})
	c.DefaultDraft(jsonschema.Draft2020)
	if err := c.AddResource("settings.json", plain); err != nil {
		return nil
	}
	_, err = c.Compile("settings.json")
	if err == nil {
		return nil
	}
	var invalid *jsonschema.ValidationError
	var schemaErr *jsonschema.SchemaValidationError
	if errors.As(err, &schemaErr) && errors.As(schemaErr.Err, &invalid) {
		var faults fault.List
		seen := map[*jsondoc.Value]bool{}
		for _, leaf := range leaves(invalid) {
			place := find(doc, leaf.InstanceLocation)
			if seen[place] {
				continue
			}
			seen[place] = true
			faults = append(faults, place.Fault(fault.SchemaInvalid, last(leaf.InstanceLocation), "Not valid JSON Schema 2020-12: "+leaf.ErrorKind.LocalizedString(printer)+".", "See the keyword in the JSON Schema 2020-12 specification."))
		}
		return faults
	}
	return fault.List{doc.Fault(fault.SchemaInvalid, "", "Not usable as JSON Schema 2020-12: "+err.Error(), "Remove what the reference page of the format does not list.")}
}

func leaves(e *jsonschema.ValidationError) []*jsonschema.ValidationError {
	if len(e.Causes) == 0 {
		return []*jsonschema.ValidationError{e}
	}
	var all []*jsonschema.ValidationError
	for _, c := range e.Causes {
		all = append(all, leaves(c)...)
	}
	return all
}

func find(doc *jsondoc.Value, path []string) *jsondoc.Value {
	at := doc
	for _, step := range path {
		var next *jsondoc.Value
		if at.Kind == jsondoc.Array {
			if i, err := strconv.Atoi(step); err == nil && i < len(at.Items) {
				next = at.Items[i]
			}
		} else {
			next = at.Get(step)
		}
		if next == nil {
			return at
		}
		at = next
	}
	return at
}

func last(path []string) string {
	if len(path) == 0 {
		return ""
	}
	return path[len(path)-1]
}

// Prepare readies a schema whose settings came as JSON from a service rather than through
// ReadSchema.
func (schema *Schema) Prepare() error {
	for _, s := range schema.Settings {
		if types[s.Type] == nil {
			return fmt.Errorf("this program does not know the setting type %q; use one as new as the service", s.Type)
		}
		if s.Pattern != "" {
			re, err := regexp.Compile(s.Pattern)
			if err != nil {
				return err
			}
			s.pattern = re
		}
	}
	return nil
}
