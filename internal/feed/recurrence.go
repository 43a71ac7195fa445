package feed

import (
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/teambition/rrule-go"

	"glasspocket/internal/item"
)

// Limits of one recurrence. Rules have no end, and can be written so that they match at every
// second, or never.
const (
	occurrencesMost = 500     // occurrences of one event
	stepsMost       = 200_000 // occurrences before those that are read
)

// expand adds the occurrences of a recurring event, except those that have their own event.
func (r *calendarReader) expand(e *ics.VEvent, overridden map[string]bool) {
	first, ok := r.event(e)
	if !ok {
		return
	}
	uid := textValue(e.GetProperty(ics.ComponentPropertyUniqueId))
	name := item.Line(first.Title, 60)
	from, until := r.Now.Add(-calendarBack), r.Now.Add(calendarAhead)
	excluded := map[int64]bool{}
	for _, p := range e.GetProperties(ics.ComponentPropertyExdate) {
		for _, at := range r.times(p) {
			excluded[at.Unix()] = true
		}
	}
	var starts []time.Time
	add := func(at time.Time) bool {
		if !excluded[at.Unix()] && at.After(from) && len(starts) < occurrencesMost {
			starts = append(starts, at)
		}
		return len(starts) < occurrencesMost
	}
	hasRule := false
	for _, p := range e.GetProperties(ics.ComponentPropertyRrule) {
		next, why := r.rule(p.Value, first.Start.Time, until)
		if why != "" {
			r.skip("“%s”: %s Only its first date was read.", name, why)
			continue
		}
		hasRule = true
		for n := 0; n < stepsMost; n++ {
			at, more := next()
			if !more || at.After(until) || !add(at) {
				break
			}
		}
	}
	if !hasRule {
		add(first.Start.Time)
	}
	for _, p := range e.GetProperties("RDATE") {
		for _, at := range r.times(p) {
			add(at.Time)
		}
	}
	length := first.End.Sub(first.Start.Time)
	seen := map[int64]bool{}
	for _, at := range starts {
		it := first
		it.Start.Time = at
		if it.Origin = occurrence(uid, it.Start); overridden[it.Origin] || seen[at.Unix()] {
			continue
		}
		seen[at.Unix()] = true
		if !first.End.IsZero() {
			it.End.Time = at.Add(length)
		}
		r.Items = append(r.Items, it)
	}
}

// rule returns an iterator over the occurrences of a recurrence rule (RFC 5545, section 3.3.10), or
// why it cannot be used.
func (r *calendarReader) rule(text string, start, until time.Time) (rrule.Next, string) {
	option, err := rrule.StrToROptionInLocation(strings.TrimSpace(text), start.Location())
	if err != nil {
		return nil, "Its rule “" + item.Line(text, 60) + "” is not valid."
	}
	switch {
	case option.Freq == rrule.SECONDLY || option.Freq == rrule.MINUTELY:
		return nil, "It repeats every minute or more often."
	case option.Freq == rrule.HOURLY && start.Before(r.Now.AddDate(-5, 0, 0)):
		return nil, "It repeats every hour since long ago."
	case start.Before(r.Now.AddDate(-200, 0, 0)):
		return nil, "It starts too long ago."
	}
	option.Dtstart = start
	// The end bounds the search for rules that never match.
	if option.Until.IsZero() || option.Until.After(until) {
		option.Until = until
	}
	rule, err := rrule.NewRRule(*option)
	if err != nil {
		return nil, "Its rule “" + item.Line(text, 60) + "” is not valid."
	}
	return rule.Iterator(), ""
}

// times reads a property with several dates. Of a period, the start counts.
func (r *calendarReader) times(p *ics.IANAProperty) (list []item.Time) {
	for _, value := range strings.Split(p.Value, ",") {
		value, _, _ = strings.Cut(value, "/")
		if at, ok := r.at(value, parameter(p, "TZID")); ok && len(list) < occurrencesMost {
			list = append(list, at)
		}
	}
	return list
}
