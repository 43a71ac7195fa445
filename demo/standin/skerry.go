package standin

import (
	"encoding/xml"
	"fmt"
	"html"
	"net/http"
	"strconv"
	"strings"
	"time"
)

const as = "https://www.w3.org/ns/activitystreams"

// account is a profile.
type account struct{ name, title, about string }

var accounts = []account{
	{"kiln", "Kelp & Kiln", "Pottery evenings in the boathouse."},
	{"observatory", "Northbeck Observatory", "Clear nights, open dome."},
	{"ferry", "Saltmarsh Ferry", "Crossings and delays."},
	{"isa", "Isa Quill", "Four children, one dragon."},
}

// toot is a post. ago is hours before the start.
type toot struct {
	id, by, text, language, image, alt, replyTo string
	tags, likedBy, boostedBy                    []string
	ago                                         float64
	video, sensitive                            bool
}

func toots() []toot {
	return []toot{
		{id: "9", by: "kiln", text: "The sea-green batch is out of the kiln. Three cups cracked, forty-one did not.", image: "sea-green", alt: "Cups with a sea-green glaze on a board", tags: []string{"clay", "glaze"}, ago: 3, language: "en", likedBy: []string{"isa", "observatory"}},
		{id: "8", by: "kiln", text: "Thank you! The next one is on Thursday.", replyTo: "5", ago: 20, language: "en"},
		{id: "7", by: "kiln", text: "Zwei Plätze sind am Donnerstag noch frei. Schürzen haben wir.", tags: []string{"clay"}, ago: 28, language: "de"},
		{id: "6", by: "kiln", text: "How a bowl grows, in forty seconds.", image: "wheel", alt: "A bowl on the wheel", video: true, tags: []string{"clay"}, ago: 52, language: "en", likedBy: []string{"isa"}},
		{id: "5", by: "isa", text: "Four children, one evening, one dragon. It is on the shelf now.", image: "dragon", alt: "A clay dragon", tags: []string{"clay"}, ago: 61, language: "en", likedBy: []string{"kiln"}, boostedBy: []string{"kiln"}},
		{id: "4", by: "observatory", text: "Aurora over the sound tonight. The dome opens at nine.", image: "aurora", alt: "Green light over dark water", tags: []string{"aurora"}, ago: 8, language: "en", likedBy: []string{"ferry", "kiln"}, boostedBy: []string{"ferry"}},
		{id: "3", by: "ferry", text: "The 17:20 crossing leaves at 17:45 because of fog.", tags: []string{"delays"}, ago: 1, language: "en"},
		{id: "2", by: "ferry", text: "Someone left a cello on the morning boat. It is safe and dry.", ago: 31, language: "en", likedBy: []string{"isa"}},
		{id: "1", by: "kiln", text: "Shards everywhere.", sensitive: true, image: "shards", alt: "Broken pots", ago: 90, language: "en"},
	}
}

// Skerry returns a social server: WebFinger, profiles, topics and lists as ActivityStreams 2.0 and
// RSS, with replies, likes, boosts and media.
func Skerry(now func() time.Time) *StandIn {
	s := newStandIn("Skerry", "A small social server.", now)
	began, list, added := now().UTC().Truncate(time.Second), toots(), 0
	at := func(t toot) time.Time { return began.Add(-time.Duration(t.ago * float64(time.Hour))) }
	s.changes = []change{
		{"add", "Publish a post by Kelp & Kiln", func() []string {
			added++
			list = append([]toot{{id: fmt.Sprint("new-", added), by: "kiln", text: fmt.Sprintf("News number %d from the boathouse: the kettle is on.", added), tags: []string{"clay"}, language: "en", ago: -now().Sub(began).Hours()}}, list...)
			return []string{"/@kiln.rss", "/users/kiln"}
		}},
		{"edit", "Edit the newest post", func() []string {
			list[0].text += " (edited)"
			return []string{"/@kiln.rss"}
		}},
		{"delete", "Delete the newest post", func() []string {
			if len(list) > 1 {
				list = list[1:]
			}
			return []string{"/@kiln.rss"}
		}},
	}
	s.media("/media/", 1600, 1200)
	s.media("/faces/", 240, 240)
	find := func(name string) *account {
		for i := range accounts {
			if accounts[i].name == name {
				return &accounts[i]
			}
		}
		return nil
	}
	object := func(b string, t toot) map[string]any {
		o := map[string]any{"@context": as, "type": "Note", "id": b + "/posts/" + t.id, "url": []any{map[string]any{"type": "Link", "mediaType": "text/html", "href": b + "/@" + t.by + "/" + t.id}},
			"attributedTo": b + "/users/" + t.by, "to": []string{as + "#Public"}, "published": at(t).Format(time.RFC3339), "contentMap": map[string]string{t.language: "<p>" + html.EscapeString(t.text) + "</p>"}}
		if t.replyTo != "" {
			o["inReplyTo"] = b + "/posts/" + t.replyTo
		}
		var tags []any
		for _, tag := range t.tags {
			tags = append(tags, map[string]any{"type": "Hashtag", "name": "#" + tag, "href": b + "/tags/" + tag})
		}
		o["tag"] = tags
		if t.sensitive {
			o["sensitive"], o["summary"] = true, "Broken pottery"
		}
		if t.image != "" {
			a := map[string]any{"type": "Image", "mediaType": "image/png", "url": b + "/media/" + t.image + ".png", "name": t.alt, "width": 1600, "height": 1200}
			if t.video {
				a = map[string]any{"type": "Video", "mediaType": "video/mp4", "url": b + "/media/" + t.image + ".mp4", "name": t.alt, "icon": map[string]any{"type": "Image", "url": b + "/media/" + t.image + ".png"}}
			}
			o["attachment"] = []any{a}
		}
		return o
	}
	activity := func(w http.ResponseWriter, r *http.Request, v map[string]any) {
		v["@context"] = as
		sendJSON(w, r, "application/activity+json; charset=utf-8", v)
	}
	s.mux.HandleFunc("GET /.well-known/webfinger", func(w http.ResponseWriter, r *http.Request) {
		name, host, _ := strings.Cut(strings.TrimPrefix(r.FormValue("resource"), "acct:"), "@")
		a := find(strings.ToLower(name))
		if a == nil || host != r.Host {
			http.NotFound(w, r)
			return
		}
		sendJSON(w, r, "application/jrd+json", map[string]any{"subject": "acct:" + a.name + "@" + r.Host, "links": []any{
			map[string]any{"rel": "http://webfinger.net/rel/profile-page", "type": "text/html", "href": base(r) + "/@" + a.name},
			map[string]any{"rel": "self", "type": "application/activity+json", "href": base(r) + "/users/" + a.name}}})
	})
	s.mux.HandleFunc("GET /users/{name}", func(w http.ResponseWriter, r *http.Request) {
		a := find(r.PathValue("name"))
		if a == nil {
			http.NotFound(w, r)
			return
		}
		id := base(r) + "/users/" + a.name
		announceHub(w, r)
		activity(w, r, map[string]any{"type": "Person", "id": id, "preferredUsername": a.name, "name": a.title, "summary": "<p>" + html.EscapeString(a.about) + "</p>", "url": base(r) + "/@" + a.name,
			"icon": map[string]any{"type": "Image", "url": base(r) + "/faces/" + a.name + ".png"}, "inbox": id + "/inbox", "outbox": id + "/outbox", "liked": id + "/liked"})
	})
	const page = 3
	s.mux.HandleFunc("GET /users/{name}/outbox", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		id := base(r) + r.URL.Path
		name := r.PathValue("name")
		var all []any
		for _, t := range list {
			if t.by == name {
				all = append(all, map[string]any{"type": "Create", "id": base(r) + "/posts/" + t.id + "/activity", "actor": base(r) + "/users/" + name, "object": object(base(r), t)})
			}
			for _, by := range t.boostedBy {
				if by == name {
					all = append(all, map[string]any{"type": "Announce", "id": base(r) + "/posts/" + t.id + "/boost", "actor": base(r) + "/users/" + name, "published": at(t).Add(time.Hour).Format(time.RFC3339), "object": base(r) + "/posts/" + t.id})
				}
			}
		}
		number, _ := strconv.Atoi(r.FormValue("page"))
		if number == 0 {
			activity(w, r, map[string]any{"type": "OrderedCollection", "id": id, "totalItems": len(all), "first": id + "?page=1"})
			return
		}
		from := min((number-1)*page, len(all))
		to := min(from+page, len(all))
		out := map[string]any{"type": "OrderedCollectionPage", "id": fmt.Sprint(id, "?page=", number), "partOf": id, "orderedItems": all[from:to]}
		if to < len(all) {
			out["next"] = fmt.Sprint(id, "?page=", number+1)
		}
		activity(w, r, out)
	})
	collection := func(w http.ResponseWriter, r *http.Request, name string, is func(t toot) bool, byAddress bool) {
		s.mu.Lock()
		defer s.mu.Unlock()
		items := []any{}
		for _, t := range list {
			switch {
			case !is(t):
			case byAddress:
				items = append(items, base(r)+"/posts/"+t.id)
			default:
				items = append(items, object(base(r), t))
			}
		}
		activity(w, r, map[string]any{"type": "OrderedCollection", "id": base(r) + r.URL.Path, "name": name, "totalItems": len(items), "orderedItems": items})
	}
	s.mux.HandleFunc("GET /users/{name}/liked", func(w http.ResponseWriter, r *http.Request) {
		collection(w, r, "Liked by "+r.PathValue("name"), func(t toot) bool { return contains(t.likedBy, r.PathValue("name")) }, true)
	})
	s.mux.HandleFunc("GET /tags/{tag}", func(w http.ResponseWriter, r *http.Request) {
		collection(w, r, "#"+r.PathValue("tag"), func(t toot) bool { return contains(t.tags, r.PathValue("tag")) }, false)
	})
	s.mux.HandleFunc("GET /lists/harbour", func(w http.ResponseWriter, r *http.Request) {
		collection(w, r, "Around the harbour", func(t toot) bool { return t.by == "ferry" || t.by == "observatory" }, false)
	})
	s.mux.HandleFunc("GET /posts/{id}", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		for _, t := range list {
			if t.id == r.PathValue("id") {
				activity(w, r, object(base(r), t))
				return
			}
		}
		http.NotFound(w, r)
	})
	rss := func(w http.ResponseWriter, r *http.Request, title string, is func(t toot) bool) {
		s.mu.Lock()
		defer s.mu.Unlock()
		var b strings.Builder
		text := func(t string) string {
			var e strings.Builder
			xml.EscapeText(&e, []byte(t))
			return e.String()
		}
		self := base(r) + r.URL.Path
		fmt.Fprintf(&b, `<?xml version="1.0" encoding="UTF-8"?><rss version="2.0" xmlns:atom="http://www.w3.org/2005/Atom" xmlns:media="http://search.yahoo.com/mrss/"><channel><title>%s</title><link>%s/</link><description>Posts</description><ttl>15</ttl><atom:link rel="self" href="%s"/><atom:link rel="hub" href="%s/hub"/>`, text(title), base(r), self, base(r))
		for _, t := range list {
			if !is(t) || t.replyTo != "" {
				continue
			}
			fmt.Fprintf(&b, `<item><guid isPermaLink="true">%[1]s/@%[2]s/%[3]s</guid><link>%[1]s/@%[2]s/%[3]s</link><pubDate>%[4]s</pubDate><description>%[5]s</description>`, base(r), t.by, t.id, at(t).Format(time.RFC1123Z), text("<p>"+html.EscapeString(t.text)+"</p>"))
			if t.image != "" && !t.video {
				fmt.Fprintf(&b, `<media:content url="%s/media/%s.png" type="image/png" medium="image"><media:description>%s</media:description></media:content>`, base(r), t.image, text(t.alt))
			}
			for _, tag := range t.tags {
				fmt.Fprintf(&b, "<category>%s</category>", tag)
			}
			b.WriteString("</item>")
		}
		b.WriteString("</channel></rss>")
		send(w, r, "application/rss+xml; charset=utf-8", b.String())
	}
	s.mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, r *http.Request) {
		body := "<h1>Skerry</h1><p class=about>A small social server. <a href=/control>Control</a></p><ul>"
		for _, a := range accounts {
			body += fmt.Sprintf(`<li><a href="/@%s">@%s@%s</a> %s</li>`, a.name, a.name, r.Host, html.EscapeString(a.title))
		}
		sendPage(w, r, "<title>Skerry</title>", body+"</ul><p><a href=/tags/clay>#clay</a>, <a href=/lists/harbour>Around the harbour</a></p>")
	})
	// Profiles for people, and their feeds: /@kiln, /@kiln.rss.
	s.mux.HandleFunc("GET /{profile}", func(w http.ResponseWriter, r *http.Request) {
		name, isFeed := strings.CutSuffix(strings.TrimPrefix(r.PathValue("profile"), "@"), ".rss")
		a := find(name)
		if a == nil || !strings.HasPrefix(r.PathValue("profile"), "@") {
			http.NotFound(w, r)
			return
		}
		if isFeed {
			rss(w, r, a.title, func(t toot) bool { return t.by == a.name })
			return
		}
		body := fmt.Sprintf(`<h1>%s</h1><p class=about>@%s@%s · %s</p>`, html.EscapeString(a.title), a.name, r.Host, html.EscapeString(a.about))
		s.mu.Lock()
		for _, t := range list {
			if t.by == a.name {
				body += "<article><p>" + html.EscapeString(t.text) + "</p><p class=by>" + at(t).Format("2 January, 15:04") + "</p></article>"
			}
		}
		s.mu.Unlock()
		sendPage(w, r, fmt.Sprintf(`<title>%s</title><link rel="alternate" type="application/activity+json" href="/users/%s"><link rel="alternate" type="application/rss+xml" href="/@%s.rss" title="%s">`, html.EscapeString(a.title), a.name, a.name, html.EscapeString(a.title)), body)
	})
	s.mux.HandleFunc("GET /{profile}/{id}", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		for _, t := range list {
			if "@"+t.by == r.PathValue("profile") && t.id == r.PathValue("id") {
				sendPage(w, r, "<title>Skerry</title>", "<article><p>"+html.EscapeString(t.text)+"</p></article>")
				return
			}
		}
		http.NotFound(w, r)
	})
	s.hub()
	return s
}

func contains(list []string, text string) bool {
	for _, each := range list {
		if each == text {
			return true
		}
	}
	return false
}
