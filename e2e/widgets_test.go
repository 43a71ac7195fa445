package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/bundle"
	"glasspocket/internal/host"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
	"glasspocket/widgets"
)

// The shipped widgets by how they stand in a page.
var (
	inFlow   = []string{"cards", "countdown", "dates", "feed", "notices", "person", "reviews", "section", "ticker"}
	floating = []string{"popup", "progress"}
)

var read = sync.OnceValue(func() map[string]*widget.Release {
	all := map[string]*widget.Release{}
	for _, name := range widgets.Names {
		folder, err := widgets.Folder(name)
		if err != nil {
			panic(err)
		}
		files, _, err := widget.Collect(folder)
		if err != nil {
			panic(err)
		}
		r, faults := widget.Read(files, bundle.Builder{})
		if r == nil {
			panic(faults)
		}
		all[name] = r
	}
	return all
})

// plain is a customer without a brand, whose pockets look as their starters do.
const plain = "hask-orchard-cider"

// filled makes a published pocket with a widget's sample content.
func filled(t *testing.T, key, name, starter, lang string, more map[string]any) {
	t.Helper()
	ctx := t.Context()
	_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: plain, Widget: name, Starter: starter, Language: lang, Title: "Test " + key})
	require.NoError(t, err)
	values, faults := read()[name].Sample(time.Now())
	require.Empty(t, faults)
	if s, ok := read()[name].Starter(starter); ok {
		for k := range s.Settings {
			delete(values, k)
		}
	}
	for k, v := range more {
		values[k] = v
	}
	set(t, key, values)
	publish(t, key)
}

// pointsAt is a mount point as a person would paste it, and the script once.
func pointsAt(keys ...string) (html string) {
	for _, k := range keys {
		html += `<div data-glass-pocket="` + k + `"></div>`
	}
	return html + `<script async src="` + demo.Public + `/loader.js"></script>`
}

// shows waits until n pockets are there, with their scripts run.
func shows(t *testing.T, p *browser.Page, n int) {
	t.Helper()
	require.NoError(t, p.Wait(fmt.Sprintf(`[...document.querySelectorAll("[data-glass-pocket]")].filter(e => { const p = e.shadowRoot?.querySelector(".pocket"); return p && p.style.visibility != "hidden" }).length >= %d`, n)), "console: %v", p.Errors())
}

func axe(t *testing.T, p *browser.Page) []string {
	t.Helper()
	code, err := os.ReadFile(filepath.Join(service.Root(), "console", "node_modules", "axe-core", "axe.min.js"))
	require.NoError(t, err)
	eval[any](t, p, string(code)+";0")
	return eval[[]string](t, p, `axe.run(document, {runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}).then(r => r.violations.flatMap(v => v.nodes.map(n => v.id + " at " + n.target + ": " + n.html.slice(0, 140) + " " + (n.any[0]?.message ?? ""))))`)
}

// sticksOut lists what reaches out of its widget sideways, but for what scrolls in it.
const sticksOut = `[...document.querySelectorAll("[data-glass-pocket]")].flatMap(e => { const room = e.getBoundingClientRect();
	return [...e.shadowRoot.querySelectorAll(".pocket *")].filter(n => { const r = n.getBoundingClientRect();
		if (r.width == 0 || (r.right <= room.right + 1 && r.left >= room.left - 1)) return false;
		for (let a = n; a && a != e.shadowRoot; a = a.parentElement) { const s = getComputedStyle(a); if (s.clipPath != "none" || s.position == "fixed") return false; if (a != n && s.overflowX != "visible") return false }
		return true }).map(n => e.dataset.glassPocket + " at " + Math.round(room.width) + ": ." + (n.className.baseVal ?? n.className)) })`

// Every starter of every widget, in every language, is free of what axe-core can find, and
// fits a column of 200 pixels, a telephone and a page.
func TestEveryStarter(t *testing.T) {
	for _, name := range append(append([]string{}, inFlow...), floating...) {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			starters := read()[name].Starters
			require.GreaterOrEqual(t, len(starters), 6)
			langs := read()[name].Manifest.Languages
			assert.Equal(t, []string{"en", "de", "pl", "ar"}, langs)
			var keys []string
			for i, s := range starters {
				key := fmt.Sprintf("starter-%s-%s", name, s.Name)
				// Each language has at least one starter to show.
				filled(t, key, name, s.Name, langs[i%len(langs)], map[string]any{})
				keys = append(keys, key)
			}
			if name == "popup" || name == "progress" {
				for _, key := range keys {
					p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>x</title></head><body style="margin:0"><main><h1>Page</h1>`+strings.Repeat("<p>words</p>", 60)+pointsAt(key)+`</main></body></html>`)
					shows(t, p, 1)
					eval[any](t, p, `document.querySelector("[data-glass-pocket]").dispatchEvent(new CustomEvent("glass-pocket:open")); 0`)
					require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot.getAnimations().length == 0`))
					assert.Empty(t, axe(t, p), key)
					require.NoError(t, p.Do(chromedp.EmulateViewport(320, 560)))
					assert.LessOrEqual(t, eval[int](t, p, `document.documentElement.scrollWidth`), 320, key)
					assert.Empty(t, p.Errors())
					p.Close()
				}
				return
			}
			var columns strings.Builder
			for _, width := range []int{200, 320, 760} {
				fmt.Fprintf(&columns, `<section aria-label="%dpx" style="width:%dpx;margin:0 0 40px">`, width, width)
				for _, key := range keys {
					fmt.Fprintf(&columns, `<div data-glass-pocket="%s"></div>`, key)
				}
				columns.WriteString("</section>")
			}
			p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body><main><h1>Page</h1>`+columns.String()+pointsAt()+`</main></body></html>`)
			require.NoError(t, p.Emulate("", map[string]string{"prefers-reduced-motion": "reduce"}))
			shows(t, p, 3*len(keys))
			eval[any](t, p, `document.fonts.ready.then(() => 0)`)
			assert.Empty(t, eval[[]string](t, p, sticksOut))
			assert.Empty(t, axe(t, p))
			assert.Empty(t, p.Errors())
		})
	}
}

// What a snippet reserves is what the widget takes: text below it does not move, whether
// the script comes early or late.
func TestWidgetsDoNotShift(t *testing.T) {
	for _, name := range inFlow {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			key := "shift-" + name
			filled(t, key, name, "", "en", nil)
			// Measured as the console does before it publishes.
			p := page(t, `<!doctype html><meta charset="utf-8"><body style="margin:0 auto;width:700px">`+pointsAt(key))
			shows(t, p, 1)
			eval[any](t, p, `document.fonts.ready.then(() => new Promise(requestAnimationFrame)).then(() => 0)`)
			room := eval[[]float64](t, p, `(e => { const slot = e.shadowRoot.querySelector("slot:not([name])")?.parentElement, box = e.getBoundingClientRect(); return [box.height, slot ? slot.getBoundingClientRect().top - box.top : 0] })(document.querySelector("[data-glass-pocket]"))`)
			draft, err := api.Draft(t.Context(), key)
			require.NoError(t, err)
			_, err = api.Publish(t.Context(), key, wirePublish(draft.Revision, []widget.Height{{From: 0, Height: int(room[0] + 0.5), Above: int(room[1] + 0.5)}}))
			require.NoError(t, err)
			paste := strings.Replace(strings.Join(snippet(t, key, host.Script), ""), "<!-- Your own content goes here. -->", "<p>Our own words.</p>", 1)
			for _, late := range []bool{false, true} {
				html := paste
				if late { // the page has been drawn, and read, before the script comes
					html = strings.Replace(paste, "<script async src=", "<script type=later data-src=", 1) + `<script>addEventListener("load", () => requestAnimationFrame(() => requestAnimationFrame(() => { const s = document.createElement("script"); s.src = document.querySelector("[data-src]").dataset.src; document.body.append(s) })))</script>`
				}
				p := page(t, `<!doctype html><html><head><meta charset="utf-8"><title>x</title><script>window.shift = 0; new PerformanceObserver(l => l.getEntries().forEach(e => shift += e.value)).observe({type: "layout-shift", buffered: true})</script></head><body style="margin:0 auto;width:700px"><p>above</p>`+html+`<p id="below">below</p></body></html>`)
				shows(t, p, 1)
				eval[any](t, p, `new Promise(r => setTimeout(() => requestAnimationFrame(() => requestAnimationFrame(() => r(0))), 100))`)
				assert.Less(t, eval[float64](t, p, `shift`), 0.0005, "late: %v", late)
			}
		})
	}
}

func TestPersonOpensForMore(t *testing.T) {
	filled(t, "person", "person", "boathouse", "en", nil)
	p := page(t, `<!doctype html><meta charset="utf-8">`+pointsAt("person", "person", "person"))
	shows(t, p, 3)
	open := `[...document.querySelectorAll("[data-glass-pocket]")].map(e => e.shadowRoot.querySelector("details").open).join()`
	eval[any](t, p, `document.querySelectorAll("[data-glass-pocket]")[0].shadowRoot.querySelector("summary").focus(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(open+` == "true,false,false"`))
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Tab)))
	assert.Equal(t, "Write to Runa", eval[string](t, p, `document.activeElement.shadowRoot.activeElement.innerText`), "on into what has opened")
	eval[any](t, p, `document.querySelectorAll("[data-glass-pocket]")[2].shadowRoot.querySelector("summary").click(); 0`)
	require.NoError(t, p.Wait(open+` == "false,false,true"`), "one at a time")
	assert.Contains(t, eval[string](t, p, `document.querySelector("[data-glass-pocket]").shadowRoot.querySelector("summary").textContent`), "More", "and whose it is, for who hears it:")
	assert.Empty(t, p.Errors())
}

func TestTickerPauses(t *testing.T) {
	filled(t, "ticker", "ticker", "quay", "en", nil)
	p := page(t, `<!doctype html><meta charset="utf-8"><title>x</title>`+pointsAt("ticker"))
	shows(t, p, 1)
	in := `document.querySelector("[data-glass-pocket]").shadowRoot`
	state := in + `.querySelector(".belt").getAnimations()[0]?.playState`
	require.NoError(t, p.Wait(state+` == "running"`))
	speed := eval[float64](t, p, `(b => { const [a] = b.getAnimations(), t = a.effect.getComputedTiming().duration / 1000; return b.querySelector(".run").getBoundingClientRect().width / t })(`+in+`.querySelector(".belt"))`)
	assert.InDelta(t, 50, speed, 0.5, "pixels a second, whatever the length")
	assert.Equal(t, 5, eval[int](t, p, `[...`+in+`.querySelectorAll(".run:not([aria-hidden]) .entry")].length`))
	assert.GreaterOrEqual(t, eval[int](t, p, in+`.querySelectorAll(".run[aria-hidden]").length`), 1, "copies are not heard")
	eval[any](t, p, in+`.querySelector(".window").focus(); 0`)
	require.NoError(t, p.Wait(state+` == "paused"`), "focus stops it")
	eval[any](t, p, in+`.activeElement.blur(); 0`)
	require.NoError(t, p.Wait(state+` == "running"`))
	eval[any](t, p, in+`.querySelector(".pause").click(); 0`)
	require.NoError(t, p.Wait(state+` == "paused"`), "the button stops it for good")
	assert.Equal(t, "Play", eval[string](t, p, in+`.querySelector(".pause .name").textContent`))
	require.NoError(t, p.Emulate("", map[string]string{"prefers-reduced-motion": "reduce"}))
	require.NoError(t, p.Wait(in+`.querySelectorAll(".run").length == 1`), "who wants little movement gets a list that scrolls")
	assert.Empty(t, p.Errors())
}

func TestCardsByKeyboard(t *testing.T) {
	for lang, on := range map[string]string{"en": kb.ArrowRight, "ar": kb.ArrowLeft} {
		filled(t, "cards-"+lang, "cards", "shore", lang, nil)
		p := page(t, `<!doctype html><meta charset="utf-8"><title>x</title><body style="width:400px">`+pointsAt("cards-"+lang))
		require.NoError(t, p.Emulate("", map[string]string{"prefers-reduced-motion": "reduce"}))
		shows(t, p, 1)
		in := `document.querySelector("[data-glass-pocket]").shadowRoot`
		here := `[...` + in + `.querySelectorAll(".card")].findIndex(c => c.dataset.here == "true")`
		require.NoError(t, p.Wait(here+` == 0 && `+in+`.querySelector(".back").disabled`))
		eval[any](t, p, in+`.querySelector(".track").focus(); 0`)
		require.NoError(t, p.Do(chromedp.KeyEvent(on)))
		require.NoError(t, p.Wait(here+` == 1`), lang)
		require.NoError(t, p.Do(chromedp.KeyEvent(kb.End)))
		require.NoError(t, p.Wait(here+` == 5 && `+in+`.querySelector(".on").disabled`))
		eval[any](t, p, in+`.querySelector(".back").click(); 0`)
		require.NoError(t, p.Wait(here+` < 5`))
		require.NoError(t, p.Do(chromedp.KeyEvent(kb.Home)))
		require.NoError(t, p.Wait(here+` == 0`))
		assert.Empty(t, p.Errors())
	}
}

func TestReviewsShowMore(t *testing.T) {
	t.Parallel()
	for _, s := range []string{"shelf", "guest-book", "net-loft"} {
		key := "reviews-" + s
		filled(t, key, "reviews", s, "en", map[string]any{"shown": 3})
		p := page(t, `<!doctype html><meta charset="utf-8"><title>x</title>`+pointsAt(key))
		shows(t, p, 1)
		require.NoError(t, p.Wait(`[...document.querySelector("[data-glass-pocket]").shadowRoot.querySelectorAll(".review")].filter(r => r.getBoundingClientRect().height > 0).length == 3`), s)
	}
	filled(t, "reviews-grid", "reviews", "shelf", "en", map[string]any{"shown": 3, "lines": 2, "width": 180})
	p := page(t, `<!doctype html><meta charset="utf-8"><title>x</title>`+pointsAt("reviews-grid"))
	shows(t, p, 1)
	in := `document.querySelector("[data-glass-pocket]").shadowRoot`
	seen := `[...` + in + `.querySelectorAll(".review")].filter(r => !r.hidden).length`
	require.NoError(t, p.Wait(seen+` == 3`))
	assert.Equal(t, "Show 3 more", eval[string](t, p, in+`.querySelector(".all").textContent`))
	eval[any](t, p, in+`.querySelector(".all").focus(); `+in+`.querySelector(".all").click(); 0`)
	require.NoError(t, p.Wait(seen+` == 6 && `+in+`.activeElement == `+in+`.querySelectorAll(".review")[3]`), "on with the first that has come")
	long := in + `.querySelector(".review[data-fold=cut] .whole:not([hidden])")`
	require.NoError(t, p.Wait(long))
	before := eval[float64](t, p, `(r => r.getBoundingClientRect().height)(`+long+`.closest(".review").querySelector(".words"))`)
	after := eval[float64](t, p, `(b => { const w = b.closest(".review").querySelector(".words"); b.click(); return w.getBoundingClientRect().height })(`+long+`)`)
	assert.Greater(t, after, before)
	// The sum is that of the sample: 5, 5, 4, 5, 3, 5, 4, 5.
	assert.Equal(t, "4.5", eval[string](t, p, in+`.querySelector(".number").textContent`))
	assert.Equal(t, "5 2 1 0 0", eval[string](t, p, `[...`+in+`.querySelectorAll(".many")].map(e => e.textContent).join(" ")`))
	assert.Equal(t, "5 stars: 5 reviews", eval[string](t, p, in+`.querySelector(".step .spoken").textContent`))
	assert.Empty(t, p.Errors())

	// Nothing is to be seen until all of it is laid out. The event for opening shows it at once.
	for open, want := range map[bool][]string{false: {"hidden 0", "hidden 0"}, true: {"hidden 0", " 3"}} {
		p = page(t, `<!doctype html><meta charset="utf-8"><title>x</title><script>window.seen = []; const attach = Element.prototype.attachShadow; Element.prototype.attachShadow = function (how) {
			queueMicrotask(() => { const root = this.shadowRoot.querySelector(".pocket"); const look = () => seen.push(root.style.visibility + " " + [...root.querySelectorAll(".review")].filter(r => r.offsetHeight).length);
				look(); if (`+fmt.Sprint(open)+`) this.dispatchEvent(new CustomEvent("glass-pocket:open")); look() });
			return attach.call(this, how) }</script>`+pointsAt("reviews-shelf"))
		shows(t, p, 1)
		assert.Equal(t, want, eval[[]string](t, p, `seen`))
		assert.Equal(t, 3.0, eval[float64](t, p, `[...`+in+`.querySelectorAll(".review")].filter(r => r.offsetHeight).length`))
	}
	// Who writes in another direction is read in it, and stands where the others stand.
	filled(t, "reviews-rtl", "reviews", "shelf", "ar", nil)
	p = page(t, `<!doctype html><meta charset="utf-8"><title>x</title>`+pointsAt("reviews-rtl"))
	shows(t, p, 1)
	assert.Equal(t, "ltr right", eval[string](t, p, `(s => s.direction + " " + s.textAlign)(getComputedStyle(`+in+`.querySelector(".words")))`))
}

func TestPopUp(t *testing.T) {
	in := `document.querySelector("[data-glass-pocket]").shadowRoot`
	isOpen := in + `?.querySelector("dialog")?.open`
	t.Run("after a while, modal, closed for good", func(t *testing.T) {
		filled(t, "popup-after", "popup", "harvest", "en", map[string]any{"opens": "after", "after": "PT0.2S"})
		html := `<!doctype html><html lang="en" data-glass-consent="given"><head><meta charset="utf-8"><title>x</title></head><body><input id="typed"><script>document.getElementById("typed").focus()</script>` + pointsAt("popup-after") + `</body></html>`
		p := page(t, html)
		require.NoError(t, p.Wait(isOpen))
		assert.Equal(t, "DIALOG", eval[string](t, p, in+`.activeElement.tagName`), "the dialog has the focus, so that its title is read")
		assert.Equal(t, "The first pressing is in the shop", eval[string](t, p, in+`.getElementById(`+in+`.querySelector("dialog").getAttribute("aria-labelledby")).textContent`))
		for range 8 { // focus stays within, whatever comes between
			require.NoError(t, p.Do(chromedp.KeyEvent(kb.Tab)))
			assert.NotEqual(t, "typed", eval[string](t, p, `document.activeElement.id`))
		}
		require.NoError(t, p.Do(chromedp.KeyEvent(kb.Escape)))
		require.NoError(t, p.Wait(`!(`+isOpen+`) && document.activeElement.id == "typed"`), "closed, and back where one was")
		require.NoError(t, p.Do(chromedp.Reload()))
		shows(t, p, 1)
		require.NoError(t, p.Wait(`(window.waited ??= performance.now()) + 500 < performance.now()`))
		assert.False(t, eval[bool](t, p, isOpen), "closed once, closed for as long as was set")
	})
	t.Run("at a depth of reading, in a corner", func(t *testing.T) {
		filled(t, "popup-depth", "popup", "hint", "en", map[string]any{"opens": "depth", "depth": 50})
		p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body><button id="b">b</button>`+strings.Repeat("<p>words</p>", 200)+pointsAt("popup-depth")+`</body></html>`)
		shows(t, p, 1)
		eval[any](t, p, `document.getElementById("b").focus({preventScroll: true}); scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * 0.3); 0`)
		require.NoError(t, p.Wait(`(window.frames_ = (window.frames_ ?? 0) + 1) > 5`))
		assert.False(t, eval[bool](t, p, isOpen))
		eval[any](t, p, `scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * 0.6); 0`)
		require.NoError(t, p.Wait(isOpen))
		assert.Equal(t, "b", eval[string](t, p, `document.activeElement.id`), "what was not asked for leaves the keyboard where it was")
		assert.Equal(t, "auto", eval[string](t, p, `getComputedStyle(document.body).overflow.replace("visible", "auto")`), "the page stays in use")
	})
	t.Run("on a click, twice pasted", func(t *testing.T) {
		filled(t, "popup-click", "popup", "ticket", "en", map[string]any{"opens": "click"})
		p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body><a id="a" href="#elsewhere" data-glass-open="popup-click">open</a>`+pointsAt("popup-click", "popup-click")+`</body></html>`)
		require.NoError(t, p.Wait(`glassPocket?.live.size == 2`))
		eval[any](t, p, `window.told = []; document.addEventListener("glass-pocket:opened", () => told.push("opened")); document.addEventListener("glass-pocket:closed", () => told.push("closed")); document.getElementById("a").click(); 0`)
		require.NoError(t, p.Wait(isOpen))
		assert.Equal(t, 1, eval[int](t, p, `[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.shadowRoot.querySelector("dialog")).length`), "it floats once a page")
		assert.Empty(t, eval[string](t, p, `location.hash`), "the link does not lead away")
		assert.Equal(t, "opened,closed", eval[string](t, p, `(async () => { `+in+`.querySelector(".close").click(); await 0; return told.join() })()`), "known at once: the page may be left in the next moment")
		assert.False(t, eval[bool](t, p, isOpen))
		assert.Equal(t, "a", eval[string](t, p, `document.activeElement.id`))
	})
}

func TestReadingProgress(t *testing.T) {
	filled(t, "progress", "progress", "dusk", "en", nil)
	p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body style="margin:0"><header style="position:sticky;top:0;height:56px;background:#eee">bar</header>`+strings.Repeat("<p>words</p>", 200)+pointsAt("progress", "progress")+`</body></html>`)
	require.NoError(t, p.Wait(`glassPocket?.live.size == 2`))
	in := `document.querySelector("[data-glass-pocket]").shadowRoot`
	now := in + `.querySelector(".progress").getAttribute("aria-valuenow")`
	require.NoError(t, p.Wait(now+` == "0"`))
	for _, part := range []float64{0.25, 0.5, 1} {
		eval[any](t, p, fmt.Sprintf(`scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * %v); 0`, part))
		require.NoError(t, p.Wait(fmt.Sprintf(`%s == "%d"`, now, int(part*100))))
	}
	require.NoError(t, p.Wait(in+`.querySelector(".progress").getBoundingClientRect().top == 56`), "below the page's own bar")
	assert.Equal(t, 1, eval[int](t, p, `[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.shadowRoot.querySelector(".progress")).length`), "once a page")
	assert.Zero(t, eval[int](t, p, `document.querySelector("[data-glass-pocket]").getBoundingClientRect().height`), "it takes no room")
	// A page may mark what is to be read.
	eval[any](t, p, `scrollTo(0, 0); document.querySelectorAll("p")[20].outerHTML = "<article data-glass-reading style='height:2000px'></article>"; dispatchEvent(new Event("resize")); scrollTo(0, document.querySelector("article").offsetTop + 600); 0`)
	require.NoError(t, p.Wait(now+` == "50"`), "of the marked part: 600 of 2000 − 800")
	assert.Empty(t, p.Errors())
}

// No element of a widget has a role that its element does not allow (ARIA in HTML).
func TestAllowedRoles(t *testing.T) {
	t.Parallel()
	axe, err := os.ReadFile(filepath.Join(service.Root(), "console", "node_modules", "axe-core", "axe.min.js"))
	require.NoError(t, err)
	for _, key := range []string{"demo-countdown", "demo-progress", "demo-ticker", "demo-person", "demo-cards", "demo-section", "demo-reviews", "demo-popup", "demo-feed", "demo-dates", "demo-notices"} {
		p := lent(t)
		require.NoError(t, p.Go(demo.Public+"/p/"+key))
		require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot`))
		eval[any](t, p, string(axe)+";0")
		assert.Empty(t, eval[[]string](t, p, `axe.run(document, {runOnly: {type: "rule", values: ["aria-allowed-role", "aria-allowed-attr", "aria-valid-attr-value"]}}).then(r => r.violations.flatMap(v => v.nodes.map(n => v.id + ": " + n.html.slice(0, 160))))`), key)
	}
}
