package e2e

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font/gofont/goregular"

	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// A page sets otherwise what a widget lets it: look, text and what the script gets, each
// checked; what does not fit is told once and stays as it was. Nothing of it is sent.
func TestPageOverrides(t *testing.T) {
	filled(t, "overridden", "ticker", "quay", "en", map[string]any{"badge": "News"})
	filled(t, "overridden-section", "section", "as-the-page", "en", nil)
	p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body style="color: rgb(1, 2, 3); font: 21px serif">
		<div data-glass-pocket="overridden" data-set-badge="Today &lt;b&gt;" data-set-speed="100" data-set-surface="#123456"></div>
		<div data-glass-pocket="overridden" data-set-speed="9000" data-set-surface="url(https://evil.example)"></div>
		<div data-glass-pocket="overridden-section" data-set-title="Ours" data-set-ink="#abcdef"></div>
		<div data-glass-pocket="overridden-section"></div>`+pointsAt())
	shows(t, p, 4)
	at := func(i int) string {
		return fmt.Sprintf(`document.querySelectorAll("[data-glass-pocket]")[%d].shadowRoot`, i)
	}
	assert.Equal(t, "Today <b>|rgb(18, 52, 86)", eval[string](t, p, at(0)+`.querySelector(".badge").textContent + "|" + getComputedStyle(`+at(0)+`.querySelector(".ticker")).backgroundColor`))
	assert.Equal(t, "News|rgb(11, 58, 83)", strings.Replace(eval[string](t, p, at(1)+`.querySelector(".badge").textContent + "|" + getComputedStyle(`+at(1)+`.querySelector(".ticker")).backgroundColor`), "rgb(11, 107, 99)", "rgb(11, 58, 83)", 1))
	speed := func(i int) string {
		return `(b => { const [a] = b.getAnimations(); return Math.round(b.querySelector(".run").getBoundingClientRect().width / a.effect.getComputedTiming().duration * 1000) })(` + at(i) + `.querySelector(".belt"))`
	}
	require.NoError(t, p.Wait(at(0)+`.querySelector(".belt").getAnimations().length`))
	assert.Equal(t, []int{100, 50}, []int{eval[int](t, p, speed(0)), eval[int](t, p, speed(1))})
	words := func(i int) string {
		return eval[string](t, p, `(w => w.querySelector(".title").textContent.slice(0, 4) + "|" + getComputedStyle(w.querySelector(".title")).color + "|" + getComputedStyle(w.querySelector(".text")).fontSize + "|" + getComputedStyle(w.querySelector(".text")).fontFamily)(`+at(i)+`)`)
	}
	assert.Equal(t, "Ours|rgb(171, 205, 239)|21px|serif", words(2))
	assert.Equal(t, "Clay|rgb(1, 2, 3)|21px|serif", words(3), "left same as the page")
	list := said(t, p, 2)
	assert.Contains(t, strings.Join(list, "\n"), `“overridden” cannot use data-set-speed="9000"`)
	assert.Contains(t, strings.Join(list, "\n"), `cannot use data-set-surface="url(`)
	assert.Empty(t, eval[[]string](t, p, `performance.getEntriesByType("resource").map(e => e.name).filter(n => n.includes("?") || n.includes("evil"))`))
}

// Same as the page content shows in the widget's slots, what it states of itself in the
// widget's words; when it states otherwise, the words follow. Nothing of it leaves the page.
func TestSlotsAndFacts(t *testing.T) {
	filled(t, "facts", "section", "boathouse", "en", map[string]any{"greeting": "Hello {firstName}, {unknown}!"})
	p := page(t, `<!doctype html><html lang="en" data-fact-first-name="Isa &lt;i&gt;"><head><meta charset="utf-8"><title>x</title></head><body>
		<div data-glass-pocket="facts"><p id="own">Our own words</p><em slot="aside" id="aside">aside</em></div>
		<main data-fact-first-name="Ola"><div data-glass-pocket="facts"></div></main>`+pointsAt())
	shows(t, p, 2)
	greeting := func(i int) string {
		return fmt.Sprintf(`[...document.querySelectorAll("[data-glass-pocket]")[%d].shadowRoot.querySelectorAll(".greeting")].filter(g => !g.hidden).map(g => g.textContent).join("/")`, i)
	}
	assert.Equal(t, "Hello Isa <i>, !", eval[string](t, p, greeting(0)))
	assert.Equal(t, "Hello Ola, !", eval[string](t, p, greeting(1)), "the nearest counts")
	assert.Equal(t, "own|aside", eval[string](t, p, `["slot:not([name])", "slot[name=aside]"].map(s => document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(s).assignedElements()[0].id).join("|")`))
	assert.Greater(t, eval[float64](t, p, `document.getElementById("own").getBoundingClientRect().height`), 0.0)
	eval[any](t, p, `document.documentElement.removeAttribute("data-fact-first-name"); 0`)
	require.NoError(t, p.Wait(greeting(0)+` == ""`))
	eval[any](t, p, `document.documentElement.setAttribute("data-fact-signed-in", "true"); 0`)
	require.NoError(t, p.Wait(greeting(0)+` == "Welcome back!" && `+greeting(1)+` == "Hello Ola, !"`))
	asked := eval[[]string](t, p, `performance.getEntriesByType("resource").map(e => e.name)`)
	assert.NotContains(t, strings.Join(asked, " "), "Isa")
	assert.Empty(t, p.Errors())
	// Removed, the widget leaves the page's content as it was.
	eval[any](t, p, `glassPocket.drop("facts"); 0`)
	assert.Greater(t, eval[float64](t, p, `document.getElementById("own").getBoundingClientRect().height`), 0.0)
}

func photo(w, h int) []byte {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.Set(x, y, color.NRGBA{uint8(x * 3), uint8(y * 5), uint8(x ^ y), 255})
		}
	}
	var b bytes.Buffer
	jpeg.Encode(&b, img, nil)
	return b.Bytes()
}

// An uploaded image is offered in the sizes that are shown, with the room that it takes;
// it cannot be taken away while it is shown; and its address serves nothing that acts.
func TestAssets(t *testing.T) {
	ctx := t.Context()
	a, err := api.Upload(ctx, plain, "Grosse Schüssel.JPG", photo(1400, 700))
	require.NoError(t, err)
	assert.True(t, a.Fresh)
	assert.Equal(t, []any{"grosse-sch-ssel.jpg", 1400, 700, 10}, []any{a.Name, a.Width, a.Height, len(a.Forms)})
	again, err := api.Upload(ctx, plain, "Grosse Schüssel.JPG", photo(1400, 700))
	require.NoError(t, err)
	assert.False(t, again.Fresh)
	font, err := api.Upload(ctx, plain, "Tide.ttf", goregular.TTF)
	require.NoError(t, err)

	filled(t, "with-assets", "section", "timetable", "en", map[string]any{
		"picture": map[string]any{"asset": a.Digest, "alt": "A large bowl", "focus": map[string]any{"x": 20, "y": 80}}, "titleFace": font.Digest, "layout": "panel",
	})
	one, err := api.Asset(ctx, plain, a.Digest)
	require.NoError(t, err)
	assert.Equal(t, []string{"with-assets"}, one.UsedBy)
	refusal := problem(t, api.DeleteAsset(ctx, plain, a.Digest))
	assert.Equal(t, "asset-in-use", refusal.Code)
	assert.Contains(t, refusal.Detail, "with-assets")

	p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body style="margin:0">`+pointsAt("with-assets"))
	require.NoError(t, p.Do(chromedp.EmulateViewport(420, 800)))
	require.NoError(t, p.Do(chromedp.Reload()))
	shows(t, p, 1)
	img := `document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".photo")`
	require.NoError(t, p.Wait(img+`.complete && `+img+`.naturalWidth`), "console: %v", p.Errors())
	assert.Contains(t, eval[string](t, p, img+`.currentSrc`), "-540.jpg", "a phone loads no more than it shows")
	assert.Equal(t, "1400|700|A large bowl|20% 80%", eval[string](t, p, `[`+img+`.getAttribute("width"), `+img+`.getAttribute("height"), `+img+`.alt, getComputedStyle(`+img+`).objectPosition].join("|")`))
	require.NoError(t, p.Wait(`[...document.fonts].some(f => f.family == "glass-`+font.Digest[:12]+`" && f.status == "loaded")`), "console: %v", p.Errors())
	assert.Contains(t, eval[string](t, p, `getComputedStyle(document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".title")).fontFamily`), "glass-"+font.Digest[:12])
	assert.Empty(t, p.Errors())

	// Bytes, types and fences of what is served.
	svg, err := api.Upload(ctx, "saltmarsh-ferry", "mark.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>`))
	require.NoError(t, err)
	for _, c := range []struct{ address, kind string }{{svg.Address, "image/svg+xml"}, {a.Address, "image/jpeg"}, {font.Address, "font/ttf"}} {
		res, body := send(t, "GET", c.address, "")
		assert.Equal(t, 200, res.StatusCode)
		assert.Equal(t, []string{c.kind, "nosniff", "public, max-age=31536000, immutable", "*"}, []string{res.Header.Get("Content-Type"), res.Header.Get("X-Content-Type-Options"), res.Header.Get("Cache-Control"), res.Header.Get("Access-Control-Allow-Origin")})
		assert.Contains(t, res.Header.Get("Content-Security-Policy"), "sandbox; default-src 'none'")
		assert.NotContains(t, body, "Exif")
		part, some := send(t, "GET", c.address, "", "Range", "bytes=2-5")
		assert.Equal(t, 206, part.StatusCode)
		assert.Equal(t, body[2:6], some)
	}
	res, _ := send(t, "GET", demo.Public+"/a/"+a.Digest+"/nothing.jpg", "")
	assert.Equal(t, 404, res.StatusCode)

	// Somebody else's, and one that is gone.
	draft, _ := api.Draft(ctx, "with-assets")
	_, err = api.ChangeDraft(ctx, "with-assets", draft.Revision, raw(map[string]any{"picture": map[string]any{"asset": svg.Digest}}))
	refusal = problem(t, err)
	require.Len(t, refusal.Faults, 1)
	assert.Equal(t, "picture", refusal.Faults[0].Field)
	set(t, "with-assets", map[string]any{"picture": map[string]any{"asset": ""}})
	assert.Equal(t, "asset-in-use", problem(t, api.DeleteAsset(ctx, plain, a.Digest)).Code, "visitors still see it")
	publish(t, "with-assets")
	require.NoError(t, api.DeleteAsset(ctx, plain, a.Digest))
	res, _ = send(t, "GET", a.Address, "")
	assert.Equal(t, 404, res.StatusCode)
	// An older publication that had it is shown without it, and nothing breaks.
	_, err = api.Restore(ctx, "with-assets", wire.Restore{Number: 1})
	require.NoError(t, err)
	_, body := send(t, "GET", demo.Public+"/s/with-assets.json", "")
	assert.NotContains(t, body, a.Digest)
	assert.Contains(t, body, "Clay, fire")
}

// What cannot be used is refused in words, at its place, and what was there stays.
func TestBadContent(t *testing.T) {
	ctx := t.Context()
	for _, c := range []struct {
		name string
		src  []byte
		code string
		says string
	}{
		{"huge.jpg", bytes.Repeat([]byte("\xff\xd8\xff\xe0"), 14<<18), "file-too-large", "14.0 MB"},
		{"bell.mp3", []byte("ding"), "asset-unknown", "not an image, sound or font"},
		{"claims.png", pngClaiming(100_000, 100_000), "asset-broken", "100000 × 100000"},
		{"tide.woff2", []byte("wOF2OTTO and nothing else, for longer than a header is long"), "asset-broken", "font"},
		{"acts.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1 1"><script>alert(1)</script></svg>`), "asset-broken", "<script>"},
	} {
		_, err := api.Upload(ctx, "kelp-and-kiln", c.name, c.src)
		p := problem(t, err)
		assert.Equal(t, c.code, p.Code, c.name)
		assert.Contains(t, p.Detail, c.says)
		assert.NotEmpty(t, p.Hint)
	}
	// Larger than any body: an answer, not a cut line.
	body, _ := json.Marshal(wire.NewAsset{Name: "40.jpg", Bytes: make([]byte, 40<<20)})
	res, text := send(t, "POST", demo.Manage+"/api/v1/customers/kelp-and-kiln/assets", string(body), "Authorization", "Bearer "+demo.Token, "Content-Type", "application/json")
	assert.Equal(t, http.StatusRequestEntityTooLarge, res.StatusCode)
	assert.Contains(t, text, "The limit is 28 MiB")

	filled(t, "too-many", "reviews", "shelf", "en", nil)
	before, err := api.Draft(ctx, "too-many")
	require.NoError(t, err)
	many := make([]any, 10_000)
	for i := range many {
		many[i] = map[string]any{"text": "x"}
	}
	_, err = api.ChangeDraft(ctx, "too-many", before.Revision, raw(map[string]any{"reviews": many}))
	p := problem(t, err)
	require.Len(t, p.Faults, 1, "one word about it, not ten thousand")
	assert.Contains(t, p.Faults[0].What, "has 10000 items; 0 to 200 are allowed")
	_, err = api.ChangeDraft(ctx, "too-many", before.Revision, raw(map[string]any{"reviews": []any{map[string]any{"title": "ok"}, map[string]any{"rating": map[string]any{"value": 9, "best": 5}, "titel": "x"}}}))
	p = problem(t, err)
	fields := []string{}
	for _, f := range p.Faults {
		fields = append(fields, f.Field)
	}
	assert.ElementsMatch(t, []string{"reviews/1/rating", "reviews/1/titel"}, fields, "each at its place")
	after, err := api.Draft(ctx, "too-many")
	require.NoError(t, err)
	assert.Equal(t, before, after)
}

// pngClaiming is the beginning of a PNG of that size, and nothing more.
func pngClaiming(w, h int) []byte {
	// Imported from a real one; its IHDR is rewritten, and its sum with it.
	head := []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR")
	ihdr := []byte{byte(w >> 24), byte(w >> 16), byte(w >> 8), byte(w), byte(h >> 24), byte(h >> 16), byte(h >> 8), byte(h), 8, 2, 0, 0, 0}
	table := func(b []byte) uint32 { // CRC-32 as PNG has it
		c := ^uint32(0)
		for _, x := range b {
			c ^= uint32(x)
			for range 8 {
				if c&1 == 1 {
					c = c>>1 ^ 0xedb88320
				} else {
					c >>= 1
				}
			}
		}
		return ^c
	}
	sum := table(append([]byte("IHDR"), ihdr...))
	return append(append(head, ihdr...), byte(sum>>24), byte(sum>>16), byte(sum>>8), byte(sum))
}

// A widget whose script throws, or changes the page's globals, harms nothing but itself.
func TestScriptsThatMisbehave(t *testing.T) {
	ctx := t.Context()
	folder := func(mount string) widget.Files {
		return widget.Files{
			"widget.json":      []byte(`{"format": 1, "name": "rowdy", "title": {"en": "Rowdy"}, "languages": ["en"]}`),
			"settings.json":    []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {"title": {"type": "string", "default": "Shown", "glass": {"type": "text", "label": {"en": "Title"}}}}}`),
			"view.html":        []byte(`<p class="t">{{.settings.title}}</p>`),
			"messages/en.json": []byte(`{}`),
			"mount.js":         []byte(mount),
		}
	}
	for i, mount := range []string{
		`export default () => { throw new Error("no") }`,
		`export default ({ root }) => { root.querySelector(".nothing").remove() }`,
		`export default () => { window.glassPocket = null; window.fetch = null; window.MutationObserver = null; }`,
		`throw new Error("while it is read"); export default () => {}`,
	} {
		_, err := api.Release(ctx, "rowdy", folder(mount))
		require.NoError(t, err)
		key := fmt.Sprintf("rowdy-%d", i)
		_, err = api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "rowdy"})
		require.NoError(t, err)
		publish(t, key)
		newPocket(t, key+"-neighbour", "2099-01-01T00:00[UTC]", map[string]any{"heading": "N"})
		p := page(t, `<!doctype html><meta charset="utf-8"><title>x</title><div data-glass-pocket="`+key+`-neighbour"></div><script src="`+demo.Public+`/s/`+key+`-neighbour.js"></script><div data-glass-pocket="`+key+`"></div><script async src="`+demo.Public+`/s/`+key+`.js"></script>`)
		require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket=`+key+`]").shadowRoot?.querySelector(".t")?.textContent == "Shown"`), "console: %v", p.Errors())
		require.NoError(t, p.Wait(mounted+`.join() == "N"`))
		for _, e := range p.Errors() {
			assert.Contains(t, e, "shows, but its script stopped")
		}
	}
}

// The kit that travels changes its address with its content, and an asset never does.
func TestDigestsAreOfContent(t *testing.T) {
	a, err := api.Upload(t.Context(), "kelp-and-kiln", "same.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 2 2"/>`))
	require.NoError(t, err)
	_, body := send(t, "GET", a.Address, "")
	h := sha256.New()
	fmt.Fprintf(h, "%s %d\n%s", a.Forms[0].Name, len(body), body)
	assert.Equal(t, a.Digest, fmt.Sprintf("%x", h.Sum(nil)))
}

// What a script cannot put in place by itself the service renders, for that mount point
// alone; what does not fit leaves the pocket as it is, and says why.
func TestPageAsks(t *testing.T) {
	filled(t, "asked-countdown", "countdown", "harbour", "en", nil)
	filled(t, "asked-reviews", "reviews", "shelf", "en", nil)
	filled(t, "asked-person", "person", "boathouse", "en", nil)
	const point = `<div data-glass-pocket="%s" %s></div>`
	p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body>`+
		fmt.Sprintf(point, "asked-countdown", `data-set-target="2061-07-28T12:00[Europe/Berlin]"`)+
		fmt.Sprintf(point, "asked-countdown", `data-set-target="tomorrow"`)+
		fmt.Sprintf(point, "asked-countdown", ``)+
		fmt.Sprintf(point, "asked-reviews", `data-set-layout="list" data-set-accent="#123456" data-set-title="Ours &amp; yours"`)+
		fmt.Sprintf(point, "asked-person", `data-set-picture='{}' data-set-name="Ola"`)+pointsAt())
	shows(t, p, 5)
	at := func(i int) string {
		return fmt.Sprintf(`document.querySelectorAll("[data-glass-pocket]")[%d].shadowRoot.querySelector(".pocket")`, i)
	}
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[data-glass-pocket]")].every(e => e.shadowRoot.querySelector(".pocket").style.visibility == "")`))
	days := func(i int) int {
		return eval[int](t, p, `+`+at(i)+`.querySelector("[data-unit=days] .digits").textContent.replace(/\D/g, "")`)
	}
	assert.Greater(t, days(0), 4000, "its own moment, kept by the script")
	assert.Equal(t, days(2), days(1))
	assert.Less(t, days(2), 4000)
	assert.Equal(t, "list|Ours & yours|#123456", eval[string](t, p, `(e => [e.dataset.layout, e.querySelector(".heading").textContent, e.style.getPropertyValue("--accent")].join("|"))(`+at(3)+`)`))
	assert.Equal(t, "0|Ola", eval[string](t, p, `(e => e.querySelectorAll("img").length + "|" + e.querySelector("[data-text=name]").textContent)(`+at(4)+`)`))
	// Two: the browser tells of the status besides.
	assert.Contains(t, strings.Join(said(t, p, 2), "\n"), `“asked-countdown” cannot use the values that the page sets: This pocket cannot use the values that the page sets: "target": "tomorrow" is not a date and time`)
	asked := strings.Join(eval[[]string](t, p, `performance.getEntriesByType("resource").map(e => e.name).filter(n => n.includes("?")).sort()`), "\n")
	assert.Equal(t, 4, strings.Count(asked, "?"), asked)
	assert.NotContains(t, asked, "Ours", "what the script puts in place is not sent")
}

// The payload with other settings: in one form only, checked, in no cache, and not without end.
func TestPayloadWithOtherSettings(t *testing.T) {
	// From a network of its own, so that what other tests ask does not count.
	elsewhere := http.Client{Transport: &http.Transport{DialContext: (&net.Dialer{LocalAddr: &net.TCPAddr{IP: net.IPv4(127, 0, 9, 1)}}).DialContext}}
	filled(t, "given", "countdown", "harbour", "en", nil)
	filled(t, "given-reviews", "reviews", "shelf", "en", nil)
	get := func(path string) (int, string, http.Header) {
		r, err := elsewhere.Get(demo.Public + path)
		require.NoError(t, err)
		defer r.Body.Close()
		body, err := io.ReadAll(r.Body)
		require.NoError(t, err)
		return r.StatusCode, string(body), r.Header
	}
	moment := url.QueryEscape("2061-07-28T12:00[Europe/Berlin]")
	status, body, header := get("/s/given.json?target=" + moment)
	require.Equal(t, 200, status, body)
	assert.Equal(t, []string{"no-store", "*"}, []string{header.Get("Cache-Control"), header.Get("Access-Control-Allow-Origin")})
	assert.Contains(t, body, `2061-07-28T10:00:00Z`)
	_, own, _ := get("/s/given.json")
	assert.NotContains(t, own, "2061", "nobody else gets it")
	for _, c := range []struct{ query, want string }{
		{"given.json?target=tomorrow", `not a date and time`},
		{"given.json?heading=x", `A page cannot set \"heading\"`},
		{"given.json?targe=x", `Did you mean “target”?`},
		{"given.json?target=" + moment + "&target=" + moment, `is repeated or out of order`},
		{"given-reviews.json?title=x&layout=list", `is repeated or out of order`},
		{"given-reviews.json?layout=circle", `circle`},
		{"given-reviews.json?title=" + strings.Repeat("x", 600), `512 bytes`},
		{"given-reviews.json?" + strings.Repeat("a&", 9), `the limit is 8`},
		{"given-reviews.json?layout=%00", `layout`},
	} {
		status, body, _ := get("/s/" + c.query)
		assert.Equal(t, 400, status, c.query)
		assert.Contains(t, body, c.want, c.query)
	}
	status, body, _ = get("/s/nobody.json?target=x")
	assert.Equal(t, 404, status)
	assert.Contains(t, body, "not-published")
	// Every answer costs a rendering: one network gets so many, and is told when to come back.
	for status = 200; status == 200; {
		status, body, header = get("/s/given.json?target=" + moment)
	}
	assert.Equal(t, 429, status)
	assert.Contains(t, body, "asked-too-often")
	assert.Equal(t, "1", header.Get("Retry-After"))
	status, _, _ = get("/s/given.json")
	assert.Equal(t, 200, status, "the pocket itself is not limited")
}

// On small screens a pocket may be another: in layout, words and what its script gets. What
// the page sets and states holds on both sides, and a screen that changes sides is followed.
func TestOnSmallScreens(t *testing.T) {
	t.Parallel()
	filled(t, "both-sides", "reviews", "shelf", "en", map[string]any{"layout": "list", "shown": 3, "small": map[string]any{"layout": "single", "shown": 2, "width": 200}})
	filled(t, "both-asked", "section", "boathouse", "en", map[string]any{"title": "Long words", "greeting": "Hello {firstName}", "small": map[string]any{"title": "Short"}})
	html := `<!doctype html><html lang="en" data-fact-first-name="Isa"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>x</title></head><body>
		<div data-glass-pocket="both-sides" data-set-accent="#123456"></div><div data-glass-pocket="both-asked"><p>Own</p></div>` + pointsAt()
	p := page(t, html)
	at := func(i int) string {
		return fmt.Sprintf(`document.querySelectorAll("[data-glass-pocket]")[%d].shadowRoot.querySelector(".pocket")`, i)
	}
	seen := `[` + at(0) + `.dataset.layout, ` + at(0) + `.querySelector(".controls").hidden, [...` + at(0) + `.querySelectorAll(".review")].filter(r => !r.hidden && r.getClientRects().length).length, getComputedStyle(` + at(0) + `).getPropertyValue("--accent"), ` +
		at(1) + `.querySelector(".title").textContent, [...` + at(1) + `.querySelectorAll(".greeting")].filter(g => !g.hidden).map(g => g.textContent).join()].join("|")`
	const wide, narrow = "list|true|3|#123456|Long words|Hello Isa", "single|false|8|#123456|Short|Hello Isa"
	for i, width := range []int64{1000, 500, 1000, 420} {
		require.NoError(t, p.Do(chromedp.EmulateViewport(width, 800)))
		if i == 0 {
			require.NoError(t, p.Do(chromedp.Reload()))
			shows(t, p, 2)
		}
		want := wide
		if width < 600 {
			want = narrow
		}
		require.NoError(t, p.Wait(seen+` == `+fmt.Sprintf("%q", want)), "at %d: %s; console: %v", width, eval[string](t, p, seen), p.Errors())
	}
	// The script works on the rendering that is there.
	eval[any](t, p, at(0)+`.querySelector(".on").click(); 0`)
	require.NoError(t, p.Wait(at(0)+`.querySelector(".place").textContent == "2 of 8"`))
	assert.Empty(t, axe(t, p))
	assert.Empty(t, p.Errors())

	// The same markup on both sides is no reason to have two scripts work on it.
	_, err := api.Release(t.Context(), "clicker", widget.Files{
		"widget.json": []byte(`{"format": 1, "name": "clicker", "title": {"en": "C"}, "languages": ["en"], "mount": {"settings": ["step"]}}`),
		"settings.json": []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {
			"step": {"type": "number", "default": 1, "glass": {"type": "number", "small": true, "label": {"en": "S"}}}}}`),
		"view.html":        []byte(`<button class="b" type="button">0</button>`),
		"messages/en.json": []byte(`{}`),
		"mount.js":         []byte(`export default ({ root, settings }) => { const b = root.querySelector(".b"); b.addEventListener("click", () => (b.textContent = +b.textContent + settings.step)); b.title = settings.step }`),
	})
	require.NoError(t, err)
	_, err = api.MakePocket(t.Context(), wire.NewPocket{Key: "both-same", Customer: "kelp-and-kiln", Widget: "clicker"})
	require.NoError(t, err)
	set(t, "both-same", map[string]any{"small": map[string]any{"step": 10}})
	publish(t, "both-same")
	same := page(t, `<!doctype html><meta name="viewport" content="width=device-width"><title>x</title>`+pointsAt("both-same"))
	shows(t, same, 1)
	for _, width := range []int64{500, 1000, 500} {
		require.NoError(t, same.Do(chromedp.EmulateViewport(width, 800)))
		step := map[bool]string{true: "10", false: "1"}[width < 600]
		require.NoError(t, same.Wait(at(0)+`.querySelector(".b").title == "`+step+`"`))
		assert.Equal(t, step, eval[string](t, same, `(b => (b.click(), b.textContent))(`+at(0)+`.querySelector(".b"))`))
	}

	// From the beginning on a small screen, in no frame as on a wide one.
	require.NoError(t, p.Before(`window.frames_ = new Set(); (function look() { const at = document.querySelector("[data-glass-pocket]")?.shadowRoot?.querySelector(".pocket"); if (at) frames_.add(at.dataset.layout); requestAnimationFrame(look) })()`))
	require.NoError(t, p.Do(chromedp.Reload()))
	shows(t, p, 2)
	require.NoError(t, p.Wait(seen+` == `+fmt.Sprintf("%q", narrow)+` && frames_.size`))
	assert.Equal(t, "single", eval[string](t, p, `[...frames_].join()`))
}
