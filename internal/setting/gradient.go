package setting

import (
	"fmt"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Limits of the number of colours in a gradient.
const (
	StopsLeast = 2
	StopsMost  = 8
)

// gradient is a linear gradient (CSS Images 3, section 3.1): an angle in degrees, where 0 points up
// and 90 to the right, and colours at percentages of its length.
type gradient struct{}

func (gradient) jsonTypes() []string                      { return []string{"object"} }
func (gradient) controls() []string                       { return []string{"gradient"} }
func (gradient) keys() []string                           { return nil }
func (gradient) glass() []string                          { return nil }
func (gradient) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (gradient) view(_ *Setting, v any, _ World) any      { return v }

func (gradient) shape(*Setting) *shape.Type {
	return shape.Object("", map[string]*shape.Type{"angle": shape.Number, "stops": shape.ListOf(shape.Object("", map[string]*shape.Type{"colour": shape.Text, "at": shape.Number}))})
}

const gradientForm = `{"angle": 90, "stops": [{"colour": "#0b6b63", "at": 0}, {"colour": "#17233a", "at": 100}]}`

func (gradient) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, gradientForm, []part{{"angle", numberPart(0, 360, false), 90.0}, {"stops", readStops, nil}}))
}

func readStops(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.Array || len(v.Items) < StopsLeast || len(v.Items) > StopsMost {
		return nil, one(fault.ValueLength, fmt.Sprintf("%q must be a list of %d to %d colours.", s.Key, StopsLeast, StopsMost), "Write them as [{\"colour\": \"#0b6b63\", \"at\": 0}, {\"colour\": \"#17233a\", \"at\": 100}].")
	}
	stops := make([]any, len(v.Items))
	var found problems
	last := 0.0
	for i, item := range v.Items {
		stop, ps := readParts(s, item, `{"colour": "#0b6b63", "at": 0}`, []part{{"colour", colourPart, nil}, {"at", numberPart(0, 100, false), nil}})
		step := fmt.Sprint(i)
		if ps != nil {
			found = append(found, ps.in(item, step)...)
			continue
		}
		if at := stop["at"].(float64); at < last {
			found = append(found, one(fault.ValueRange, fmt.Sprintf("The colours of %q are not in order.", s.Key), "Sort the colours by \"at\".").in(item, step)...)
		} else {
			last = at
		}
		stops[i] = stop
	}
	return stops, found
}

func (gradient) note() Note {
	return Note{"A linear gradient. `angle` is in degrees (0 is up, 90 is right); 2 to 8 colours have positions in percent.", `{"angle": 90, "stops": [{"colour": "#0b6b63", "at": 0}, {"colour": "#17233a", "at": 100}]}`}
}

func (gradient) css() string {
	return `{ "as": "property", "write": "linear-gradient({angle}deg, {each})", "each": { "of": "stops", "write": "{colour} {at}%", "join": ", " } }`
}

func (gradient) words(_ *Setting, v any, _ string) string {
	m, _ := v.(map[string]any)
	stops, _ := m["stops"].([]any)
	colours := make([]string, len(stops))
	for i, stop := range stops {
		of, _ := stop.(map[string]any)
		colours[i] = fmt.Sprint(of["colour"])
	}
	return fmt.Sprintf("%s, %s°", strings.Join(colours, " to "), plainly(m["angle"]))
}
