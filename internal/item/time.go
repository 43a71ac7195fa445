package item

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"
	_ "time/tzdata" // the binary contains the IANA database
)

// Time is an instant, with the time zone in which its source states it, or a day without a time.
type Time struct {
	time.Time        // in its zone, if Zone is set
	Zone      string // IANA name, "" if unknown
	Day       bool   // only the date is known; Time is the start of that day
}

// MarshalText writes RFC 9557: "2026-12-01", "2026-12-01T18:00:00Z" or
// "2026-12-01T18:00:00+01:00[Europe/Berlin]".
func (t Time) MarshalText() ([]byte, error) {
	switch {
	case t.IsZero():
		return nil, nil
	case t.Day:
		return []byte(t.Format(time.DateOnly)), nil
	case t.Zone != "":
		return []byte(t.Format(time.RFC3339) + "[" + t.Zone + "]"), nil
	}
	return []byte(t.UTC().Format(time.RFC3339)), nil
}

// UnmarshalText reads what MarshalText writes.
func (t *Time) UnmarshalText(text []byte) error {
	if len(text) == 0 {
		*t = Time{}
		return nil
	}
	stamp, zone, _ := strings.Cut(strings.TrimSuffix(string(text), "]"), "[")
	if len(stamp) == len(time.DateOnly) {
		at, err := time.Parse(time.DateOnly, stamp)
		*t = Time{Time: at, Day: true}
		return err
	}
	at, err := time.Parse(time.RFC3339, stamp)
	if err != nil {
		return err
	}
	*t = Time{Time: at}
	if zone != "" {
		*t = t.In(zone)
	}
	return nil
}

// In returns the same instant in the zone with that IANA name, or unchanged if there is none.
func (t Time) In(zone string) Time {
	at := ZoneOf(zone)
	if at == nil || t.Day || t.IsZero() {
		return t
	}
	return Time{Time: t.Time.In(at), Zone: zone}
}

// Moment returns the time in the form of settings, "2026-12-01T18:00:00[Europe/Berlin]". A time
// whose zone is unknown, and a day, is written in zone. It returns "" for no time, and for one
// outside the years that settings accept.
func (t Time) Moment(zone string) string {
	if t.IsZero() || t.Year() < 1971 || t.Year() > 2199 {
		return ""
	}
	if t.Day {
		return t.Format("2006-01-02T15:04:05") + "[" + zone + "]"
	}
	if t.Zone != "" {
		zone = t.Zone
	}
	in := ZoneOf(zone)
	if in == nil {
		in, zone = time.UTC, "UTC"
	}
	at := t.Time.In(in)
	text := at.Format("2006-01-02T15:04:05")
	// The second occurrence of an hour that the clocks repeat needs its offset.
	if before := at.Add(-time.Hour); before.Format("15:04") == at.Format("15:04") {
		text += at.Format("-07:00")
	}
	return text + "[" + zone + "]"
}

// ZoneOf returns the time zone with an IANA name, or nil if there is none.
func ZoneOf(name string) *time.Location {
	if name != "UTC" && !strings.Contains(name, "/") || strings.Contains(name, "..") {
		return nil
	}
	zone, err := time.LoadLocation(name)
	if err != nil {
		return nil
	}
	return zone
}

// usual are the forms of nearly all feeds, RFC 3339 and RFC 5322. They are tried first.
var usual = []string{time.RFC3339, time.RFC1123Z}

// layouts are the forms of date and time that feeds, calendars and pages use: RFC 3339, RFC 5322
// with the usual mistakes, RFC 850, asctime, ISO 8601 in its basic form, and what people type.
var layouts = []string{
	time.RFC3339Nano, "2006-01-02T15:04:05Z0700", "2006-01-02T15:04Z07:00", "2006-01-02T15:04Z0700", "2006-01-02T15Z07:00",
	"2006-01-02T15:04:05", "2006-01-02T15:04", "2006-01-02 15:04:05Z07:00", "2006-01-02 15:04:05 -0700 MST", "2006-01-02 15:04:05 -0700", "2006-01-02 15:04:05 MST", "2006-01-02 15:04:05", "2006-01-02 15:04",
	"20060102T150405Z0700", "20060102T150405", "20060102T1504",
	"2 Jan 2006 15:04:05 -0700", "2 Jan 2006 15:04:05 MST", "2 Jan 2006 15:04:05", "2 Jan 2006 15:04 -0700", "2 Jan 2006 15:04 MST", "2 Jan 2006 15:04",
	"2 Jan 06 15:04:05 -0700", "2 Jan 06 15:04:05 MST", "2 Jan 06 15:04 -0700", "2 Jan 06 15:04 MST", "2-Jan-06 15:04:05 MST", "2-Jan-2006 15:04:05 MST",
	"2 January 2006 15:04:05 -0700", "2 January 2006 15:04:05 MST", "2 January 2006 15:04", "January 2, 2006 15:04:05", "January 2, 2006 15:04", "January 2, 2006 3:04 PM", "Jan 2, 2006 3:04 PM", "Jan 2, 2006 15:04",
	"Jan 2 15:04:05 2006", "Jan 2 15:04:05 MST 2006", "Jan 2 15:04:05 -0700 2006",
	"02.01.2006 15:04:05", "02.01.2006 15:04", "2.1.2006 15:04", "02/01/2006 15:04:05", "02/01/2006 15:04",
}

// days are the forms of a date without a time.
var days = []string{time.DateOnly, "20060102", "2 Jan 2006", "2 January 2006", "Jan 2, 2006", "January 2, 2006", "2.1.2006", "02/01/2006", "2006/01/02", "2006-01", "2006"}

// abbreviated are the zone names that RFC 5322 defines, and those of Europe, in hours. Go reads an
// unknown abbreviation as UTC without an error.
var abbreviated = map[string]float64{"UT": 0, "UTC": 0, "GMT": 0, "Z": 0, "EST": -5, "EDT": -4, "CST": -6, "CDT": -5, "MST": -7, "MDT": -6, "PST": -8, "PDT": -7,
	"WET": 0, "WEST": 1, "BST": 1, "CET": 1, "CEST": 2, "MEZ": 1, "MESZ": 2, "EET": 2, "EEST": 3, "MSK": 3, "IST": 5.5, "JST": 9, "AEST": 10, "AEDT": 11}

var (
	weekday  = regexp.MustCompile(`^(?i:mon|tue|tues|wed|thu|thur|thurs|fri|sat|sun)[a-z]*\.?,?\s+`)
	ordinal  = regexp.MustCompile(`(\d)(st|nd|rd|th)\b`)
	brackets = regexp.MustCompile(`\s*\([^)]*\)\s*$`)
	unixTime = regexp.MustCompile(`^\d{9,10}(\.\d+)?$|^\d{12,13}$`)
)

// ParseTime reads a date and time in any form that feeds use. A time without a zone is in zone, an
// IANA name; "" is UTC.
func ParseTime(text, zone string) (Time, error) {
	was := text
	text = strings.Join(strings.Fields(strings.Trim(text, "\ufeff\"' ")), " ")
	if text == "" {
		return Time{}, fmt.Errorf("there is no date")
	}
	for _, layout := range usual {
		if at, err := time.Parse(layout, text); err == nil {
			return valid(Time{Time: at}, was)
		}
	}
	if stamp, name, ok := strings.Cut(strings.TrimSuffix(text, "]"), "["); ok { // RFC 9557
		t, err := ParseTime(stamp, name)
		return t.In(name), err
	}
	if unixTime.MatchString(text) {
		n, _ := strconv.ParseFloat(text, 64)
		if n > 1e11 { // milliseconds
			n /= 1000
		}
		return valid(Time{Time: time.Unix(0, int64(n*1e9)).UTC()}, was)
	}
	text = ordinal.ReplaceAllString(weekday.ReplaceAllString(brackets.ReplaceAllString(text, ""), ""), "$1")
	text = strings.Replace(text, "24:00", "00:00", 1)
	for _, layout := range days {
		if at, err := time.Parse(layout, text); err == nil {
			return valid(Time{Time: at, Day: true}, was)
		}
	}
	in, known := time.UTC, ""
	if at := ZoneOf(zone); at != nil {
		in, known = at, zone
	}
	for _, layout := range layouts {
		at, err := time.ParseInLocation(layout, text, in)
		if err != nil {
			continue
		}
		switch {
		case strings.HasSuffix(layout, "MST") || strings.Contains(layout, "MST "):
			name, offset := at.Zone()
			if hours, ok := abbreviated[name]; ok && offset == 0 && at.Location() != time.UTC {
				at = at.Add(-time.Duration(hours * float64(time.Hour)))
			} else if !ok && offset == 0 && name != "" && at.Location() != in {
				return Time{}, fmt.Errorf("%q has the unknown time zone %s", was, name)
			}
			return valid(Time{Time: at.UTC()}, was)
		case strings.Contains(layout, "07"):
			return valid(Time{Time: at}, was)
		}
		return valid(Time{Time: at, Zone: known}, was)
	}
	return Time{}, fmt.Errorf("%q is not a date", was)
}

// valid refuses the dates that programs write instead of none.
func valid(t Time, was string) (Time, error) {
	if y := t.Year(); y < 1900 || y > 9999 {
		return Time{}, fmt.Errorf("%q is not a plausible date", was)
	}
	return t, nil
}
