package setting

import (
	"fmt"
	"regexp"
	"time"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// date is a calendar day without a zone (RFC 3339 full-date), or "" for none.
type date struct{}

func (date) jsonTypes() []string                      { return []string{"string"} }
func (date) controls() []string                       { return []string{"date"} }
func (date) keys() []string                           { return []string{"format"} }
func (date) glass() []string                          { return nil }
func (date) shape(*Setting) *shape.Type               { return shape.Day }
func (date) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (date) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a date", `Write it as "2027-03-01".`)
	}
	if v.Text == "" {
		return "", nil
	}
	t, err := time.Parse(time.DateOnly, v.Text)
	if err != nil || t.Year() < 1000 || t.Year() > 2999 {
		return nil, one(fault.ValueDate, fmt.Sprintf("%q is %q, which is not a date.", s.Key, clip.Input(v.Text)), `Write year, month and day, as in "2027-03-01".`)
	}
	return v.Text, nil
}

func (date) view(_ *Setting, v any, _ World) any {
	iso, _ := v.(string)
	t, err := time.Parse(time.DateOnly, iso)
	if err != nil {
		return shape.Day.Zero()
	}
	return map[string]any{"iso": iso, "year": float64(t.Year()), "month": float64(t.Month()), "day": float64(t.Day())}
}

var timeForm = regexp.MustCompile(`^([01]\d|2[0-3]):[0-5]\d$`)

// timeOfDay is an hour and a minute, "18:30", or "" for none.
type timeOfDay struct{}

func (timeOfDay) jsonTypes() []string                      { return []string{"string"} }
func (timeOfDay) controls() []string                       { return []string{"time"} }
func (timeOfDay) keys() []string                           { return []string{"pattern"} }
func (timeOfDay) glass() []string                          { return nil }
func (timeOfDay) shape(*Setting) *shape.Type               { return shape.Text }
func (timeOfDay) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (timeOfDay) view(_ *Setting, v any, _ World) any      { return v }

func (timeOfDay) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a time of day", `Write it as "18:30".`)
	}
	if v.Text != "" && !timeForm.MatchString(v.Text) {
		return nil, one(fault.ValueDate, fmt.Sprintf("%q is %q, which is not a time of day.", s.Key, clip.Input(v.Text)), `Write hour and minute, as in "18:30".`)
	}
	return v.Text, nil
}

func (date) note() Note {
	return Note{"A calendar date (RFC 3339, full-date); `\"\"` for none.", `"2027-03-01"`}
}

func (date) words(_ *Setting, v any, _ string) string {
	text, _ := v.(string)
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return text
	}
	return at.Format("2 January 2006")
}

func (timeOfDay) note() Note {
	return Note{"A time of day; `\"\"` for none.", `"18:30"`}
}
