package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/wire"
)

// rows are items of a file.
type rows []map[string]any

// filed publishes a pocket whose list has the items of a file. It returns the source's ID.
func filed(t *testing.T, key, widget, starter, list, kind string, settings map[string]any, items rows) string {
	t.Helper()
	ctx := t.Context()
	file, err := json.Marshal(items)
	require.NoError(t, err)
	mapping := map[string]string{feed.ListKey: ""}
	for _, field := range []string{"id", "title", "text", "authorName", "at", "link", "rating", "startDate", "endDate", "venue", "eventStatus", "importance", "expires"} {
		for _, row := range items {
			if row[field] != nil {
				mapping[field] = "/" + field
			}
		}
	}

	src, err := api.ConnectSource(ctx, plain, wire.NewSource{Name: key, Reader: "json", File: file, FileName: key + ".json", Options: feed.Options{Kind: kind, Mapping: mapping}})
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: plain, Widget: widget, Starter: starter, Language: "en", Title: key})
	require.NoError(t, err)
	set(t, key, settings)
	fromSource(t, key, list, item.Listing{From: []item.From{{Source: src.ID}}})
	return src.ID
}

func fromSource(t *testing.T, key, list string, l item.Listing) {
	t.Helper()
	draft, err := api.Draft(t.Context(), key)
	require.NoError(t, err)
	lists := content.Lists{list: l}
	_, err = api.ChangePocket(t.Context(), key, draft.Revision, wire.ChangePocket{Change: content.Change{Sources: &lists}})
	require.NoError(t, err)
	publish(t, key)
}

func posts(n int) (list rows) {
	now := time.Now().UTC()
	for i := range n {
		list = append(list, map[string]any{"id": fmt.Sprint("p", i), "authorName": "Isa Quill", "text": fmt.Sprintf("Post %d of the boathouse", i), "at": now.Add(-time.Duration(i)*time.Hour - 30*time.Minute).Format(time.RFC3339)})
	}
	return list
}

// itemsIn lists the IDs of the items that a pocket shows.
func itemsIn(t *testing.T, p *browser.Page) []string {
	return eval[[]string](t, p, `[...`+root+`.querySelectorAll("[data-item]")].map(e => e.dataset.item)`)
}

// More items come in one request, each once, whatever happens to the source meanwhile; the keyboard
// goes on at the first of them; and without a script there are pages.
func TestShowMore(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	src := filed(t, "more", "feed", "jetty", "posts", item.Post, map[string]any{"shown": 10}, posts(35))
	p := page(t, `<!doctype html><html><head><script>window.shift = 0; new PerformanceObserver(l => l.getEntries().forEach(e => e.hadRecentInput || (shift += e.value))).observe({type: "layout-shift", buffered: true})</script></head><body><p>above</p>`+pointsAt("more")+`<p>below</p>`)
	next := root + `.querySelector(".next")`
	require.NoError(t, p.Wait(next+`?.textContent == "Show 10 more"`))
	eval[any](t, p, `new Promise(r => requestAnimationFrame(() => requestAnimationFrame(() => r(shift = 0))))`)
	assert.Len(t, itemsIn(t, p), 10)
	assert.Equal(t, "now,1 hour ago", strings.Replace(eval[string](t, p, `[...`+root+`.querySelectorAll("time")].slice(0, 2).map(t => t.textContent).join()`), "30 minutes ago", "now", 1))

	// New items arrive before the visitor asks for more.
	longer := append(rows{{"id": "new", "authorName": "Isa Quill", "text": "Brand new", "at": time.Now().UTC().Format(time.RFC3339)}}, posts(35)...)
	file, _ := json.Marshal(longer)
	source, err := api.Source(ctx, src)
	require.NoError(t, err)
	_, err = api.ChangeSource(ctx, src, source.Revision, wire.ChangeSource{File: file, FileName: "more.json"})
	require.NoError(t, err)
	soon(t, "the new item is shown", func() bool { return strings.Contains(visited(t, demo, "more"), "Brand new") })
	eval[any](t, p, next+`.focus(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(root+`.querySelectorAll("[data-item]").length == 20 && `+next+`.textContent == "Show 10 more"`))
	ids := itemsIn(t, p)
	assert.Equal(t, 20, len(ids))
	assert.Len(t, distinct(ids), 20, "none twice")
	assert.Contains(t, eval[string](t, p, root+`.activeElement.textContent`), "Post 10 of", "the keyboard is at the first new one")
	for want := 30; want <= 35; want += 5 {
		eval[any](t, p, next+`.focus(); 0`)
		require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
		require.NoError(t, p.Wait(fmt.Sprintf(root+`.querySelectorAll("[data-item]").length == %d`, want)))
	}
	assert.Len(t, distinct(itemsIn(t, p)), 35)
	require.NoError(t, p.Wait(next+`.hidden`), "that is all")
	assert.Equal(t, 3, eval[int](t, p, `performance.getEntriesByType("resource").filter(e => e.name.includes("/more/")).length`), "one request each")
	assert.Less(t, eval[float64](t, p, `shift`), 0.0005)
	assert.Empty(t, p.Errors())

	// Without a script.
	res, err := http.Get(demo.Public + "/p/more")
	require.NoError(t, err)
	res.Body.Close()
	p = tab(t)
	require.NoError(t, p.Go(demo.Public+"/p/more"))
	require.NoError(t, p.Wait(next))
	address := eval[string](t, p, next+`.href`)
	require.NoError(t, p.Go(address))
	assert.Equal(t, "Newer posts,Show 10 more", eval[string](t, p, `[...`+root+`.querySelectorAll(".all")].map(a => a.textContent).join()`))
	assert.Len(t, itemsIn(t, p), 10)
	require.NoError(t, p.Do(chromedp.NavigateBack()))
	require.NoError(t, p.Wait(root+`.querySelectorAll("[data-item]").length == 10 && !`+root+`.querySelector("[rel=prev]")`))

	// Addresses that nobody gave out.
	for _, bad := range []string{"/more/more", "/more/more?list=posts&from=-1&of=1-000000000000", "/more/more?list=nothing&from=0&of=1-000000000000", "/more/nowhere?list=posts&from=0&of=1-000000000000"} {
		res, _ := send(t, "GET", demo.Public+bad, "")
		assert.Equal(t, 404, res.StatusCode, bad)
	}
}

func distinct(list []string) map[string]bool {
	set := map[string]bool{}
	for _, s := range list {
		set[s] = true
	}
	return set
}

// A failure is said, and the next try works.
func TestShowMoreFails(t *testing.T) {
	t.Parallel()
	src := filed(t, "more-fails", "feed", "jetty", "posts", item.Post, map[string]any{"shown": 10}, posts(15))
	p := page(t, `<!doctype html><script>window.real = fetch; window.fetch = () => Promise.reject(new Error("offline"))</script>`+pointsAt("more-fails"))
	next := root + `.querySelector(".next")`
	require.NoError(t, p.Wait(next))
	eval[any](t, p, next+`.click(); 0`)
	require.NoError(t, p.Wait(next+`.textContent == "Loading failed. Try again." && !`+next+`.hidden`))
	// The page continues with the rules that it was made with.
	fromSource(t, "more-fails", "posts", item.Listing{From: []item.From{{Source: src}}, Most: 10})
	eval[any](t, p, `window.fetch = real; `+next+`.click(); 0`)
	require.NoError(t, p.Wait(root+`.querySelectorAll("[data-item]").length == 15`))
}

// Ten thousand items are a first page and a link; none are an empty state; those that the widget
// cannot show have a reason.
func TestManyAndFew(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	filed(t, "ten-thousand", "feed", "signal-book", "posts", item.Post, map[string]any{"shown": 10}, posts(10_000))
	res, text := send(t, "GET", demo.Public+"/s/ten-thousand.json", "")
	require.Equal(t, 200, res.StatusCode)
	assert.Less(t, len(text), 40_000)
	assert.Contains(t, text, "more</a>")
	for _, w := range []struct{ widget, list, empty string }{{"reviews", "reviews", "No reviews yet."}, {"feed", "posts", "No posts yet."}, {"dates", "dates", "No dates at the moment."}, {"notices", "notices", "No notices at the moment."}} {
		key := "empty-" + w.widget
		src := filed(t, key, w.widget, "", w.list, item.Card, map[string]any{}, rows{{"id": "one", "title": "A card"}})
		fromSource(t, key, w.list, item.Listing{From: []item.From{{Source: src}}, Rules: item.Rules{WithImage: true}})
		assert.Contains(t, visited(t, demo, key), w.empty, "all items are filtered out")
		if w.widget != "dates" {
			continue
		}
		chosen, err := api.Selection(ctx, key, w.list, wire.NewSelection{})
		require.NoError(t, err)
		require.Len(t, chosen.Dropped, 1)
		assert.Equal(t, "It is a card. The widget shows dates.", chosen.Dropped[0].Reasons[0].Why)
	}
	found, err := api.LookForSource(ctx, plain, wire.SourceLook{Text: demo.Harbour + "/notices.json", Kinds: []string{item.Date}, Needs: []string{"startDate"}})
	require.NoError(t, err)
	assert.Zero(t, found.Candidates[0].Fits)
	assert.Contains(t, found.Candidates[0].Unfit, "The widget shows dates.")
}

// Dates and notices are gone at the second, in the page and then in the rendering.
func TestGoneAtTheSecond(t *testing.T) {
	t.Parallel()
	now := time.Now().UTC().Truncate(time.Second)
	at := func(d time.Duration) string { return now.Add(d).Format(time.RFC3339) }
	filed(t, "gone-dates", "dates", "notice-board", "dates", item.Date, map[string]any{}, rows{
		{"id": "a", "title": "Almost over", "startDate": at(-time.Hour), "endDate": at(14 * time.Second)},
		{"id": "b", "title": "Called off", "startDate": at(72 * time.Hour), "eventStatus": "cancelled"},
		{"id": "c", "title": "Full house", "startDate": at(96 * time.Hour), "endDate": at(98 * time.Hour), "eventStatus": "sold-out", "venue": "Teasel Hall"},
	})
	filed(t, "gone-notices", "notices", "slate", "notices", item.Notice, map[string]any{}, rows{{"id": "a", "title": "Brief", "expires": at(14 * time.Second)}, {"id": "b", "title": "Lasting", "importance": "urgent"}})
	p := page(t, `<!doctype html><script>window.gone = {}; new MutationObserver(l => 0);
		(function look() { for (const e of document.querySelectorAll("[data-glass-pocket]")) { const r = e.shadowRoot, k = e.dataset.glassPocket; if (r?.querySelector("[data-item]") && (r.textContent.includes("Almost over") || r.textContent.includes("Brief"))) gone[k] = 0; else if (gone[k] === 0) gone[k] = Date.now() } requestAnimationFrame(look) })()</script>`+pointsAt("gone-dates", "gone-notices"))
	shows(t, p, 2)
	shown := eval[string](t, p, root+`.textContent`)
	for _, label := range []string{"In progress", "Cancelled", "Sold out", "Teasel Hall"} {
		assert.Contains(t, shown, label)
	}
	require.NoError(t, p.Wait(`gone["gone-dates"] > 0 && gone["gone-notices"] > 0`))
	for _, key := range []string{"gone-dates", "gone-notices"} {
		late := eval[float64](t, p, `gone["`+key+`"]`) - float64(now.Add(14*time.Second).UnixMilli())
		assert.GreaterOrEqual(t, late, 0.0, "%s: not before", key)
		assert.Less(t, late, 3000.0, "%s: on a busy machine", key)
	}
	soon(t, "the rendering is made again", func() bool { return !strings.Contains(visited(t, demo, "gone-dates"), "Almost over") })

	// As a file for calendars.
	res, text := send(t, "GET", demo.Public+"/p/gone-dates.ics", "")
	require.Equal(t, 200, res.StatusCode)
	assert.Equal(t, "text/calendar; charset=utf-8", res.Header.Get("Content-Type"))
	file, err := feed.Named("ical").Read(t.Context(), &feed.Document{Body: []byte(text), Now: now}, feed.Options{})
	require.NoError(t, err)
	require.Len(t, file.Items, 2)
	assert.Equal(t, []any{"Called off", item.Cancelled}, []any{file.Items[0].Title, file.Items[0].Status})
	assert.Equal(t, []any{"Full house", "Teasel Hall", now.Add(96 * time.Hour), now.Add(98 * time.Hour)}, []any{file.Items[1].Title, file.Items[1].Location.Name, file.Items[1].Start.UTC(), file.Items[1].End.UTC()})
	one := eval[string](t, p, root+`.querySelector(".add").href`)
	_, text = send(t, "GET", one, "")
	assert.Equal(t, 1, strings.Count(text, "BEGIN:VEVENT"))
	res, _ = send(t, "GET", demo.Public+"/p/gone-dates.ics?item=nothing", "")
	assert.Equal(t, 404, res.StatusCode)
}

// A post opens in a panel that keeps the focus; a photo opens large; a video loads on request alone.
func TestPostsOpen(t *testing.T) {
	t.Parallel()
	filled(t, "opens", "feed", "beacon", "en", nil)
	p := page(t, `<!doctype html><meta charset="utf-8"><a href="#x" id="before">before</a>`+pointsAt("opens")+`<a href="#y">after</a>`)
	shows(t, p, 1)
	in := root + `.querySelector`
	eval[any](t, p, in+`("[data-open]").focus(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(in+`(".panel").open && `+in+`(".panel .post").textContent.includes("sea-green")`))
	for range 8 {
		require.NoError(t, p.Do(chromedp.KeyEvent(kb.Tab)))
		assert.True(t, eval[bool](t, p, `document.activeElement == document.body || !!`+root+`.activeElement?.closest(".panel")`), "the focus stays in the panel")
	}
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Escape)))
	require.NoError(t, p.Wait(`!`+in+`(".panel").open && `+root+`.activeElement?.hasAttribute("data-open")`), "and returns")
	eval[any](t, p, in+`(".several [data-photo]").click(); 0`)
	require.NoError(t, p.Wait(in+`(".large").open && `+in+`(".large img").alt == "The harbour in the evening"`))
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.ArrowRight)))
	require.NoError(t, p.Wait(in+`(".large img").alt == "An orchard"`))
	assert.Empty(t, p.Errors())
}

// No image of the demo's widgets has many more pixels than it shows, and only the first loads at once.
func TestImagesFit(t *testing.T) {
	t.Parallel()
	p := tab(t)
	for _, key := range []string{"demo-feed", "demo-reviews"} { // before a browser keeps them for a minute
		soon(t, "the images are fetched", func() bool { return strings.Count(visited(t, demo, key), "<img") > 3 })
	}
	require.NoError(t, p.Go(demo.Sites+"/kelp-and-kiln"))
	for _, key := range []string{"demo-feed", "demo-reviews"} {
		r := `document.querySelector("[data-glass-pocket=` + key + `]").shadowRoot`
		require.NoError(t, p.Wait(r+`?.querySelectorAll("img").length > 3`))
		assert.Equal(t, "auto,lazy", eval[string](t, p, `[...new Set([...`+r+`.querySelectorAll("[data-item] img")].map(i => i.loading == "lazy" ? "lazy" : "auto"))].join()`), key)
		eval[any](t, p, `document.querySelector("[data-glass-pocket=`+key+`]").scrollIntoView(); 0`)
		require.NoError(t, p.Wait(r+`.querySelector("img").complete`))
		assert.Empty(t, eval[[]string](t, p, `[...`+r+`.querySelectorAll("[data-item] img")].filter(i => i.complete && i.naturalWidth && i.srcset).map(i => [i.currentSrc.split("-").pop(), i.clientWidth, parseInt(i.currentSrc.match(/-(\d+)\.\w+$/)[1])]).filter(([, shown, has]) => has > shown * 1.5 + 1).map(String)`), key)
	}
}

// Structured data: only on request, only if the average counts what is shown, and valid in the
// vocabulary of schema.org.
func TestStructuredData(t *testing.T) {
	t.Parallel()
	on := map[string]any{"structured": true, "subject": "Hask Orchard </script> Cider", "shown": 12}
	reviews := rows{{"id": "a", "authorName": "Isa", "rating": 5, "title": "Good", "text": "Very good", "at": "2026-11-01T12:00:00Z"}, {"id": "b", "rating": 4, "text": "Fine", "at": "2026-10-01T12:00:00Z"}}
	src := filed(t, "structured", "reviews", "shelf", "reviews", item.Review, on, reviews)
	read := `JSON.parse(document.querySelector("script[type='application/ld+json']")?.textContent ?? "null")`
	p := page(t, `<!doctype html><meta charset="utf-8">`+pointsAt("structured"))
	require.NoError(t, p.Wait(read))
	data := eval[map[string]any](t, p, read)
	assert.Equal(t, []any{"LocalBusiness", "Hask Orchard </script> Cider"}, []any{data["@type"], data["name"]})
	assert.Equal(t, map[string]any{"@type": "AggregateRating", "ratingValue": 4.5, "bestRating": 5.0, "ratingCount": 2.0}, data["aggregateRating"])
	assert.Equal(t, map[string]any{"@type": "Review", "author": map[string]any{"@type": "Person", "name": "Isa"}, "datePublished": "2026-11-01", "name": "Good", "reviewBody": "Very good", "reviewRating": map[string]any{"@type": "Rating", "ratingValue": 5.0, "bestRating": 5.0}}, data["review"].([]any)[0])
	// Fewer are shown than are counted.
	fromSource(t, "structured", "reviews", item.Listing{From: []item.From{{Source: src}}, Rules: item.Rules{Rating: 5}})
	p = page(t, `<!doctype html><meta charset="utf-8">`+pointsAt("structured"))
	require.NoError(t, p.Wait(root+`?.querySelectorAll(".review").length == 1`))
	assert.Nil(t, eval[any](t, p, read))
}
