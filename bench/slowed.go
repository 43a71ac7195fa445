package main

import (
	"fmt"
	"net/http"
	"net/http/httptest"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"

	"glasspocket/e2e/browser"
)

// slowed measures the longest task of the main thread that the largest widget causes with the
// processor slowed fourfold. Earlier tasks, before its script has arrived, are the page's own.
func slowed(b *bench) error {
	const key = "demo-reviews"
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprintf(w, `<!doctype html><h1>Page</h1><div data-glass-pocket="%s"></div><script async src="%s/s/%s.js"></script><p>below</p>`, key, b.demo.Public, key)
	}))
	defer site.Close()
	var longest []float64
	for range 15 {
		p, err := b.browser.Open(1280, 800)
		if err != nil {
			return err
		}
		if _, err := chromedp.Call(p.Ctx, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: 4}); err != nil {
			return err
		}
		if err := p.Go(site.URL); err != nil {
			return err
		}
		l, err := browser.Eval[float64](p, `new Promise(done => { const all = [];
			new PerformanceObserver(l => all.push(...l.getEntries())).observe({type: "longtask", buffered: true});
			const came = () => performance.getEntriesByType("resource").find(e => e.name.includes("/s/")).responseEnd;
			const look = () => { const pocket = document.querySelector("[data-glass-pocket]").shadowRoot?.querySelector(".pocket");
				pocket && pocket.style.visibility != "hidden" ? setTimeout(() => done(Math.max(0, ...all.filter(e => e.startTime >= came()).map(e => e.duration))), 500) : setTimeout(look, 50) };
			look() })`)
		p.Close()
		if err != nil {
			return err
		}
		longest = append(longest, l)
	}
	b.report(figure{"longest-task-reviews-slowed", median(longest), 50, false, false, "ms"})
	return nil
}
