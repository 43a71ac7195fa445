package view

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"net/url"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// unit is one element of the result of timeLeft.
var unit = shape.Object("", map[string]*shape.Type{"unit": shape.Text, "value": shape.Whole, "digits": shape.Text})

var unitSeconds = map[string]int64{"days": 86400, "hours": 3600, "minutes": 60, "seconds": 1}

// timeLeft splits the time from now to a moment. A day is 24 hours: the result is a length of time,
// so a change of clocks in between does not affect it.
func (d *Data) timeLeft(moment map[string]any, units string) ([]any, error) {
	at, ok := moment["at"].(float64)
	if !ok {
		return nil, fmt.Errorf("timeLeft needs a date and time")
	}
	// Rounded up, so that "0" appears at the moment itself and not a second earlier.
	milliseconds := int64(at) - d.Now.UnixMilli()
	left := max(0, (milliseconds+999)/1000)
	var parts []any
	for i, unit := range strings.Split(units, "-") {
		size, ok := unitSeconds[unit]
		if !ok {
			return nil, fmt.Errorf("there is no unit %q. Use days, hours, minutes or seconds", unit)
		}
		value := left / size
		left %= size
		digits := strconv.FormatInt(value, 10)
		if i > 0 && len(digits) < 2 {
			digits = "0" + digits
		}
		parts = append(parts, map[string]any{"unit": unit, "value": int(value), "digits": digits})
	}
	return parts, nil
}

func (d *Data) hasPassed(moment map[string]any) (bool, error) {
	at, ok := moment["at"].(float64)
	if !ok {
		return false, fmt.Errorf("hasPassed needs a date and time")
	}
	return !d.Now.Before(time.UnixMilli(int64(at))), nil
}

func (d *Data) fromNow(days, hours, minutes float64) map[string]any {
	at := d.Now.Add(time.Duration(((days*24+hours)*60 + minutes) * float64(time.Minute)))
	utc := at.UTC().Format(time.RFC3339)
	return map[string]any{"at": float64(at.UnixMilli()), "utc": utc, "local": strings.TrimSuffix(utc, "Z"), "zone": "UTC"}
}

// numberAt does not show the final number before its moment: it rounds towards the initial number.
func (d *Data) numberAt(from, to float64, starts, ends map[string]any, decimals float64) (string, error) {
	b, ok1 := starts["at"].(float64)
	e, ok2 := ends["at"].(float64)
	if !ok1 || !ok2 {
		return "", fmt.Errorf("numberAt needs two dates and times")
	}
	part := 1.0
	if now := float64(d.Now.UnixMilli()); now < e && e > b {
		part = max(0, (now-b)/(e-b))
	}
	places := int(min(max(decimals, 0), 6))
	unit := math.Pow(10, -float64(places))
	// With a small addition, so that 0.29999… in binary counts as 0.3.
	steps := math.Floor(math.Abs(to-from)*part/unit + 1e-6)
	value := to
	if part < 1 {
		value = from + math.Copysign(steps*unit, to-from)
	}
	return message.Number(d.Language, value, places), nil
}

// number caches its results, because a rendering repeats the same few numbers, for example in
// ratings.
func (d *Data) number(n, decimals float64) string {
	key := [2]float64{n, decimals}
	written, known := d.numbers[key]
	if !known {
		if d.numbers == nil {
			d.numbers = map[[2]float64]string{}
		}
		written = message.Number(d.Language, n, int(min(max(decimals, 0), 6)))
		d.numbers[key] = written
	}
	return written
}

func px(n float64) string { return plain(n) + "px" }

func (d *Data) money(m map[string]any) (string, error) {
	amount, _ := m["amount"].(float64)
	code, _ := m["currency"].(string)
	if code == "" {
		return "", nil
	}
	return message.Money(d.Language, int64(amount), code)
}

func (d *Data) date(day map[string]any, style string) (string, error) {
	iso, _ := day["iso"].(string)
	at, err := time.Parse(time.DateOnly, iso)
	if err != nil {
		return "", nil // not a date
	}
	return message.Date(d.Language, at, style)
}

func (d *Data) dateOf(moment map[string]any, style string) (string, error) {
	at, ok := wall(moment)
	if !ok {
		return "", nil
	}
	return message.Date(d.Language, at, style)
}

// zoneOf prefers the abbreviation that people know.
func (d *Data) zoneOf(moment map[string]any) (string, error) {
	at, ok := moment["at"].(float64)
	name, _ := moment["zone"].(string)
	zone, err := time.LoadLocation(name)
	if !ok || err != nil {
		return "", nil
	}
	short := time.UnixMilli(int64(at)).In(zone).Format("MST")
	if sign := short[0]; sign == '+' || sign == '-' {
		hours, minutes := short[:3], short[3:]
		short = "UTC" + string(sign) + strings.TrimLeft(hours[1:], "0")
		if minutes != "" {
			short += ":" + minutes
		}
	}
	return short, nil
}

// endOf returns when a date is over; see item.Over, which decides when the list is rendered again.
func endOf(item map[string]any) (map[string]any, error) {
	start, _ := item["startDate"].(map[string]any)
	end, _ := item["endDate"].(map[string]any)
	at, ok := start["at"].(float64)
	if !ok {
		return start, nil
	}
	last, has := end["at"].(float64)
	if !has || last < at {
		end, last = start, at
	}
	over := time.UnixMilli(int64(last))
	switch name, _ := end["zone"].(string); {
	case item["allDay"] == true:
		zone, err := time.LoadLocation(name)
		if err != nil {
			zone = time.UTC
		}
		y, m, d := over.In(zone).Date()
		over = time.Date(y, m, d+1, 0, 0, 0, 0, zone)
	case last == at:
		over = over.Add(assumedLength)
	}
	utc := over.UTC().Format(time.RFC3339)
	return map[string]any{"at": float64(over.UnixMilli()), "utc": utc, "local": strings.TrimSuffix(utc, "Z"), "zone": "UTC"}, nil
}

// assumedLength is how long a date lasts without an end.
const assumedLength = 2 * time.Hour

func (d *Data) calendarOf(id string) shape.Link {
	switch {
	case d.Calendar == "":
		return ""
	case id == "":
		return shape.Link(d.Calendar)
	}
	return shape.Link(d.Calendar + "?item=" + url.QueryEscape(id))
}

// ago writes the date, because a rendering is shown long after it was made. The page makes it
// relative.
func (d *Data) ago(moment map[string]any, style string) (template.HTML, error) {
	at, ok := wall(moment)
	if !ok {
		return "", nil
	}
	date, err := message.Date(d.Language, at, style)
	if err != nil {
		return "", err
	}
	utc, _ := moment["utc"].(string)
	return template.HTML(`<time datetime="` + html.EscapeString(utc) + `" data-ago>` + html.EscapeString(date) + `</time>`), nil
}

func (d *Data) timeOf(moment map[string]any) (string, error) {
	at, ok := wall(moment)
	if !ok {
		return "", nil
	}
	return message.Time(d.Language, at), nil
}

// wall is the time that the clocks of a moment's zone show.
func wall(moment map[string]any) (time.Time, bool) {
	local, _ := moment["local"].(string)
	at, err := time.Parse("2006-01-02T15:04:05", local)
	return at, err == nil
}
