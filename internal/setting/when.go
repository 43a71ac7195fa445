package setting

import (
	"fmt"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// readRelations reads what a setting says about other settings, once all are known: "when", and its
// background in "on". A "when" can only name settings without a "when" of their own, so that no two
// settings depend on each other.
func readRelations(props *jsondoc.Value, list []*Setting) (faults fault.List) {
	conditional := map[string]bool{}
	for _, m := range props.Members {
		conditional[m.Key] = m.Value.Get("glass") != nil && m.Value.Get("glass").Get("when") != nil
	}
	for _, s := range list {
		glass := props.Get(s.Key).Get("glass")
		if on := glass.Get("on"); on != nil {
			if other := named(list, s.On); other == nil || !other.IsColour() {
				faults = append(faults, on.Fault(fault.SettingUnknown, s.Key, fmt.Sprintf("\"on\" names %q, which is not a colour setting.", s.On), fault.DidYouMean(s.On, keysOf(list))))
				s.On = ""
			}
		}
		faults = append(faults, s.readSortBy(glass, list)...)
		faults = append(faults, s.readPage(glass, list)...)
		when := glass.Get("when")
		if when == nil {
			continue
		}
		s.When = map[string][]any{}
		for _, m := range when.Members {
			other := named(list, m.Key)
			at := fault.Fault{Line: m.Line, Column: m.Column, Field: s.Key, Code: fault.SchemaUnusable}
			switch {
			case other == nil:
				at.Code, at.What, at.Fix = fault.SettingUnknown, fmt.Sprintf("\"when\" names %q, which is not a setting.", m.Key), fault.DidYouMean(m.Key, keysOf(list))
			case conditional[m.Key]:
				at.What, at.Fix = fmt.Sprintf("\"when\" names %q, which has a \"when\" of its own.", m.Key), "Name the setting on which both depend."
			case !other.decides():
				at.What, at.Fix = fmt.Sprintf("\"when\" names %q, a %s, whose values cannot be listed.", m.Key, other.Type), "Name a choice, a switch, a number or a text."
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
				value, ps := types[other.Type].(decisive).condition(other, v)
				if ps != nil {
					faults = append(faults, ps.faults(v, s.Key, "\"when\" names a value that is not possible: ")...)
					continue
				}
				s.When[m.Key] = append(s.When[m.Key], value)
			}
		}
	}
	return faults
}

// Matters reports whether a setting has an effect with these complete values.
func (s *Setting) Matters(values Values) bool {
	for key, wanted := range s.When {
		if chosen, several := values[key].([]any); several {
			if !slices.ContainsFunc(chosen, func(v any) bool { return slices.Contains(wanted, v) }) {
				return false
			}
		} else if !slices.Contains(wanted, values[key]) {
			return false
		}
	}
	return true
}

func (s *Setting) decides() bool {
	_, can := types[s.Type].(decisive)
	return can
}
