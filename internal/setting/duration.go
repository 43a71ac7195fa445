package setting

import (
	"fmt"
	"regexp"
	"strconv"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// lastsForm is the part of ISO 8601 durations with a fixed length: days of 24 hours, hours,
// minutes, and seconds with up to three decimals.
var lastsForm = regexp.MustCompile(`^P(?:(\d{1,5})D)?(?:T(?:(\d{1,5})H)?(?:(\d{1,5})M)?(?:(\d{1,5}(?:\.\d{1,3})?)S)?)?$`)

// duration is a length of time: "P1DT2H", "PT8S".
type duration struct{}

func (duration) jsonTypes() []string        { return []string{"string"} }
func (duration) controls() []string         { return []string{"duration"} }
func (duration) keys() []string             { return []string{"format"} }
func (duration) glass() []string            { return []string{"minimum", "maximum"} }
func (duration) shape(*Setting) *shape.Type { return shape.Duration }

// read reads bounds in seconds.
func (duration) read(s *Setting, v *jsondoc.Value) fault.List {
	return readBounds(s, v.Get("glass"), 0, 366*86400)
}

func seconds(iso string) (float64, bool) {
	m := lastsForm.FindStringSubmatch(iso)
	if m == nil || len(iso) < 3 || iso[len(iso)-1] == 'T' {
		return 0, false
	}
	total := 0.0
	for i, size := range []float64{86400, 3600, 60, 1} {
		n, _ := strconv.ParseFloat(m[i+1], 64)
		total += n * size
	}
	return total, true
}

func (duration) check(s *Setting, v *jsondoc.Value) (any, problems) {
	const form = `Write it as in ISO 8601: "PT8S" for 8 seconds, "P1DT2H" for one day and two hours.`
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a duration", form)
	}
	n, ok := seconds(v.Text)
	if !ok {
		return nil, one(fault.ValueDate, fmt.Sprintf("%q is %q, which is not a duration.", s.Key, clip.Input(v.Text)), form)
	}
	if n < *s.Minimum || n > *s.Maximum {
		of := Setting{Minimum: s.Minimum, Maximum: s.Maximum, Unit: " s"}
		return nil, one(fault.ValueRange, fmt.Sprintf("%q lasts %s seconds; it must be %s.", s.Key, Number(n), of.bounds()), "Choose a duration within these limits.")
	}
	return v.Text, nil
}

func (duration) view(_ *Setting, v any, _ World) any {
	iso, _ := v.(string)
	n, _ := seconds(iso)
	return map[string]any{"iso": iso, "seconds": n}
}

func (duration) note() Note {
	return Note{"A duration (ISO 8601: days of 24 hours, hours, minutes, seconds).", `"PT8S"`}
}

func (duration) allows(s *Setting) string { return s.allowsBounds(" seconds") }
