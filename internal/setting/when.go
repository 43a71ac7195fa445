package setting

import (
	"fmt"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// readWhen reads the "when" of every setting, after all settings are known. One that
// stands on another, and that on the first, would never be shown; so it may only name
// settings without a "when" of their own.
func (schema *Schema) readWhen(props *jsondoc.Value) (faults fault.List) {
	conditional := map[string]bool{}
	for _, m := range props.Members {
		conditional[m.Key] = m.Value.Get("glass") != nil && m.Value.Get("glass").Get("when") != nil
	}
	for _, s := range schema.Settings {
		glass := props.Get(s.Key).Get("glass")
		when := glass.Get("when")
		if when == nil {
			continue
		}
		s.When = map[string][]any{}
		for _, m := range when.Members {
			other := schema.Get(m.Key)
			at := fault.Fault{Line: m.Line, Column: m.Column, Field: s.Key, Code: fault.SchemaUnusable}
			switch {
			case other == nil:
				at.Code, at.What, at.Mend = fault.SettingUnknown, fmt.Sprintf("\"when\" names %q, which is not a setting.", m.Key), fault.DidYouMean(m.Key, schema.Keys())
			case conditional[m.Key]:
				at.What, at.Mend = fmt.Sprintf("\"when\" names %q, which has a \"when\" itself.", m.Key), "Name the settings that both stand on."
			}
			if at.What != "" {
				faults = append(faults, at)
				continue
			}
			values := []*jsondoc.Value{m.Value}
			if m.Value.Kind == jsondoc.Array {
				values = m.Value.Items
			}
			for _, v := range values {
				value, p := types[other.Type].check(other, v)
				if p != nil {
					faults = append(faults, v.Fault(p.code, s.Key, "\"when\" names a value that cannot be: "+p.what, p.mend))
					continue
				}
				s.When[m.Key] = append(s.When[m.Key], value)
			}
		}
	}
	return faults
}

// Matters tells whether a setting has a part to play with these complete values.
func (s *Setting) Matters(values Values) bool {
	for key, any := range s.When {
		if !slices.Contains(any, values[key]) {
			return false
		}
	}
	return true
}
