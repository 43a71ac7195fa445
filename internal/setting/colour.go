package setting

import (
	"fmt"
	"regexp"
	"strings"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// colourForm is the hexadecimal notation of CSS Color 4, section 5.2, without the forms of three
// and four digits, so that each colour has a single notation.
var colourForm = regexp.MustCompile(`^#[0-9a-f]{6}([0-9a-f]{2})?$`)

type colour struct{}

func (colour) jsonTypes() []string                      { return []string{"string"} }
func (colour) controls() []string                       { return []string{"colour"} }
func (colour) keys() []string                           { return nil }
func (colour) view(_ *Setting, v any, _ World) any      { return v }
func (colour) glass() []string                          { return []string{"on", "brand"} }
func (colour) shape(s *Setting) *shape.Type             { return shape.Text }
func (colour) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (colour) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a colour", `Write it as "#rrggbb".`)
	}
	c := strings.ToLower(strings.TrimSpace(v.Text))
	if len(c) == 4 && c[0] == '#' {
		c = string([]byte{'#', c[1], c[1], c[2], c[2], c[3], c[3]})
	}
	if !colourForm.MatchString(c) {
		return nil, one(fault.ValueColour, fmt.Sprintf("%q is %q, which is not a hexadecimal colour.", s.Key, clip.Input(v.Text)), `Write it as "#rrggbb", or "#rrggbbaa" with transparency.`)
	}
	return c, nil
}

func (colour) note() Note {
	return Note{"A colour, with optional transparency in the last two digits. `#rgb` is accepted and expanded.", `"#0b6b6380"`}
}

func (colour) css() string {
	return `{ "as": "property", "write": "{value}" }`
}

func (colour) inPage(*Setting, *InPage) {}

func (colour) inBrands() {}
