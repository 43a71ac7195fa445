package feed

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"glasspocket/internal/item"
)

func isCalendar(d *Document) bool {
	return strings.HasPrefix(strings.ToUpper(d.head()), "BEGIN:VCALENDAR")
}

// The part of a calendar that is read: dates from calendarBack ago until calendarAhead from now.
// Recurring dates have no end.
const (
	calendarBack  = 62 * 24 * time.Hour
	calendarAhead = 400 * 24 * time.Hour
)

// readCalendar reads the dates of a calendar (RFC 5545, RFC 7986).
func readCalendar(_ context.Context, d *Document, _ Options) (*Found, error) {
	f := &Found{}
	cal := parseCalendar(d, f)
	r := &calendarReader{Document: d, Found: f, zones: map[string]zone{}, own: d.Zone}
	for _, p := range cal.CalendarProperties {
		switch strings.ToUpper(p.IANAToken) {
		case "NAME", "X-WR-CALNAME":
			if f.Title == "" {
				f.Title = ics.FromText(p.Value)
			}
		case "URL":
			f.Link = p.Value
		case "REFRESH-INTERVAL", "X-PUBLISHED-TTL":
			if every := isoDuration(p.Value); every > 0 {
				f.Every = every
			}
		case "X-WR-TIMEZONE", "TIMEZONE-ID":
			if item.ZoneOf(p.Value) != nil {
				r.own = p.Value
			}
		case "METHOD":
			r.cancelled = strings.EqualFold(p.Value, "CANCEL")
		}
	}
	for _, c := range cal.Components {
		if z, ok := c.(*ics.VTimezone); ok {
			r.defines(z)
		}
	}
	series := map[string]bool{}
	var single []*ics.VEvent
	var recurring []*ics.VEvent
	overridden := map[string]bool{} // occurrences that have their own event
	for _, e := range cal.Events() {
		uid := textValue(e.GetProperty(ics.ComponentPropertyUniqueId))
		switch {
		case e.GetProperty("RECURRENCE-ID") != nil:
			if at, ok := r.time(e.GetProperty("RECURRENCE-ID")); ok {
				overridden[occurrence(uid, at)] = true
			}
			single = append(single, e)
		case e.GetProperty(ics.ComponentPropertyRrule) != nil || e.GetProperty("RDATE") != nil:
			recurring = append(recurring, e)
			series[uid] = true
		default:
			single = append(single, e)
		}
	}
	for _, e := range single {
		it, ok := r.event(e)
		if !ok {
			continue
		}
		it.Origin = textValue(e.GetProperty(ics.ComponentPropertyUniqueId))
		if at, ok := r.time(e.GetProperty("RECURRENCE-ID")); ok {
			it.Origin = occurrence(it.Origin, at)
			if over := it.Over(time.UTC); over.Before(d.Now.Add(-calendarBack)) {
				continue
			}
		}
		f.Items = append(f.Items, it)
	}
	for _, e := range recurring {
		f.Rolling = true
		r.expand(e, overridden)
	}
	slices.SortStableFunc(f.Items, func(a, b item.Item) int {
		return cmp.Or(a.Start.Compare(b.Start.Time), strings.Compare(a.Origin, b.Origin))
	})
	return f, nil
}

func occurrence(uid string, at item.Time) string {
	if at.Day {
		return uid + "/" + at.Format("20060102")
	}
	return uid + "/" + at.UTC().Format("20060102T150405Z")
}

// parseCalendar parses a calendar. If it is damaged, each of its components is parsed by itself.
func parseCalendar(d *Document, f *Found) *ics.Calendar {
	text := strings.TrimLeft(d.Text(), " \t\r\n\ufeff")
	cal, err := ics.ParseCalendarWithOptions(strings.NewReader(text), ics.WithUnknownPropertyHandler(ics.AcceptUnknownPropertyHandler))
	if err == nil {
		return cal
	}
	cal = &ics.Calendar{}
	lines := strings.Split(strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(text), "\n")
	broken := 0
	for i := 0; i < len(lines); i++ {
		kind, begins := strings.CutPrefix(strings.ToUpper(strings.TrimSpace(lines[i])), "BEGIN:")
		if !begins || kind != "VEVENT" && kind != "VTIMEZONE" {
			if p, err := ics.ParseProperty(ics.ContentLine(lines[i])); err == nil && p != nil {
				cal.CalendarProperties = append(cal.CalendarProperties, ics.CalendarProperty{BaseProperty: *p})
			}
			continue
		}
		block := []string{"BEGIN:VCALENDAR", "BEGIN:" + kind}
		for i++; i < len(lines); i++ {
			line := strings.ToUpper(strings.TrimSpace(lines[i]))
			if line == "END:"+kind || line == "BEGIN:"+kind || line == "END:VCALENDAR" {
				if line == "BEGIN:"+kind {
					i--
				}
				break
			}
			continued := strings.HasPrefix(lines[i], " ") || strings.HasPrefix(lines[i], "\t")
			if p, err := ics.ParseProperty(ics.ContentLine(lines[i])); continued || err == nil && p != nil {
				block = append(block, lines[i])
			} else if line != "" {
				broken++
			}
		}
		block = append(block, "END:"+kind, "END:VCALENDAR", "")
		part, err := ics.ParseCalendarWithOptions(strings.NewReader(strings.Join(block, "\r\n")), ics.WithUnknownPropertyHandler(ics.AcceptUnknownPropertyHandler))
		if err != nil {
			f.skip("A component of the calendar cannot be read: %v.", err)
			continue
		}
		cal.Components = append(cal.Components, part.Components...)
	}
	f.repair("The calendar is damaged (%v). %d lines were left out.", err, broken)
	return cal
}

// textValue returns the value of a text property, or "".
func textValue(p *ics.IANAProperty) string {
	if p == nil {
		return ""
	}
	return strings.TrimSpace(ics.FromText(p.Value))
}

func parameter(p *ics.IANAProperty, name string) string {
	if p == nil {
		return ""
	}
	if list := p.ICalParameters[name]; len(list) > 0 {
		return strings.Trim(list[0], `"`)
	}
	return ""
}

// event makes an item from an event. ok is false if it has no start.
func (r *calendarReader) event(e *ics.VEvent) (it item.Item, ok bool) {
	title := textValue(e.GetProperty(ics.ComponentPropertySummary))
	it = item.Item{Kind: item.Date, Title: title}
	if it.Start, ok = r.time(e.GetProperty(ics.ComponentPropertyDtStart)); !ok {
		r.skip("“%s” has no valid start, so it was left out.", item.Line(title, 60))
		return it, false
	}
	if end, ok := r.time(e.GetProperty(ics.ComponentPropertyDtEnd)); ok {
		it.End = end
		if end.Day { // the end is exclusive (RFC 5545, section 3.6.1)
			it.End.Time = end.AddDate(0, 0, -1)
		}
	} else if p := e.GetProperty(ics.ComponentPropertyDuration); p != nil {
		if lasts := isoDuration(p.Value); lasts > 0 {
			it.End = it.Start
			if it.Start.Day {
				it.End.Time = it.Start.Add(lasts - 24*time.Hour)
			} else {
				it.End.Time = it.Start.Add(lasts)
			}
		}
	}
	if it.End.Before(it.Start.Time) {
		it.End = item.Time{}
	}
	it.SetHTML(plainAsHTML(textValue(e.GetProperty(ics.ComponentPropertyDescription))))
	if alt := e.GetProperty("X-ALT-DESC"); alt != nil && parameter(alt, "FMTTYPE") == "text/html" {
		setHTML(&it, ics.FromText(alt.Value), r.Address)
	}
	place := textValue(e.GetProperty(ics.ComponentPropertyLocation))
	name, address, _ := strings.Cut(strings.ReplaceAll(place, "\n", ", "), ",")
	it.Location = item.Place{Name: strings.TrimSpace(name), Address: strings.TrimSpace(address)}
	if p := e.GetProperty(ics.ComponentPropertyUrl); p != nil {
		it.Link = p.Value
	}
	if p := e.GetProperty(ics.ComponentPropertyOrganizer); p != nil {
		it.Author.Name = parameter(p, "CN")
	}
	for _, p := range e.GetProperties(ics.ComponentPropertyCategories) {
		for _, tag := range strings.Split(strings.ReplaceAll(p.Value, `\,`, "\x00"), ",") {
			it.Tags = append(it.Tags, strings.TrimSpace(strings.ReplaceAll(tag, "\x00", ",")))
		}
	}
	for _, p := range append(e.GetProperties("IMAGE"), e.GetProperties(ics.ComponentPropertyAttach)...) {
		if strings.HasPrefix(parameter(p, "FMTTYPE"), "image/") || kindOfMedia("", "", p.Value) == item.Image {
			it.Media = append(it.Media, item.Media{Kind: item.Image, Address: p.Value})
		}
	}
	status := strings.ToUpper(textValue(e.GetProperty(ics.ComponentPropertyStatus)))
	if status == "CANCELLED" || r.cancelled {
		it.Status = item.Cancelled
	}
	for _, name := range []string{"CREATED", "DTSTAMP", "LAST-MODIFIED"} {
		// The time of creation, so that a correction does not make it new.
		if at, ok := r.time(e.GetProperty(ics.ComponentProperty(name))); ok && it.At.IsZero() {
			it.At = at
		}
	}
	it.Language = parameter(e.GetProperty(ics.ComponentPropertySummary), "LANGUAGE")
	return it, true
}

// plainAsHTML escapes text, unless it is HTML, as some programs write descriptions.
func plainAsHTML(text string) string {
	if strings.Contains(text, "</") || strings.Contains(text, "<br") {
		return text
	}
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", "\n", "<br>").Replace(text)
}

// isoDuration reads a duration of weeks, days, hours, minutes and seconds (RFC 5545, section
// 3.3.6), or returns 0.
func isoDuration(text string) (total time.Duration) {
	text, ok := strings.CutPrefix(strings.ToUpper(strings.TrimSpace(text)), "P")
	if !ok {
		return 0
	}
	n := time.Duration(0)
	for _, c := range text {
		unit := map[rune]time.Duration{'W': 7 * 24 * time.Hour, 'D': 24 * time.Hour, 'H': time.Hour, 'M': time.Minute, 'S': time.Second}[c]
		switch {
		case c >= '0' && c <= '9' && n < 1e6:
			n = n*10 + time.Duration(c-'0')
		case c == 'T':
		case unit > 0:
			total += n * unit
			n = 0
		default:
			return 0
		}
	}
	return total
}
