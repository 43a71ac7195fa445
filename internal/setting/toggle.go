package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// toggle is the setting type "switch" (a keyword in Go).
type toggle struct{}

func (toggle) jsonTypes() []string                      { return []string{"boolean"} }
func (toggle) controls() []string                       { return []string{"switch"} }
func (toggle) keys() []string                           { return nil }
func (toggle) view(_ *Setting, v any, _ World) any      { return v }
func (toggle) glass() []string                          { return nil }
func (toggle) shape(s *Setting) *shape.Type             { return shape.Switch }
func (toggle) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (toggle) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.Boolean {
		return nil, wrongType(s, v, "true or false", "Write true or false, without quotes.")
	}
	return v.Bool, nil
}

func (toggle) note() Note {
	return Note{"True or false.", `true`}
}

func (toggle) css() string {
	return `{ "as": "attribute", "write": "{value}" }`
}

func (toggle) words(_ *Setting, v any, _ string) string {
	if v == true {
		return "on"
	}
	return "off"
}

func (toggle) inPage(*Setting, *InPage) {}

func (toggle) allows(*Setting) string { return "true, false" }

func (t toggle) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
