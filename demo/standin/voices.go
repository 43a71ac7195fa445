package standin

import (
	"encoding/json"
	"fmt"
	"html"
	"net/http"
	"strconv"
	"strings"
	"time"
)

// business is an entry of the directory.
type business struct {
	slug, name, place string
	street            string
	rated             int // reviews that the directory counts, also those without a text
	average           float64
	reviews           []voice
	microdata         bool
}

// voice is a review. ago is days before now.
type voice struct {
	by, about, title, text, language, reply, image string
	stars                                          float64
	ago                                            float64
}

var businesses = []business{
	{slug: "kelp-and-kiln", name: "Kelp & Kiln", place: "Marrow Town", street: "Pier 2", rated: 213, average: 4.6, reviews: []voice{
		{by: "Eske Lindqvist-Moor", about: "Northbeck", title: "My bowl holds water", text: "I had never touched clay. Three hours later I had a bowl, a tea stain on my sleeve and a plan to come back. Runa finds the one sentence that makes your hands understand.", stars: 5, ago: 2.2, language: "en", image: "bowl"},
		{by: "Mirre Oddvar", about: "Teasel Hall", title: "Worth the crossing", text: "We came over with the whole alto section. Nobody sang in tune, everybody went home with a mug.", stars: 5, ago: 6.1, language: "en", reply: "The mugs are out of the kiln, and so is your teapot lid. See you on Thursday!"},
		{by: "Tjark Saltmarsh", about: "Pier 2", title: "Good tea, hard stools", text: "The teaching is first rate and the tea is better. Four stars because my knees know how low the wheels are.", stars: 4, ago: 11.4, language: "en"},
		{by: "Hanne Grotjahn", about: "Besuch vom Festland", title: "Ein Abend wie ein langer Atem", text: "Wir waren zu fünft und haben alle etwas geschafft, das man benutzen kann. Die Glasur in Seegrün ist noch schöner als auf den Bildern.", stars: 5, ago: 13, language: "de", image: "glaze"},
		{by: "Ola Hask", about: "Hask Orchard", title: "Cider jugs for the shop", text: "Ordered six jugs, got six jugs and a seventh with a thumbprint that I like best of all.", stars: 5, ago: 19.2, language: "en"},
		{by: "Brenna Vik", about: "Marrow Town", title: "Lovely place, short evening", text: "Two hours are not enough for two pieces. The glaze names alone deserve an evening of their own.", stars: 3, ago: 27, language: "en", reply: "You are right. From February there is a four-hour evening on the first Saturday."},
		{by: "Corvin Ash", about: "", title: "", text: "", stars: 5, ago: 30, language: ""},
		{by: "Agneta Roos", about: "Long Sound", title: "Cold room", text: "The heating was broken and nobody told us before. I asked for a refund and got a voucher.", stars: 2, ago: 33, language: "en", reply: "We are sorry. The stove has been repaired since, and your money is on its way back."},
		{by: "Halvar Stee", about: "Northbeck", title: "", text: "Quiet, warm, unhurried.", stars: 5, ago: 41, language: "en"},
		{by: "Élise Marchetti", about: "En vacances", title: "Une belle découverte", text: "Un accueil chaleureux, des explications claires et un bol que je garde sur ma table depuis trois semaines.", stars: 5, ago: 44, language: "fr"},
		{by: "Isa Quill", about: "Long Sound", title: "My children asked for Thursday", text: "We took the family evening. Clay in four sets of hair, and one very proud dragon on the shelf.", stars: 4, ago: 58, language: "en", image: "dragon"},
		{by: "Dorrit Maan", about: "Marrow Town", title: "A present that worked", text: "Gave an evening to my father. He has since built a shelf.", stars: 5, ago: 77, language: "en"},
	}},
	{slug: "kelp-and-kiln-cafe", name: "Kelp & Kiln Café", place: "Northbeck", street: "Harbour Steps 9", rated: 31, average: 3.4, reviews: []voice{
		{by: "Jory Pell", text: "The scones were fine, the queue was not.", stars: 3, ago: 5, language: "en"},
		{by: "Sunniva Dahl", text: "A nice view, and the only oat milk in Northbeck.", stars: 4, ago: 16, language: "en"},
	}},
	{slug: "northbeck-observatory", name: "Northbeck Observatory", place: "Northbeck", street: "Beacon Hill 1", rated: 88, average: 9.1, microdata: true, reviews: []voice{
		{by: "Runa Kelp", title: "Saturn has rings", text: "You know it, and then you see it, and it is something else.", stars: 10, ago: 9, language: "en"},
		{by: "Peter Hask", title: "Bring gloves", text: "The dome is as cold as the sky. The guide made up for it.", stars: 8, ago: 24, language: "en"},
	}},
}

// Voices returns Marrow Voices, a directory of businesses and their reviews: search as OpenSearch
// 1.1 with suggestions, and pages with structured data.
func Voices(now func() time.Time) *StandIn {
	s := newStandIn("Marrow Voices", "A directory of businesses on the Marrow Isles, with reviews.", now)
	list := make([]business, len(businesses))
	for i, b := range businesses {
		b.reviews = append([]voice{}, b.reviews...)
		list[i] = b
	}
	began, fresh := now(), 0
	kiln := &list[0]
	s.changes = []change{
		{"add", "Add a review with five stars", func() []string {
			fresh++
			at := now().Sub(began).Hours() / 24
			kiln.reviews = append([]voice{{by: fmt.Sprintf("Visitor %d", fresh), title: "Just back from the boathouse", text: fmt.Sprintf("Review number %d of today: the kiln was still warm.", fresh), stars: 5, ago: -at, language: "en"}}, kiln.reviews...)
			kiln.rated++
			return []string{"/b/" + kiln.slug}
		}},
		{"edit", "Edit the newest review", func() []string {
			kiln.reviews[0].text += " Edited."
			return []string{"/b/" + kiln.slug}
		}},
		{"delete", "Delete the newest review", func() []string {
			if len(kiln.reviews) > 1 {
				kiln.reviews = kiln.reviews[1:]
				kiln.rated--
			}
			return []string{"/b/" + kiln.slug}
		}},
	}
	s.media("/photos/", 1600, 1200)
	s.media("/faces/", 160, 160)
	s.mux.HandleFunc("GET /opensearch.xml", func(w http.ResponseWriter, r *http.Request) {
		send(w, r, "application/opensearchdescription+xml", `<?xml version="1.0" encoding="UTF-8"?>
<OpenSearchDescription xmlns="http://a9.com/-/spec/opensearch/1.1/">
<ShortName>Marrow Voices</ShortName><Description>Businesses on the Marrow Isles</Description>
<Url type="text/html" template="`+base(r)+`/search?q={searchTerms}"/>
<Url type="application/x-suggestions+json" template="`+base(r)+`/suggest?q={searchTerms}"/>
</OpenSearchDescription>`)
	})
	found := func(query string) (hits []business) {
		s.mu.Lock()
		defer s.mu.Unlock()
		for _, b := range list {
			if query != "" && strings.Contains(strings.ToLower(b.name+" "+b.place), strings.ToLower(strings.TrimSpace(query))) {
				hits = append(hits, b)
			}
		}
		return hits
	}
	s.mux.HandleFunc("GET /suggest", func(w http.ResponseWriter, r *http.Request) {
		names, about, addresses := []string{}, []string{}, []string{}
		for _, b := range found(r.FormValue("q")) {
			names, about, addresses = append(names, b.name), append(about, fmt.Sprintf("%s, %d reviews", b.place, b.rated)), append(addresses, base(r)+"/b/"+b.slug)
		}
		sendJSON(w, r, "application/x-suggestions+json", []any{r.FormValue("q"), names, about, addresses})
	})
	front := func(w http.ResponseWriter, r *http.Request, title string, hits []business) {
		body := "<h1>" + title + "</h1><p class=about>A directory of businesses, with reviews. <a href=/control>Control</a></p><form action=/search><input name=q aria-label=Search> <button>Search</button></form><ul>"
		for _, b := range hits {
			body += fmt.Sprintf(`<li><a href="/b/%s">%s</a>, %s, %d reviews</li>`, b.slug, html.EscapeString(b.name), b.place, b.rated)
		}
		sendPage(w, r, `<title>Marrow Voices</title><meta property="og:site_name" content="Marrow Voices"><link rel="search" type="application/opensearchdescription+xml" href="/opensearch.xml" title="Marrow Voices">`, body+"</ul>")
	}
	s.mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, r *http.Request) { front(w, r, "Marrow Voices", list) })
	s.mux.HandleFunc("GET /search", func(w http.ResponseWriter, r *http.Request) {
		front(w, r, "Results", found(r.FormValue("q")))
	})
	s.mux.HandleFunc("GET /b/{slug}", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		defer s.mu.Unlock()
		for i := range list {
			if list[i].slug == r.PathValue("slug") {
				if r.URL.RawQuery == "" {
					announceHub(w, r)
				}
				list[i].send(w, r, began)
				return
			}
		}
		http.NotFound(w, r)
	})
	s.hub()
	return s
}

// perPage is how many reviews a page has.
const perPage = 8

func (b *business) send(w http.ResponseWriter, r *http.Request, now time.Time) {
	page, _ := strconv.Atoi(r.FormValue("page"))
	from := min(max(page-1, 0)*perPage, len(b.reviews))
	to := min(from+perPage, len(b.reviews))
	head := "<title>" + html.EscapeString(b.name) + " | Marrow Voices</title>" + `<meta property="og:site_name" content="Marrow Voices"><link rel="search" type="application/opensearchdescription+xml" href="/opensearch.xml">`
	if to < len(b.reviews) {
		head += fmt.Sprintf(`<link rel="next" href="/b/%s?page=%d">`, b.slug, max(page, 1)+1)
	}
	if b.microdata {
		sendPage(w, r, head, b.inMicrodata(b.reviews[from:to], now))
		return
	}
	best := 5
	data := map[string]any{"@context": "https://schema.org", "@type": "LocalBusiness", "@id": base(r) + "/b/" + b.slug + "#business", "name": b.name, "url": base(r) + "/b/" + b.slug,
		"address":         map[string]any{"@type": "PostalAddress", "streetAddress": b.street, "addressLocality": b.place},
		"aggregateRating": map[string]any{"@type": "AggregateRating", "ratingValue": b.average, "bestRating": best, "reviewCount": b.rated}}
	var reviews []any
	body := fmt.Sprintf("<h1>%s</h1><p class=about>%s, %s. %v of %d, %d reviews.</p>", html.EscapeString(b.name), b.street, b.place, b.average, best, b.rated)
	for _, v := range b.reviews[from:to] {
		reviews = append(reviews, v.linked(base(r), b, now))
		body += "<article><p><strong>" + html.EscapeString(v.title) + "</strong> " + strings.Repeat("★", int(v.stars)) + "</p><p>" + html.EscapeString(v.text) + "</p><p class=by>" + html.EscapeString(v.by) + ", " + v.at(now).Format("2 January 2006") + "</p></article>"
	}
	data["review"] = reviews
	text, _ := json.MarshalIndent(data, "", " ")
	sendPage(w, r, head+`<script type="application/ld+json">`+strings.ReplaceAll(string(text), "</", `<\/`)+"</script>", body)
}

func (v voice) at(now time.Time) time.Time {
	return now.Add(-time.Duration(v.ago * 24 * float64(time.Hour))).UTC().Truncate(time.Second)
}

// linked is a review in JSON-LD.
func (v voice) linked(base string, b *business, now time.Time) map[string]any {
	id := fmt.Sprintf("%s/b/%s#%s", base, b.slug, strings.ToLower(strings.ReplaceAll(v.by, " ", "-")))
	out := map[string]any{"@type": "Review", "@id": id, "url": id, "author": map[string]any{"@type": "Person", "name": v.by, "description": v.about, "image": base + "/faces/" + strings.ReplaceAll(v.by, " ", "-") + ".png"},
		"reviewRating": map[string]any{"@type": "Rating", "ratingValue": v.stars, "bestRating": 5}, "name": v.title, "reviewBody": v.text, "datePublished": v.at(now).Format(time.RFC3339)}
	if v.language != "" {
		out["inLanguage"] = v.language
	}
	if v.image != "" {
		out["image"] = map[string]any{"@type": "ImageObject", "contentUrl": base + "/photos/" + v.image + ".png", "caption": "A photo by " + v.by}
	}
	if v.reply != "" {
		out["comment"] = map[string]any{"@type": "Comment", "text": v.reply, "author": map[string]any{"@type": "Organization", "name": b.name}, "dateCreated": v.at(now).Add(26 * time.Hour).Format(time.RFC3339)}
	}
	return out
}

// inMicrodata is a page with microdata, and ratings out of ten.
func (b *business) inMicrodata(list []voice, now time.Time) string {
	body := fmt.Sprintf(`<div itemscope itemtype="https://schema.org/LocalBusiness"><h1 itemprop="name">%s</h1><p class=about itemprop="address">%s, %s</p>
<p itemprop="aggregateRating" itemscope itemtype="https://schema.org/AggregateRating"><span itemprop="ratingValue">%v</span> of <span itemprop="bestRating">10</span>, <span itemprop="reviewCount">%d</span> reviews</p>`, b.name, b.street, b.place, b.average, b.rated)
	for _, v := range list {
		body += fmt.Sprintf(`<article itemprop="review" itemscope itemtype="https://schema.org/Review"><p itemprop="name">%s</p><p itemprop="reviewBody">%s</p>
<p class=by><span itemprop="author">%s</span>, <time itemprop="datePublished" datetime="%s">%s</time>, <span itemprop="reviewRating" itemscope itemtype="https://schema.org/Rating"><span itemprop="ratingValue">%v</span>/<span itemprop="bestRating">10</span></span></p></article>`,
			html.EscapeString(v.title), html.EscapeString(v.text), v.by, v.at(now).Format(time.RFC3339), v.at(now).Format("2 January"), v.stars)
	}
	return body + "</div>"
}
