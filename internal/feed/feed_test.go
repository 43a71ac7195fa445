package feed

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/item"
)

var noon = time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)

// line is an item in a line: what it has of each field, in the order of the model.
func line(it item.Item) string {
	var parts []string
	add := func(name, text string) {
		if text != "" {
			parts = append(parts, name+"="+strings.ReplaceAll(text, "\n", "⏎"))
		}
	}
	stamp := func(at item.Time) string { text, _ := at.MarshalText(); return string(text) }
	add("id", it.Origin)
	add("kind", it.Kind)
	add("title", it.Title)
	add("text", it.Text)
	add("content", it.Content)
	add("by", strings.TrimSpace(it.Author.Name+" "+it.Author.About+" "+it.Author.Link+" "+it.Author.Image))
	add("at", stamp(it.At))
	if it.Rating != (item.Rating{}) {
		add("rating", fmt.Sprintf("%v/%v", it.Rating.Value, it.Rating.Best))
	}
	add("start", stamp(it.Start))
	add("end", stamp(it.End))
	add("place", strings.TrimSpace(it.Location.Name+" "+it.Location.Address))
	add("status", it.Status)
	add("importance", it.Importance)
	add("expires", stamp(it.Expires))
	for _, m := range it.Media {
		add(m.Kind, strings.TrimSpace(m.Address+" "+m.Alt+" "+m.Poster))
	}
	add("link", it.Link)
	add("tags", strings.Join(it.Tags, ","))
	add("replyTo", it.InReplyTo)
	add("reply", strings.TrimSpace(it.Reply.Author+" "+it.Reply.Text))
	return strings.Join(parts, " ")
}

func lines(f *Found) (list []string) {
	for _, it := range f.Items {
		list = append(list, line(it))
	}
	return list
}

// site serves documents by their address, for readers that ask for more.
type site map[string]string

func (s site) get(_ context.Context, address, _ string) (*Document, error) {
	body, ok := s[address]
	if !ok {
		return nil, &Error{What: address + " answers 404 Not Found."}
	}
	return &Document{Address: address, Body: []byte(body), Now: noon, Get: s.get}, nil
}

// read reads a document with the reader that it is recognised for.
func read(t *testing.T, d *Document, o Options) (*Found, string) {
	if d.Now.IsZero() {
		d.Now = noon
	}
	r := Of(d)
	require.NotNil(t, r, "no reader for %.80q", d.Body)
	f, err := r.Read(t.Context(), d, o)
	require.NoError(t, err)
	return f, r.Name
}

func TestFeeds(t *testing.T) {
	f, name := read(t, &Document{Address: "https://skerry.example/feed", Kind: "application/rss+xml; charset=iso-8859-1", Body: []byte(`<?xml version="1.0" encoding="iso-8859-1"?>
<rss version="2.0" xmlns:media="http://search.yahoo.com/mrss/" xmlns:atom="http://www.w3.org/2005/Atom" xmlns:dc="http://purl.org/dc/elements/1.1/"><channel>
<title>Kelp &amp;amp; Kiln</title><link>/</link><ttl>90</ttl><language>en-gb</language><atom:link rel="hub" href="https://hub.example/"/><atom:link rel="self" href="https://skerry.example/feed"/>
<item><guid isPermaLink="false">7</guid><title>New &lt;b&gt;glazes&lt;/b&gt;</title><link>posts/7</link><dc:creator>Runa</dc:creator><pubDate>Tue, 01 Dec 2026 09:00:00 +0100</pubDate>
<description>&lt;p&gt;Töpfe, &lt;a href="/shop"&gt;new&lt;/a&gt;&lt;script&gt;alert(1)&lt;/script&gt;&lt;iframe src="x"&gt;framed&lt;/iframe&gt;&lt;/p&gt;&lt;img src="a.jpg" alt="Pots" onerror="x"&gt;</description>
<media:content url="b.jpg" type="image/jpeg"><media:description>Kiln</media:description></media:content><category>clay</category></item>
<item><title>No date</title><guid>https://skerry.example/posts/6</guid><pubDate>yesterday</pubDate></item>
<item><description></description></item>
</channel></rss>`)}, Options{})
	assert.Equal(t, "rss", name)
	assert.Equal(t, []string{
		`id=7 kind=post title=New glazes text=Töpfe, new content=<p>Töpfe, <a href="https://skerry.example/shop" rel="nofollow">new</a></p> by=Runa at=2026-12-01T08:00:00Z image=https://skerry.example/posts/a.jpg Pots image=https://skerry.example/b.jpg Kiln link=https://skerry.example/posts/7 tags=clay`,
		`id=https://skerry.example/posts/6 kind=post title=No date link=https://skerry.example/posts/6`,
	}, lines(f))
	assert.Equal(t, [5]any{"Kelp & Kiln", "https://skerry.example/", 90 * time.Minute, "https://hub.example/", "https://skerry.example/feed"}, [5]any{f.Title, f.Link, f.Every, f.Hub, f.Topic})
	assert.Equal(t, []string{"“yesterday” is not a date.", "1 of 3 entries have no date. They are ordered by when they first appeared.", "The encoding is stated as iso-8859-1, but it is UTF-8."}, f.Repairs)
	assert.Equal(t, []string{"An entry without title, text and image was left out."}, f.Skipped)
	assert.Equal(t, item.Credit{Name: "Kelp & Kiln", Link: "https://skerry.example/"}, f.Items[0].Publisher)

	f, _ = read(t, &Document{Address: "https://skerry.example/atom", Body: []byte("\ufeff" + `<feed xmlns="http://www.w3.org/2005/Atom" xmlns:thr="http://purl.org/syndication/thread/1.0"><title>Notes</title><link rel="hub" href="https://hub.example/"/>
<entry><id>tag:1</id><title type="html">Hi</title><link href="/n/1"/><published>2026-11-30T10:00:00Z</published><updated>2026-12-01T10:00:00Z</updated><author><name>Ola</name><uri>/ola</uri></author>
<content type="xhtml"><div xmlns="http://www.w3.org/1999/xhtml"><p>One</p><ul><li>two</li></ul></div></content><thr:in-reply-to ref="tag:0" href="https://skerry.example/n/0"/></entry></feed>`)}, Options{})
	assert.Equal(t, []string{`id=tag:1 kind=post title=Hi text=One⏎⏎two content=<p>One</p><ul><li>two</li></ul> by=Ola  https://skerry.example/ola at=2026-11-30T10:00:00Z link=https://skerry.example/n/1 replyTo=https://skerry.example/n/0`}, lines(f))

	f, name = read(t, &Document{Address: "https://skerry.example/feed.json", Body: []byte(`{"version": "https://jsonfeed.org/version/1.1", "title": "Ferry", "hubs": [{"type": "WebSub", "url": "/hub"}], "authors": [{"name": "Pier 2", "avatar": "p.png"}],
"items": [{"id": 3, "url": "https://skerry.example/3", "content_text": "All boats run", "date_published": "2026-12-01T06:00:00Z", "image": "boat.jpg", "tags": ["boats"], "attachments": [{"url": "horn.mp3", "mime_type": "audio/mpeg"}]}]}`)}, Options{})
	assert.Equal(t, "jsonfeed", name)
	assert.Equal(t, []string{`id=3 kind=post text=All boats run by=Pier 2   https://skerry.example/p.png at=2026-12-01T06:00:00Z image=https://skerry.example/boat.jpg audio=https://skerry.example/horn.mp3  https://skerry.example/boat.jpg link=https://skerry.example/3 tags=boats`}, lines(f))
	assert.Equal(t, "https://skerry.example/hub", f.Hub)
}

func TestEncodings(t *testing.T) {
	feed := func(encoding, title string) []byte {
		return []byte(`<?xml version="1.0" encoding="` + encoding + `"?><rss version="2.0"><channel><title>` + title + `</title></channel></rss>`)
	}
	utf16 := []byte("\xff\xfe")
	for _, r := range string(feed("utf-16", "Küste")) {
		utf16 = append(utf16, byte(r), byte(r>>8))
	}
	for _, c := range []struct {
		body          []byte
		kind, repairs string
	}{
		{feed("iso-8859-1", "K\xfcste"), "", ""},
		{feed("utf-8", "K\xfcste"), "", "stated as utf-8, but the bytes are not"},
		{feed("windows-1251", "Küste"), "", "stated as windows-1251, but it is UTF-8"},
		{append([]byte("\xef\xbb\xbf"), feed("iso-8859-1", "Küste")...), "", ""},
		{utf16, "", ""},
		{feed("nonsense", "K\xfcste"), "", "read as windows-1252"},
		{feed("utf-8", "K\xfcste"), "text/xml; charset=iso-8859-1", ""},
	} {
		f, _ := read(t, &Document{Body: c.body, Kind: c.kind}, Options{})
		assert.Equal(t, "Küste", f.Title, "%q", c.body)
		assert.Contains(t, strings.Join(f.Repairs, " "), c.repairs)
		assert.Equal(t, c.repairs == "", len(f.Repairs) == 0, "%v", f.Repairs)
	}
}

func TestCalendar(t *testing.T) {
	calendar := func(events string) []byte {
		return []byte(strings.ReplaceAll("BEGIN:VCALENDAR\nVERSION:2.0\nX-WR-CALNAME:Teasel Hall\nX-WR-TIMEZONE:Atlantic/Faroe\nREFRESH-INTERVAL;VALUE=DURATION:PT4H\n"+events+"END:VCALENDAR\n", "\n", "\r\n"))
	}
	f, name := read(t, &Document{Address: "https://harbour.example/c.ics", Body: calendar(`BEGIN:VTIMEZONE
TZID:Marrow Time
BEGIN:STANDARD
DTSTART:19700101T000000
TZOFFSETFROM:+0000
TZOFFSETTO:+0030
END:STANDARD
END:VTIMEZONE
BEGIN:VEVENT
UID:1
SUMMARY:Winter concert\, part one
DESCRIPTION:Bring <mugs>\nand friends
LOCATION:Teasel Hall\, Pier 2
DTSTART;TZID=W. Europe Standard Time:20261212T190000
DURATION:PT2H
CATEGORIES:choir,winter
URL:https://harbour.example/1
END:VEVENT
BEGIN:VEVENT
UID:2
SUMMARY:Open day
DTSTART;VALUE=DATE:20261205
DTEND;VALUE=DATE:20261207
STATUS:CANCELLED
END:VEVENT
BEGIN:VEVENT
UID:3
SUMMARY:Rehearsal
DTSTART:20260106T180000Z
DTEND:20260106T200000Z
RRULE:FREQ=WEEKLY;BYDAY=TU;UNTIL=20261222T235959Z
EXDATE:20261215T180000Z
END:VEVENT
BEGIN:VEVENT
UID:3
RECURRENCE-ID:20261208T180000Z
SUMMARY:Rehearsal with guests
DTSTART:20261208T190000Z
END:VEVENT
BEGIN:VEVENT
UID:4
SUMMARY:Tide
DTSTART;TZID=Marrow Time:20261201T120000
END:VEVENT
BEGIN:VEVENT
UID:5
SUMMARY:Bell
DTSTART;TZID=Nowhere/Nothing:20261201T130000
RRULE:FREQ=SECONDLY
END:VEVENT
BEGIN:VEVENT
UID:6
SUMMARY:Lost
END:VEVENT
`)}, Options{})
	assert.Equal(t, "ical", name)
	var upcoming []string
	for _, it := range f.Items {
		if it.Start.After(noon.Add(-24 * time.Hour)) {
			upcoming = append(upcoming, line(it))
		}
	}
	assert.Equal(t, []string{
		`id=4 kind=date title=Tide start=2026-12-01T11:30:00Z`,
		`id=5/20261201T130000Z kind=date title=Bell start=2026-12-01T13:00:00Z[Atlantic/Faroe]`,
		`id=3/20261201T180000Z kind=date title=Rehearsal start=2026-12-01T18:00:00Z[Atlantic/Faroe] end=2026-12-01T20:00:00Z[Atlantic/Faroe]`,
		`id=2 kind=date title=Open day start=2026-12-05 end=2026-12-06 status=cancelled`,
		`id=3/20261208T180000Z kind=date title=Rehearsal with guests start=2026-12-08T19:00:00Z[Atlantic/Faroe]`,
		`id=1 kind=date title=Winter concert, part one text=Bring <mugs>⏎and friends start=2026-12-12T19:00:00+01:00[Europe/Berlin] end=2026-12-12T21:00:00+01:00[Europe/Berlin] place=Teasel Hall Pier 2 link=https://harbour.example/1 tags=choir,winter`,
		`id=3/20261222T180000Z kind=date title=Rehearsal start=2026-12-22T18:00:00Z[Atlantic/Faroe] end=2026-12-22T20:00:00Z[Atlantic/Faroe]`,
	}, upcoming)
	assert.Equal(t, [3]any{"Teasel Hall", 4 * time.Hour, true}, [3]any{f.Title, f.Every, f.Rolling})
	assert.Equal(t, []string{"The calendar defines the time zone “Marrow Time”, which does not exist. Its offset from UTC was used.", "There is no time zone “Nowhere/Nothing”; Atlantic/Faroe was used."}, f.Repairs)
	assert.Equal(t, []string{"“Lost” has no valid start, so it was left out.", "“Bell”: It repeats every minute or more often. Only its first date was read."}, f.Skipped)

	// Endless rules, and one that never matches.
	f, _ = read(t, &Document{Body: calendar("BEGIN:VEVENT\nUID:1\nSUMMARY:Daily\nDTSTART:19000101T000000Z\nRRULE:FREQ=DAILY\nEND:VEVENT\nBEGIN:VEVENT\nUID:2\nSUMMARY:Never\nDTSTART:20260101T000000Z\nRRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=31\nEND:VEVENT\n")}, Options{})
	assert.Len(t, f.Items, 462, "62 days back and 400 ahead")
	// A damaged calendar.
	f, _ = read(t, &Document{Body: calendar("BEGIN:VEVENT\nUID:1\nnonsense\nSUMMARY:Stays\nDTSTART:20261201T000000Z\nEND:VEVENT\nBEGIN:VEVENT\nUID:2\nSUMMARY:Cut off\nDTSTART:20261202T000000Z\n")}, Options{})
	assert.Equal(t, []string{"id=1 kind=date title=Stays start=2026-12-01T00:00:00Z[Atlantic/Faroe]", "id=2 kind=date title=Cut off start=2026-12-02T00:00:00Z[Atlantic/Faroe]"}, lines(f))
	assert.NotEmpty(t, f.Repairs)
}

func TestPage(t *testing.T) {
	pages := site{"https://voices.example/kiln?p=2": `<html><div itemscope itemtype="https://schema.org/Review"><span itemprop="author">Ola</span><p itemprop="reviewBody">Good tea</p><meta itemprop="ratingValue" content="4"></div></html>`}
	d := &Document{Address: "https://voices.example/kiln", Kind: "text/html", Get: pages.get, Body: []byte(`<!doctype html><html lang="en"><head><title>Kelp &amp; Kiln | Voices</title><meta property="og:site_name" content="Marrow Voices"><link rel="next" href="?p=2">
<script type="application/ld+json">{"@context": "https://schema.org", "@type": "LocalBusiness", "@id": "#kiln", "name": "Kelp & Kiln", "address": {"streetAddress": "Pier 2", "addressLocality": "Marrow Town"},
"aggregateRating": {"@type": "AggregateRating", "ratingValue": "4,6", "reviewCount": 213}, "review": [{"@type": "Review", "@id": "#r1", "author": {"@type": "Person", "name": "Isa"}, "reviewRating": {"ratingValue": 9, "bestRating": 10}, "reviewBody": "Warm <b>room</b>", "datePublished": "2026-11-02",
"comment": {"@type": "Comment", "text": "Thank you", "author": "Runa"}},],}</script>
<script type="application/ld+json">{"@graph": [{"@type": "Event", "name": "First evening", "startDate": "2026-12-04T18:00+00:00", "location": {"name": "Boathouse"}, "offers": {"availability": "https://schema.org/SoldOut"}}]}</script>
<script type="application/ld+json">{"@type": "Review", "@id": "#r1", "reviewBody": "Another text"}</script>
<script type="application/ld+json">nothing</script></head>
<body><div itemscope itemtype="https://schema.org/Product"><h2 itemprop="name">Mug</h2><img itemprop="image" src="mug.jpg"><div itemprop="review" itemscope itemtype="https://schema.org/Review"><b itemprop="author" itemscope><i itemprop="name">Tjark</i></b><div itemprop="reviewRating" itemscope><span itemprop="ratingValue">80</span></div><time itemprop="datePublished" datetime="2026-11-20">last week</time></div></div></body></html>`)}
	f, name := read(t, d, Options{})
	assert.Equal(t, "page", name)
	assert.Equal(t, []string{
		`id=#r1 kind=review text=Warm room content=Warm <strong>room</strong> by=Isa at=2026-11-02 rating=9/10 reply=Runa Thank you`,
		`kind=review by=Tjark at=2026-11-20 rating=80/100`,
		`kind=review text=Good tea by=Ola rating=4/5`,
	}, lines(f))
	assert.Equal(t, [4]any{"Kelp & Kiln", "Pier 2, Marrow Town", item.Credit{Name: "Marrow Voices", Link: "https://voices.example/"}, Rated{4.6, 5, 213}}, [4]any{f.Title, f.Place, f.Items[0].Publisher, f.Rated})
	assert.Equal(t, []string{"A block of JSON-LD is not valid JSON and was corrected.", "Ratings without a scale were read as ratings of 100."}, f.Repairs)
	assert.Len(t, f.Skipped, 1, "%v", f.Skipped)
	assert.Equal(t, map[string]int{item.Review: 2, item.Date: 1, item.Card: 1}, PartsOf(d))
	f, _ = read(t, d, Options{Part: item.Date})
	assert.Equal(t, []string{`kind=date title=First evening start=2026-12-04T18:00:00Z place=Boathouse status=sold-out`}, lines(f))
	_, err := Named("page").Read(t.Context(), &Document{Body: []byte("<html><p>Sign in</p></html>")}, Options{})
	assert.ErrorContains(t, err, "no reviews, dates, products or articles")

	// Forty blocks that contradict each other count as one.
	blocks := strings.Repeat(`<script type="application/ld+json">{"@type": "Review", "@id": "x", "reviewBody": "%d", "author": "Isa"}</script>`, 40)
	f, _ = read(t, &Document{Body: []byte("<html>" + strings.ReplaceAll(blocks, "%d", "The first text"))}, Options{})
	assert.Equal(t, []string{"id=x kind=review text=The first text by=Isa"}, lines(f))
}

func TestActivity(t *testing.T) {
	const as = `"@context": "https://www.w3.org/ns/activitystreams"`
	at := "https://skerry.example/"
	pages := site{
		at + "kiln/outbox": `{` + as + `, "type": "OrderedCollection", "first": "` + at + `kiln/outbox?p=1"}`,
		at + "kiln/outbox?p=1": `{"type": "OrderedCollectionPage", "next": "` + at + `kiln/outbox?p=2", "orderedItems": [
			{"type": "Create", "object": {"type": "Note", "id": "` + at + `n/3", "to": ["` + activityNamespace + `#Public"], "attributedTo": "` + at + `kiln", "contentMap": {"de": "<p>Hallo #Ton</p>"}, "published": "2026-12-01T10:00:00Z", "tag": [{"type": "Hashtag", "name": "#Ton"}],
				"attachment": [{"type": "Document", "mediaType": "image/png", "url": "` + at + `m/1.png", "name": "Three bowls"}, {"type": "Document", "mediaType": "video/mp4", "url": "` + at + `m/2.mp4"}]}},
			{"type": "Create", "object": {"type": "Note", "id": "` + at + `n/2", "inReplyTo": "` + at + `n/1", "content": "A reply"}},
			{"type": "Announce", "published": "2026-11-30T10:00:00Z", "object": "` + at + `ola/9"}]}`,
		at + "kiln/outbox?p=2": `{"type": "OrderedCollectionPage", "orderedItems": [{"type": "Create", "object": {"type": "Note", "id": "` + at + `n/1", "to": "` + at + `kiln/followers", "content": "Private"}},
			{"type": "Create", "object": {"type": "Note", "id": "` + at + `n/0", "sensitive": true, "summary": "Broken pots", "content": "Shards", "attachment": [{"type": "Image", "url": "` + at + `m/9.png"}]}}]}`,
		at + "ola/9": `{"type": "Note", "id": "` + at + `ola/9", "url": [{"type": "Link", "href": "` + at + `@ola/9", "mediaType": "text/html"}], "content": "From Ola", "attributedTo": "` + at + `ola"}`,
		at + "ola":   `{"type": "Person", "id": "` + at + `ola", "name": "Ola Hask", "preferredUsername": "ola"}`,
		at + "liked": `{"type": "OrderedCollection", "orderedItems": ["` + at + `ola/9", "` + at + `missing"]}`,
	}
	actor := `{` + as + `, "type": "Person", "id": "` + at + `kiln", "name": "Kelp & Kiln", "preferredUsername": "kiln", "url": "` + at + `@kiln", "icon": {"type": "Image", "url": "` + at + `k.png"}, "outbox": "` + at + `kiln/outbox", "liked": "` + at + `liked"}`
	doc := func(body string) *Document {
		return &Document{Address: at + "kiln", Body: []byte(body), Get: pages.get}
	}
	f, name := read(t, doc(actor), Options{})
	assert.Equal(t, "activity", name)
	assert.Equal(t, []string{
		"id=" + at + "n/3 kind=post text=Hallo #Ton by=Kelp & Kiln @kiln@skerry.example " + at + "@kiln " + at + "k.png at=2026-12-01T10:00:00Z image=" + at + "m/1.png Three bowls video=" + at + "m/2.mp4 link=" + at + "n/3 tags=Ton",
		"id=" + at + "n/0 kind=post text=Broken pots link=" + at + "n/0",
	}, lines(f))
	assert.Equal(t, "de", f.Items[0].Language)
	assert.True(t, f.Window)
	f, _ = read(t, doc(actor), Options{Replies: true, Boosts: true})
	assert.Len(t, f.Items, 4)
	assert.Equal(t, "id="+at+"ola/9 kind=post text=From Ola by=Ola Hask @ola@skerry.example "+at+"ola at=2026-11-30T10:00:00Z link="+at+"@ola/9", line(f.Items[2]))
	f, _ = read(t, doc(actor), Options{Part: PartLikes})
	assert.Len(t, f.Items, 1)
	assert.Contains(t, f.Skipped[0], "404")
	_, err := Named("activity").Read(t.Context(), doc(`{`+as+`, "type": "Person", "name": "X"}`), Options{})
	assert.ErrorContains(t, err, "no public list of posts")

	h, ok := ReadHandle(" @Kiln@Skerry.example ")
	assert.True(t, ok && h == Handle{"Kiln", "skerry.example"})
	for _, text := range []string{"kiln", "@kiln", "kiln@", "https://x@y/", "a@b@c"} {
		_, ok = ReadHandle(text)
		assert.False(t, ok, text)
	}
	assert.Equal(t, "/.well-known/webfinger?resource=acct%3AKiln%40skerry.example", h.Query())
	assert.Equal(t, at+"kiln", Profile(&Document{Address: at, Body: []byte(`{"links": [{"rel": "self", "type": "text/html", "href": "/x"}, {"rel": "self", "type": "application/activity+json", "href": "/kiln"}]}`)}))
}

func TestTable(t *testing.T) {
	f, name := read(t, &Document{Name: "voices.csv", Body: []byte("\ufeffName;Sterne;Datum;Text;Bild\nIsa;4,5;1.12.2026;\"Warm; and \"\"dry\"\"\nat last\";https://kelp.example/a.jpg\nOla;★★★☆☆;;Short\n;;;\n")}, Options{Kind: item.Review})
	assert.Equal(t, "table", name)
	assert.Equal(t, []string{
		"kind=review title=Isa text=Warm; and \"dry\"⏎at last at=2026-12-01 rating=4.5/5 image=https://kelp.example/a.jpg",
		"kind=review title=Ola text=Short rating=3/5",
	}, lines(f))
	assert.Equal(t, []string{"2 rows have more or fewer cells than there are columns. Missing cells are empty."}, f.Repairs)
	f, _ = read(t, &Document{Name: "v.tsv", Body: []byte("Who\tSaid\nIsa\tHello\n")}, Options{Mapping: map[string]string{"authorName": "Who", "text": "Said"}})
	assert.Equal(t, []string{"kind=card text=Hello by=Isa"}, lines(f))
	_, err := Named("table").Read(t.Context(), &Document{Name: "v.csv", Body: []byte("Who,Said\nIsa,Hello\n")}, Options{Mapping: map[string]string{"text": "Stars"}})
	assert.EqualError(t, err, "The table has no column “Stars”. It has “Who”, “Said”.")
	out, err := OutlineOf(&Document{Body: []byte("Who,Review\nIsa,Hello\nOla,\n")}, "table", Options{})
	require.NoError(t, err)
	assert.Equal(t, Outline{Cells: []Cell{{"Who", []string{"Isa", "Ola"}}, {"Review", []string{"Hello"}}}, Mapping: map[string]string{"text": "Review"}}, out)
}

func TestMappedJSON(t *testing.T) {
	body := []byte(`{"meta": {"n": 2}, "data": {"reviews": [{"uuid": "a", "user": {"name": "Isa"}, "stars": 4, "body/html": "<p>Warm</p>", "photos": [{"src": "a.jpg"}], "tags": ["x", "y"]}, {"uuid": "b", "stars": 5, "body/html": "Dry"}]}}`)
	f, name := read(t, &Document{Address: "https://kelp.example/api", Body: body}, Options{Mapping: map[string]string{"items": "/data/reviews", "id": "/uuid", "authorName": "/user/name", "rating": "/stars", "text": "/body~1html", "image": "/photos/0/src", "tags": "/tags", "reply": "/answer"}})
	assert.Equal(t, "json", name)
	assert.Equal(t, []string{
		"id=a kind=review text=Warm by=Isa rating=4/5 image=https://kelp.example/a.jpg tags=x,y",
		"id=b kind=review text=Dry rating=5/5",
	}, lines(f))
	assert.Equal(t, []string{"No item has “/answer” (owner's reply)."}, f.Repairs)
	out, err := OutlineOf(&Document{Body: body}, "json", Options{})
	require.NoError(t, err)
	assert.Equal(t, []string{"/data/reviews"}, out.Lists)
	assert.Equal(t, Cell{"/body~1html", []string{"Warm", "Dry"}}, out.Cells[0])
	assert.Equal(t, map[string]string{"items": "/data/reviews", "authorName": "/user/name", "rating": "/stars", "tags": "/tags"}, out.Mapping)
	for mapping, says := range map[string]string{"/nothing": "There is no list at “/nothing”", "/data/reviews": "No item has “/gone” any more"} {
		_, err = Named("json").Read(t.Context(), &Document{Body: body}, Options{Mapping: map[string]string{"items": mapping, "text": "/gone"}})
		assert.ErrorContains(t, err, says)
	}
}

func zipped(t *testing.T, files ...string) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for i := 0; i < len(files); i += 2 {
		w, err := z.Create(files[i])
		require.NoError(t, err)
		_, err = w.Write([]byte(files[i+1]))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

func TestMarkdown(t *testing.T) {
	f, name := read(t, &Document{Name: "posts.zip", Body: zipped(t, "a/one.md", "---\ntitle: One\ndate: 2026-12-01\nauthor: {name: Isa}\ntags: [clay, tea]\nrating: 4\n---\n\nSome *text*\n<script>x</script>\n", "two.md", "# Two\n\nText", "bad.md", "---\n: [\n---\nStill read", "a.jpg", "x", "__MACOSX/one.md", "x")}, Options{Kind: item.Post})
	assert.Equal(t, "markdown", name)
	assert.Equal(t, []string{
		"id=a/one.md kind=post title=One text=Some text content=<p>Some <em>text</em></p> by=Isa at=2026-12-01 rating=4/5 tags=clay,tea",
		"id=bad.md kind=post title=bad text=Still read",
		"id=two.md kind=post title=Two text=Text",
	}, lines(f))
	assert.Len(t, f.Repairs, 1)
	assert.Equal(t, []string{"1 files are not Markdown."}, f.Skipped)
	_, err := Named("markdown").Read(t.Context(), &Document{Name: "x.zip", Body: zipped(t, "a.txt", "x")}, Options{})
	assert.EqualError(t, err, "x.zip has no Markdown files.")
	_, err = Named("markdown").Read(t.Context(), &Document{Name: "x.zip", Body: []byte("PK\x03\x04")}, Options{})
	assert.ErrorContains(t, err, "not a complete ZIP")
}

// Entities that a document defines are never expanded, neither a bomb nor a file.
func TestEntities(t *testing.T) {
	bomb := `<!ENTITY a0 "ha">`
	for i := range 20 {
		bomb += fmt.Sprintf(`<!ENTITY a%d "%s">`, i+1, strings.Repeat(fmt.Sprintf("&a%d;", i), 10))
	}
	f, _ := read(t, &Document{Address: "https://skerry.example/feed", Kind: "application/rss+xml", Body: []byte(`<?xml version="1.0"?><!DOCTYPE rss [` + bomb + `<!ENTITY file SYSTEM "file:///etc/hostname">]><rss version="2.0"><channel><title>T</title><item><title>One &a20;&amp; &file; two &nbsp;</title><link>/1</link></item><item><title>Three</title><link>/3</link></item></channel></rss>`)}, Options{})
	require.Len(t, f.Items, 2)
	assert.Less(t, len(f.Items[0].Title), 60)
	assert.Regexp(t, "^One .*two", f.Items[0].Title)
	assert.Equal(t, "Three", f.Items[1].Title)
}
