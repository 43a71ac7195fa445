package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"time"

	"github.com/chromedp/cdproto/performance"
	"github.com/chromedp/chromedp"

	"glasspocket/e2e/browser"
	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/wire"
)

// itemsGroup measures the widgets that show content from sources.
func itemsGroup(b *bench) error {
	for _, w := range []struct {
		widget, starter, list, kind string
		items, most                 int
	}{
		{"reviews", "shelf", "reviews", item.Review, 12, 14 << 10},
		{"feed", "jetty", "posts", item.Post, 12, 14 << 10},
		{"dates", "notice-board", "dates", item.Date, 20, 10 << 10},
		{"notices", "slate", "notices", item.Notice, 12, 10 << 10},
	} {
		key := "bench-items-" + w.widget
		if err := b.itemsPocket(key, w.widget, w.starter, w.list, w.kind, w.items, w.items); err != nil {
			return fmt.Errorf("%s: %w", key, err)
		}
		script, _, err := fetch(b.demo.Public+"/s/"+key+".js", "br")
		if err != nil {
			return err
		}
		b.report(figure{fmt.Sprintf("%s-%d-items-cold-brotli", w.widget, w.items), float64(len(script)), float64(w.most), false, true, "B"})
		requests, mount, shift, err := b.itemsPage(key)
		if err != nil {
			return fmt.Errorf("%s: %w", key, err)
		}
		b.report(figure{w.widget + "-requests-besides-photos", requests, 1, false, true, ""})
		b.report(figure{w.widget + "-main-thread", mount, 12, false, false, "ms"})
		b.report(figure{w.widget + "-layout-shift", shift, 0, false, true, "x"})
	}
	if err := b.itemsPocket("bench-items-many", "feed", "signal-book", "posts", item.Post, 1000, 50); err != nil {
		return err
	}
	return b.moreItems("bench-items-many")
}

// itemsPocket publishes a pocket whose list has items from a file.
func (b *bench) itemsPocket(key, widget, starter, list, kind string, items, shown int) error {
	ctx, c := context.Background(), b.demo.Client()
	var rows []map[string]any
	soon := time.Now().UTC().Truncate(time.Hour)
	for i := range items {
		row := map[string]any{"id": fmt.Sprint(i), "title": fmt.Sprintf("Number %d of the season", i), "text": fmt.Sprintf("Item %d: the kettle is on, the clay is soft, and the %d other people of the evening have brought an apron, a towel and a story about the last time.", i, i%17),
			"author": fmt.Sprintf("Visitor %d of the isles", i%40), "at": soon.Add(-time.Duration(i) * time.Hour).Format(time.RFC3339), "rating": 3 + i%3, "url": fmt.Sprintf("https://kelp-and-kiln.example/%d", i),
			"start": soon.Add(time.Duration(i+1) * 26 * time.Hour).Format(time.RFC3339), "end": soon.Add(time.Duration(i+1)*26*time.Hour + 2*time.Hour).Format(time.RFC3339), "place": "The boathouse"}
		rows = append(rows, row)
	}
	file, err := json.Marshal(rows)
	if err != nil {
		return err
	}
	mapping := map[string]string{feed.ListKey: "", "id": "/id", "title": "/title", "text": "/text", "authorName": "/author", "at": "/at", "link": "/url"}
	if kind == item.Review {
		mapping["rating"] = "/rating"
	}
	if kind == item.Date {
		mapping["startDate"], mapping["endDate"], mapping["venue"] = "/start", "/end", "/place"
	}
	src, err := c.ConnectSource(ctx, "kelp-and-kiln", wire.NewSource{Name: key, Reader: "json", File: file, FileName: key + ".json", Options: feed.Options{Kind: kind, Mapping: mapping}})
	if err != nil {
		return err
	}
	if _, err := c.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: widget, Starter: starter, Language: "en"}); err != nil {
		return err
	}
	lists := content.Lists{list: {From: []item.From{{Source: src.ID}}}}
	shownJSON, _ := json.Marshal(shown)
	draft, err := c.ChangeDraft(ctx, key, 1, map[string]json.RawMessage{"shown": shownJSON})
	if err != nil {
		return err
	}
	if draft, err = c.ChangePocket(ctx, key, draft.Revision, wire.ChangePocket{Change: content.Change{Sources: &lists}}); err != nil {
		return err
	}
	_, err = c.Publish(ctx, key, wire.Publish{Revision: draft.Revision})
	return err
}

const inPocket = `document.querySelector("[data-glass-pocket]").shadowRoot`

// itemsPage opens a page with a pocket: the requests besides photos, the median of the script time
// of several pages in milliseconds, and the layout shift below it.
func (b *bench) itemsPage(key string) (requests, script, shift float64, err error) {
	snippets, err := b.demo.Client().Snippets(context.Background(), key, "script")
	if err != nil {
		return 0, 0, 0, err
	}
	html := `<!doctype html><meta charset="utf-8"><h1>Page</h1>` + snippets.Snippets[0].Parts[0].Text
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		if r.URL.Path == "/none" {
			fmt.Fprint(w, "<!doctype html><h1>Page</h1>")
			return
		}
		fmt.Fprint(w, html)
	}))
	defer site.Close()
	visit := func(path string) (float64, error) {
		p, err := b.browser.Open(1280, 800)
		if err != nil {
			return 0, err
		}
		defer p.Close()
		if _, err := chromedp.Call(p.Ctx, performance.Enable, performance.EnableParams{TimeDomain: performance.EnableTimeDomainThreadTicks}); err != nil {
			return 0, err
		}
		if err := p.Go(site.URL + path); err != nil {
			return 0, err
		}
		// No polling, which would be measured too.
		if shift, err = browser.Eval[float64](p, `new Promise(done => { let sum = 0; new PerformanceObserver(l => l.getEntries().forEach(e => sum += e.value)).observe({type: "layout-shift", buffered: true}); setTimeout(() => done(Math.round(sum * 1000) / 1000), 500) })`); err != nil {
			return 0, err
		}
		took, err := scriptTime(p)
		if err != nil || path == "/none" {
			return took, err
		}
		if visible, err := browser.Eval[bool](p, `(e => !!e.querySelector("[data-item]").getClientRects().length && e.querySelector(".pocket").style.visibility != "hidden")(`+inPocket+`)`); err != nil || !visible {
			return 0, fmt.Errorf("the items do not show: %w", err)
		}
		requests, err = browser.Eval[float64](p, `performance.getEntriesByType("resource").filter(e => e.name.startsWith("`+b.demo.Public+`") && e.initiatorType != "img").length`)
		return took, err
	}
	var with, without []float64
	for range 9 {
		took, err := visit("/")
		if err != nil {
			return 0, 0, 0, err
		}
		with = append(with, took)
		moved := shift
		if took, err = visit("/none"); err != nil {
			return 0, 0, 0, err
		}
		without = append(without, took)
		shift = moved
	}
	return requests, median(with) - median(without), shift, nil
}

var nextPage = regexp.MustCompile(`href="([^"]*/p/[^"]*)" target="_self" rel="next"`)

// moreItems measures “show more” beside a plain file of the same size, and scrolling through all
// items.
func (b *bench) moreItems(key string) error {
	payload, _, err := fetch(b.demo.Public+"/s/"+key+".json", "identity")
	if err != nil {
		return err
	}
	var p struct{ Markup string }
	if err := json.Unmarshal(payload, &p); err != nil {
		return err
	}
	m := nextPage.FindStringSubmatch(p.Markup)
	if m == nil {
		return fmt.Errorf("the first page has no next one: %.300s", payload)
	}
	address := strings.Replace(strings.ReplaceAll(m[1], "&amp;", "&"), "/p/", "/more/", 1)
	fragment, _, err := fetch(address, "br")
	if err != nil {
		return err
	}
	plain := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Encoding", "br")
		http.ServeContent(w, r, "more.json", time.Time{}, bytes.NewReader(fragment))
	}))
	defer plain.Close()
	ask := func(address string) (float64, error) {
		began := time.Now()
		req, _ := http.NewRequest("GET", address, nil)
		req.Header.Set("Accept-Encoding", "br")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			return 0, err
		}
		defer res.Body.Close()
		_, err = io.Copy(io.Discard, res.Body)
		return milliseconds(began), err
	}
	var ours, files []float64
	for range 400 {
		for _, each := range []struct {
			address string
			to      *[]float64
		}{{address, &ours}, {plain.URL, &files}} {
			took, err := ask(each.address)
			if err != nil {
				return err
			}
			*each.to = append(*each.to, took)
		}
	}
	b.report(figure{"show-more-beside-a-plain-file", median(ours) / median(files), 1.25, false, false, "x"})

	tab, err := b.browser.Open(1280, 800)
	if err != nil {
		return err
	}
	defer tab.Close()
	if err := tab.Go(b.demo.Public + "/p/" + key); err != nil {
		return err
	}
	items := inPocket + `.querySelectorAll("[data-item]").length`
	for n := 50; n < 1000; n += 50 {
		if err := tab.Wait(fmt.Sprintf("%s == %d && (%s.querySelector('.next').click(), true)", items, n, inPocket)); err != nil {
			return err
		}
	}
	if err := tab.Wait(items + " == 1000"); err != nil {
		return err
	}
	const frames = `new Promise(done => { const at = ` + inPocket + `.querySelector(".window"), took = []; let last = performance.now();
		requestAnimationFrame(function frame(now) { took.push(now - last); last = now; at.scrollTop += 90; took.length < 240 ? requestAnimationFrame(frame) : done(took.slice(10)) }) })`
	took, err := browser.Eval[[]float64](tab, frames)
	if err != nil {
		return err
	}
	late := 0.0
	for _, t := range took {
		if t > 1000.0/60*1.5 {
			late++
		}
	}
	b.report(figure{"scrolling-1000-items-median-frame", median(took), 1000.0 / 60 * 1.02, false, false, "ms"})
	b.report(figure{"scrolling-1000-items-late-frames", late / float64(len(took)) * 100, 5, false, false, "%"})
	return nil
}
