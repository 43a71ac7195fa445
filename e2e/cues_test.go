package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"slices"
	"strings"
	"testing"

	esbuild "github.com/evanw/esbuild/pkg/api"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/app/install"
	"glasspocket/internal/content"
	"glasspocket/internal/cue"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// cued makes a published countdown that shows where its cues say.
func cued(t *testing.T, key string, c cue.Cues) {
	t.Helper()
	newPocket(t, key, "2099-01-01T00:00[UTC]", map[string]any{"heading": "Cued"})
	draft, err := api.Draft(t.Context(), key)
	require.NoError(t, err)
	_, err = api.ChangePocket(t.Context(), key, draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &c}})
	require.NoError(t, err)
	publish(t, key)
}

// everyPath serves the same page under each of its addresses.
func everyPath(t *testing.T, html string) string {
	t.Helper()
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, html)
	}))
	t.Cleanup(site.Close)
	return site.URL
}

const visible = `[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.getBoundingClientRect().height > 0 && e.shadowRoot?.querySelector(".digits")).length`

// The same snippet on every page of a site shows where it should, takes no room elsewhere, and
// follows a program that changes the address without loading a page.
func TestOnlyHere(t *testing.T) {
	t.Parallel()
	cued(t, "only-here", cue.Cues{Only: []string{"/", "/events/*"}, Not: []string{"/events/old"}})
	paste := strings.Join(snippet(t, "only-here", host.Script), "\n")
	assert.NotContains(t, paste, "min-height", "most pages show nothing, and must not move")
	site := everyPath(t, "<!doctype html><p>before</p>"+paste+"<p id=after>after</p>")
	p := tab(t)
	for path, shows := range map[string]bool{"/": true, "/index.html": true, "/events": true, "/events/kiln/": true, "/news": false, "/events/old": false} {
		require.NoError(t, p.Go(site+path))
		require.NoError(t, p.Wait(`window.glassPocket?.live.size > 0`))
		assert.Equal(t, shows, eval[int](t, p, visible) == 1, path)
	}
	assert.Empty(t, p.Errors())
	require.NoError(t, p.Go(demo.Public+"/p/only-here"))
	require.NoError(t, p.Wait(visible+` == 1`), "its own page shows it")
	require.NoError(t, p.Go(site+"/news"))
	require.NoError(t, p.Wait(`window.glassPocket?.live.size > 0`))
	top := `document.getElementById("after").getBoundingClientRect().top`
	before := eval[float64](t, p, top)
	eval[any](t, p, `history.pushState(null, "", "/events/kiln"); document.body.append("the program has put its page in"); 0`)
	require.NoError(t, p.Wait(visible+` == 1`))
	// It runs, and its numbers move on.
	require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot.querySelector("[data-unit=seconds] .digits")`))
	was := eval[string](t, p, `document.querySelector("[data-glass-pocket]").shadowRoot.querySelector("[data-unit=seconds] .digits").textContent`)
	require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector("[data-glass-pocket]").shadowRoot.querySelector("[data-unit=seconds] .digits").textContent != %q`, was)))
	eval[any](t, p, `history.back(); 0`)
	require.NoError(t, p.Wait(visible+` == 0 && location.pathname == "/news"`))
	assert.Equal(t, before, eval[float64](t, p, top), "it takes no room where it does not show")
	require.NoError(t, p.Go(site+"/news#glass-pocket-why"))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("*")].some(e => e.shadowRoot?.textContent.includes("shows only at other addresses"))`))
}

// The page's script decides as the service does: every case of the table.
func TestAddressesInThePage(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile(service.Root() + "/internal/cue/testdata/addresses.json")
	require.NoError(t, err)
	var cases []struct {
		cue.Cues
		Sites, Shows, Hides []string
	}
	require.NoError(t, json.Unmarshal(text, &cases))
	source := kitAsks(t)
	p := page(t, "<!doctype html><p>x</p>")
	checked := 0
	for _, c := range cases {
		cleaned, faults := c.Clean()
		require.Empty(t, faults)
		for _, address := range slices.Concat(c.Shows, c.Hides) {
			u, err := url.Parse(address)
			require.NoError(t, err)
			rules, _ := json.Marshal(map[string]any{"only": cleaned.Only, "not": cleaned.Not})
			ask := fmt.Sprintf(`shows(%s, new URL(%q))`, rules, u.String())
			if c.OwnSites {
				rules, _ = json.Marshal(map[string]any{"sites": c.Sites, "local": c.Local})
				ask = fmt.Sprintf(`allowed(%s, new URL(%q))`, rules, u.String())
			}
			got := eval[bool](t, p, fmt.Sprintf(`!!(%s).%s`, source, ask))
			assert.Equal(t, cleaned.Shows(address, c.Sites), got, "%s at %s", rules, address)
			checked++
		}
	}
	assert.Greater(t, checked, 50)
}

// A pocket that is limited to its customer's sites shows nothing elsewhere, says so once, and
// shows as soon as the site is entered; its own page lets those sites frame it.
func TestAllowedSites(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	_, err := api.MakeCustomer(ctx, wire.NewCustomer{ID: "limited", Name: "Limited"})
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "limited-one", Customer: "limited", Widget: "countdown", Starter: "harbour", Title: "Limited"})
	require.NoError(t, err)
	set(t, "limited-one", map[string]any{"target": "2099-01-01T00:00[UTC]", "heading": "Limited"})
	draft, err := api.Draft(ctx, "limited-one")
	require.NoError(t, err)
	_, err = api.ChangePocket(ctx, "limited-one", draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cue.Cues{OwnSites: true}}})
	require.NoError(t, err)
	publish(t, "limited-one")
	paste := strings.Join(snippet(t, "limited-one", host.Script), "\n")
	site := everyPath(t, "<!doctype html>"+paste+paste)
	p := tab(t)
	require.NoError(t, p.Go(site+"/"))
	errors := said(t, p, 1)
	assert.Contains(t, errors[0], "because this site is not listed")
	assert.Zero(t, eval[int](t, p, visible))
	assert.NotContains(t, eval[string](t, p, `document.body.innerText`), "Limited", "not even the fallback")
	fence := func() string {
		res, _ := send(t, "GET", demo.Public+"/p/limited-one", "")
		return res.Header.Get("Content-Security-Policy")
	}
	assert.Contains(t, fence(), "frame-ancestors 'none'")

	// Trying it on the very page says so before anything is pasted.
	tried := func(path string) string {
		out, err := api.TryOn(ctx, "limited-one", wire.TryOn{Install: install.Install{Host: "plain-page"}, Address: demo.Sites + path})
		require.NoError(t, err)
		text := ""
		for _, f := range out.Findings {
			text += f.Code + " "
		}
		return text
	}
	assert.Equal(t, "site-not-entered ", tried("/saltmarsh"))
	g := guideFor(t, "limited-one", install.Install{Host: "plain-page"})
	assert.True(t, slices.ContainsFunc(g.If, func(pit host.Pitfall) bool { return strings.Contains(pit.See, "the site is not listed") }))

	c, err := api.Customer(ctx, "limited")
	require.NoError(t, err)
	at := strings.TrimPrefix(site, "http://")
	_, err = api.ChangeCustomer(ctx, "limited", c.Revision, wire.ChangeCustomer{Sites: []string{at, strings.TrimPrefix(demo.Sites, "http://"), "*.isles.example", "kiln.example"}})
	require.NoError(t, err)
	assert.Empty(t, tried("/saltmarsh"))
	q := tab(t)
	require.NoError(t, q.Go(site+"/"))
	require.NoError(t, q.Wait(visible+` == 2`), "console: %v", q.Errors())
	assert.Empty(t, q.Errors())
	assert.Contains(t, fence(), "http://"+at)
	assert.Contains(t, fence(), "https://*.isles.example")
	assert.Contains(t, fence(), "https://www.kiln.example:*", "with and without www.")
	// In a frame: on the site it shows, elsewhere the browser refuses it.
	framed := everyPath(t, fmt.Sprintf(`<!doctype html><script>addEventListener("message", e => { if (e.data?.glassPocketHeight) window.told = e.data.glassPocketHeight })</script><iframe src="%s/p/limited-one"></iframe>`, demo.Public))
	require.NoError(t, q.Go(framed+"/"))
	require.Eventually(t, func() bool { return strings.Contains(strings.Join(q.Errors(), " "), "frame-ancestors") }, 20e9, 5e6, "%v", q.Errors())
	assert.False(t, eval[bool](t, q, `!!window.told`))

	// On a developer's own machine, where that is said.
	draft, err = api.Draft(ctx, "limited-one")
	require.NoError(t, err)
	_, err = api.ChangePocket(ctx, "limited-one", draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cue.Cues{OwnSites: true, Local: true}}})
	require.NoError(t, err)
	publish(t, "limited-one")
	_, port, _ := strings.Cut(at, ":")
	local := tab(t) // with nothing cached
	require.NoError(t, local.Go("http://localhost:"+port+"/"))
	require.NoError(t, local.Wait(visible+` == 2`), "console: %v", local.Errors())
}

// Addresses that are none are refused where they stand; a draft does not leak.
func TestCuesThatCannotBe(t *testing.T) {
	newPocket(t, "cue-faults", "2099-01-01T00:00[UTC]", nil)
	draft, err := api.Draft(t.Context(), "cue-faults")
	require.NoError(t, err)
	_, err = api.ChangePocket(t.Context(), "cue-faults", draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cue.Cues{Only: []string{"/", "events"}}}})
	require.Error(t, err)
	assert.Contains(t, err.Error(), "are not valid")
	changed, err := api.ChangePocket(t.Context(), "cue-faults", draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cue.Cues{Only: []string{"https://isles.example/events/"}}}})
	require.NoError(t, err)
	assert.Equal(t, []string{"isles.example/events/"}, changed.Cues.Only)
	_, script := send(t, "GET", demo.Public+"/s/cue-faults.js", "")
	assert.NotContains(t, script, "isles.example/events")
	differences, err := api.PocketDifferences(t.Context(), "cue-faults", 0, 0)
	require.NoError(t, err)
	require.Len(t, differences.Changes, 1)
	assert.Equal(t, [3]string{"Where and when it shows", "everywhere", "at isles.example/events/"}, [3]string{differences.Changes[0].Label, differences.Changes[0].Before, differences.Changes[0].After})
}

// kitAsks are the kit's functions that decide where a pocket shows, as one expression.
func kitAsks(t *testing.T) string {
	t.Helper()
	built := esbuild.Build(esbuild.BuildOptions{Stdin: &esbuild.StdinOptions{Contents: `export { shows } from "./kit/here"; export { allowed } from "./kit/sites"`, ResolveDir: service.Root() + "/loader", Loader: esbuild.LoaderTS}, Bundle: true, Format: esbuild.FormatIIFE, GlobalName: "asks", LogLevel: esbuild.LogLevelSilent})
	require.Empty(t, built.Errors)
	return "(() => { " + string(built.OutputFiles[0].Contents) + "; return asks })()"
}
