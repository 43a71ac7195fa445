package setting

import (
	"fmt"
	"math"
	"strconv"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Units are the CSS units of a number; "" is a bare number.
var Units = []string{"", "px", "em", "%", "ch", "deg", "s", "ms", "fr"}

type number struct{}

func (number) jsonTypes() []string                 { return []string{"number", "integer"} }
func (number) controls() []string                  { return []string{"field", "slider"} }
func (number) keys() []string                      { return []string{"minimum", "maximum", "multipleOf"} }
func (number) view(_ *Setting, v any, _ World) any { return v }
func (number) glass() []string                     { return []string{"unit"} }
func (number) shape(s *Setting) *shape.Type        { return shape.Number }

func (number) read(s *Setting, v *jsondoc.Value) fault.List {
	var faults fault.List
	for key, into := range map[string]**float64{"minimum": &s.Minimum, "maximum": &s.Maximum} {
		if v.Get(key) != nil {
			n := numberAt(v, key, 0)
			*into = &n
		}
	}
	s.Step = numberAt(v, "multipleOf", 0)
	if v.TextOf("type") == "integer" && s.Step == 0 {
		s.Step = 1
	}
	if s.Minimum != nil && s.Maximum != nil && *s.Minimum > *s.Maximum {
		faults = append(faults, v.Get("minimum").Fault(fault.SchemaUnusable, s.Key, "\"minimum\" is greater than \"maximum\".", "Swap the two values."))
	}
	if s.Control == "slider" && (s.Minimum == nil || s.Maximum == nil) {
		faults = append(faults, v.Fault(fault.SchemaUnusable, s.Key, "A slider needs \"minimum\" and \"maximum\".", "Add both, or use the control \"field\"."))
	}
	return faults
}

func (number) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.Number {
		return nil, wrongType(s, v, "a number", "Write it without quotes.")
	}
	n, err := strconv.ParseFloat(v.Text, 64)
	if err != nil || math.IsInf(n, 0) {
		return nil, one(fault.ValueRange, fmt.Sprintf("%q is too large.", s.Key), "Use a smaller number.")
	}
	if s.Minimum != nil && n < *s.Minimum || s.Maximum != nil && n > *s.Maximum {
		return nil, one(fault.ValueRange, fmt.Sprintf("%q is %s; it must be %s.", s.Key, Number(n), s.bounds()), "Choose a number within these limits.")
	}
	if s.Step > 0 {
		if steps := n / s.Step; math.Abs(steps-math.Round(steps)) > 1e-9*math.Max(1, math.Abs(steps)) {
			return nil, one(fault.ValueStep, fmt.Sprintf("%q is %s, which is not a multiple of %s.", s.Key, Number(n), Number(s.Step)), "Choose a multiple.")
		}
	}
	return n, nil
}

func (s *Setting) bounds() string {
	switch {
	case s.Minimum == nil:
		return "at most " + Number(*s.Maximum) + s.Unit
	case s.Maximum == nil:
		return "at least " + Number(*s.Minimum) + s.Unit
	}
	return "from " + Number(*s.Minimum) + " to " + Number(*s.Maximum) + s.Unit
}

// Number writes n as CSS, JSON and people do: without exponent and trailing zeros.
func Number(n float64) string { return strconv.FormatFloat(n, 'f', -1, 64) }

func (number) note() Note {
	return Note{"A number. The control `slider` needs `minimum` and `maximum`.", `12`}
}

func (number) css() string {
	return `{ "as": "property", "write": "{value}{unit}" }`
}

func (number) words(s *Setting, v any, _ string) string { return plainly(v) + spaced(s.Unit) }

func (number) inPage(*Setting, *InPage) {}

func (number) allows(s *Setting) string {
	switch {
	case s.Minimum == nil && s.Maximum == nil:
		return "any number"
	case s.Step > 0:
		return s.bounds() + " in steps of " + Number(s.Step)
	}
	return s.bounds()
}

func (t number) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
