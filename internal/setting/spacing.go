package setting

import (
	"strconv"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Sides of a box, in the order of CSS shorthands.
var Sides = []string{"top", "right", "bottom", "left"}

// spacing is a margin or a padding: a number of pixels for each side of a box.
type spacing struct{}

func (spacing) jsonTypes() []string                 { return []string{"object"} }
func (spacing) controls() []string                  { return []string{"spacing"} }
func (spacing) keys() []string                      { return nil }
func (spacing) glass() []string                     { return []string{"minimum", "maximum"} }
func (spacing) view(_ *Setting, v any, _ World) any { return v }

func (spacing) shape(*Setting) *shape.Type {
	fields := map[string]*shape.Type{}
	for _, side := range Sides {
		fields[side] = shape.Number
	}
	return shape.Object("", fields)
}

func (spacing) read(s *Setting, v *jsondoc.Value) fault.List {
	return readBounds(s, v.Get("glass"), 0, 200)
}

// check also accepts a single number for all four sides.
func (spacing) check(s *Setting, v *jsondoc.Value) (any, problems) {
	side := numberPart(*s.Minimum, *s.Maximum, false)
	if v.Kind == jsondoc.Number {
		n, ps := side(s, v)
		if ps != nil {
			return nil, ps
		}
		return map[string]any{"top": n, "right": n, "bottom": n, "left": n}, nil
	}
	parts := make([]part, len(Sides))
	for i, name := range Sides {
		parts[i] = part{name, side, 0.0}
	}
	return whole(readParts(s, v, `{"top": 8, "right": 16, "bottom": 8, "left": 16}`, parts))
}

// readBounds reads "minimum" and "maximum" of v, which can be nil.
func readBounds(s *Setting, v *jsondoc.Value, min, max float64) fault.List {
	for key, into := range map[string]*float64{"minimum": &min, "maximum": &max} {
		if e := v.Get(key); e != nil && e.Kind == jsondoc.Number {
			*into, _ = strconv.ParseFloat(e.Text, 64)
		}
	}
	s.Minimum, s.Maximum = &min, &max
	if min > max {
		return fault.List{at(v, "minimum").Fault(fault.SchemaUnusable, s.Key, "\"minimum\" is greater than \"maximum\".", "Swap the two values.")}
	}
	return nil
}

func (spacing) note() Note {
	return Note{"A margin or padding in pixels for each side. A single number is accepted for all four.", `{"top": 8, "right": 16, "bottom": 8, "left": 16}`}
}

func (spacing) css() string {
	return `{ "as": "property", "write": "{top}px {right}px {bottom}px {left}px" }`
}

func (spacing) allows(s *Setting) string { return s.allowsBounds(" pixels a side") }
