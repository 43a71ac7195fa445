package setting

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"
	_ "time/tzdata" // the binary contains the IANA database, because a machine's own may be missing or old

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Moment is a wall-clock time in a named zone. Its text is the string form of RFC 9557 as
// ECMAScript's Temporal reads it, "2027-03-01T18:00[Europe/Berlin]". The offset may be left out,
// since the zone's rules determine it, and must agree with them if present.
type Moment struct {
	Local string    // "2006-01-02T15:04" or with seconds, as written
	Zone  string    // IANA name
	At    time.Time // the instant, in Zone
}

// momentParts splits "2027-03-01T18:00:00+01:00[Europe/Berlin]"; seconds and offset are optional.
// Lists have a moment in each item, so it avoids a regular expression.
func momentParts(s string) (local, offset, zone string, ok bool) {
	wall, zone, ok := strings.Cut(s, "[")
	if !ok || len(zone) < 2 || len(zone) > 65 || strings.IndexByte(zone, ']') != len(zone)-1 || len(wall) < 16 {
		return "", "", "", false
	}
	n := 16
	if like(wall[n:min(n+3, len(wall))], ":00") {
		n += 3
	}
	local, offset = wall[:n], wall[n:]
	if local[10] == ' ' {
		local = local[:10] + "T" + local[11:]
	}
	ok = like(local, "0000-00-00T00:00:00"[:n]) && (offset == "" || offset == "Z" || like(offset, "+00:00") || like(offset, "-00:00"))
	return local, offset, zone[:len(zone)-1], ok
}

// like reports whether s is form with any digits in place of its zeros.
func like(s, form string) bool {
	if len(s) != len(form) {
		return false
	}
	for i := range len(s) {
		if digit := s[i] >= '0' && s[i] <= '9'; digit != (form[i] == '0') || !digit && s[i] != form[i] {
			return false
		}
	}
	return true
}

// parseMoment reads a moment. A time that daylight saving skips moves forward by the gap; of a time
// that occurs twice, the earlier one counts, unless the offset selects the later one (Temporal's
// "compatible").
func parseMoment(s string) (Moment, *problem) {
	const form = "Write the date, T, the time, and the time zone in brackets: 2027-03-01T18:00[Europe/Berlin]."
	local, offset, name, ok := momentParts(s)
	if !ok {
		return Moment{}, &problem{code: fault.ValueMoment, what: fmt.Sprintf("%q is not a date and time with a time zone.", clip.Input(s)), fix: form}
	}
	layout := "2006-01-02T15:04:05"[:len(local)]
	wall, err := time.Parse(layout, local)
	if err != nil {
		return Moment{}, &problem{code: fault.ValueMoment, what: fmt.Sprintf("%q is not on the calendar.", local), fix: "Check day, month, hour and minute."}
	}
	if wall.Year() < 1970 || wall.Year() > 2200 {
		return Moment{}, &problem{code: fault.ValueMoment, what: fmt.Sprintf("The year %d is outside the supported range.", wall.Year()), fix: "Use a year from 1970 to 2200."}
	}
	zone, p := loadZone(name)
	if p != nil {
		return Moment{}, p
	}
	m := Moment{Local: local, Zone: name}
	offsets := resolve(wall, zone, &m.At)
	if offset != "" {
		want, found := offsetSeconds(offset), false
		for _, o := range offsets {
			if o == want {
				m.At, found = wall.Add(-time.Duration(o)*time.Second).In(zone), true
			}
		}
		if !found {
			return Moment{}, &problem{code: fault.ValueMoment, what: fmt.Sprintf("The offset %s is wrong for %s at that time.", offset, name), fix: "Leave the offset out. The time zone determines it."}
		}
		// The offset is kept only if it decides between two instants.
		if len(offsets) > 1 {
			m.Local += offset
		}
	}
	return m, nil
}

// ReadMoment reads a moment in the form of settings. The fault says what is wrong with it.
func ReadMoment(text string) (Moment, *fault.Fault) {
	m, p := parseMoment(strings.TrimSpace(text))
	if p != nil {
		return m, &fault.Fault{Code: p.code, What: p.what, Fix: p.fix}
	}
	return m, nil
}

// CheckZone returns a fault if text does not name a time zone.
func CheckZone(name string) *fault.Fault {
	if _, p := loadZone(name); p != nil {
		return &fault.Fault{Code: p.code, What: p.what, Fix: p.fix}
	}
	return nil
}

// Odd explains which instant is meant if a change of clocks skips the moment's wall-clock time or
// repeats it. It returns "" for any other moment.
func (m Moment) Odd() string {
	wall, err := time.Parse("2006-01-02T15:04:05"[:min(len(m.Local), 19)], m.Local[:min(len(m.Local), 19)])
	if len(m.Local) > 16 && m.Local[16] != ':' { // it has an offset, which decides
		return ""
	}
	zone, p := loadZone(m.Zone)
	if err != nil || p != nil {
		return ""
	}
	var at time.Time
	switch offsets := resolve(wall, zone, &at); len(offsets) {
	case 0:
		return fmt.Sprintf("%[2]s does not exist in %[1]s, because the clocks go forward then. The service uses %[3]s.", m.Zone, wall.Format("15:04"), m.At.Format("15:04"))
	case 2:
		return fmt.Sprintf("%[2]s happens twice in %[1]s that night. The service uses the first. For the second, write %[3]s[%[4]s].", m.Zone, wall.Format("15:04"), m.Local+m.later(wall, offsets), m.Zone)
	}
	return ""
}

// later returns the offset of the second of two instants with the same wall-clock time.
func (m Moment) later(wall time.Time, offsets []int) string {
	least := min(offsets[0], offsets[1])
	return wall.In(time.FixedZone("", least)).Format("-07:00")
}

// String returns the moment in the form of settings.
func (m Moment) String() string { return m.Local + "[" + m.Zone + "]" }

// resolve finds the offsets, in seconds, at which the zone's clocks show wall, and sets at to the
// instant that the "compatible" rule selects.
func resolve(wall time.Time, zone *time.Location, at *time.Time) (offsets []int) {
	_, before := wall.Add(-24 * time.Hour).In(zone).Zone()
	_, after := wall.Add(24 * time.Hour).In(zone).Zone()
	for i, o := range []int{before, after} {
		if i == 1 && after == before {
			break
		}
		instant := wall.Add(-time.Duration(o) * time.Second).In(zone)
		if _, real := instant.Zone(); real == o {
			if len(offsets) == 0 || instant.Before(*at) {
				*at = instant
			}
			offsets = append(offsets, o)
		}
	}
	if len(offsets) == 0 { // skipped: continue with the offset before the change
		*at = wall.Add(-time.Duration(before) * time.Second).In(zone)
	}
	return offsets
}

// zones caches the zones that were read from the database.
var zones sync.Map

func loadZone(name string) (*time.Location, *problem) {
	if zone, known := zones.Load(name); known {
		return zone.(*time.Location), nil
	}
	if name == "UTC" || strings.Contains(name, "/") {
		if zone, err := time.LoadLocation(name); err == nil {
			zones.Store(name, zone) // bounded, because only zones of the database are stored
			return zone, nil
		}
	}
	return nil, &problem{code: fault.ValueZone, what: fmt.Sprintf("There is no time zone %q.", clip.Input(name)), fix: "Use a name from the IANA database, such as Europe/Berlin or UTC."}
}

func offsetSeconds(s string) int {
	if s == "Z" {
		return 0
	}
	h, _ := strconv.Atoi(s[1:3])
	m, _ := strconv.Atoi(s[4:6])
	if s[0] == '-' {
		return -(h*3600 + m*60)
	}
	return h*3600 + m*60
}

var durationForm = regexp.MustCompile(`^(-?)P(?:(\d{1,4})D)?(?:T(?:(\d{1,4})H)?(?:(\d{1,4})M)?(?:(\d{1,4})S)?)?\[([^\]]{1,64})\]$`)

// AfterNow converts an ISO 8601 duration with a zone, "P12DT4H[Europe/Berlin]", to the moment that
// long after now, in whole seconds. With a leading minus sign (ISO 8601-2) it is before now.
// Samples use it, so that a preview's countdown always runs. ok is false if s does not have this
// form.
func AfterNow(s string, now time.Time) (Moment, bool) {
	part := durationForm.FindStringSubmatch(s)
	if part == nil {
		return Moment{}, false
	}
	zone, p := loadZone(part[6])
	if p != nil {
		return Moment{}, false
	}
	sign := 1
	if part[1] != "" {
		sign = -1
	}
	n := func(i int) int { v, _ := strconv.Atoi(part[i]); return sign * v }
	at := now.In(zone).AddDate(0, 0, n(2)).Add(time.Duration(n(3))*time.Hour + time.Duration(n(4))*time.Minute + time.Duration(n(5))*time.Second).Truncate(time.Second)
	return Moment{Local: at.Format("2006-01-02T15:04:05"), Zone: part[6], At: at}, true
}

type moment struct{}

func (moment) jsonTypes() []string                      { return []string{"string"} }
func (moment) controls() []string                       { return []string{"moment"} }
func (moment) keys() []string                           { return nil }
func (moment) glass() []string                          { return nil }
func (moment) shape(*Setting) *shape.Type               { return shape.Moment }
func (moment) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (moment) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a date and time", `Write it as "2027-03-01T18:00[Europe/Berlin]".`)
	}
	if v.Text == "" && !s.Required {
		return "", nil
	}
	m, p := parseMoment(v.Text)
	if p != nil {
		p.what = fmt.Sprintf("%q: %s", s.Key, p.what)
		return nil, problems{p}
	}
	return m.String(), nil
}

// view returns at (milliseconds since 1970 UTC), utc (RFC 3339), local and zone.
func (moment) view(_ *Setting, v any, _ World) any {
	t, _ := v.(string)
	m, p := parseMoment(t)
	if p != nil { // no value, or a zone that this time zone database does not know
		return shape.Moment.Zero()
	}
	return map[string]any{
		"at":    float64(m.At.UnixMilli()),
		"utc":   m.At.UTC().Format(time.RFC3339),
		"local": m.At.Format("2006-01-02T15:04:05"),
		"zone":  m.Zone,
	}
}

func (moment) note() Note {
	return Note{"A local date and time with an IANA time zone (RFC 9557, as in Temporal), from 1970 to 2200. A time that the clocks skip moves forward by the gap. A time that happens twice is the first one, unless it has an offset.", `"2027-03-01T18:00[Europe/Berlin]"`}
}

func (moment) words(_ *Setting, v any, _ string) string {
	text, _ := v.(string)
	at, p := parseMoment(text)
	if p != nil {
		return text
	}
	return at.At.Format("2 January 2006, 15:04") + " (" + at.Zone + ")"
}

// settle replaces a duration from now by the moment.
func (moment) settle(v *jsondoc.Value, now time.Time) {
	if t, ok := AfterNow(v.Text, now); ok && v.Kind == jsondoc.String {
		v.Text = t.String()
	}
}
