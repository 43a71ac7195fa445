package standin

import (
	"encoding/json"
	"fmt"
	"html"
	"net/http"
	"strings"
	"time"
)

// notice is a notice of the harbour. from and lasts are relative to the start.
type notice struct {
	id, title, text, priority string
	from, lasts               time.Duration
}

// Harbour returns Harbour Board: notices as a page with structured data, as JSON and as JSON Feed,
// and the calendars of the ferry and the choir.
func Harbour(now func() time.Time) *StandIn {
	s := newStandIn("Harbour Board", "Notices of the harbour, and the calendars of the ferry and the choir.", now)
	began := now().UTC().Truncate(time.Second)
	notices := []notice{
		{"fog", "Fog in the sound", "The 17:20 crossing may leave up to 30 minutes late.", "high", -40 * time.Minute, 6 * time.Hour},
		{"winter", "Winter timetable", "Crossings leave at 7:10, 12:40 and 17:20 until the end of February.", "normal", -50 * time.Hour, 60 * 24 * time.Hour},
		{"water", "Fresh water on Pier 2", "The tap on Pier 2 works again.", "low", -26 * time.Hour, 48 * time.Hour},
		{"seals", "Keep your distance", "Seals with young are resting on the north beach. Please stay 50 metres away.", "normal", -5 * time.Hour, 9 * 24 * time.Hour},
		{"old", "Regatta", "The regatta was a success.", "low", -30 * 24 * time.Hour, 10 * 24 * time.Hour},
	}
	cancelled, added := false, 0
	paths := []string{"/notices", "/notices.json", "/notices/feed.json"}
	s.changes = []change{
		{"add", "Add an urgent notice", func() []string {
			added++
			notices = append([]notice{{fmt.Sprint("urgent-", added), fmt.Sprintf("No crossing today (%d)", added), "The ferry stays in the harbour because of the storm.", "high", now().UTC().Truncate(time.Second).Sub(began), 12 * time.Hour}}, notices...)
			return paths
		}},
		{"brief", "Add a notice that expires in 20 seconds", func() []string {
			added++
			notices = append([]notice{{fmt.Sprint("brief-", added), "Loading", "Cars can board now.", "normal", now().UTC().Truncate(time.Second).Sub(began), 20 * time.Second}}, notices...)
			return paths
		}},
		{"delete", "Delete the newest notice", func() []string {
			if len(notices) > 1 {
				notices = notices[1:]
			}
			return paths
		}},
		{"cancel", "Cancel the next concert, or restore it", func() []string {
			cancelled = !cancelled
			return []string{"/calendars/choir.ics"}
		}},
	}
	s.mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, r *http.Request) {
		sendPage(w, r, `<title>Harbour Board</title><link rel="alternate" type="application/feed+json" href="/notices/feed.json" title="Notices"><link rel="alternate" type="text/calendar" href="/calendars/ferry.ics" title="Ferry"><link rel="alternate" type="text/calendar" href="/calendars/choir.ics" title="Choir">`,
			`<h1>Harbour Board</h1><p class=about>What happens at the harbour. <a href=/control>Control</a></p><ul><li><a href=/notices>Notices</a></li><li><a href=/notices.json>Notices as JSON</a></li><li><a href=/notices/feed.json>Notices as JSON Feed</a></li><li><a href=/calendars/ferry.ics>Calendar of the ferry</a></li><li><a href=/calendars/choir.ics>Calendar of the choir</a></li></ul>`)
	})
	s.mux.HandleFunc("GET /notices", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		var list []any
		body := "<h1>Notices</h1>"
		for _, n := range notices {
			at := began.Add(n.from)
			list = append(list, map[string]any{"@type": "SpecialAnnouncement", "@id": base(r) + "/notices#" + n.id, "name": n.title, "text": n.text, "category": n.priority, "datePosted": at.Format(time.RFC3339), "expires": at.Add(n.lasts).Format(time.RFC3339)})
			body += "<article><p><strong>" + html.EscapeString(n.title) + "</strong></p><p>" + html.EscapeString(n.text) + "</p></article>"
		}
		announceHub(w, r)
		text, _ := json.Marshal(map[string]any{"@context": "https://schema.org", "@graph": list})
		sendPage(w, r, `<title>Notices</title><meta property="og:site_name" content="Harbour Board"><script type="application/ld+json">`+strings.ReplaceAll(string(text), "</", `<\/`)+"</script>", body)
	})
	s.mux.HandleFunc("GET /notices.json", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		var list []any
		for _, n := range notices {
			at := began.Add(n.from)
			list = append(list, map[string]any{"id": n.id, "headline": n.title, "body": n.text, "priority": n.priority, "posted": map[string]any{"at": at.Format(time.RFC3339), "by": "Harbour office"}, "validUntil": at.Add(n.lasts).Format(time.RFC3339)})
		}
		announceHub(w, r)
		sendJSON(w, r, "application/json", map[string]any{"board": "Marrow Town", "notices": list})
	})
	s.mux.HandleFunc("GET /notices/feed.json", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		var list []any
		for _, n := range notices {
			list = append(list, map[string]any{"id": n.id, "title": n.title, "content_text": n.text, "date_published": began.Add(n.from).Format(time.RFC3339), "tags": []string{n.priority}})
		}
		feed := map[string]any{"version": "https://jsonfeed.org/version/1.1", "title": "Harbour Board", "home_page_url": base(r) + "/", "feed_url": base(r) + r.URL.Path, "items": list}
		feed["hubs"] = []any{map[string]any{"type": "WebSub", "url": base(r) + "/hub"}}
		announceHub(w, r)
		sendJSON(w, r, "application/feed+json", feed)
	})
	s.mux.HandleFunc("GET /calendars/ferry.ics", func(w http.ResponseWriter, r *http.Request) {
		day := began.Format("20060102")
		send(w, r, "text/calendar; charset=utf-8", calendar("Saltmarsh Ferry",
			event("morning", "Crossing to Northbeck", "Pier 1", "DTSTART;TZID=Atlantic/Faroe:"+day+"T071000", "DURATION:PT45M", "RRULE:FREQ=DAILY"),
			event("noon", "Crossing to Northbeck", "Pier 1", "DTSTART;TZID=Atlantic/Faroe:"+day+"T124000", "DURATION:PT45M", "RRULE:FREQ=DAILY"),
			event("sunday", "Round trip of the isles", "Pier 3", "DTSTART;TZID=Atlantic/Faroe:"+began.AddDate(0, 0, (7-int(began.Weekday()))%7).Format("20060102")+"T100000", "DURATION:PT4H", "RRULE:FREQ=WEEKLY;BYDAY=SU")))
	})
	s.mux.HandleFunc("GET /calendars/choir.ics", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		status := "STATUS:CONFIRMED"
		if cancelled {
			status = "STATUS:CANCELLED"
		}
		announceHub(w, r)
		at := func(days int, clock string) string { return began.AddDate(0, 0, days).Format("20060102") + "T" + clock }
		send(w, r, "text/calendar; charset=utf-8", calendar("Teasel Hall Choir",
			event("winter", "Winter concert", "Teasel Hall\\, Marrow Town", "DTSTART;TZID=Atlantic/Faroe:"+at(12, "193000"), "DTEND;TZID=Atlantic/Faroe:"+at(12, "213000"), "DESCRIPTION:Songs of the sea in four languages.", status),
			event("rehearsal", "Open rehearsal", "Teasel Hall\\, Marrow Town", "DTSTART;TZID=Atlantic/Faroe:"+at(1, "180000"), "DURATION:PT2H", "RRULE:FREQ=WEEKLY"),
			event("tour", "On tour: Bergen", "Korskirken\\, Bergen", "DTSTART;TZID=Europe/Oslo:"+at(26, "190000"), "DURATION:PT90M"),
			event("day", "Singing day for everybody", "Teasel Hall\\, Marrow Town", "DTSTART;VALUE=DATE:"+began.AddDate(0, 0, 33).Format("20060102"))))
	})
	s.hub()
	return s
}

func calendar(name string, events ...string) string {
	return "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Harbour Board//EN\r\nNAME:" + name + "\r\nX-WR-TIMEZONE:Atlantic/Faroe\r\nREFRESH-INTERVAL;VALUE=DURATION:PT30M\r\n" + strings.Join(events, "") + "END:VCALENDAR\r\n"
}

func event(uid, title, place string, lines ...string) string {
	return "BEGIN:VEVENT\r\nUID:" + uid + "@harbour-board.example\r\nDTSTAMP:20260101T000000Z\r\nSUMMARY:" + title + "\r\nLOCATION:" + place + "\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT\r\n"
}
