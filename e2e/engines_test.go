package e2e

import (
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/engine"
	"glasspocket/internal/host"
)

func inEngine[T any](t *testing.T, tab *engine.Tab, expression string) T {
	t.Helper()
	v, err := engine.Eval[T](tab, expression)
	require.NoError(t, err)
	return v
}

// site serves documents on an origin of its own: by path, "/" for all that are not named.
func site(t *testing.T, documents map[string]string, headers ...string) string {
	t.Helper()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		html, ok := documents[r.URL.Path]
		if !ok {
			w.WriteHeader(http.StatusNoContent)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		for i := 0; i+1 < len(headers); i += 2 {
			w.Header().Set(headers[i], headers[i+1])
		}
		fmt.Fprint(w, html)
	}))
	t.Cleanup(server.Close)
	return server.URL
}

// What a pocket comes out as: the words that are seen, without numbers that run, and the box
// of what it draws.
type outcome struct {
	Text string
	Box  [2]float64
}

const outcomeOf = `(at => { const root = at.shadowRoot.querySelector(".pocket"), own = root.firstElementChild, box = (getComputedStyle(own).position == "fixed" ? own : at).getBoundingClientRect();
	return { Text: root.innerText.replace(/\s+/g, ""), Box: [box.width, box.height] } })(document.querySelector("[data-glass-pocket=%s]"))`

// running matches the numbers that run, with their units: a second later it may be another plural.
var running = regexp.MustCompile(`\d+((day|hour|minute|second)s?)?`)

// A pop-up opens late, or when it is asked to.
const opened = `(at => at.dispatchEvent(new CustomEvent("glass-pocket:open")) && at.shadowRoot.querySelector("dialog").open)(document.querySelector("[data-glass-pocket=demo-popup]"))`

func open(tab *engine.Tab, address, key string) (is outcome, err error) {
	if err = tab.Go(address); err == nil {
		err = tab.Wait(fmt.Sprintf(`(p => p.firstElementChild && p.style.visibility != "hidden")(document.querySelector("[data-glass-pocket=%s]").shadowRoot.querySelector(".pocket"))`, key))
	}
	if err == nil && key == "demo-popup" {
		err = tab.Wait(opened)
	}
	if err == nil {
		_, err = engine.Eval[any](tab, `document.fonts.ready.then(() => new Promise(requestAnimationFrame)).then(() => null)`)
	}
	if err == nil {
		is, err = engine.Eval[outcome](tab, fmt.Sprintf(outcomeOf, key))
	}
	is.Text = running.ReplaceAllString(is.Text, "#")
	return is, err
}

// Where each widget is shown on a customer's page of the demo.
var shownOn = map[string]string{"demo-countdown": "/kelp-and-kiln", "demo-section": "/kelp-and-kiln", "demo-reviews": "/kelp-and-kiln", "demo-person": "/northbeck", "demo-progress": "/northbeck", "demo-ticker": "/", "demo-cards": "/", "demo-popup": "/hask-orchard", "demo-feed": "/kelp-and-kiln", "demo-dates": "/teasel-hall"}

// What Chromium makes of every widget, on a page of its own and on a customer's, measured once.
var inChromium = sync.OnceValues(func() (map[string]outcome, error) {
	tab, err := engine.Open("chromium")
	if err != nil {
		return nil, err
	}
	defer tab.Close()
	all := map[string]outcome{}
	for key, path := range shownOn {
		for at, address := range map[string]string{key: demo.Public + "/p/" + key, key + path: demo.Sites + path} {
			if all[at], err = open(tab, address, key); err != nil {
				return nil, err
			}
		}
	}
	return all, nil
})

// Every widget shows the same in every engine, and can be used there.
func TestWidgetsInEveryEngine(t *testing.T) {
	for key, name := range map[string]string{"quick-cards": "cards", "quick-reviews": "reviews"} {
		filled(t, key, name, "", "en", map[string]any{"plays": false, "layout": map[string]string{"cards": "row", "reviews": "carousel"}[name]})
	}
	for _, name := range []string{"chromium", "firefox", "webkit"} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			tab, err := engine.Open(name)
			require.NoError(t, err)
			t.Cleanup(tab.Close)
			if name != "chromium" {
				t.Run("same", func(t *testing.T) { sameAsInChromium(t, tab) })
			}
			t.Run("strict page, two copies", func(t *testing.T) { strictInEngine(t, tab) })
			t.Run("without constructable stylesheets", func(t *testing.T) { withoutSheets(t, tab) })
			t.Run("quick paging", func(t *testing.T) { quickPaging(t, tab) })
			t.Run("pop-up", func(t *testing.T) { popUpInEngine(t, tab) })
			t.Run("why", func(t *testing.T) { whyInEngine(t, tab) })
			t.Run("other interactions", func(t *testing.T) { interactions(t, tab) })
			for _, said := range tab.Errors() {
				// The browser's own search for an icon, and what the strict page refuses.
				assert.Regexp(t, `404|style-src|favicon|img-src|[Tt]rusted`, said)
			}
		})
	}
}

func openIn(t *testing.T, tab *engine.Tab, address, key string) {
	t.Helper()
	_, err := open(tab, address, key)
	require.NoError(t, err)
}

func sameAsInChromium(t *testing.T, tab *engine.Tab) {
	want, err := inChromium()
	require.NoError(t, err)
	for key, path := range shownOn {
		for at, address := range map[string]string{key: demo.Public + "/p/" + key, key + path: demo.Sites + path} {
			is, err := open(tab, address, key)
			require.NoError(t, err)
			assert.Equal(t, want[at].Text, is.Text, at)
			for i, side := range []string{"width", "height"} {
				assert.LessOrEqual(t, math.Abs(want[at].Box[i]-is.Box[i]), math.Max(2, 0.03*want[at].Box[i]), "%s of %s: %v, in Chromium %v", side, at, is.Box, want[at].Box)
			}
		}
	}
}

// Pasted twice on a page whose policy lets in nothing but our origin.
func strictInEngine(t *testing.T, tab *engine.Tab) {
	html := "<!doctype html><meta charset=utf-8>" + strings.Repeat(strings.Join(snippet(t, "demo-reviews", host.Script), ""), 2)
	at := site(t, map[string]string{"/": html}, "Content-Security-Policy", "default-src 'none'; script-src "+demo.Public+"; style-src "+demo.Public+"; img-src "+demo.Public+"; connect-src "+demo.Public+"; require-trusted-types-for 'script'; trusted-types glass-pocket")
	require.NoError(t, tab.Go(at))
	require.NoError(t, tab.Wait(`[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.shadowRoot?.querySelector(".review")?.getBoundingClientRect().height > 40).length == 2`))
	colours := inEngine[[]string](t, tab, `[...document.querySelectorAll("[data-glass-pocket]")].map(e => getComputedStyle(e.shadowRoot.querySelector(".name")).fontWeight + getComputedStyle(e.shadowRoot.querySelector(".pocket")).getPropertyValue("--accent"))`)
	assert.Equal(t, colours[0], colours[1])
	assert.Contains(t, colours[0], "#", "look settings arrive")
}

// As in browsers from before constructable stylesheets, and where shadow roots are refused.
func withoutSheets(t *testing.T, tab *engine.Tab) {
	paste := strings.Join(snippet(t, "demo-reviews", host.Script), "")
	at := site(t, map[string]string{
		"/old":     `<!doctype html><meta charset=utf-8><script>delete window.CSSStyleSheet.prototype.replaceSync; window.CSSStyleSheet = function () { throw new TypeError("Illegal constructor") }; delete Document.prototype.adoptedStyleSheets; delete ShadowRoot.prototype.adoptedStyleSheets</script>` + paste,
		"/refused": `<!doctype html><meta charset=utf-8><script>window.said = []; console.error = (...a) => said.push(a.join(" ")); onerror = m => said.push("uncaught " + m); Object.defineProperty(HTMLTemplateElement.prototype, "content", { get() { throw new TypeError("Refused") } })</script>` + paste,
	})
	require.NoError(t, tab.Go(at+"/old"))
	require.NoError(t, tab.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot?.querySelector(".review")`))
	assert.Equal(t, "grid", inEngine[string](t, tab, `getComputedStyle(document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".track")).display`), "its style has arrived")
	require.NoError(t, tab.Go(at+"/refused"))
	require.NoError(t, tab.Wait(`window.said.length`))
	assert.Equal(t, []string{"Glass Pocket: “demo-reviews” could not be shown. Its fallback stays. Check the Content-Security-Policy. TypeError: Refused"}, inEngine[[]string](t, tab, `window.said`))
	fallback := `document.querySelector("[data-glass-pocket]").shadowRoot ? "gone" : document.querySelector("[data-glass-pocket]").innerText`
	assert.Contains(t, inEngine[string](t, tab, fallback), "What people say", "the fallback is still to be seen")

	// A page that allows no Trusted Types policy, in engines that have them.
	none := site(t, map[string]string{"/": `<!doctype html><meta charset=utf-8><script>window.said = []; console.error = (...a) => said.push(a.join(" ")); onerror = m => said.push("uncaught " + m)</script>` + paste}, "Content-Security-Policy", "require-trusted-types-for 'script'; trusted-types 'none'")
	require.NoError(t, tab.Go(none))
	if inEngine[bool](t, tab, `!!window.trustedTypes`) {
		require.NoError(t, tab.Wait(`window.said.length`))
		said := inEngine[[]string](t, tab, `window.said`)
		require.Len(t, said, 1)
		assert.Contains(t, said[0], "Glass Pocket: “demo-reviews” could not be shown. Its fallback stays. Check the Content-Security-Policy. ")
		assert.Contains(t, inEngine[string](t, tab, fallback), "What people say")
	}
}

// Three presses in a row go three cards on, however quickly they come.
func quickPaging(t *testing.T, tab *engine.Tab) {
	for _, key := range []string{"quick-cards", "quick-reviews"} {
		require.NoError(t, tab.Go(demo.Public+"/p/"+key+"?w=480"))
		track := `document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".track")`
		require.NoError(t, tab.Wait(track+`.checkVisibility({visibilityProperty: true})`))
		far := `(t => Math.abs(t.children[3].getBoundingClientRect().left - t.getBoundingClientRect().left - (parseFloat(getComputedStyle(t).scrollPaddingInlineStart) || 0)))(` + track + `)`
		require.Greater(t, inEngine[float64](t, tab, far), 300.0, "it is not there yet")
		inEngine[any](t, tab, track+`.focus()`)
		require.NoError(t, tab.Press(engine.Right, engine.Right, engine.Right))
		require.NoError(t, tab.Wait(far+` < 3`), key)
		// By its buttons, in less time than a smooth step takes.
		inEngine[any](t, tab, `new Promise(done => { const b = document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".back"); let n = 0; const press = () => { b.click(); if (++n < 3) setTimeout(press, 20); else done(null) }; press() })`)
		require.NoError(t, tab.Wait(`Math.abs(`+track+`.scrollLeft) < 3`), key)
	}
}

// Same as the pageer reads what the engine measures, and nothing that it does not.
func whyInEngine(t *testing.T, tab *engine.Tab) {
	require.NoError(t, tab.Go(demo.Sites+"/kelp-and-kiln"))
	require.NoError(t, tab.Wait(`document.querySelector("[data-glass-pocket=demo-countdown]").shadowRoot`))
	inEngine[any](t, tab, `void (location.hash = "#glass-pocket-why")`)
	require.NoError(t, tab.Wait(`document.documentElement.lastElementChild.shadowRoot?.querySelectorAll("article").length == 4`))
	rows := inEngine[map[string]string](t, tab, `Object.fromEntries([...document.documentElement.lastElementChild.shadowRoot.querySelectorAll("article dt")].map(d => [d.textContent, d.nextElementSibling.textContent]))`)
	size := inEngine[float64](t, tab, `performance.getEntriesByName("`+demo.Public+`/s/demo-countdown.js")[0]?.encodedBodySize ?? 0`)
	shifts := inEngine[bool](t, tab, `PerformanceObserver.supportedEntryTypes.includes("layout-shift")`)
	assert.Equal(t, size == 0, rows["Bytes"] == "not available in this browser", rows["Bytes"])
	assert.Regexp(t, map[bool]string{true: `^0\.0\d\d$`, false: "^not available in this browser$"}[shifts], rows["Layout shift"])
}

func popUpInEngine(t *testing.T, tab *engine.Tab) {
	openIn(t, tab, demo.Sites+"/hask-orchard", "demo-popup")
	focused := `document.activeElement.shadowRoot?.activeElement?.className`
	require.NoError(t, tab.Wait(focused+` == "popup"`))
	require.NoError(t, tab.Press(engine.Tabulator))
	require.NoError(t, tab.Wait(focused+` == "close"`), "the first Tab leads to Close")
	require.NoError(t, tab.Press(engine.Escape))
	require.NoError(t, tab.Wait(`!document.querySelector("[data-glass-pocket=demo-popup]").shadowRoot.querySelector("dialog").open`))
}

func interactions(t *testing.T, tab *engine.Tab) {
	root := `document.querySelector("[data-glass-pocket=%s]").shadowRoot`
	// The countdown runs.
	openIn(t, tab, demo.Public+"/p/demo-countdown", "demo-countdown")
	inEngine[any](t, tab, fmt.Sprintf(`void (window.before = `+root+`.querySelector(".units").innerText)`, "demo-countdown"))
	require.NoError(t, tab.Wait(fmt.Sprintf(root+`.querySelector(".units").innerText != before`, "demo-countdown")))
	// The reading bar follows.
	openIn(t, tab, demo.Sites+"/northbeck", "demo-progress")
	inEngine[any](t, tab, `void scrollTo({ top: document.documentElement.scrollHeight, behavior: "instant" })`)
	require.NoError(t, tab.Wait(fmt.Sprintf(root+`.querySelector("[role=progressbar]").ariaValueNow == "100" || `+root+`.querySelector("[role=progressbar]").getAttribute("aria-valuenow") == "100"`, "demo-progress", "demo-progress")))
	// A person's card opens and shuts. (Firefox ignores Enter on a summary when a driver presses it.)
	card := fmt.Sprintf(root+`.querySelector("summary")`, "demo-person")
	require.NoError(t, tab.ClickOn(card))
	require.NoError(t, tab.Wait(card+`.parentElement.open`))
	require.NoError(t, tab.ClickOn(card))
	require.NoError(t, tab.Wait(`!`+card+`.parentElement.open`))
	// The ticker moves, and stops when it is asked to.
	openIn(t, tab, demo.Sites+"/", "demo-ticker")
	belt := fmt.Sprintf(root+`.querySelector(".belt")`, "demo-ticker")
	at := `getComputedStyle(` + belt + `).translate + getComputedStyle(` + belt + `).transform`
	inEngine[any](t, tab, `void (window.before = `+at+`)`)
	require.NoError(t, tab.Wait(at+` != before`))
	require.NoError(t, tab.ClickOn(fmt.Sprintf(root+`.querySelector(".pause")`, "demo-ticker")))
	require.NoError(t, tab.Wait(`getComputedStyle(`+belt+`).animationPlayState == "paused"`))
}
