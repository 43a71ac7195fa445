package setting

import (
	"encoding/json"
	"fmt"
	"maps"
	"strconv"
	"time"

	"golang.org/x/text/language"
	xmessage "golang.org/x/text/message"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

var printer = xmessage.NewPrinter(language.English)

// Check compares the object doc with the schema. It returns the valid values in canonical form, and
// a fault with its place in doc for each invalid one. A value of null means "not set" and is left
// out.
func (s *Schema) Check(doc *jsondoc.Value) (Values, fault.List) {
	if doc.Kind != jsondoc.Object {
		return nil, fault.List{doc.Fault(fault.WrongType, "", fmt.Sprintf("Settings must be an object, not %s.", doc.Kind.Named()), `Write {"key": value}.`)}
	}
	values := make(Values, len(doc.Members))
	var faults fault.List
	for _, m := range doc.Members {
		if len(faults) >= fault.Most {
			break
		}
		if m.Value.Kind == jsondoc.Null {
			if m.Key != SmallKey && s.Get(m.Key) == nil {
				faults = append(faults, s.unknown(m))
			}
			continue
		}
		if m.Key == SmallKey {
			small, more := s.checkSmall(m.Value)
			faults = append(faults, more...)
			if len(small) > 0 {
				values[SmallKey] = small
			}
			continue
		}
		set := s.Get(m.Key)
		if set == nil {
			faults = append(faults, s.unknown(m))
			continue
		}
		value, ps := set.check(m.Value)
		if ps != nil {
			faults = append(faults, ps.faults(m.Value, m.Key, "")...)
			continue
		}
		values[m.Key] = value
	}
	return values, faults[:min(len(faults), fault.Most)]
}

func (s *Schema) unknown(m jsondoc.Member) fault.Fault {
	return fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.SettingUnknown,
		What: fmt.Sprintf("There is no setting %q.", clip.Input(m.Key)), Fix: fault.DidYouMean(m.Key, s.Keys())}
}

// checkSmall reads the values for small screens.
func (s *Schema) checkSmall(v *jsondoc.Value) (map[string]any, fault.List) {
	if v.Kind != jsondoc.Object {
		return nil, fault.List{v.Fault(fault.WrongType, SmallKey, "The settings for small screens must be an object.", `Write "small": {"key": value}.`)}
	}
	small := map[string]any{}
	var faults fault.List
	for _, m := range v.Members {
		if len(faults) >= fault.Most {
			break
		}
		set := s.Get(m.Key)
		if set == nil || !set.Small {
			f := s.unknown(m)
			f.Field = SmallKey + "/" + m.Key
			if set != nil {
				f.What, f.Fix = fmt.Sprintf("%q has the same value on all screen sizes.", m.Key), "Delete it here. In the schema, \"small\": true marks the settings that can differ on small screens."
			}
			faults = append(faults, f)
			continue
		}
		if m.Value.Kind == jsondoc.Null {
			continue
		}
		value, ps := set.check(m.Value)
		if ps != nil {
			faults = append(faults, ps.faults(m.Value, SmallKey+"/"+m.Key, "On small screens: ")...)
			continue
		}
		small[m.Key] = value
	}
	return small, faults
}

// check reads one value, including "inherit" if the setting allows that.
func (s *Setting) check(v *jsondoc.Value) (any, problems) {
	if s.Inherit != "" && v.Kind == jsondoc.String && v.Text == Inherited {
		return Inherited, nil
	}
	if ref, ps := s.checkBrandRef(v); ref != nil || ps != nil {
		return ref, ps
	}
	return types[s.Type].check(s, v)
}

// Shape returns the type of what the view and the mount module see of the setting.
func (s *Setting) Shape() *shape.Type { return types[s.Type].shape(s) }

// View returns what the view and the mount module see of a checked value; see Shape. A setting that
// has no effect (see When) may have the value nil. The view then sees an empty value of the type,
// and "inherit" where the setting allows it.
func (s *Setting) View(value any, w World) any {
	if value == nil || s.Inherit != "" && value == Inherited {
		if s.nothing == nil { // for a schema that did not come from ReadSchema
			return s.Shape().Zero()
		}
		return s.nothing
	}
	return types[s.Type].view(s, value, w)
}

// CheckJSON applies Check to the text of a JSON object.
func (s *Schema) CheckJSON(text []byte) (Values, fault.List) {
	doc, faults := jsondoc.Read(text)
	if doc == nil {
		return nil, faults
	}
	values, more := s.Check(doc)
	return values, append(faults, more...)
}

// Complete fills in defaults, also in the items of lists. It reports each required setting that has
// an effect but no value. Settings without effect are left out.
func (s *Schema) Complete(values Values) (Values, fault.List) {
	full, faults := complete(s.Settings, values, "")
	if small, ok := values[SmallKey]; ok {
		full[SmallKey] = small
		if len(faults) == 0 { // with other faults, "when" could be decided wrongly
			_, faults = complete(s.Settings, full.OnSmall(), "")
			for i := range faults {
				faults[i].What = "On small screens " + faults[i].What
			}
		}
	}
	return full, faults
}

// OnSmall returns the values for small screens.
func (v Values) OnSmall() Values {
	all := maps.Clone(v)
	delete(all, SmallKey)
	if small, ok := v[SmallKey].(map[string]any); ok {
		maps.Copy(all, small)
	}
	return all
}

func complete(fields []*Setting, values Values, at string) (Values, fault.List) {
	full := make(Values, len(fields))
	var faults fault.List
	for _, set := range fields {
		v, ok := values[set.Key]
		if !ok {
			if set.Required && set.Default == nil {
				continue
			}
			v = set.Default
		}
		if l, ok := types[set.Type].(completes); ok {
			v = l.complete(set, v, at+set.Key, &faults)
		}
		full[set.Key] = v
	}
	for _, set := range fields {
		if v, ok := full[set.Key]; (!ok || v == "" && set.Required) && set.Matters(full) {
			faults = append(faults, fault.Fault{Field: at + set.Key, Code: fault.SettingMissing,
				What: fmt.Sprintf("%q (%s) has no value.", set.Label.In("en"), at+set.Key), Fix: "Set it before you publish."})
		}
	}
	return full, faults
}

// CheckSample applies Check to sample content, where a moment at any depth may be an ISO 8601
// duration from now with a zone ("P12DT4H[Europe/Berlin]"). It changes doc.
func (s *Schema) CheckSample(doc *jsondoc.Value, now time.Time) (Values, fault.List) {
	settle(doc, s.Settings, now)
	return s.Check(doc)
}

func settle(v *jsondoc.Value, fields []*Setting, now time.Time) {
	for _, m := range v.Members {
		set := named(fields, m.Key)
		if set == nil {
			continue
		}
		if of, ok := types[set.Type].(settles); ok {
			of.settle(m.Value, now)
		}
		fields, many := set.Holds()
		switch {
		case many:
			for _, item := range m.Value.Items {
				settle(item, fields, now)
			}
		case fields != nil:
			settle(m.Value, fields, now)
		}
	}
}

// FromText converts text from a command line or an attribute into JSON of the setting's type: a
// bare word for a text, 12 for a number, true for a switch, JSON for an object or a list.
func (s *Setting) FromText(typed string) json.RawMessage {
	switch types[s.Type].jsonTypes()[0] {
	case "number":
		if _, err := strconv.ParseFloat(typed, 64); err == nil {
			return json.RawMessage(typed)
		}
	case "boolean":
		switch typed {
		case "true", "on", "yes":
			return json.RawMessage("true")
		case "false", "off", "no":
			return json.RawMessage("false")
		}
	case "object", "array":
		if json.Valid([]byte(typed)) {
			return json.RawMessage(typed)
		}
	}
	quoted, _ := json.Marshal(typed)
	return quoted
}

func wrongType(s *Setting, v *jsondoc.Value, want, fix string) problems {
	return one(fault.ValueType, fmt.Sprintf("%q must be %s, not %s.", s.Key, want, v.Kind.Named()), fix)
}

// whole returns an object that was read part by part as a value, or its problems.
func whole(m map[string]any, ps problems) (any, problems) {
	if ps != nil {
		return nil, ps
	}
	return m, nil
}

// at returns the value under key, or v itself if there is none, as the place of a fault.
func at(v *jsondoc.Value, key string) *jsondoc.Value {
	if e := v.Get(key); e != nil {
		return e
	}
	return v
}

func numberAt(v *jsondoc.Value, key string, otherwise float64) float64 {
	if e := v.Get(key); e != nil && e.Kind == jsondoc.Number {
		if n, err := strconv.ParseFloat(e.Text, 64); err == nil {
			return n
		}
	}
	return otherwise
}
