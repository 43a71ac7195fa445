package setting

import (
	"fmt"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

var borderStyles = []string{"none", "solid", "dashed", "dotted", "double"}

type border struct{}

func (border) jsonTypes() []string                      { return []string{"object"} }
func (border) controls() []string                       { return []string{"border"} }
func (border) keys() []string                           { return nil }
func (border) glass() []string                          { return nil }
func (border) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (border) view(_ *Setting, v any, _ World) any      { return v }

func (border) shape(*Setting) *shape.Type {
	return shape.Object("", map[string]*shape.Type{"width": shape.Number, "style": shape.OneOf(borderStyles...), "colour": shape.Text})
}

func (border) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"width": 1, "style": "solid", "colour": "#d7e0dd"}`, []part{
		{"width", numberPart(0, 40, false), 1.0},
		{"style", onePart(borderStyles...), nil},
		{"colour", colourPart, "#000000"},
	}))
}

func (border) note() Note {
	return Note{"A border. `width` is 0 to 40 pixels; `style` is none, solid, dashed, dotted or double.", `{"width": 1, "style": "solid", "colour": "#d7e0dd"}`}
}

func (border) css() string {
	return `{ "as": "property", "write": "{width}px {style} {colour}" }`
}

func (border) words(_ *Setting, v any, _ string) string {
	m, _ := v.(map[string]any)
	return fmt.Sprintf("%s px %v, %v", plainly(m["width"]), m["style"], m["colour"])
}
