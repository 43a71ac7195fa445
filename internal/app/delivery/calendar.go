package delivery

import (
	"context"
	"net/url"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"glasspocket/internal/app/source"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// datesMost is the largest number of dates in a calendar file.
const datesMost = 1000

// Calendar returns the dates that a pocket shows as an iCalendar file (RFC 5545): the one with an ID
// or, if that is "", all, as a calendar to subscribe to. It returns nil if nothing is published, or
// the pocket is withheld.
func (a *Delivery) Calendar(ctx context.Context, key, id string) ([]byte, error) {
	pub, withheld, err := a.Visited(ctx, key)
	if pub == nil || withheld || err != nil {
		return nil, err
	}
	subject, err := a.Subject(ctx, pub.ReleaseID, *pub)
	if err != nil {
		return nil, err
	}
	dressed, err := a.dress(ctx, pub.CustomerID, pub.Sources, &subject, source.Next{Whole: datesMost})
	if err != nil {
		return nil, err
	}
	file := ics.NewCalendarFor("Glass Pocket")
	file.SetXWRCalName(pub.Title)
	file.SetRefreshInterval("PT1H")
	place, err := url.Parse(a.site.Base)
	if err != nil {
		return nil, err
	}
	for _, s := range subject.Release.Schema.Settings {
		list, _ := dressed.Items.Values[s.Key].([]any)
		if s.ItemKind != item.Date {
			continue
		}
		for _, each := range list {
			if m, _ := each.(map[string]any); m != nil && (id == "" || m[setting.IDKey] == id) {
				addDate(file, m, place.Hostname(), a.now())
			}
		}
	}
	if len(file.Events()) == 0 && id != "" {
		return nil, &problem.Error{Kind: problem.NotFound, Code: "no-such-date", What: "The pocket shows no date “" + id + "”.", Hint: "It may be over. Reload the page."}
	}
	return []byte(file.Serialize()), nil
}

// addDate adds an item in the form of settings to a calendar. Times are in UTC, which needs no
// description of time zones. Days have no zone (RFC 5545, section 3.3.4).
func addDate(file *ics.Calendar, m map[string]any, host string, now time.Time) {
	text := func(m map[string]any, key string) string { t, _ := m[key].(string); return t }
	inner := func(key string) map[string]any { v, _ := m[key].(map[string]any); return v }
	start, fault := setting.ReadMoment(text(m, "startDate"))
	if fault != nil || text(m, "startDate") == "" {
		return
	}
	event := file.AddEvent(text(m, setting.IDKey) + "@" + host)
	event.SetDtStampTime(now)
	end, fault := setting.ReadMoment(text(m, "endDate"))
	has := fault == nil && text(m, "endDate") != "" && !end.At.Before(start.At)
	zone := func(at setting.Moment) time.Time { return at.At.In(item.ZoneOf(at.Zone)) }
	switch {
	case m["allDay"] == true:
		last := zone(start)
		if has {
			last = zone(end)
		}
		event.SetAllDayStartAt(zone(start))
		event.SetAllDayEndAt(last.AddDate(0, 0, 1)) // the day after the last one
	case has:
		event.SetStartAt(start.At)
		event.SetEndAt(end.At)
	default:
		event.SetStartAt(start.At)
	}
	event.SetSummary(text(m, "title"))
	if about := text(m, "text"); about != "" {
		event.SetDescription(about)
	}
	venue := inner("location")
	if place := strings.Trim(text(venue, "name")+", "+text(venue, "address"), ", "); place != "" {
		event.SetLocation(place)
	}
	if address := text(inner("link"), "address"); address != "" {
		event.SetURL(address)
	}
	event.SetStatus(ics.ObjectStatusConfirmed)
	if text(m, "eventStatus") == item.Cancelled {
		event.SetStatus(ics.ObjectStatusCancelled)
	}
}
