package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/host"
	"glasspocket/internal/message"
)

// snippet is what the service prints, as it prints it.
func snippet(t *testing.T, key string, form host.Delivery) []string {
	t.Helper()
	s, err := api.Snippets(t.Context(), key, form)
	require.NoError(t, err)
	var parts []string
	for _, p := range s.Snippets[0].Parts {
		parts = append(parts, p.Text)
	}
	return parts
}

// mounted lists the headings of all widgets that show on a page.
const mounted = `[...document.querySelectorAll("*")].filter(e => e.shadowRoot?.querySelector(".digits")).map(e => e.shadowRoot.querySelector(".heading")?.textContent ?? "")`

func TestPlacements(t *testing.T) {
	t.Parallel()
	far := "2099-01-01T00:00[UTC]"
	newPocket(t, "place-a", far, map[string]any{"heading": "A"})
	newPocket(t, "place-b", far, map[string]any{"heading": "B"})
	paste := strings.Join(snippet(t, "place-a", host.Script), "\n")
	split := snippet(t, "place-a", host.Split)
	splitB := snippet(t, "place-b", host.Split)
	tag := fmt.Sprintf(`<script async src="%s/s/place-a.js"></script>`, demo.Public)
	point := `<div data-glass-pocket="place-a">fallback</div>`
	doc := func(head, body string) string {
		return "<!doctype html><html><head><title>x</title>" + head + "</head><body><p>before</p>" + body + "<p id=after>after</p></body></html>"
	}
	for _, c := range []struct {
		name, html string
		want       string // headings, joined
		then       string // JavaScript run when that is there
		after      string // headings then
		requests   int    // for our origin's scripts; 0 does not count
	}{
		{"one paste", doc("", paste), "A", "", "", 1},
		{"pasted twice", doc("", paste+paste), "A A", "", "", 1},
		{"whole snippet in the head", "<!doctype html><html><head>" + paste + "</head><body><p>x</p></body></html>", "A", "", "", 1},
		{"script in the head", doc(tag, point), "A", "", "", 1},
		{"script in the footer", doc("", point+strings.Repeat("<p>text</p>", 50)+tag), "A", "", "", 1},
		{"script alone, at its own tag", doc("", "<section id=here>"+tag+"</section>"), "A", "", "", 1},
		{"script alone, twice", doc("", tag+tag), "A A", "", "", 0},
		{"script alone, in the head", doc(tag, ""), "A", "", "", 1},
		{"blocking script before its mount point", doc("", strings.Replace(tag, " async", "", 1)+point), "A", "", "", 1},
		{"module script", doc("", point+strings.Replace(tag, "async", `type="module"`, 1)), "A", "", "", 1},
		{"module script alone, twice", doc("", strings.Repeat(strings.Replace(tag, "async", `type="module"`, 1), 2)), "A A", "", "", 0},
		{"deferred script", doc(strings.Replace(tag, "async", "defer", 1), point), "A", "", "", 1},
		{"quirks mode", "<title>x</title><body>" + paste, "A", "", "", 1},
		{"base element", doc(`<base href="https://elsewhere.example/">`, paste), "A", "", "", 1},
		{"a link as mount point", doc("", `<a data-glass-pocket="place-a" href="`+demo.Public+`/p/place-a">open</a>`+tag), "A", "", "", 1},
		{"a list item as mount point", doc("", `<ul><li data-glass-pocket="place-a">x</li></ul>`+tag), "A", "", "", 1},
		{"a hostile stylesheet", doc("<style>*{display:none!important;color:red!important;font-size:90px!important}:root{--accent:red!important}</style>", paste), "A", "", "", 1},
		{"split", doc(split[1], split[0]), "A", "", "", 2},
		{"split, two pockets, loader twice", doc(split[1], split[0]+splitB[0]+split[1]), "A B", "", "", 0},
		{"one paste and split together", doc("", paste+splitB[0]+splitB[1]), "A B", "", "", 0},
		{"added after load", doc("", paste), "A", `document.body.insertAdjacentHTML("beforeend", '<div data-glass-pocket="place-a"></div>')`, "A A", 1},
		{"added deep inside, for the loader", doc("", split[0]+split[1]), "A", `{const d=document.createElement("div");d.innerHTML='<p><span data-glass-pocket="place-b"></span></p>';document.body.append(d)}`, "A B", 0},
		{"attribute set later", doc("", split[0]+split[1]+"<div id=late></div>"), "A", `document.getElementById("late").setAttribute("data-glass-pocket","place-b")`, "A B", 0},
		{"key changed", doc("", split[0]+split[1]), "A", `document.querySelector("[data-glass-pocket]").setAttribute("data-glass-pocket","place-b")`, "B", 0},
		{"injected later", doc("", ""), "", `{const s=document.createElement("script");s.src="` + demo.Public + `/s/place-a.js";document.body.append(s)}`, "A", 1},
		{"removed", doc("", paste), "A", `document.querySelector("[data-glass-pocket]").remove()`, "", 1},
		{"removed and put back", doc("", paste), "A", `{const e=document.querySelector("[data-glass-pocket]");e.remove();setTimeout(()=>document.body.append(e))}`, "A", 1},
		{"moved", doc("", paste), "A", `document.body.prepend(document.querySelector("[data-glass-pocket]"))`, "A", 1},
		{"cloned", doc("", paste), "A", `document.body.append(document.querySelector("[data-glass-pocket]").cloneNode(true))`, "A A", 1},
		{"taken out by the page", doc("", paste), "A", `glassPocket.drop("place-a")`, "", 1},
	} {
		t.Run(c.name, func(t *testing.T) {
			p := page(t, c.html)
			list := func(want string) string { return mounted + `.join(" ") == "` + want + `"` }
			require.NoError(t, p.Wait(list(c.want)), "shows %v; console: %v", eval[[]string](t, p, mounted), p.Errors())
			if c.then != "" {
				eval[any](t, p, c.then+"; 0")
				require.NoError(t, p.Wait(list(c.after)), "then shows %v", eval[[]string](t, p, mounted))
			}
			assert.Empty(t, p.Errors())
			assert.True(t, eval[bool](t, p, `[...glassPocket.live.keys()].every(e => e.isConnected)`), "nothing is kept that has left the page")
			if c.requests > 0 {
				// What came over the network: a tag that is served from the cache asks nobody.
				asked := eval[[]string](t, p, `performance.getEntriesByType("resource").filter(e => /\/(s\/.*|loader)\.js$/.test(e.name) && e.transferSize > 0).map(e => e.name + " at " + e.startTime + ", " + e.transferSize + " B")`)
				assert.Len(t, asked, c.requests)
			}
		})
	}
}

// A widget that is gone does no more work: its module's signal is aborted, its timer ended.
func TestRemovedWidgetsStop(t *testing.T) {
	newPocket(t, "stops", "2099-01-01T00:00[UTC]", nil)
	p := page(t, `<!doctype html><script>
		window.timers = new Set(); const set = setTimeout, clear = clearTimeout;
		window.setTimeout = (f, ms) => { const id = set(() => { timers.delete(id); f() }, ms); if (ms <= 1000) timers.add(id); return id }; // longer ones are the test driver’s
		window.clearTimeout = id => { timers.delete(id); clear(id) };</script>`+strings.Join(snippet(t, "stops", host.Script), ""))
	require.NoError(t, p.Wait(mounted+`.length == 1`), "console: %v", p.Errors())
	require.NoError(t, p.Wait(`timers.size == 1`), "timers: %v", eval[int](t, p, `timers.size`))
	eval[any](t, p, `document.querySelector("[data-glass-pocket]").remove(); 0`)
	require.NoError(t, p.Wait(`timers.size == 0 && glassPocket.live.size == 0`))
}

// The first frame that shows the widget shows the right numbers, though the rendering
// that it was sent is an hour old by this page's clock.
func TestFirstPaintIsRight(t *testing.T) {
	at := time.Now().UTC().Add(50*time.Hour + 30*time.Minute).Truncate(time.Minute)
	newPocket(t, "first-paint", at.Format("2006-01-02T15:04")+"[UTC]", nil)
	p := page(t, `<!doctype html><script>
		const real = Date.now; Date.now = () => real() + 3600e3; window.frames1 = [];
		(function look() { const d = document.querySelector("[data-glass-pocket]")?.shadowRoot?.querySelectorAll(".digits");
			if (d?.length) frames1.push([...d].map(e => e.textContent).join(":")); if (frames1.length < 5) requestAnimationFrame(look) })();
		</script>`+strings.Join(snippet(t, "first-paint", host.Script), ""))
	require.NoError(t, p.Wait(`frames1.length == 5`))
	first := eval[string](t, p, `frames1[0]`)
	left := time.Until(at) - time.Hour
	want := fmt.Sprintf("%d:%02d:", int(left.Hours())/24, int(left.Hours())%24)
	assert.True(t, strings.HasPrefix(first, want), "first frame %s, wanted %s…", first, want)
}

// What a snippet reserves is what its widget takes, so that nothing on the page moves.
func TestNothingShifts(t *testing.T) {
	t.Parallel()
	w, err := api.Widget(t.Context(), "countdown")
	require.NoError(t, err)
	for _, starter := range w.Starters {
		key := "shift-" + starter.Name
		newPocket(t, key, "2099-01-01T00:00[UTC]", map[string]any{"heading": "Heading", "begins": "2001-01-01T00:00[UTC]"})
		set(t, key, starter.Settings)
		// The starter's own heights, since newPocket begins from another starter.
		draft, err := api.Draft(t.Context(), key)
		require.NoError(t, err)
		_, err = api.Publish(t.Context(), key, wirePublish(draft.Revision, starter.Heights))
		require.NoError(t, err)
		for _, width := range []int{360, 1280} {
			t.Run(fmt.Sprintf("%s at %d", starter.Name, width), func(t *testing.T) {
				html := `<!doctype html><meta name=viewport content="width=device-width"><style>body{margin:0 16px}</style><div style="max-width:640px;margin:0 auto">` + strings.Join(snippet(t, key, host.Script), "\n") + `<p id="below">Text below the widget.</p></div>
					<script>window.shift = 0; new PerformanceObserver(l => l.getEntries().forEach(e => shift += e.value)).observe({type: "layout-shift", buffered: true})</script>`
				p := tab(t)
				require.NoError(t, p.Do(chromedp.EmulateViewport(int64(width), 800)))
				site := page(t, html)
				at := eval[string](t, site, `location.href`)
				require.NoError(t, p.Go(at))
				require.NoError(t, p.Wait(mounted+`.length == 1`))
				frame := `new Promise(r => requestAnimationFrame(() => requestAnimationFrame(() => r(0))))`
				eval[int](t, p, frame)
				sizes := eval[[]float64](t, p, `(() => { const e = document.querySelector("[data-glass-pocket]"); const reserved = parseFloat(getComputedStyle(e).minHeight); return [reserved, e.shadowRoot.querySelector(".pocket").getBoundingClientRect().height, e.getBoundingClientRect().height] })()`)
				reserved := eval[float64](t, p, `(() => { const d = document.createElement("div"); d.setAttribute("style", document.querySelector("[data-glass-pocket]").getAttribute("style")); document.body.append(d); const h = d.getBoundingClientRect().height; d.remove(); return h })()`)
				assert.Equal(t, reserved, sizes[1], "reserved and taken height")
				assert.Zero(t, eval[float64](t, p, `shift`))
				// Visitors' machines have other fonts than the one it was measured on.
				for _, font := range []string{"serif", "monospace", "sans-serif"} {
					taken := `(e => { e.style.fontFamily = "` + font + `"; return e.getBoundingClientRect().height })(document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".pocket"))`
					assert.Equal(t, reserved, eval[float64](t, p, taken), font)
				}
			})
		}
	}
}

func TestEndings(t *testing.T) {
	past := "2001-01-01T00:00[UTC]"
	base := map[string]any{"heading": "H", "endMessage": "It is over", "endLabel": "Continue", "endLink": "https://a.example/x"}
	for _, c := range []struct{ ending, text, shown string }{
		{"zeros", "H 0 days 00 hours 00 minutes 00 seconds", "running"},
		{"message", "H It is over", "over"},
		{"link", "H It is over Continue", "over"},
		{"hide", "", ""},
	} {
		settings := map[string]any{"ending": c.ending}
		for k, v := range base {
			settings[k] = v
		}
		newPocket(t, "ending-"+c.ending, past, settings)
		p := page(t, "<!doctype html>"+strings.Join(snippet(t, "ending-"+c.ending, host.Script), ""))
		require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot`))
		// What is seen: the spoken line is for those who hear it.
		got := eval[string](t, p, `(() => { const e = document.querySelector("[data-glass-pocket]"); e.shadowRoot.querySelector(".spoken").remove(); return e.hidden ? "" : e.shadowRoot.querySelector(".pocket").innerText.replace(/\s+/g, " ").trim() })()`)
		assert.Equal(t, c.text, got, c.ending)
		if c.ending == "link" {
			assert.Equal(t, "https://a.example/x ugc nofollow noopener", eval[string](t, p, `(a => a.href + " " + a.rel)(document.querySelector("[data-glass-pocket]").shadowRoot.querySelector("a"))`))
		}
		if c.ending == "hide" {
			assert.Zero(t, eval[float64](t, p, `document.querySelector("[data-glass-pocket]").getBoundingClientRect().height`), "a hidden widget leaves no gap")
		}
	}
}

// While seconds pass, what a screen reader reads is not rewritten, and nothing announces itself.
func TestTimerIsQuiet(t *testing.T) {
	at := time.Now().UTC().Add(100*24*time.Hour + 30*time.Second).Format("2006-01-02T15:04:05")
	newPocket(t, "quiet", at+"[UTC]", nil)
	p := page(t, "<!doctype html>"+strings.Join(snippet(t, "quiet", host.Script), ""))
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	eval[any](t, p, `{ const r = document.querySelector("[data-glass-pocket]").shadowRoot; window.said = 0; window.ticks = 0;
		new MutationObserver(l => said += l.length).observe(r.querySelector(".spoken"), {childList: true, characterData: true, subtree: true});
		new MutationObserver(l => ticks += l.length).observe(r.querySelector("[data-unit=seconds]"), {childList: true, characterData: true, subtree: true}) }; 0`)
	require.NoError(t, p.Wait(`ticks >= 2`))
	assert.LessOrEqual(t, eval[int](t, p, `said`), 1, "at most the turn of a minute")
	assert.Equal(t, "timer||true|", eval[string](t, p, `(r => [r.querySelector(".running").getAttribute("role"), r.querySelector(".running").getAttribute("aria-live"), r.querySelector(".units").getAttribute("aria-hidden"), r.querySelector(".spoken").getAttribute("aria-live")].join("|"))(document.querySelector("[data-glass-pocket]").shadowRoot)`))
	assert.Contains(t, eval[string](t, p, `document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".spoken").textContent`), "100 days, 0 hours")
}

// A page that allows nothing but our origin, and no markup from strings, shows the widget
// as any other page does.
func TestStrictPage(t *testing.T) {
	newPocket(t, "strict", "2099-01-01T00:00[UTC]", map[string]any{"heading": "S", "accent": "#123456"})
	html := "<!doctype html>" + strings.Join(snippet(t, "strict", host.Script), "")
	p := page(t, html, "Content-Security-Policy", "default-src 'none'; script-src "+demo.Public+"; style-src "+demo.Public+"; img-src "+demo.Public+"; connect-src "+demo.Public+"; require-trusted-types-for 'script'; trusted-types glass-pocket")
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	assert.Equal(t, "rgb(18, 52, 86)", eval[string](t, p, `getComputedStyle(document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".digits")).color`))
	for _, e := range p.Errors() {
		assert.Contains(t, e, "inline style", "the page itself refuses the snippet's reserved height, and nothing else")
	}
}

func TestOneGlobalAndNoTrace(t *testing.T) {
	newPocket(t, "trace", "2099-01-01T00:00[UTC]", nil)
	p := page(t, `<!doctype html><script>window.before = new Set(Object.getOwnPropertyNames(window))</script>`+strings.Join(snippet(t, "trace", host.Script), ""))
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	assert.Equal(t, []string{"glassPocket"}, eval[[]string](t, p, `Object.getOwnPropertyNames(window).filter(k => !before.has(k) && k != "before")`))
	assert.Equal(t, "|0|0", eval[string](t, p, `[document.cookie, localStorage.length, sessionStorage.length].join("|")`))
}

func TestTroubleIsSaidOnce(t *testing.T) {
	gone := fmt.Sprintf(`<div data-glass-pocket="never-was">the fallback</div><script async src="%s/s/never-was.js"></script>`, demo.Public)
	p := page(t, "<!doctype html>"+gone+gone)
	require.NoError(t, p.Wait(`window.glassPocket`))
	assert.Contains(t, said(t, p, 1)[0], "“never-was” is not published")
	assert.Equal(t, "the fallback", eval[string](t, p, `document.querySelector("[data-glass-pocket]").innerText`))

	newPocket(t, "odd", "2099-01-01T00:00[UTC]", nil)
	p = page(t, `<!doctype html><div data-glass-pocket="odd-one">the fallback</div>`+strings.Join(snippet(t, "odd", host.Script), ""))
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	eval[any](t, p, `glassPocket.take({}); glassPocket.take({n: 99, key: "odd-one", markup: "<b>x</b>"}); glassPocket.take({n: 99, key: "odd-one", markup: "<b>x</b>"}); 0`)
	said(t, p, 2)
	assert.Equal(t, "the fallback", eval[string](t, p, `document.querySelector("[data-glass-pocket]").innerText`))
}

// The service dies while pages are open and before others are opened.
func TestDeadService(t *testing.T) {
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	html := fmt.Sprintf(`<!doctype html><script async src="%s/loader.js"></script><div data-glass-pocket="demo-night">first</div>`, d.Public)
	p := page(t, html)
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	d.Kill()
	eval[any](t, p, `document.body.insertAdjacentHTML("beforeend", '<div id="late" data-glass-pocket="demo-ferry">the fallback</div><div data-glass-pocket="demo-ferry">again</div>'); 0`)
	ours := func() (list []string) {
		for _, e := range p.Errors() {
			if strings.Contains(e, "Glass Pocket") {
				list = append(list, e)
			}
		}
		return list
	}
	require.Eventually(t, func() bool { return len(ours()) > 0 }, 10*time.Second, 10*time.Millisecond)
	assert.Len(t, ours(), 1)
	assert.Contains(t, ours()[0], "“demo-ferry” could not be loaded from "+d.Public)
	assert.Equal(t, "the fallback", eval[string](t, p, `document.getElementById("late").innerText`))
	assert.Len(t, eval[[]string](t, p, mounted), 1, "what shows goes on showing")

	p = page(t, fmt.Sprintf(`<!doctype html><div data-glass-pocket="demo-night"><a href="/x">the fallback</a></div><script async src="%s/s/demo-night.js"></script>`, d.Public))
	assert.Equal(t, "the fallback", eval[string](t, p, `document.querySelector("[data-glass-pocket] a").innerText`))
}

// Browser and service choose the same plural forms.
func TestPluralsAgree(t *testing.T) {
	p := page(t, "<!doctype html>")
	for _, lang := range []string{"en", "de", "pl", "ar"} {
		got := eval[[]string](t, p, `(r => Array.from({length: 130}, (_, n) => r.select(n)))(new Intl.PluralRules("`+lang+`"))`)
		for n, category := range got {
			require.Equal(t, category, message.Category(lang, n), "%s %d", lang, n)
		}
	}
}

// Publishing again changes the page, and the page's text stays as it was pasted.
func TestNeverPasteTwice(t *testing.T) {
	newPocket(t, "again", "2099-01-01T00:00[UTC]", map[string]any{"heading": "Before"})
	html := "<!doctype html>" + strings.Join(snippet(t, "again", host.Script), "")
	p := page(t, html)
	require.NoError(t, p.Wait(mounted+`.join() == "Before"`))
	set(t, "again", map[string]any{"heading": "After"})
	publish(t, "again")
	p = page(t, html) // another visitor
	require.NoError(t, p.Wait(mounted+`.join() == "After"`))
}

func TestFrame(t *testing.T) {
	newPocket(t, "framed", "2099-01-01T00:00[UTC]", map[string]any{"heading": "In a frame"})
	p := tab(t)
	require.NoError(t, p.Go(demo.Public+"/p/framed"))
	require.NoError(t, p.Wait(mounted+`.join() == "In a frame"`))
	assert.Equal(t, "null", eval[string](t, p, `self.origin`))
	assert.Empty(t, p.Errors())
	host := page(t, "<!doctype html>"+snippet(t, "framed", host.Frame)[0])
	assert.Equal(t, 162.0, eval[float64](t, host, `document.querySelector("iframe").getBoundingClientRect().height`))
}
