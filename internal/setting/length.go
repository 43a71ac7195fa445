package setting

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// LengthUnits are the units of a length. rem is left out, because it depends on the page's root
// element.
var LengthUnits = []string{"px", "em", "%", "ch", "vw", "vh"}

var lengthForm = regexp.MustCompile(`^(-?(?:\d{1,5}(?:\.\d{1,4})?|\.\d{1,4}))([a-z%]{1,2})$`)

// length is a number whose unit is the customer's choice: "1.5em".
type length struct{}

func (length) jsonTypes() []string                 { return []string{"string"} }
func (length) controls() []string                  { return []string{"length"} }
func (length) keys() []string                      { return []string{"pattern"} }
func (length) glass() []string                     { return []string{"minimum", "maximum", "units"} }
func (length) shape(*Setting) *shape.Type          { return shape.Text }
func (length) view(_ *Setting, v any, _ World) any { return v }

func (length) read(s *Setting, v *jsondoc.Value) fault.List {
	glass := v.Get("glass")
	faults := readBounds(s, glass, 0, 10000)
	s.Units = []string{"px", "em", "%"}
	if u := glass.Get("units"); u != nil {
		s.Units = nil
		for _, item := range u.Items {
			if !slices.Contains(LengthUnits, item.Text) {
				faults = append(faults, item.Fault(fault.SchemaUnusable, s.Key, "A length cannot have this unit.", fault.DidYouMean(item.Text, LengthUnits)))
				continue
			}
			s.Units = append(s.Units, item.Text)
		}
		if len(s.Units) == 0 {
			faults = append(faults, u.Fault(fault.SchemaUnusable, s.Key, "A length needs at least one unit.", `Write "units": ["px", "em"].`))
		}
	}
	return faults
}

func (length) check(s *Setting, v *jsondoc.Value) (any, problems) {
	form := fmt.Sprintf("Write a number and a unit without a space between them, as in \"1.5%s\". The units are %s.", first(s.Units), strings.Join(s.Units, ", "))
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a length", form)
	}
	m := lengthForm.FindStringSubmatch(strings.TrimSpace(v.Text))
	if m == nil || !slices.Contains(s.Units, m[2]) {
		return nil, one(fault.ValueLengthOf, fmt.Sprintf("%q is %q, which is not a valid length here.", s.Key, clip.Input(v.Text)), form)
	}
	n, _ := strconv.ParseFloat(m[1], 64)
	of := Setting{Key: s.Key, Minimum: s.Minimum, Maximum: s.Maximum, Unit: m[2]}
	if n < *s.Minimum || n > *s.Maximum {
		return nil, one(fault.ValueRange, fmt.Sprintf("%q is %s; it must be %s.", s.Key, Number(n)+m[2], of.bounds()), "Choose a length within these limits.")
	}
	return Number(n) + m[2], nil
}

func first(list []string) string {
	if len(list) == 0 {
		return ""
	}
	return list[0]
}

func (length) note() Note {
	return Note{"A number with a unit that the customer chooses.", `"1.5em"`}
}

func (length) css() string {
	return `{ "as": "property", "write": "{value}" }`
}

func (length) inPage(s *Setting, p *InPage) { p.Of = s.Units }

func (length) allows(s *Setting) string { return s.allowsBounds(" " + strings.Join(s.Units, ", ")) }
