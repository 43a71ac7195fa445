package e2e

import (
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"maps"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/widgets"
)

// still stops a page's clock and keeps the service's away, so that images repeat.
const still = `addEventListener("pageshow", e => window.restored = e.persisted); { const t = 4000000000000; Date.now = () => t; window.fetch = () => new Promise(() => {}) }`

// shims are what old libraries did to a page: methods of arrays of their own, enumerable
// extras everywhere, a JSON and a Promise that do half of what they should.
const shims = `
	Array.prototype.each = Array.prototype.include = Object.prototype.extend = function () { throw new Error("an extra was taken for content") };
	Array.prototype.toJSON = function () { return "[]" };
	Array.from = function (list) { var a = []; for (var i = 0; i < list.length; i++) a.push(list[i]); return a };
	Array.prototype.forEach = function (f) { for (var i = 0; i < this.length; i++) f(this[i], String(i)) };
	Array.prototype.map = function (f) { var a = []; for (var i = 0; i < this.length; i++) a[a.length] = f(this[i], String(i)); return a };
	Array.prototype.filter = function (f) { var a = []; for (var i = 0; i < this.length; i++) if (f(this[i])) a[i] = this[i]; return a };
	Array.prototype.reduce = function (f) { var r = this[0]; for (var i = 1; i < this.length; i++) r = f(r, this[i]); return r };
	Array.prototype.entries = Array.prototype.keys = function () { return this };
	window.JSON = { parse: function (t) { return eval("(" + t + ")") }, stringify: function () { return "{}" } };
	window.Promise = function (f) { var done = []; this.then = function (g) { done.push(g); return this }; f(function (v) { for (var i = 0; i < done.length; i++) done[i](v) }) };
	Function.prototype.bind = function (o) { var f = this; return function () { return f.apply(o) } };`

// What a page does, and a screenshot of the widget in it.
type hostPage struct {
	name, html string
	loading    bool // it is about how a widget comes there, the same for all
	headers    []string
	medium     string            // "" for the screen
	features   map[string]string // media features
	then       string            // JavaScript that makes the widget appear again
	again      string            // true when it has
	whole      bool              // it needs what the headless shell has not
}

// On strict and hostile pages a widget looks as on any other, to the pixel: the countdown
// by itself, those that stand in the page one below the other, and those that lie over it.
func TestEveryPageShowsTheSame(t *testing.T) {
	t.Parallel()
	newPocket(t, "pages", "2096-11-01T12:00[UTC]", map[string]any{"heading": "The kiln opens again", "radius": 0})
	t.Run("countdown", func(t *testing.T) { everyPage(t, "pages") })
	var keys []string
	for name, starter := range map[string]string{"cards": "shore", "person": "bridge", "reviews": "guest-book", "section": "boathouse", "ticker": "gazette"} {
		key := "pages-" + name
		// Nothing of the page shows through: what is behind is the page's matter.
		more := map[string]map[string]any{"cards": {"ground": "#ffffff"}, "reviews": {"ground": "#ffffff", "radius": 0}, "person": {"radius": 0, "shadow": map[string]any{"kind": "none"}}, "section": {"radius": 0}}[name]
		filled(t, key, name, starter, "en", more)
		keys = append(keys, key)
	}
	slices.Sort(keys)
	t.Run("content", func(t *testing.T) { everyPage(t, keys...) })
	t.Run("floats", func(t *testing.T) {
		opaque := map[string]any{"opens": "click", "radius": 0, "shadow": map[string]any{"kind": "none"}}
		filled(t, "pages-popup-corner", "popup", "hint", "en", opaque)
		filled(t, "pages-popup-modal", "popup", "open-night", "en", opaque)
		filled(t, "pages-progress", "progress", "", "en", map[string]any{"track": "#dddddd", "thickness": 12, "rounded": false, "shadow": map[string]any{"kind": "none"}})
		everyPage(t, "pages-popup-corner", "pages-popup-modal", "pages-progress")
	})
}

func everyPage(t *testing.T, keys ...string) {
	var point, tag, code string
	for _, key := range keys {
		src := demo.Public + "/s/" + key + ".js"
		point += `<div data-glass-pocket="` + key + `"></div>`
		tag += `<script async src="` + src + `"></script>`
		_, one := send(t, "GET", src, "")
		code += one + "\n"
	}
	src := demo.Public + "/loader.js"
	if len(keys) == 1 {
		src = demo.Public + "/s/" + keys[0] + ".js"
	}
	text, _ := json.Marshal(code)
	all := strconv.Itoa(len(keys))
	csp := "default-src 'none'; script-src " + demo.Public + "; style-src " + demo.Public + "; img-src " + demo.Public + "; connect-src " + demo.Public + "; require-trusted-types-for 'script'; trusted-types glass-pocket"
	body := func(inner string) string {
		return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body><p id="above">above</p>` + inner + `<p id="below">below</p></body></html>`
	}
	styled := func(css string) string { return body("<style>" + css + "</style>" + point + tag) }
	plain := body(point + tag)
	pages := []hostPage{
		{name: "strict", html: plain, headers: []string{"Content-Security-Policy", csp}},
		{name: "unset", html: styled(`body *:not(style):not(script) { all: unset !important; } `)},
		{name: "unset with a universal layer", html: styled(`@layer a { body *:not(style):not(script) { all: initial !important; } }`)},
		{name: "hide", html: styled(`body * { display: none !important; visibility: hidden !important; opacity: 0 !important; height: 0 !important; max-height: 0 !important; overflow: hidden !important; clip-path: inset(50%) !important; contain: strict !important; color: transparent !important; font-size: 0 !important; }`)},
		{name: "enlarge", html: styled(`body *:not(style):not(script):not(p) { font: italic 900 80px/4 serif !important; padding: 40px !important; border: 9px solid red !important; outline: 9px solid red !important; letter-spacing: 1em !important; word-spacing: 2em !important; transform: scale(1.5) !important; rotate: 9deg !important; translate: 20px !important; scale: 2 !important; zoom: 1.5 !important; text-transform: uppercase !important; text-align: right !important; text-indent: 90px !important; text-shadow: 0 0 9px red !important; text-decoration: underline !important; color: red !important; background: red !important; box-shadow: 0 0 90px red !important; white-space: pre !important; direction: rtl !important; unicode-bidi: bidi-override !important; writing-mode: vertical-rl !important; columns: 3 !important; filter: invert(1) blur(3px) !important; opacity: 0.4 !important; mask: linear-gradient(#000, transparent) !important; hyphens: auto !important; tab-size: 40 !important; }`)},
		{name: "animate", html: styled(`@keyframes k { from { transform: rotate(20deg); opacity: 0.2; height: 0; color: red; } to { transform: rotate(380deg); filter: blur(9px); } } body *:not(p) { animation: k 1s infinite alternate !important; transition: all 9s !important; scroll-behavior: smooth !important; }`)},
		{name: "custom properties", html: styled(`:root, * { --accent: red !important; --ink: red !important; --surface: red !important; --radius: 99px !important; --part: 1 !important; --size: 9px !important; --chars: 1 !important; } html, body { color: red; font: 90px serif; }`)},
		{name: "styles for its own names", html: styled(`.pocket, .countdown, .heading, .units, .unit, .digits, .name { display: none !important; color: red !important; } [data-layout] { display: none !important; } div { color: red; text-align: right; } p { margin: 90px !important; }`)},
		{name: "quirks mode", html: `<title>x</title><body><p id="above">above</p>` + point + tag + `<p id="below">below</p>`},
		{name: "XHTML", html: `<?xml version="1.0" encoding="utf-8"?><html xmlns="http://www.w3.org/1999/xhtml" lang="en"><head><title>x</title></head><body><p id="above">above</p>` + point + strings.ReplaceAll(tag, "async", `async="async"`) + `<p id="below">below</p></body></html>`, headers: []string{"Content-Type", "application/xhtml+xml; charset=utf-8"}},
		{name: "base element", loading: true, html: strings.Replace(plain, "<title>", `<base href="https://evil.example/a/" target="_top"><title>`, 1)},
		{name: "old shims", html: body("<script>" + shims + "</script>" + point + tag)},
		{name: "right to left", html: strings.Replace(plain, "<html ", `<html dir="rtl" `, 1)},
		{name: "print", loading: true, html: plain, medium: "print"},
		{name: "reduced motion", html: plain, features: map[string]string{"prefers-reduced-motion": "reduce"}},
		{name: "dark page", html: strings.Replace(plain, "<title>", `<meta name="color-scheme" content="dark"><title>`, 1), features: map[string]string{"prefers-color-scheme": "dark"}},
		{name: "forced colours", html: styled(`body * { color: red !important; background: red !important; border: 9px solid red !important; }`), features: map[string]string{"forced-colors": "active"}},
		{name: "module", loading: true, html: body(point + strings.ReplaceAll(tag, "async", `type="module"`))},
		{name: "deferred", loading: true, html: body(point + strings.ReplaceAll(tag, "async", "defer"))},
		{name: "in the head", loading: true, html: strings.Replace(body(point), "<title>", tag+"<title>", 1)},
		{name: "blocking, in the head", loading: true, html: strings.Replace(body(point), "<title>", strings.ReplaceAll(tag, "async", "")+"<title>", 1)},
		{name: "tag made by eval", loading: true, html: body(point + `<script>eval("var s = document.createElement('script'); s.src = '` + src + `'; document.head.appendChild(s)")</script>`)},
		{name: "text run by eval", loading: true, html: body(point + `<script>(0, eval)(` + strings.ReplaceAll(string(text), "</", `<\/`) + `)</script>`)},
		{name: "document.write", loading: true, html: body(point + `<script>document.write('<script src="` + src + `"><\/script>')</script>`)},
		{name: "an app that swaps its pages", loading: true, html: plain, then: `{ window.before = document.querySelector("[data-glass-pocket]"); const html = document.body.innerHTML; let n = 0; (function swap() { document.body.innerHTML = n % 2 ? "<p id=above>above</p><main>another page</main>" : html; if (n++ < 40) setTimeout(swap); else window.swapped = true })() }`, again: `window.swapped && before != document.querySelector("[data-glass-pocket]") && glassPocket.live.size == ` + all},
		{name: "an app that restores its markup", loading: true, html: plain, then: `{ window.before = document.querySelector("[data-glass-pocket]"); for (const at of document.querySelectorAll("[data-glass-pocket]")) at.replaceWith(at.cloneNode(true)) }`, again: `before != document.querySelector("[data-glass-pocket]") && glassPocket.live.size == ` + all},
		{name: "gone and back", loading: true, html: plain, then: "history", again: `true`, whole: true},
	}
	references := map[string]image.Image{}
	var one sync.Mutex
	reference := func(t *testing.T, c hostPage) image.Image {
		one.Lock()
		defer one.Unlock()
		about := c.medium + fmt.Sprint(c.features["forced-colors"])
		if references[about] == nil {
			take := picture(t, hostPage{html: plain, medium: c.medium, features: c.features}, len(keys))
			img, next := take(), take()
			for n := 0; n < 20 && differing(img, next) > 0; n++ { // until it stands still
				img, next = next, take()
			}
			references[about] = img
		}
		return references[about]
	}
	for _, c := range pages {
		if c.loading && len(keys) > 1 {
			continue
		}
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			want, take := reference(t, c), picture(t, c, len(keys))
			got := take()
			// A screenshot may show the frame before; only a lasting difference counts.
			for n := 0; n < 20 && differing(want, got) > 0.001; n++ {
				got = take()
			}
			require.Equal(t, want.Bounds().Size(), got.Bounds().Size(), "the same room")
			if off := differing(want, got); off > 0.001 {
				if dir := os.Getenv("PICTURES"); dir != "" {
					keep(t, want, filepath.Join(dir, "want.png"))
					keep(t, got, filepath.Join(dir, "got.png"))
				}
				assert.Fail(t, "it looks otherwise", "%.3f %% of the pixels differ", 100*off)
			}
		})
	}
	if len(keys) > 1 {
		return
	}
	// In forced colours there is nothing of our own colours, and still something to read.
	forced := reference(t, hostPage{features: map[string]string{"forced-colors": "active"}})
	seen := map[color.Color]int{}
	for y := range forced.Bounds().Dy() {
		for x := range forced.Bounds().Dx() {
			seen[forced.At(x, y)]++
		}
	}
	assert.Zero(t, seen[color.RGBA{0x0f, 0x76, 0x6e, 0xff}], "the accent")
	assert.Greater(t, len(seen), 10)
}

// picture opens a page, and returns a function that takes a screenshot of its n widgets.
func picture(t *testing.T, c hostPage, n int) func() image.Image {
	t.Helper()
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/away" {
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, "<!doctype html><title>away</title>away")
			return
		}
		if r.URL.Path != "/" {
			w.WriteHeader(http.StatusNoContent)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		for i := 0; i+1 < len(c.headers); i += 2 {
			w.Header().Set(c.headers[i], c.headers[i+1])
		}
		fmt.Fprint(w, c.html)
	}))
	t.Cleanup(site.Close)
	open := lent
	if c.whole {
		open = whole
	}
	p := open(t)
	height, features := int64(900), map[string]string{}
	if n > 1 { // high enough that every picture in them loads, and without movement
		height, features["prefers-reduced-motion"] = 5200, "reduce"
	}
	maps.Copy(features, c.features)
	require.NoError(t, p.Do(chromedp.EmulateViewport(656, height)))
	require.NoError(t, p.Before(still))
	require.NoError(t, p.Emulate(c.medium, features))
	require.NoError(t, p.Go(site.URL+"/"))
	there := fmt.Sprintf(`[].filter.call(document.querySelectorAll("[data-glass-pocket]"), function (e) { return e.shadowRoot && e.shadowRoot.querySelector(".pocket > *") }).length == %d`, n)
	// Asked anew each time: the document may go while it is asked, and a page's own Promise
	// may be none that a waiting question could use.
	until := func(expression string) {
		t.Helper()
		require.Eventually(t, func() bool {
			yes, err := browser.Eval[bool](p, "!!("+expression+")")
			return err == nil && yes
		}, browser.Patience, 20*time.Millisecond, "%s; console: %v", expression, p.Errors())
	}
	until(there)
	switch c.then {
	case "":
	case "history":
		require.NoError(t, p.Go(site.URL+"/away"))
		eval[any](t, p, `history.back(); 0`)
		until(`location.pathname == "/" && ` + there)
		assert.True(t, eval[bool](t, p, `window.restored`), "the page came back as it was left, from the browser's cache of pages")
	default:
		eval[any](t, p, c.then+"; 0")
		until(c.again + " && " + there)
	}
	// What opens is opened, the corner first: once the other asks, nothing else can be used.
	eval[any](t, p, `[].forEach.call(document.querySelectorAll("[data-glass-pocket*=popup]"), function (e) { e.dispatchEvent(new CustomEvent("glass-pocket:open")) }); 0`)
	until(`[].every.call(document.querySelectorAll("[data-glass-pocket*=popup]"), function (e) { var d = e.shadowRoot.querySelector("dialog"); return d.open && !d.getAnimations().length })`)
	// Images outside the viewport load lazily; here all of them must be loaded.
	pictures := `[].every.call(document.querySelectorAll("[data-glass-pocket]"), function (e) { return [].every.call(e.shadowRoot.querySelectorAll("img"), function (i) { i.loading = "eager"; return i.complete }) })`
	until(pictures)
	return func() image.Image {
		t.Helper()
		// One clip from the first that stands in the page to the last; one of each that lies over it.
		rects := eval[[][]float64](t, p, `(async () => { await document.fonts.ready; const all = document.querySelectorAll("[data-glass-pocket]"), out = [];
			const at = (e, s) => e.shadowRoot.querySelector(s)?.getBoundingClientRect(), a = at(all[0], ".pocket"), b = at(all[all.length - 1], ".pocket");
			for (const e of all) { const r = at(e, ".popup, .progress"); if (r) out.push([r.x, r.y, r.width, r.height]) }
			return out.length ? out : [[a.x, a.y, a.width, b.bottom - a.y]] })()`)
		var clips []image.Image
		for _, r := range rects {
			clip, err := p.Clip(r[0], r[1], r[2], r[3])
			require.NoError(t, err)
			clips = append(clips, clip)
		}
		img := stacked(clips)
		for _, e := range p.Errors() {
			assert.NotContains(t, e, "Glass Pocket")
		}
		return img
	}
}

// stacked puts images one below the other.
func stacked(all []image.Image) image.Image {
	var size image.Point
	for _, i := range all {
		size.X, size.Y = max(size.X, i.Bounds().Dx()), size.Y+i.Bounds().Dy()
	}
	out, y := image.NewRGBA(image.Rectangle{Max: size}), 0
	for _, i := range all {
		draw.Draw(out, i.Bounds().Sub(i.Bounds().Min).Add(image.Pt(0, y)), i, i.Bounds().Min, draw.Src)
		y += i.Bounds().Dy()
	}
	return out
}

// keep writes an image, to show how it differs.
func keep(t *testing.T, img image.Image, file string) {
	f, err := os.Create(file)
	require.NoError(t, err)
	defer f.Close()
	require.NoError(t, png.Encode(f, img))
}

// differing is the part of the pixels that differ by more than the eye could tell.
func differing(a, b image.Image) float64 {
	if a.Bounds().Size() != b.Bounds().Size() {
		return 1
	}
	x, y := pixels(a), pixels(b)
	off := 0
	for i := 0; i+3 < len(x) && i+3 < len(y); i += 4 {
		for k := range 3 {
			if d := int(x[i+k]) - int(y[i+k]); d > 3 || d < -3 {
				off++
				break
			}
		}
	}
	return float64(off) / float64(len(x)/4)
}

// pixels are red, green, blue and opacity of each, row by row.
func pixels(img image.Image) []uint8 {
	out := image.NewRGBA(image.Rect(0, 0, img.Bounds().Dx(), img.Bounds().Dy()))
	draw.Draw(out, out.Bounds(), img, img.Bounds().Min, draw.Src)
	return out.Pix
}

// Outside of a widget nothing changes: no computed style of anything, no sheet, no
// attribute, and one global at most. Of each widget two stand side by side.
func TestThePageStaysAsItWas(t *testing.T) {
	newPocket(t, "outside-countdown", "2096-11-01T12:00[UTC]", nil)
	for _, name := range widgets.Names {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			key := "outside-" + name
			if name != "countdown" {
				filled(t, key, name, "", "en", nil)
			}
			point := `<div data-glass-pocket="` + key + `" style="height: 300px" class="mine"></div>`
			p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title><style>p { color: #123; --own: 1 } div { margin: 3px }</style></head><body>
				<h1>Heading</h1><p id="above">above</p>`+point+point+`<ul><li>one<li>two</ul><form><input><button>b</button></form><table><tr><td>1</table><p id="below">below</p></body></html>`)
			const all = `JSON.stringify([document.styleSheets.length, document.adoptedStyleSheets.length, document.head.innerHTML, [...document.querySelectorAll("*")].filter(e => e.localName != "script").map(e => {
				const s = getComputedStyle(e), out = [e.localName, e.getAttributeNames().map(n => n + "=" + e.getAttribute(n)).join(" ")];
				// How high the page is follows from how high the widget is.
				if (!e.matches("[data-glass-pocket]")) for (const n of s) if (!/^(height|block-size|perspective-origin|transform-origin)$/.test(n) || !/^(html|body)$/.test(e.localName)) out.push(n + ":" + s.getPropertyValue(n));
				return out })])`
			before := eval[string](t, p, all)
			globals := eval[[]string](t, p, `Object.getOwnPropertyNames(window)`)
			eval[any](t, p, `{ const s = document.createElement("script"); s.src = "`+demo.Public+`/s/`+key+`.js"; document.body.append(s) }; 0`)
			shows(t, p, 2)
			require.NoError(t, p.Wait(`glassPocket.live.size == 2`))
			assert.Equal(t, before, eval[string](t, p, all))
			assert.Greater(t, len(before), 50_000)
			more := []string{}
			for _, g := range eval[[]string](t, p, `Object.getOwnPropertyNames(window)`) {
				if !slices.Contains(globals, g) {
					more = append(more, g)
				}
			}
			assert.Equal(t, []string{"glassPocket"}, more)
			assert.Empty(t, p.Errors())
		})
	}
}
