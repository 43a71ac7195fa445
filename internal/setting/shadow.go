package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

var shadowKinds = []string{"none", "outside", "inside"}

type shadow struct{}

func (shadow) jsonTypes() []string                      { return []string{"object"} }
func (shadow) controls() []string                       { return []string{"shadow"} }
func (shadow) keys() []string                           { return nil }
func (shadow) glass() []string                          { return nil }
func (shadow) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (shadow) view(_ *Setting, v any, _ World) any      { return v }

func (shadow) shape(*Setting) *shape.Type {
	return shape.Object("", map[string]*shape.Type{"kind": shape.OneOf(shadowKinds...), "x": shape.Number, "y": shape.Number, "blur": shape.Number, "spread": shape.Number, "colour": shape.Text})
}

func (shadow) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"kind": "outside", "y": 6, "blur": 24, "colour": "#00000022"}`, []part{
		{"kind", onePart(shadowKinds...), nil},
		{"x", numberPart(-100, 100, false), 0.0},
		{"y", numberPart(-100, 100, false), 0.0},
		{"blur", numberPart(0, 200, false), 0.0},
		{"spread", numberPart(-100, 100, false), 0.0},
		{"colour", colourPart, "#00000033"},
	}))
}

func (shadow) note() Note {
	return Note{"A shadow. `kind` is none, outside or inside; lengths are in pixels.", `{"kind": "outside", "x": 0, "y": 6, "blur": 24, "spread": 0, "colour": "#00000022"}`}
}

func (shadow) css() string {
	return `{
    "as": "property",
    "by": "kind",
    "cases": { "none": "none", "outside": "{x}px {y}px {blur}px {spread}px {colour}", "inside": "inset {x}px {y}px {blur}px {spread}px {colour}" }
  }`
}
