package setting

import (
	"fmt"
	"slices"
	"strconv"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
)

// context is what surrounds a setting that is being read.
type context struct {
	required bool
	groups   []Group // nil within a list
	folder   Folder
	of       string // the list that it is part of, or ""
}

func readSetting(m jsondoc.Member, c context) (*Setting, fault.List) {
	var faults fault.List
	v := m.Value
	unusable := func(at *jsondoc.Value, what, fix string) {
		faults = append(faults, at.Fault(fault.SchemaUnusable, m.Key, what, fix))
	}
	if !KeyForm.MatchString(m.Key) || m.Key == SmallKey || c.of != "" && m.Key == IDKey {
		fix := "Use at most 40 letters and digits, and start with a lower-case letter, as in cornerRadius."
		if KeyForm.MatchString(m.Key) {
			fix = "The format reserves this word. Choose another."
		}
		faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.BadName, What: fmt.Sprintf("%q is not a valid key for a setting.", m.Key), Fix: fix})
	}
	if v.Get("$ref") != nil {
		return nil, faults // reported already
	}
	v = either(v)
	glass := v.Get("glass")
	if v.Kind != jsondoc.Object || glass == nil || glass.Kind != jsondoc.Object {
		return nil, append(faults, v.Fault(fault.KeyMissing, m.Key, fmt.Sprintf("The setting %q has no \"glass\" object.", m.Key), `Add "glass": {"type": "text", "label": {"en": "…"}}.`))
	}
	more := glass.Expect("\"glass\"", GlassKeys)
	faults = append(faults, more...)
	if len(more) > 0 {
		return nil, faults
	}
	s := &Setting{Key: m.Key, Type: glass.TextOf("type"), Unit: glass.TextOf("unit"), Group: glass.TextOf("group"), Control: glass.TextOf("control"), On: glass.TextOf("on"), Brand: glass.TextOf("brand"),
		Required: c.required, folder: c.folder, Line: m.Line, Column: m.Column}
	t, ok := types[s.Type]
	if _, inner := t.(group); !ok || inner {
		unusable(glass.Get("type"), fmt.Sprintf("There is no setting type %q.", s.Type), fault.DidYouMean(s.Type, TypeNames()))
		return nil, faults
	}
	if s.Many() && c.of != "" {
		unusable(glass.Get("type"), fmt.Sprintf("The list %q cannot contain another list.", c.of), "Make the inner list a separate setting.")
		return nil, faults
	}
	keys := append(append([]string{}, commonKeys...), t.keys()...)
	for _, e := range v.Members {
		if !slices.Contains(keys, e.Key) {
			faults = append(faults, fault.Fault{Line: e.Line, Column: e.Column, Field: m.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("A %s setting has no keyword %q.", s.Type, e.Key), Fix: fault.DidYouMean(e.Key, keys)})
		}
	}
	for _, e := range glass.Members {
		if slices.Contains(someGlass, e.Key) && !slices.Contains(t.glass(), e.Key) {
			faults = append(faults, fault.Fault{Line: e.Line, Column: e.Column, Field: m.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("A %s setting has no %q.", s.Type, e.Key), Fix: "Delete it. The format's reference page lists the keys of each type."})
		}
	}
	inherits := s.readInherit(glass, &faults)
	if !s.jsonTypeFits(v.Get("type"), t, inherits) {
		want := strconv.Quote(t.jsonTypes()[0])
		if inherits && t.jsonTypes()[0] != "string" {
			unusable(at(v, "type"), fmt.Sprintf("A %s setting that can inherit from the page needs %s or \"inherit\".", s.Type, want), fmt.Sprintf(`Write "anyOf": [{"type": %s, …}, {"const": "inherit"}].`, want))
			return nil, faults
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
	if h := glass.Get("search"); h != nil {
		s.Search, more = message.ReadWords(h, "search")
		faults = append(faults, more...)
	}
	switch names := groupNames(c.groups); {
	case c.groups == nil && s.Group != "":
		unusable(glass.Get("group"), "The settings of list items cannot have groups.", "Delete \"group\". Use \"order\" to sort them.")
	case c.groups == nil:
	case s.Group == "":
		s.Group = c.groups[0].Name
	case !slices.Contains(names, s.Group):
		unusable(glass.Get("group"), fmt.Sprintf("There is no group %q.", s.Group), fault.DidYouMean(s.Group, names))
	}
	s.Order = numberAt(glass, "order", 0)
	if s.Control == "pictures" { // in earlier releases
		s.Control = "images"
	}
	if s.Control == "" {
		s.Control = t.controls()[0]
	} else if !slices.Contains(t.controls(), s.Control) {
		unusable(glass.Get("control"), fmt.Sprintf("A %s setting has no control %q.", s.Type, s.Control), fault.DidYouMean(s.Control, t.controls()))
	}
	if u := glass.Get("unit"); u != nil && slices.Contains(t.glass(), "unit") && !slices.Contains(Units, s.Unit) {
		unusable(u, fmt.Sprintf("A number cannot have the unit %q.", s.Unit), "Numbers can have px, em, %, ch, deg, s, ms or fr.")
	}
	if b := glass.Get("brand"); b != nil {
		names := []string{}
		for _, known := range BrandNames {
			if known.Type == s.Type {
				names = append(names, known.Name)
			}
		}
		if !slices.Contains(names, s.Brand) {
			unusable(b, fmt.Sprintf("Brands do not have a %s named %q.", s.Type, s.Brand), fault.DidYouMean(s.Brand, names))
		}
	}
	s.readLook(glass, c, unusable)
	faults = append(faults, t.read(s, v)...)
	s.nothing = s.Shape().Zero()
	return s, append(faults, s.readDefault(v)...)
}

// either reads {"anyOf": [{"type": "number", …}, {"const": "inherit"}]}, the schema of a setting
// that can inherit from the page, as if its keywords were beside "glass" with both types, because
// strict validators do not accept a list of types.
func either(v *jsondoc.Value) *jsondoc.Value {
	of := v.Get("anyOf")
	if v.Kind != jsondoc.Object || of == nil || len(of.Items) != 2 || of.Items[0].Kind != jsondoc.Object || of.Items[1].TextOf("const") != Inherited || len(of.Items[1].Members) != 1 {
		return v
	}
	out := v.Clone()
	out.Members = slices.DeleteFunc(out.Members, func(m jsondoc.Member) bool { return m.Key == "anyOf" })
	for _, m := range of.Items[0].Members {
		if m.Key == "type" && m.Value.Kind == jsondoc.String && m.Value.Text != "string" {
			types := *m.Value
			other := *m.Value
			other.Text = "string"
			types.Kind, types.Items = jsondoc.Array, []*jsondoc.Value{m.Value, &other}
			m.Value = &types
		}
		out.Members = append(out.Members, m)
	}
	return out
}

// readInherit reads "inherit", the CSS property that the page can provide.
func (s *Setting) readInherit(glass *jsondoc.Value, faults *fault.List) bool {
	v := glass.Get("inherit")
	if v == nil {
		return false
	}
	s.Inherit = v.Text
	switch row := cssTable[s.Type]; {
	case row.As != "property":
		*faults = append(*faults, v.Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("A %s setting cannot inherit its value from the page.", s.Type), "Delete \"inherit\"."))
	case !slices.Contains(Inheritable, v.Text):
		*faults = append(*faults, v.Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("%q is not a CSS property that is inherited from a page.", v.Text), fault.DidYouMean(v.Text, Inheritable)))
	}
	return true
}

// jsonTypeFits reports whether the schema's "type" accepts the same values as the setting.
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

// readLook reads the keys that concern style.
func (s *Setting) readLook(glass *jsondoc.Value, c context, unusable func(*jsondoc.Value, string, string)) {
	row := cssTable[s.Type]
	if l := glass.Get("look"); l != nil {
		s.Look = l.Bool
		switch {
		case s.Look && row.As == "":
			unusable(l, fmt.Sprintf("A %s setting cannot be used in the stylesheet.", s.Type), "Delete \"look\".")
		case s.Look && c.of != "":
			unusable(l, "A setting of a list item cannot be used in the stylesheet.", "Use it in the view, for example to choose a class.")
		}
	}
	if v := glass.Get("small"); v != nil {
		s.Small = v.Bool
		if s.Small && c.of != "" {
			unusable(v, "A setting of a list item cannot differ on small screens.", "Delete \"small\" here. You can set it for the whole list.")
		}
	}
	if s.Inherit != "" && !s.Look {
		unusable(glass.Get("inherit"), "Only a look setting can inherit its value from the page.", "Add \"look\": true.")
	}
	if v := glass.Get("override"); v != nil {
		s.Override = v.Bool
		if s.Override && c.of != "" {
			unusable(v, "A page cannot override a setting of a list item.", "Delete \"override\" here. You can set it for the whole list.")
		}
	}
}

func (s *Setting) readDefault(v *jsondoc.Value) fault.List {
	d := v.Get("default")
	if d == nil {
		if s.Required {
			return nil
		}
		if s.Format == "uri" { // "" is not a URI, but means that there is no link
			s.Default = ""
			return nil
		}
		return fault.List{v.Fault(fault.NoDefault, s.Key, fmt.Sprintf("The setting %q is not required and has no default.", s.Key), "Add a \"default\", or list the key in \"required\".")}
	}
	if s.Format == "uri" && d.Kind == jsondoc.String && d.Text == "" {
		s.Default = "" // stored releases rely on this meaning
		return fault.List{d.Fault(fault.ValueLink, s.Key, "The default is not valid: an empty text is not a URI.", "Leave the default out. The setting then has no link.")}
	}
	value, ps := s.check(d)
	if ps != nil {
		return ps.faults(d, s.Key, "The default is not valid: ")
	}
	s.Default = value
	return nil
}
