package e2e

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/host"
)

const root = `document.querySelector("[data-glass-pocket]").shadowRoot`

// left is what a page's countdown shows, in seconds.
const left = `(([d, h, m, s]) => ((d * 24 + h) * 60 + m) * 60 + s)([...` + root + `.querySelectorAll(".digits")].map(e => +e.textContent))`

func moment(at time.Time) string { return at.UTC().Format("2006-01-02T15:04:05") + "[UTC]" }

func pasted(t *testing.T, key string) string {
	return strings.Join(snippet(t, key, host.Script), "")
}

// clock is a page's clock that a test moves: milliseconds added to Date.now().
func clock(milliseconds int64) string {
	return fmt.Sprintf(`<script>window.shifted = %d; { const real = Date.now; Date.now = () => real() + shifted }</script>`, milliseconds)
}

// A visitor's clock that is hours wrong: the service's sets it right, and nobody sees the
// numbers jump.
func TestWrongClock(t *testing.T) {
	for name, wrong := range map[string]time.Duration{"three hours ahead": 3 * time.Hour, "a day behind": -24 * time.Hour, "a little ahead": 300 * time.Millisecond} {
		t.Run(name, func(t *testing.T) {
			key := "wrong-" + strings.ReplaceAll(name, " ", "-")
			at := time.Now().Add(100 * time.Hour).Truncate(time.Second)
			newPocket(t, key, moment(at), nil)
			p := page(t, `<!doctype html>`+clock(wrong.Milliseconds())+`<script>window.seen = [];
				(function look() { const r = document.querySelector("[data-glass-pocket]")?.shadowRoot; if (r?.querySelector(".digits")) seen.push(`+left+`); requestAnimationFrame(look) })()</script>`+pasted(t, key))
			require.NoError(t, p.Wait(fmt.Sprintf(`seen.length && Math.abs(seen.at(-1) - (%d - Date.now() + shifted) / 1000) < 1.2`, at.UnixMilli())), "shows %v", eval[[]float64](t, p, `seen.slice(-5)`))
			asked := `performance.getEntriesByType("resource").filter(e => e.name.endsWith("/t")).length`
			require.NoError(t, p.Wait(asked+" == 1"), "asked once a page")
			seen := eval[[]float64](t, p, `seen`)
			biggest := 0.0
			for i := 1; i < len(seen); i++ {
				biggest = max(biggest, seen[i]-seen[i-1], seen[i-1]-seen[i])
			}
			assert.Less(t, biggest, max(2, 0.1*wrong.Abs().Seconds()), "no step is a large part of the way, even on a slow machine")
			assert.Empty(t, p.Errors())
			if wrong != 3*time.Hour {
				return
			}
			// The computer's clock is changed, or jumps back, while the page is open.
			eval[any](t, p, `shifted -= 7200e3; 0`)
			require.NoError(t, p.Wait(asked+" == 2"))
			require.NoError(t, p.Wait(fmt.Sprintf(`Math.abs(`+left+` - (%d - Date.now() + shifted) / 1000) < 1.2`, at.UnixMilli())))
		})
	}
}

// Without the service's clock the visitor's own has to do, and nothing is said.
func TestNoClock(t *testing.T) {
	newPocket(t, "no-clock", moment(time.Now().Add(50*time.Hour)), nil)
	p := page(t, `<!doctype html><script>window.fetch = () => { window.tried = 1; return Promise.reject(new Error("blocked")) }</script>`+pasted(t, "no-clock"))
	require.NoError(t, p.Wait(`window.tried`))
	require.NoError(t, p.Wait(left+` < 180000`))
	assert.Empty(t, p.Errors())
}

// A page that stays open: over a week asleep in the background, and to the very end.
func TestOpenForAWeek(t *testing.T) {
	at := time.Now().Add(8*24*time.Hour + 3*time.Second)
	newPocket(t, "week", moment(at), map[string]any{"ending": "message", "endMessage": "It is time"})
	p := page(t, `<!doctype html>`+clock(0)+`<script>window.fetch = () => new Promise(() => {})</script>`+pasted(t, "week"))
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	// The timers slept with the tab; when it is seen again the first look is right.
	eval[any](t, p, `shifted = 7 * 864e5; document.dispatchEvent(new Event("visibilitychange")); 0`)
	assert.InDelta(t, 86400, eval[float64](t, p, left), 5)
	eval[any](t, p, `shifted = 8 * 864e5; 0`)
	require.NoError(t, p.Wait(root+`.querySelector(".countdown").dataset.state == "over"`))
	require.NoError(t, p.Wait(root+`.querySelector(".message").getBoundingClientRect().height > 0`))
}

// Each visitor's own clock: it starts at first sight; whether a later visit finds it
// running is for the visitor to agree to.
func TestVisitorsOwnClock(t *testing.T) {
	t.Parallel()
	own := map[string]any{"clock": "visitor", "lastsDays": 0, "lastsMinutes": 30}
	newPocket(t, "own", "2099-01-01T00:00[UTC]", own)
	again := map[string]any{"clock": "visitor", "lastsDays": 0, "lastsMinutes": 30, "again": true}
	newPocket(t, "own-again", "2099-01-01T00:00[UTC]", again)
	const record = `JSON.parse(localStorage.getItem("glass-pocket:own"))`
	// One site, visited again and again at other times and with other answers about consent.
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/" {
			return
		}
		shift, _ := strconv.ParseInt(r.FormValue("shift"), 10, 64)
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, `<!doctype html><html`+r.FormValue("html")+`>`+clock(shift)+pasted(t, r.FormValue("key")))
	}))
	defer site.Close()
	visit := func(p *browser.Page, key, html string, shift time.Duration) *browser.Page {
		if p == nil {
			p = tab(t)
		}
		require.NoError(t, p.Go(site.URL+"/?"+url.Values{"key": {key}, "html": {html}, "shift": {fmt.Sprint(shift.Milliseconds())}}.Encode()))
		require.NoError(t, p.Wait(mounted+`.length == 1`), "console: %v", p.Errors())
		return p
	}
	shows := func(p *browser.Page, want float64, about string) {
		t.Helper()
		assert.InDelta(t, want, eval[float64](t, p, left), 15, about)
	}
	p := visit(nil, "own", "", 0)
	shows(p, 1800, "starts at first sight")
	assert.Nil(t, eval[any](t, p, record), "nobody has agreed to anything")
	visit(p, "own", "", 0)
	eval[any](t, p, `shifted = 600e3; document.dispatchEvent(new Event("visibilitychange")); 0`)
	shows(p, 1200, "runs")
	// Agreeing in the middle keeps what the page has.
	eval[any](t, p, `document.documentElement.dataset.glassConsent = "given"; 0`)
	require.NoError(t, p.Wait(record+`?.v == 1`))
	until := eval[float64](t, p, `(`+record+`.until - Date.now()) / 864e5`)
	assert.InDelta(t, 365, until, 1, "it ends")
	visit(p, "own", ` data-glass-consent="given"`, 20*time.Minute)
	shows(p, 600, "a later visit finds it running")
	visit(p, "own", ` data-glass-consent="given"`, 40*time.Minute)
	shows(p, 0, "over, and stays over")
	// Agreement that comes late, after this page has begun anew.
	visit(p, "own", "", 20*time.Minute)
	shows(p, 1800, "without agreement nothing is read")
	eval[any](t, p, `document.documentElement.dataset.glassConsent = "given"; 0`)
	require.NoError(t, p.Wait(left+` < 700`), "the earlier visit's goes first")
	eval[any](t, p, `document.documentElement.dataset.glassConsent = "refused"; 0`)
	require.NoError(t, p.Wait(`localStorage.length == 0`), "what was stored is gone")

	p = visit(nil, "own-again", ` data-glass-consent="given"`, 0)
	eval[any](t, p, `shifted = 1801e3; document.dispatchEvent(new Event("visibilitychange")); 0`)
	shows(p, 1800, "starts again")
	eval[any](t, p, `shifted = -3600e3; document.dispatchEvent(new Event("visibilitychange")); 0`)
	shows(p, 1800, "a clock that jumped back starts it anew, and no longer than it lasts")

	// Storage that throws is normal.
	p = page(t, `<!doctype html><html data-glass-consent="given"><script>Object.defineProperty(window, "localStorage", { get() { throw new DOMException("denied", "SecurityError") } })</script>`+pasted(t, "own"))
	require.NoError(t, p.Wait(mounted+`.length == 1`))
	shows(p, 1800, "without storage")
	assert.Empty(t, p.Errors())
}

// A number runs from a first to a last value, written as the language writes numbers; the
// first frame is right, and the end shows at its time and not before.
func TestRunningNumber(t *testing.T) {
	t.Parallel()
	for lang, want := range map[string]string{"en": "-1,234,567.50", "de": "-1.234.567,50", "pl": "-1 234 567,50", "ar": "-1,234,567.50"} {
		key := "number-" + lang
		_, err := api.MakePocket(t.Context(), pocketIn(key, lang))
		require.NoError(t, err)
		now := time.Now().Add(time.Minute).Truncate(time.Second) // later than it is published
		set(t, key, map[string]any{"runs": "number", "begins": moment(now.Add(-time.Hour)), "target": moment(now.Add(time.Hour)), "from": 0, "to": -2469135, "decimals": 2, "before": "<b>", "after": "m³"})
		publish(t, key)
		p := page(t, "<!doctype html><meta charset=utf-8>"+clock(0)+`<script>window.fetch = () => new Promise(() => {}); { const t = `+fmt.Sprint(now.UnixMilli())+`; Date.now = () => t + shifted }</script>`+pasted(t, key))
		require.NoError(t, p.Wait(mounted+`.length == 1`))
		text := strings.NewReplacer("\u00a0", " ", "\u200e", "", "\u061c", "", "\u2212", "-").Replace(eval[string](t, p, root+`.querySelector(".digits").textContent`))
		assert.Equal(t, want, text, "half way, in %s", lang)
		assert.Equal(t, "<b>", eval[string](t, p, root+`.querySelector(".beside").textContent`))
		eval[any](t, p, `shifted = 3600e3 - 3000; document.dispatchEvent(new Event("visibilitychange")); 0`)
		assert.NotContains(t, eval[string](t, p, root+`.querySelector(".digits").textContent`), "135", "not before its time")
		eval[any](t, p, `shifted = 3600e3 + 2000; document.dispatchEvent(new Event("visibilitychange")); 0`)
		assert.Contains(t, eval[string](t, p, root+`.querySelector(".digits").textContent`), "135", "at its time")
	}
}

// Every language shows its own words and runs in its own direction.
func TestLanguages(t *testing.T) {
	t.Parallel()
	for lang, want := range map[string][2]string{"en": {"ltr", "5 days, 3 hours"}, "de": {"ltr", "5 Tage, 3 Stunden"}, "pl": {"ltr", "5 dni, 3 godziny"}, "ar": {"rtl", "5 أيام، 3 ساعات"}} {
		key := "language-" + lang
		_, err := api.MakePocket(t.Context(), pocketIn(key, lang))
		require.NoError(t, err)
		set(t, key, map[string]any{"heading": "H", "target": moment(time.Now().Add(123*time.Hour + 30*time.Minute)), "units": "days-hours"})
		publish(t, key)
		p := page(t, "<!doctype html><meta charset=utf-8>"+pasted(t, key))
		require.NoError(t, p.Wait(mounted+`.length == 1`))
		assert.Equal(t, want[1], eval[string](t, p, root+`.querySelector(".spoken").textContent`))
		assert.Equal(t, want[0], eval[string](t, p, `getComputedStyle(`+root+`.querySelector(".countdown")).direction`))
		first := eval[bool](t, p, `(([a, b]) => a.getBoundingClientRect().x < b.getBoundingClientRect().x)(`+root+`.querySelectorAll(".unit"))`)
		assert.Equal(t, want[0] == "ltr", first, "days stand where the line begins")
	}
}

// The clocks change between now and the moment: what is left is counted in hours that
// really pass.
func TestAcrossAChangeOfTheClocks(t *testing.T) {
	for at, hours := range map[string]float64{"2027-03-28T12:00[Europe/Berlin]": 23, "2027-10-31T12:00[Europe/Berlin]": 25, "2027-06-20T12:00[Europe/Berlin]": 24} {
		key := strings.ToLower("clocks-" + at[5:10])
		newPocket(t, key, at, nil)
		day, err := time.Parse("2006-01-02T15:04", at[:16])
		require.NoError(t, err)
		berlin, err := time.LoadLocation("Europe/Berlin")
		require.NoError(t, err)
		noon := time.Date(day.Year(), day.Month(), day.Day()-1, 12, 0, 0, 0, berlin) // the day before, same wall clock
		p := page(t, fmt.Sprintf(`<!doctype html><script>window.fetch = () => new Promise(() => {}); Date.now = () => %d</script>`, noon.UnixMilli())+pasted(t, key))
		require.NoError(t, p.Wait(mounted+`.length == 1`))
		assert.Equal(t, hours*3600, eval[float64](t, p, left), at)
	}
}
