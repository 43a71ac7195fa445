package main

import (
	"flag"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/performance"
	"github.com/chromedp/chromedp"

	"glasspocket/e2e/browser"
)

// timed is how many pairs of loads the time to visible is taken from; fewer cry wolf.
var timed = flag.Int("pairs", 40, "pairs of loads for the time to visible")

// watch notes, in the page, when the numbers are first in a frame, and what shifted.
const watch = `<script>
window.shift = 0; new PerformanceObserver(l => l.getEntries().forEach(e => shift += e.value)).observe({type: "layout-shift", buffered: true});
(function look() { const e = document.querySelector(".digits") || document.querySelector("[data-glass-pocket]")?.shadowRoot?.querySelector(".digits");
  if (e) requestAnimationFrame(() => { window.visible = performance.now() }); else requestAnimationFrame(look) })();
</script>`

func pageGroup(b *bench) error {
	key := "demo-countdown"
	point := fmt.Sprintf(`<div data-glass-pocket="%s" style="min-height:calc(146px + clamp(0px,(100vw - 559px)*9999,16px))"></div>`, key)
	ours := "<!doctype html>" + watch + "<h1>Page</h1>" + point + fmt.Sprintf(`<script async src="%s/s/%s.js"></script><p>below</p>`, b.demo.Public, key)
	split := "<!doctype html>" + watch + point + fmt.Sprintf(`<script async src="%s/loader.js"></script><p>below</p>`, b.demo.Public)
	// Script time is taken from pages that do not watch themselves.
	plain := strings.Replace(ours, watch, "", 1)
	none := `<!doctype html><h1>Page</h1><p>below</p>`
	many := "<!doctype html>" + strings.Repeat(point, 100) + fmt.Sprintf(`<script async src="%s/s/%s.js"></script>`, b.demo.Public, key)

	// The baseline is a page whose own single script inserts the same markup and style.
	var own string
	mux := http.NewServeMux()
	for path, html := range map[string]*string{"/ours": &ours, "/split": &split, "/many": &many, "/none": &none, "/plain": &plain} {
		mux.HandleFunc(path, func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			fmt.Fprint(w, *html)
		})
	}
	mux.HandleFunc("/own", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, "<!doctype html>"+watch+`<h1>Page</h1><div id="at" style="min-height:162px"></div><script async src="`+own+`/own.js"></script><p>below</p>`)
	})
	mux.HandleFunc("/own.js", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/javascript")
		fmt.Fprint(w, ownScript)
	})
	site := httptest.NewServer(mux)
	defer site.Close()
	// Its script comes from another origin, as ours does.
	other := httptest.NewServer(mux)
	defer other.Close()
	own = other.URL
	var err error
	if ownScript, err = baseline(b, key); err != nil {
		return err
	}

	load := func(path string, slow bool, then func(*browser.Page) error) error {
		p, err := b.browser.Open(1280, 800) // a new profile: nothing is cached
		if err != nil {
			return err
		}
		defer p.Close()
		if _, err := chromedp.Call(p.Ctx, performance.Enable, performance.EnableParams{TimeDomain: performance.EnableTimeDomainThreadTicks}); err != nil {
			return err
		}
		if slow {
			if _, err := chromedp.Call(p.Ctx, network.EmulateNetworkConditionsByRule, network.EmulateNetworkConditionsByRuleParams{MatchedNetworkConditions: []*network.Conditions{{URLPattern: "", Latency: 40, DownloadThroughput: 10e6 / 8, UploadThroughput: 10e6 / 8}}}); err != nil {
				return err
			}
		}
		if err := p.Go(site.URL + path); err != nil {
			return err
		}
		return then(p)
	}
	count := func(path string) (n float64, shift float64, err error) {
		err = load(path, false, func(p *browser.Page) (err error) {
			if err := p.Wait("window.visible"); err != nil {
				return err
			}
			if n, err = browser.Eval[float64](p, `performance.getEntriesByType("resource").filter(e => e.name.startsWith("`+b.demo.Public+`")).length`); err == nil {
				shift, err = browser.Eval[float64](p, "shift")
			}
			return err
		})
		return n, shift, err
	}
	n, shift, err := count("/ours")
	if err != nil {
		return err
	}
	b.report(figure{"requests-until-visible", n, 1, false, true, ""})
	m, _, err := count("/split")
	if err != nil {
		return err
	}
	b.report(figure{"requests-until-visible-split", m, 2, false, true, ""})
	b.report(figure{"layout-shift", shift, 0, false, true, "x"})

	script := func(path string) (ms, long float64, err error) {
		var all, longest []float64
		for range 15 {
			err := load(path, false, func(p *browser.Page) error {
				// Loading has waited for the script; very many mounts go on in slices after it.
				l, err := browser.Eval[float64](p, `new Promise(done => { let longest = 0; const look = () => [...document.querySelectorAll("[data-glass-pocket]")].every(e => e.shadowRoot) ? setTimeout(() => done(longest), 100) : setTimeout(look, 50);
					new PerformanceObserver(l => l.getEntries().forEach(e => longest = Math.max(longest, e.duration))).observe({type: "longtask", buffered: true}); look() })`)
				if err != nil {
					return err
				}
				ms, err := scriptTime(p)
				all, longest = append(all, ms), append(longest, l)
				return err
			})
			if err != nil {
				return 0, 0, err
			}
		}
		return median(all), median(longest), nil
	}
	// What the page's own watching script takes is not the loader's.
	idle, _, err := script("/none")
	if err != nil {
		return err
	}
	one, _, err := script("/plain")
	if err != nil {
		return err
	}
	hundred, long, err := script("/many")
	if err != nil {
		return err
	}
	b.report(figure{"main-thread-1-mount", one - idle, 8, false, false, "ms"})
	b.report(figure{"main-thread-100-mounts", hundred - idle, 30, false, false, "ms"})
	b.report(figure{"longest-task-100-mounts", long, 50, false, false, "ms"})

	var mine, theirs []float64
	for range *timed {
		for path, list := range map[string]*[]float64{"/ours": &mine, "/own": &theirs} {
			err := load(path, true, func(p *browser.Page) error {
				if err := p.Wait("window.visible"); err != nil {
					return err
				}
				v, err := browser.Eval[float64](p, "visible")
				*list = append(*list, v)
				return err
			})
			if err != nil {
				return err
			}
		}
	}
	b.report(figure{"time-to-visible-ratio", median(mine) / median(theirs), 1.05, false, false, "x"})
	return slowed(b)
}

var ownScript string

// baseline is a script that inserts the markup and style which the pocket shows, and no more.
func baseline(b *bench, key string) (string, error) {
	p, err := b.browser.Open(1280, 800)
	if err != nil {
		return "", err
	}
	defer p.Close()
	if err := p.Go(b.demo.Public + "/p/" + key); err != nil {
		return "", err
	}
	if err := p.Wait(`document.querySelector("[data-glass-pocket]")?.shadowRoot?.querySelector(".digits")`); err != nil {
		return "", err
	}
	return browser.Eval[string](p, `(async () => { const payload = await (await fetch("`+b.demo.Public+`/s/`+key+`.json")).json();
		const inner = document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".pocket").outerHTML;
		return "document.getElementById('at').innerHTML=" + JSON.stringify("<style>" + payload.style + "</style>" + inner) })()`)
}

// scriptTime is the main thread's own time in scripts so far, in milliseconds: what other
// processes take from the machine meanwhile does not count.
func scriptTime(p *browser.Page) (float64, error) {
	out, err := chromedp.Call(p.Ctx, performance.GetMetrics, cdp.Empty{})
	if err != nil {
		return 0, err
	}
	for _, m := range out.Metrics {
		if m.Name == "ScriptDuration" {
			return m.Value * 1000, nil
		}
	}
	return 0, fmt.Errorf("the browser does not tell ScriptDuration")
}
