package setting

import (
	"encoding/json"
	"fmt"
	"strconv"
	"time"

	"golang.org/x/text/language"
	xmessage "golang.org/x/text/message"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

var printer = xmessage.NewPrinter(language.English)

// Check compares the object doc with the schema. It returns the values that are right,
// in canonical form, and a fault, placed in doc, for each that is not. A value of null
// means "not set" and is left out.
func (s *Schema) Check(doc *jsondoc.Value) (Values, fault.List) {
	if doc.Kind != jsondoc.Object {
		return nil, fault.List{doc.Fault(fault.WrongType, "", fmt.Sprintf("Settings must be an object, not %s.", doc.Kind.Named()), `Write {"key": value}.`)}
	}
	values := Values{}
	var faults fault.List
	for _, m := range doc.Members {
		set := s.Get(m.Key)
		if set == nil {
			faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.SettingUnknown,
				What: fmt.Sprintf("There is no setting %q.", clip(m.Key)), Mend: fault.DidYouMean(m.Key, s.Keys())})
			continue
		}
		if m.Value.Kind == jsondoc.Null {
			continue
		}
		value, p := types[set.Type].check(set, m.Value)
		if p != nil {
			faults = append(faults, m.Value.Fault(p.code, m.Key, p.what, p.mend))
			continue
		}
		values[m.Key] = value
	}
	return values, faults
}

// CheckJSON is Check for the text of a JSON object.
func (s *Schema) CheckJSON(text []byte) (Values, fault.List) {
	doc, faults := jsondoc.Read(text)
	if doc == nil {
		return nil, faults
	}
	values, more := s.Check(doc)
	return values, append(faults, more...)
}

// Complete fills in defaults. Every required setting that matters and that values lacks
// is a fault; one that does not matter stays out.
func (s *Schema) Complete(values Values) (Values, fault.List) {
	full := make(Values, len(s.Settings))
	for _, set := range s.Settings {
		if v, ok := values[set.Key]; ok {
			full[set.Key] = v
		} else if !set.Required || set.Default != nil {
			full[set.Key] = set.Default
		}
	}
	var faults fault.List
	for _, set := range s.Settings {
		if _, ok := full[set.Key]; !ok && set.Matters(full) {
			faults = append(faults, fault.Fault{Field: set.Key, Code: fault.SettingMissing,
				What: fmt.Sprintf("%q (%s) has no value.", set.Label.In("en"), set.Key), Mend: "Set it before publishing."})
		}
	}
	return full, faults
}

// CheckSample is Check for sample content, where a moment may be an ISO 8601 duration
// from now with a zone ("P12DT4H[Europe/Berlin]").
func (s *Schema) CheckSample(doc *jsondoc.Value, now time.Time) (Values, fault.List) {
	for _, m := range doc.Members {
		if set := s.Get(m.Key); set != nil && set.Type == "moment" && m.Value.Kind == jsondoc.String {
			if t, ok := AfterNow(m.Value.Text, now); ok {
				m.Value.Text = t.String()
			}
		}
	}
	return s.Check(doc)
}

// FromText turns what somebody typed on a command line into the JSON that the setting's
// type reads: a bare word for a text, 12 for a number, true for a switch.
func (s *Setting) FromText(typed string) json.RawMessage {
	switch s.Type {
	case "number":
		if _, err := strconv.ParseFloat(typed, 64); err == nil {
			return json.RawMessage(typed)
		}
	case "switch":
		switch typed {
		case "true", "on", "yes":
			return json.RawMessage("true")
		case "false", "off", "no":
			return json.RawMessage("false")
		}
	}
	quoted, _ := json.Marshal(typed)
	return quoted
}

func wrongType(s *Setting, v *jsondoc.Value, want, mend string) *problem {
	return &problem{fault.ValueType, fmt.Sprintf("%q must be %s, not %s.", s.Key, want, v.Kind.Named()), mend}
}

// at returns the value under key, or v itself when there is none: a place to point at.
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

// clip keeps quoted input in messages short.
func clip(s string) string {
	r := []rune(s)
	if len(r) > 60 {
		return string(r[:57]) + "…"
	}
	return s
}
