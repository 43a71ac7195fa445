package feed

import (
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"glasspocket/internal/item"
)

// calendarReader reads one calendar.
type calendarReader struct {
	*Document
	*Found
	zones     map[string]zone // by TZID
	own       string          // time zone of times without one
	cancelled bool            // everything in it is
}

// zone is what a calendar's TZID means: an IANA zone, or a fixed offset.
type zone struct {
	name string // IANA
	at   *time.Location
}

// defines takes a calendar's definition of a time zone. Programs name zones as they like, so the
// name is looked up in the IANA database first. Only of an unknown one, the offset is used.
func (r *calendarReader) defines(z *ics.VTimezone) {
	id := textValue(z.GetProperty("TZID"))
	for _, name := range []string{id, textValue(z.GetProperty("X-LIC-LOCATION"))} {
		if known := ianaOf(name); known != "" {
			r.zones[id] = zone{known, item.ZoneOf(known)}
			return
		}
	}
	for _, part := range z.Components {
		standard, ok := part.(*ics.Standard)
		if !ok {
			continue
		}
		if offset, ok := utcOffset(textValue(standard.GetProperty("TZOFFSETTO"))); ok {
			r.zones[id] = zone{"", time.FixedZone(id, offset)}
			r.repair("The calendar defines the time zone “%s”, which does not exist. Its offset from UTC was used.", item.Line(id, 60))
		}
	}
}

// of returns the zone for a TZID.
func (r *calendarReader) of(id string) zone {
	if id == "" {
		return zone{r.own, orUTC(item.ZoneOf(r.own))}
	}
	if z, known := r.zones[id]; known {
		return z
	}
	if name := ianaOf(id); name != "" {
		r.zones[id] = zone{name, item.ZoneOf(name)}
		return r.zones[id]
	}
	r.repair("There is no time zone “%s”; %s was used.", item.Line(id, 60), orUTC(item.ZoneOf(r.own)))
	r.zones[id] = zone{r.own, orUTC(item.ZoneOf(r.own))}
	return r.zones[id]
}

func orUTC(at *time.Location) *time.Location {
	if at == nil {
		return time.UTC
	}
	return at
}

// time reads a property with a date or a date and time.
func (r *calendarReader) time(p *ics.IANAProperty) (at item.Time, ok bool) {
	if p == nil {
		return at, false
	}
	return r.at(p.Value, parameter(p, "TZID"))
}

func (r *calendarReader) at(value, id string) (at item.Time, ok bool) {
	value = strings.TrimSpace(value)
	if len(value) == 8 {
		day, err := time.Parse("20060102", value)
		return item.Time{Time: day, Day: true}, err == nil && day.Year() >= 1900
	}
	if stamp, utc := strings.CutSuffix(value, "Z"); utc {
		t, err := time.Parse("20060102T150405", stamp)
		return item.Time{Time: t}.In(r.zoneOfUTC()), err == nil && t.Year() >= 1900
	}
	z := r.of(id)
	for _, layout := range []string{"20060102T150405", "20060102T1504", "2006-01-02T15:04:05"} {
		if t, err := time.ParseInLocation(layout, value, z.at); err == nil {
			return item.Time{Time: t, Zone: z.name}, t.Year() >= 1900
		}
	}
	return at, false
}

// zoneOfUTC is the zone in which times in UTC are shown: the calendar's own.
func (r *calendarReader) zoneOfUTC() string {
	if r.own == "" {
		return "UTC"
	}
	return r.own
}

// utcOffset reads "+0100" or "-033000", in seconds.
func utcOffset(text string) (seconds int, ok bool) {
	for _, layout := range []string{"-0700", "-070000"} {
		if t, err := time.Parse(layout, text); err == nil {
			_, seconds = t.Zone()
			return seconds, true
		}
	}
	return 0, false
}

// ianaOf returns the IANA zone that a TZID means, or "". Some programs put a path before it; others
// use the names of desktop systems (Unicode CLDR, windowsZones.xml, of which these are the territories 001).
func ianaOf(id string) string {
	id = strings.Trim(strings.TrimSpace(id), `"/`)
	if item.ZoneOf(id) != nil {
		return id
	}
	if name := desktopZones[strings.ToLower(id)]; name != "" {
		return name
	}
	parts := strings.Split(id, "/")
	for n := 3; n >= 2; n-- {
		if len(parts) > n {
			if name := strings.Join(parts[len(parts)-n:], "/"); item.ZoneOf(name) != nil {
				return name
			}
		}
	}
	return ""
}

var desktopZones = map[string]string{
	"utc": "UTC", "gmt": "UTC", "greenwich standard time": "Atlantic/Reykjavik", "gmt standard time": "Europe/London", "w. europe standard time": "Europe/Berlin", "central europe standard time": "Europe/Budapest",
	"central european standard time": "Europe/Warsaw", "romance standard time": "Europe/Paris", "e. europe standard time": "Europe/Chisinau", "fle standard time": "Europe/Kiev", "gtb standard time": "Europe/Bucharest",
	"turkey standard time": "Europe/Istanbul", "russian standard time": "Europe/Moscow", "israel standard time": "Asia/Jerusalem", "egypt standard time": "Africa/Cairo", "south africa standard time": "Africa/Johannesburg",
	"w. central africa standard time": "Africa/Lagos", "e. africa standard time": "Africa/Nairobi", "morocco standard time": "Africa/Casablanca", "arab standard time": "Asia/Riyadh", "arabian standard time": "Asia/Dubai",
	"arabic standard time": "Asia/Baghdad", "iran standard time": "Asia/Tehran", "pakistan standard time": "Asia/Karachi", "india standard time": "Asia/Kolkata", "sri lanka standard time": "Asia/Colombo", "nepal standard time": "Asia/Kathmandu",
	"bangladesh standard time": "Asia/Dhaka", "se asia standard time": "Asia/Bangkok", "china standard time": "Asia/Shanghai", "singapore standard time": "Asia/Singapore", "taipei standard time": "Asia/Taipei", "w. australia standard time": "Australia/Perth",
	"tokyo standard time": "Asia/Tokyo", "korea standard time": "Asia/Seoul", "aus eastern standard time": "Australia/Sydney", "e. australia standard time": "Australia/Brisbane", "cen. australia standard time": "Australia/Adelaide",
	"new zealand standard time": "Pacific/Auckland", "azores standard time": "Atlantic/Azores", "newfoundland standard time": "America/St_Johns", "atlantic standard time": "America/Halifax", "eastern standard time": "America/New_York",
	"central standard time": "America/Chicago", "mountain standard time": "America/Denver", "us mountain standard time": "America/Phoenix", "pacific standard time": "America/Los_Angeles", "alaskan standard time": "America/Anchorage",
	"hawaiian standard time": "Pacific/Honolulu", "e. south america standard time": "America/Sao_Paulo", "argentina standard time": "America/Buenos_Aires", "sa pacific standard time": "America/Bogota", "central america standard time": "America/Guatemala",
	"canada central standard time": "America/Regina", "central standard time (mexico)": "America/Mexico_City", "venezuela standard time": "America/Caracas", "pacific sa standard time": "America/Santiago",
}
