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
		{Name: "$schema", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`https://json-schema.org/draft/2020-12/schema`"},
		{Name: "$comment", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "title", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "description", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`\"object\"`"},
		{Name: "required", Is: []jsondoc.Kind{jsondoc.Array}, About: "keys without which nothing can be published"},
		{Name: "properties", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the settings by key, at most 200"},
		{Name: "additionalProperties", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "for other validators; with `false` declare `\"small\": {\"type\": \"object\"}` too when a setting may differ on small screens"},
		{Name: "glass", Is: []jsondoc.Kind{jsondoc.Object}, About: "our annotations, below"},
	}
	TopGlassKeys = []jsondoc.Key{{Name: "groups", Is: []jsondoc.Kind{jsondoc.Array}, About: "the form's headings in order, below"}}
	GroupKeys    = []jsondoc.Key{
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "what a setting's `group` names"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the heading, by language"},
	}
	commonKeys = []string{"type", "default", "title", "description", "$comment", "glass"}
	// GlassKeys are those of "glass" in a setting. Some belong to some types only.
	GlassKeys = []jsondoc.Key{
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "the setting type, below"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "what the form calls it, by language"},
		{Name: "help", Is: []jsondoc.Kind{jsondoc.Object}, About: "a sentence below the field, by language"},
		{Name: "group", Is: []jsondoc.Kind{jsondoc.String}, About: "the name of its group; the first when left out"},
		{Name: "order", Is: []jsondoc.Kind{jsondoc.Number}, About: "its place in the group, small first"},
		{Name: "control", Is: []jsondoc.Kind{jsondoc.String}, About: "how the form shows it; the first listed when left out"},
		{Name: "when", Is: []jsondoc.Kind{jsondoc.Object}, About: "other settings and the values of theirs with which this one matters, one or a list: `{\"clock\": \"visitor\"}`. Otherwise the form leaves it out, and it may lack a value though it is required"},
		{Name: "look", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true when it reaches the stylesheet; see “In the stylesheet”"},
		{Name: "small", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true when it may differ on small screens; see “On small screens”"},
		{Name: "inherit", Is: []jsondoc.Kind{jsondoc.String}, About: "the CSS property that comes from the page when the value is `\"inherit\"`; see “As the page has it”"},
		{Name: "override", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true when a mount point may give it another value: `data-set-NAME=\"…\"`"},
		{Name: "unit", Is: []jsondoc.Kind{jsondoc.String}, About: "of a number: what CSS writes behind it: `px`, `em`, `%`, `ch`, `deg`, `s`, `ms`, `fr`"},
		{Name: "units", Is: []jsondoc.Kind{jsondoc.Array}, About: "of a length: those it may have: `px`, `em`, `%`, `ch`, `vw`, `vh`; the first three when left out"},
		{Name: "minimum", Is: []jsondoc.Kind{jsondoc.Number}, About: "of a length, a spacing or a duration (seconds): the smallest number"},
		{Name: "maximum", Is: []jsondoc.Kind{jsondoc.Number}, About: "of those: the largest"},
		{Name: "options", Is: []jsondoc.Kind{jsondoc.Object}, About: "of a choice or several: the label of each value, by language"},
		{Name: "pictures", Is: []jsondoc.Kind{jsondoc.Object}, About: "of a choice with the control `pictures`: an asset of the folder for each value"},
		{Name: "on", Is: []jsondoc.Kind{jsondoc.String}, About: "of a colour: the colour setting that it is read on; its contrast is looked at"},
		{Name: "kind", Is: []jsondoc.Kind{jsondoc.String}, About: "of items: `review`, `post`, `date`, `card` or `person`"},
		{Name: "fields", Is: []jsondoc.Kind{jsondoc.Array}, About: "of items: the fields of the item model that the widget shows"},
	}
	// someGlass are the keys of "glass" that only some types have.
	someGlass = []string{"unit", "units", "minimum", "maximum", "options", "pictures", "on", "kind", "fields"}
)

// Inheritable are the CSS properties that a widget may let in from the page: those that
// are inherited anyway (CSS Cascading and Inheritance 4).
var Inheritable = []string{"color", "font-family", "font-size", "font-style", "font-weight", "letter-spacing", "line-height", "text-align", "text-transform", "word-spacing"}

// ReadSchema reads settings.json. folder are the assets of the widget's folder. The schema
// is nil only when the text is no JSON object.
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
	if closed := doc.Get("additionalProperties"); closed != nil && !closed.Bool && doc.Get("properties").Get(SmallKey) == nil {
		if i := slices.IndexFunc(settings, func(s *Setting) bool { return s.Small }); i >= 0 {
			faults = append(faults, closed.Fault(fault.SchemaUnusable, SmallKey, fmt.Sprintf("%q may differ on small screens, and no other validator would take that.", settings[i].Key), `Add "small": {"type": "object"} to "properties".`))
		}
	}
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

// readFields reads the properties of v, an object of the schema: its top, or what the
// items of the list called of are.
func readFields(v *jsondoc.Value, groups []Group, folder Folder, of string) (list []*Setting, faults fault.List) {
	required, faults := readRequired(v)
	props := v.Get("properties")
	if len(props.Members) > SettingsMost {
		faults = append(faults, props.Fault(fault.SchemaUnusable, "properties", fmt.Sprintf("A widget may have at most %d settings; these are %d.", SettingsMost, len(props.Members)), "Remove some."))
	}
	for _, m := range props.Members {
		if m.Key == SmallKey && of == "" && m.Value.Get("glass") == nil && m.Value.TextOf("type") == "object" {
			continue // declared for other validators; what it holds is known
		}
		s, more := readSetting(m, context{required: required[m.Key] != nil, groups: groups, folder: folder, of: of})
		faults = append(faults, more...)
		if s != nil {
			list = append(list, s)
		}
	}
	for key, place := range required {
		if props.Get(key) == nil {
			faults = append(faults, place.Fault(fault.SettingUnknown, key, fmt.Sprintf("\"required\" names %q, which is not a setting.", key), "Remove it or declare the setting."))
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

// context is what surrounds a setting that is being read.
type context struct {
	required bool
	groups   []Group // nil within a list
	folder   Folder
	of       string // the list that it belongs to, or ""
}

func readSetting(m jsondoc.Member, c context) (*Setting, fault.List) {
	var faults fault.List
	v := m.Value
	unusable := func(at *jsondoc.Value, what, mend string) {
		faults = append(faults, at.Fault(fault.SchemaUnusable, m.Key, what, mend))
	}
	if !KeyForm.MatchString(m.Key) || m.Key == SmallKey || c.of != "" && m.Key == IDKey {
		mend := "Start with a lower-case letter; then letters and digits, at most 40, as in cornerRadius."
		if KeyForm.MatchString(m.Key) {
			mend = "The format keeps this word for itself; choose another."
		}
		faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.BadName, What: fmt.Sprintf("%q cannot be the key of a setting.", m.Key), Mend: mend})
	}
	if v.Get("$ref") != nil {
		return nil, faults // reported already
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
	s := &Setting{Key: m.Key, Type: glass.TextOf("type"), Unit: glass.TextOf("unit"), Group: glass.TextOf("group"), Control: glass.TextOf("control"), On: glass.TextOf("on"),
		Required: c.required, folder: c.folder, Line: m.Line, Column: m.Column}
	t, ok := types[s.Type]
	if !ok || s.Type == "group" {
		unusable(glass.Get("type"), fmt.Sprintf("There is no setting type %q.", s.Type), fault.DidYouMean(s.Type, TypeNames()))
		return nil, faults
	}
	if _, isList := t.(list); c.of != "" && (isList || s.Type == "items") {
		unusable(glass.Get("type"), fmt.Sprintf("The list %q cannot hold another list.", c.of), "Make the inner one a list of its own.")
		return nil, faults
	}
	keys := append(append([]string{}, commonKeys...), t.keys()...)
	for _, e := range v.Members {
		if !slices.Contains(keys, e.Key) {
			faults = append(faults, fault.Fault{Line: e.Line, Column: e.Column, Field: m.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("A %s setting has no keyword %q.", s.Type, e.Key), Mend: fault.DidYouMean(e.Key, keys)})
		}
	}
	for _, e := range glass.Members {
		if slices.Contains(someGlass, e.Key) && !slices.Contains(t.glass(), e.Key) {
			faults = append(faults, fault.Fault{Line: e.Line, Column: e.Column, Field: m.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("A %s setting has no %q.", s.Type, e.Key), Mend: "Remove it; the reference of the format lists what each type has."})
		}
	}
	inherits := s.readInherit(glass, &faults)
	if !s.jsonTypeFits(v.Get("type"), t, inherits) {
		want := strconv.Quote(t.jsonTypes()[0])
		if inherits && t.jsonTypes()[0] != "string" {
			want = fmt.Sprintf("[%s, \"string\"]", want)
		}
		unusable(at(v, "type"), fmt.Sprintf("A %s setting has the schema type %s here.", s.Type, want), fmt.Sprintf("Write \"type\": %s.", want))
		return nil, faults
	}
	s.Label, more = message.ReadWords(glass.Get("label"), "label")
	faults = append(faults, more...)
	if h := glass.Get("help"); h != nil {
		s.Help, more = message.ReadWords(h, "help")
		faults = append(faults, more...)
	}
	switch names := groupNames(c.groups); {
	case c.groups == nil && s.Group != "":
		unusable(glass.Get("group"), "The settings of a list's items have no groups.", "Remove \"group\"; \"order\" is enough.")
	case c.groups == nil:
	case s.Group == "":
		s.Group = c.groups[0].Name
	case !slices.Contains(names, s.Group):
		unusable(glass.Get("group"), fmt.Sprintf("There is no group %q.", s.Group), fault.DidYouMean(s.Group, names))
	}
	s.Order = numberAt(glass, "order", 0)
	if s.Control == "" {
		s.Control = t.controls()[0]
	} else if !slices.Contains(t.controls(), s.Control) {
		unusable(glass.Get("control"), fmt.Sprintf("A %s setting has no control %q.", s.Type, s.Control), fault.DidYouMean(s.Control, t.controls()))
	}
	if u := glass.Get("unit"); u != nil && s.Type == "number" && !slices.Contains(Units, s.Unit) {
		unusable(u, fmt.Sprintf("A number cannot have the unit %q.", s.Unit), "Numbers may have px, em, %, ch, deg, s, ms or fr.")
	}
	s.readLook(glass, c, unusable)
	faults = append(faults, t.read(s, v)...)
	s.nothing = s.Shape().Zero()
	return s, append(faults, s.readDefault(v)...)
}

// readInherit reads "inherit", the CSS property that may come from the page.
func (s *Setting) readInherit(glass *jsondoc.Value, faults *fault.List) bool {
	v := glass.Get("inherit")
	if v == nil {
		return s.Type == "font"
	}
	s.Inherit = v.Text
	switch row := cssTable[s.Type]; {
	case row.As != "property":
		*faults = append(*faults, v.Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("A %s setting cannot be left as the page has it.", s.Type), "Remove \"inherit\"."))
	case !slices.Contains(Inheritable, v.Text):
		*faults = append(*faults, v.Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("%q is no CSS property that comes in from a page.", v.Text), fault.DidYouMean(v.Text, Inheritable)))
	}
	return true
}

// jsonTypeFits tells whether the schema's "type" takes what the setting takes.
func (s *Setting) jsonTypeFits(v *jsondoc.Value, t kind, inherits bool) bool {
	switch {
	case v == nil:
		return false
	case v.Kind == jsondoc.String:
		return slices.Contains(t.jsonTypes(), v.Text) && (!inherits || v.Text == "string")
	case v.Kind != jsondoc.Array || !inherits || len(v.Items) != 2:
		return false
	}
	return slices.Contains(t.jsonTypes(), v.Items[0].Text) && v.Items[1].Text == "string"
}

// readLook reads what a setting has to do with style.
func (s *Setting) readLook(glass *jsondoc.Value, c context, unusable func(*jsondoc.Value, string, string)) {
	row := cssTable[s.Type]
	if l := glass.Get("look"); l != nil {
		s.Look = l.Bool
		switch {
		case s.Look && row.As == "":
			unusable(l, fmt.Sprintf("A %s setting cannot reach the stylesheet.", s.Type), "Remove \"look\".")
		case s.Look && c.of != "":
			unusable(l, "A setting of a list's items cannot reach the stylesheet.", "Use it in the view: choose a class by it.")
		}
	}
	if v := glass.Get("small"); v != nil {
		s.Small = v.Bool
		if s.Small && c.of != "" {
			unusable(v, "A setting of a list's items cannot differ on small screens by itself.", "Remove \"small\" here; the list itself may have it.")
		}
	}
	if s.Inherit != "" && !s.Look {
		unusable(glass.Get("inherit"), "Only a look setting can be left as the page has it.", "Add \"look\": true.")
	}
	if v := glass.Get("override"); v != nil {
		s.Override = v.Bool
		if s.Override && c.of != "" {
			unusable(v, "A setting of a list's items cannot be overridden by a page.", "Remove \"override\" here; the list itself may have it.")
		}
	}
}

func (s *Setting) readDefault(v *jsondoc.Value) fault.List {
	d := v.Get("default")
	if d == nil {
		if s.Required {
			return nil
		}
		return fault.List{v.Fault(fault.NoDefault, s.Key, fmt.Sprintf("The setting %q is not required and has no default.", s.Key), "Add a \"default\", or list the key in \"required\".")}
	}
	value, ps := s.check(d)
	if ps != nil {
		return ps.faults(d, s.Key, "The default does not fit: ")
	}
	s.Default = value
	return nil
}

func groupNames(groups []Group) []string {
	names := make([]string, len(groups))
	for i, g := range groups {
		names[i] = g.Name
	}
	return names
}

// refuse is a schema loader that loads nothing: a schema must never reach the network or a disk.
type refuse struct{}

func (refuse) Load(url string) (any, error) {
	return nil, fmt.Errorf("%s is not loaded from anywhere", url)
}

// references reports what is taken from elsewhere: from another server, or from this very
// document, where a group could then hold itself.
func references(v *jsondoc.Value) (faults fault.List) {
	for _, m := range v.Members {
		switch m.Key {
		case "$ref", "$dynamicRef":
			faults = append(faults, m.Value.Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("Nothing can be taken from elsewhere with %q.", m.Key), "Write it out here; nothing is loaded from other files or servers, and no group can hold itself."))
		case "default", "enum":
		default:
			faults = append(faults, references(m.Value)...)
		}
	}
	for _, item := range v.Items {
		faults = append(faults, references(item)...)
	}
	return faults
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
func (schema *Schema) Prepare() error { return prepare(schema.Settings) }

func prepare(list []*Setting) error {
	for _, s := range list {
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
		if s.Type == "items" {
			s.model = ItemFields
		}
		if err := prepare(s.Fields); err != nil {
			return err
		}
	}
	return nil
}
