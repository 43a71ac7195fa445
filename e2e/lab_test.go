package e2e

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/demo/lab"
	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/hosts"
	"glasspocket/internal/app/install"
	"glasspocket/internal/generated"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// cell is one thing to be tried: a pocket on a host in a form.
type cell struct {
	key, host string
	form      host.Delivery
	guide     host.Guide
}

// want is what was predicted, in the words of seen.
func (c cell) want() string {
	if c.guide.Offer.Outcome.Held {
		return "held, then " + c.guide.Offer.Outcome.Shows
	}
	return c.guide.Offer.Outcome.Shows
}

// cells are those of one pocket on one host: each form at the wish that it does best at.
func cells(t *testing.T, p *host.Profile, key string) (list []cell) {
	best := map[host.Delivery]install.Install{}
	rank := map[host.Delivery]int{}
	for _, where := range p.Wheres() {
		out, err := api.Guide(t.Context(), key, install.Install{Host: p.Name, Where: where})
		require.NoError(t, err)
		offers := out.Choice.Others
		if out.Choice.Best != nil {
			offers = append(offers, *out.Choice.Best)
		}
		for _, o := range offers {
			if _, seen := best[o.Delivery]; !seen || o.Outcome.Rank() > rank[o.Delivery] {
				best[o.Delivery], rank[o.Delivery] = install.Install{Host: p.Name, Where: where, Delivery: o.Delivery}, o.Outcome.Rank()
			}
		}
	}
	for _, form := range host.Deliveries {
		if in, ok := best[form]; ok {
			out, err := api.Guide(t.Context(), key, in)
			require.NoError(t, err)
			list = append(list, cell{key, p.Name, form, *out.Guide})
		}
	}
	return list
}

// watching notes in every page what is to be known of its scripts and frames.
const watching = `window.heights = new Map(); window.lab = {}; window.failed = new Set(); window.refused = new Set();
	document.addEventListener("securitypolicyviolation", e => refused.add(e.blockedURI));
	addEventListener("message", e => { if (e.data?.glassPocketHeight >= 0) heights.set(e.source, e.data.glassPocketHeight); if ("labInside" in (e.data ?? {})) lab = e.data });
	addEventListener("error", e => { if (e.target?.src) failed.add(e.target.src) }, true);`

// settled tells that nothing of ours is still to come.
const settled = `document.readyState == "complete" && (() => {
	if (document.querySelector("[role=alert]")) return true; // refused
	const base = BASE, done = new Set(performance.getEntriesByType("resource").filter(e => e.responseEnd > 0).map(e => e.name));
	const runs = [...document.querySelectorAll("script[src]")].filter(s => s.src.startsWith(base) && s.type != "text/plain" && !failed.has(s.src) && !s.closest("#app"));
	if (runs.some(s => !done.has(s.src))) return false;
	if (runs.some(s => /\/(loader|links|near)\.js$/.test(s.src)) && document.querySelector("[data-glass-pocket],a[href^='" + base + "/p/']")) return window.glassPocket && [...document.querySelectorAll("[data-glass-pocket]")].every(e => glassPocket.live.has(e));
	const loaders = runs.filter(s => /\/(loader|links|near)\.js$/.test(s.src)).length;
	if (runs.length > loaders) return window.glassPocket && (glassPocket.live.size > 0 || Object.keys(glassPocket.said).length > 0);
	return [...document.querySelectorAll("iframe")].every(f => f.srcdoc ? lab.labInside > 0 || lab.labLooks > 5 : f.hasAttribute("sandbox") && !f.sandbox.contains("allow-scripts") || heights.has(f.contentWindow) || [...refused].some(at => f.src.startsWith(at)));
})()`

// seen says what a visitor gets.
const seen = `(() => {
	const base = BASE, key = KEY, at = document.querySelector('[data-lab-place="' + PLACE + '"]');
	if (document.querySelector("[role=alert]")) return "nothing"; // refused
	const shows = e => e.getBoundingClientRect().width > 0 && e.getBoundingClientRect().height > 0;
	if (/data-glass-pocket|<script|<a href|<iframe|<table|<form|^import /m.test(document.body.innerText)) return "code";
	const hosts = [...document.querySelectorAll("*")].filter(e => e.shadowRoot?.querySelector(".pocket")?.childElementCount && !e.hidden);
	if (hosts.length) return FLOATS || at?.contains(hosts[0]) && shows(hosts[0]) ? "widget" : "astray";
	if (lab.labInside > 0) return "boxed";
	const frame = [...document.querySelectorAll("iframe")].find(f => f.src.startsWith(base + "/p/" + key));
	if (lab.labFrames > 0) return lab.labTold > 0 ? "frame" : "nothing";
	if (lab.labForm) return "form";
	if (lab.labTable) return "mail";
	if (lab.labLink) return "link";
	if (frame) return frame.hasAttribute("sandbox") && !frame.sandbox.contains("allow-scripts") ? "still" : heights.has(frame.contentWindow) && (FLOATS || heights.get(frame.contentWindow) > 0) ? (document.title == "The night’s stream" ? "screen" : "frame") : "nothing";
	if (document.querySelector("form[action^='" + base + "/f/']")) return "form";
	const link = [...document.querySelectorAll("a[href^='" + base + "/p/" + key + "']")].find(shows);
	const table = at?.querySelector("table");
	if (table && link && [...table.querySelectorAll("img")].every(i => i.complete && i.naturalWidth > 0)) return "mail";
	if (link) return "link";
	return at?.innerText.includes(base + "/p/" + key) ? "address" : "nothing";
})()`

// paste types the parts of a guide into the editor of a host's site, as somebody would who
// follows the steps, and publishes.
func paste(t *testing.T, p *browser.Page, site string, fields map[string]string, switches ...string) {
	t.Helper()
	require.NoError(t, p.Go(site+"/edit"))
	for name, text := range fields {
		require.True(t, eval[bool](t, p, fmt.Sprintf(`(() => { const f = document.getElementById(%q); f?.focus(); f?.select(); return !!f })()`, name)), "%s has no field %s", site, name)
		require.NoError(t, p.Type(text))
	}
	for _, name := range switches {
		eval[any](t, p, fmt.Sprintf(`document.getElementById(%q).click(); 0`, name))
	}
	publishLab(t, p)
}

// publishLab presses the editor's button and waits for what comes.
func publishLab(t *testing.T, p *browser.Page) {
	t.Helper()
	eval[any](t, p, `window.here = 1; document.getElementById("publish").click(); 0`)
	// The page asked in may be gone before it has answered.
	for err := errors.New(""); err != nil; {
		if err = p.Wait(`!window.here && document.readyState == "complete"`); err != nil && !strings.Contains(err.Error(), "navigated") && !strings.Contains(err.Error(), "context with specified id") {
			require.NoError(t, err)
		}
	}
}

// fieldsOf says which part of a guide goes into which field.
func fieldsOf(g host.Guide) map[string]string {
	fields := map[string]string{}
	for _, part := range g.Parts {
		place := map[string]string{"script": g.Offer.Script, "policy": g.Offer.Policy}[part.Role]
		if place == "" && part.Role != "policy" {
			place = g.Offer.Content
		}
		if place != "" {
			fields[place] = part.Text
		}
	}
	return fields
}

// look waits until a page has settled and says what is to be seen on it.
func look(t *testing.T, p *browser.Page, key, place string, floats bool) string {
	t.Helper()
	words := strings.NewReplacer("BASE", fmt.Sprintf("%q", demo.Public), "KEY", fmt.Sprintf("%q", key), "PLACE", fmt.Sprintf("%q", place), "FLOATS", fmt.Sprint(floats))
	if err := p.Wait(words.Replace(settled)); err != nil {
		return "unsettled: " + strings.Join(p.Errors(), " ")
	}
	return eval[string](t, p, words.Replace(seen))
}

// sent sends the editor's form as a browser does, at half the cost of doing it in one.
func sent(t *testing.T, p *browser.Page, site string, fields map[string]string, switches ...string) {
	t.Helper()
	form := url.Values{}
	for name, text := range fields {
		form.Set(name, strings.ReplaceAll(text, "\n", "\r\n"))
	}
	for _, name := range switches {
		form.Set(name, "on")
	}
	res, err := http.PostForm(site+"/publish", form)
	require.NoError(t, err)
	res.Body.Close()
	if res.StatusCode == http.StatusUnprocessableEntity {
		require.NoError(t, p.Go("data:text/html,<p role=alert>refused"))
		return
	}
	require.NoError(t, p.Go(site+"/"))
}

type pasting func(t *testing.T, p *browser.Page, site string, fields map[string]string, switches ...string)

func (c cell) try(t *testing.T, p *browser.Page, floats bool, paste pasting) string {
	t.Helper()
	site := fmt.Sprintf("%s/lab/%s/%s-%s", demo.Sites, c.host, c.key, c.form)
	paste(t, p, site, fieldsOf(c.guide))
	got := look(t, p, c.key, c.guide.Offer.Content, floats)
	// No room is kept around a link for a widget that never comes.
	if got == "link" {
		gap := eval[float64](t, p, fmt.Sprintf(`(() => { const at = document.querySelector('[data-lab-place=%q]'); let e = [...document.querySelectorAll("a[href^='%s/p/%s']")].find(a => at?.contains(a)); if (!e) return 0; const line = e.getBoundingClientRect().height; while (e.parentElement != at) e = e.parentElement; return e.getBoundingClientRect().height - line })()`, c.guide.Offer.Content, demo.Public, c.key))
		assert.Less(t, gap, 60.0, "the gap around the link, %s on %s", c.form, c.host)
	}
	if !c.guide.Offer.Outcome.Held {
		return got
	}
	if got == "widget" {
		return "not held"
	}
	paste(t, p, site, fieldsOf(c.guide), "allow")
	return "held, then " + look(t, p, c.key, c.guide.Offer.Content, floats)
}

// unframed serves a tried page, which opens only in the console's frame, so that it can be looked at
// by itself: with its policy, on an origin of its own.
func unframed(t *testing.T, address string) string {
	t.Helper()
	address, anchor, _ := strings.Cut(address, "#")
	res, body := send(t, "GET", address, "", "Sec-Fetch-Dest", "iframe")
	require.Equal(t, 200, res.StatusCode, body)
	return site(t, map[string]string{"/": body}, "Content-Security-Policy", strings.Join(res.Header.Values("Content-Security-Policy"), ", ")) + "/#" + anchor
}

// tryBefore asks how it would stand on the host's page before anything was pasted, and looks at the live
// frame of what is best there: both say what the page shows when it is pasted.
func (c cell) tryBefore(t *testing.T, p *browser.Page, best bool) {
	t.Helper()
	site := fmt.Sprintf("%s/lab/%s/before-%s", demo.Sites, c.host, c.form)
	if policy := fieldsOf(c.guide)["policy"]; policy != "" { // the webmaster was asked first
		paste(t, p, site, map[string]string{"policy": policy})
	}
	out, err := api.TryOn(t.Context(), c.key, wire.TryOn{Install: install.Install{Host: c.host, Where: c.guide.Where, Delivery: c.form}, Address: site + "/"})
	require.NoError(t, err)
	assert.Equal(t, c.guide.Offer.Outcome.Shows, out.Outcome.Shows, "before %s is pasted on %s", c.form, c.host)
	assert.True(t, len(out.Spots) > 0 || c.host == "screen-source" || c.guide.Where == "column", "%s has places to stand at", c.host)
	if !best || c.host == "mail" { // a mail's policy is the mail program's
		return
	}
	require.NoError(t, p.Go(unframed(t, out.Live)))
	want := out.Outcome.Shows
	assert.Equal(t, want, look(t, p, c.key, "", true), "in the live frame, %s on %s", c.form, c.host)
	if want == "widget" {
		require.NoError(t, p.Go(unframed(t, out.Still)))
		require.NoError(t, p.Wait(`document.readyState == "complete"`))
		assert.Equal(t, 1, eval[int](t, p, mounted+`.length`), "the picture, %s on %s", c.form, c.host)
		assert.Zero(t, eval[int](t, p, `document.scripts.length`))
	}
}

// What was predicted of each delivery form on each host is what a visitor gets there. Two
// widgets go through all pairs of host and form, every other one through each host and each
// form at least once.
func TestHostLab(t *testing.T) {
	set, err := hosts.Shipped()
	require.NoError(t, err)
	names := lab.New("").Names()
	widgets := []struct {
		key    string
		floats bool
	}{{"demo-countdown", false}, {"demo-popup", true}, {"demo-cards", false}, {"demo-reviews", false}, {"demo-person", false}, {"demo-section", false}, {"demo-ticker", false}, {"demo-progress", true}, {"demo-feed", false}, {"demo-dates", false}, {"demo-notices", false}}
	for _, w := range widgets {
		_, err := api.Seal(t.Context(), w.key)
		require.NoError(t, err)
	}
	var mu sync.Mutex
	var results []hosts.Proof
	t.Run("hosts", func(t *testing.T) {
		for i, name := range names {
			t.Run(name, func(t *testing.T) {
				t.Parallel()
				p := tab(t)
				require.NoError(t, p.Before(watching))
				for j, w := range widgets {
					list := slices.DeleteFunc(cells(t, set.Get(name), w.key), func(c cell) bool {
						return c.form == host.Component && c.guide.Offer.Outcome.Shows == "widget" // built for real, see TestComponents
					})
					for n, c := range list {
						if j >= 2 && n != (i+j)%len(list) && !(c.form == host.Script && i%3 == j%3) {
							continue
						}
						if j == 0 {
							best, err := api.Guide(t.Context(), c.key, install.Install{Host: name, Where: c.guide.Where})
							require.NoError(t, err)
							c.tryBefore(t, p, best.Choice.Best != nil && best.Choice.Best.Delivery == c.form)
						}
						how := pasting(sent)
						if j == 0 {
							how = paste // with the keyboard, in the editor
						}
						got := c.try(t, p, w.floats, how)
						assert.Equal(t, c.want(), got, "%s as %s of %s on %s", c.key, c.form, c.guide.Offer.Content, c.host)
						mu.Lock()
						results = append(results, hosts.Proof{Host: c.host, Delivery: string(c.form), Widget: strings.TrimPrefix(w.key, "demo-"), Shows: got})
						mu.Unlock()
					}
				}
			})
		}
	})
	if t.Failed() {
		return
	}
	for _, w := range widgets { // each widget with each host, and with each form that it can have
		on, in := map[string]bool{}, map[string]bool{}
		for _, r := range results {
			if "demo-"+r.Widget == w.key {
				on[r.Host], in[r.Delivery] = true, true
			}
		}
		s, err := api.Snippets(t.Context(), w.key, "")
		require.NoError(t, err)
		assert.Len(t, on, len(names), w.key)
		assert.Len(t, in, len(s.Snippets), "%s was tried as %v", w.key, in)
	}
	slices.SortFunc(results, func(a, b hosts.Proof) int {
		return strings.Compare(a.Host+" "+a.Delivery+" "+a.Widget, b.Host+" "+b.Delivery+" "+b.Widget)
	})
	text, err := json.MarshalIndent(results, "", "  ")
	require.NoError(t, err)
	text = append(text, '\n')
	file := filepath.Join(service.Root(), "hosts", "proved", "lab.json")
	generated.File(t, file, string(text), "go test ./e2e -run TestHostLab -update")
}

// A plain form is what later widgets bring; what hosts make of one is predicted already.
func TestPlainFormInTheLab(t *testing.T) {
	t.Parallel()
	set, err := hosts.Shipped()
	require.NoError(t, err)
	s := host.Subject{Base: demo.Public, Key: "letters", Title: "Letters", Fields: []host.Field{{Name: "mail", Label: "Your address", Type: "email", Required: true}}}
	p := tab(t)
	require.NoError(t, p.Before(watching))
	for _, name := range lab.New("").Names() {
		profile := set.Get(name)
		choice := host.Choose(profile, s, host.Needs{Forms: true}, profile.Wheres()[0], host.Placing{})
		for _, o := range append(choice.Others, *choice.Best) {
			if o.Delivery != host.PlainForm {
				continue
			}
			g := host.Lead(profile, s, profile.Wheres()[0], host.Placing{}, o)
			c := cell{"letters", name, host.PlainForm, g}
			if o.Outcome.Shows == "nothing" && profile.Place(o.Content).Takes.As != "markup" {
				continue // the editor refuses it
			}
			assert.Equal(t, o.Outcome.Shows, c.try(t, p, false, paste), name)
		}
	}
}

// The paste took only the second time: visitors get an old page from the cache until it is
// emptied, as the steps say.
func TestOldPageFromTheCache(t *testing.T) {
	t.Parallel()
	out, err := api.Guide(t.Context(), "demo-countdown", install.Install{Host: "raw-markup"})
	require.NoError(t, err)
	p := tab(t)
	require.NoError(t, p.Before(watching))
	site := demo.Sites + "/lab/raw-markup/cache"
	paste(t, p, site, map[string]string{"raw": "<p>Nothing yet</p>"})
	assert.Equal(t, "nothing", look(t, p, "demo-countdown", "raw", false))
	paste(t, p, site, fieldsOf(*out.Guide))
	assert.Equal(t, "nothing", look(t, p, "demo-countdown", "raw", false), "an old page")
	require.NoError(t, p.Go(site+"/?new"))
	assert.Equal(t, "widget", look(t, p, "demo-countdown", "raw", false), "as “look” says: past the cache")
	paste(t, p, site, fieldsOf(*out.Guide), "empty-cache")
	assert.Equal(t, "widget", look(t, p, "demo-countdown", "raw", false))
	assert.True(t, slices.ContainsFunc(out.Guide.Steps, func(s host.GuideStep) bool { return strings.Contains(s.Say, "Clear the site's cache") }))
}

// In a program that swaps its pages the widget goes with the page that it stands on, and is
// there again when one comes back.
func TestPagesSwappedByAProgram(t *testing.T) {
	t.Parallel()
	out, err := api.Guide(t.Context(), "demo-countdown", install.Install{Host: "program", Where: "existing"})
	require.NoError(t, err)
	p := tab(t)
	require.NoError(t, p.Before(watching))
	paste(t, p, demo.Sites+"/lab/program/swapped", fieldsOf(*out.Guide))
	assert.Equal(t, "widget", look(t, p, "demo-countdown", "content", false))
	for range 3 {
		eval[any](t, p, `document.getElementById("other").click(); 0`)
		require.NoError(t, p.Wait(`glassPocket.live.size == 0 && document.body.innerText.includes("Another page of the isles")`))
		eval[any](t, p, `document.getElementById("entry").click(); 0`)
		require.NoError(t, p.Wait(mounted+`.length == 1`))
	}
	assert.Empty(t, p.Errors())
}

// A title with braces gets through a host whose templates would take them for their own.
func TestBracesInATheme(t *testing.T) {
	t.Parallel()
	newPocket(t, "lab-braces", "2099-01-01T00:00[UTC]", map[string]any{"heading": "Braces"})
	_, err := api.ChangePocket(t.Context(), "lab-braces", 2, wire.ChangePocket{Title: "{{kiln}} & {%wheel%}"})
	require.NoError(t, err)
	publish(t, "lab-braces")
	out, err := api.Guide(t.Context(), "lab-braces", install.Install{Host: "shop-code-section"})
	require.NoError(t, err)
	p := tab(t)
	require.NoError(t, p.Before(watching))
	paste(t, p, demo.Sites+"/lab/shop-code-section/braces", fieldsOf(*out.Guide))
	assert.Equal(t, "widget", look(t, p, "lab-braces", "section", false))
	assert.Equal(t, "{{kiln}} & {%wheel%}", eval[string](t, p, `document.querySelector("[data-glass-pocket]").textContent`), "the fallback says what it should")
	plain, err := api.Guide(t.Context(), "lab-braces", install.Install{Host: "plain-page"})
	require.NoError(t, err)
	// What is printed for a plain page gets through it too.
	require.NoError(t, p.Go(demo.Sites+"/lab/shop-code-section/braces/edit"))
	eval[any](t, p, `(() => { const f = document.getElementById("section"); f.focus(); f.select() })(); 0`)
	require.NoError(t, p.Type(plain.Guide.Parts[0].Text))
	publishLab(t, p)
	assert.Equal(t, "widget", look(t, p, "lab-braces", "section", false))
	assert.Equal(t, "{{kiln}} & {%wheel%}", eval[string](t, p, `document.querySelector("[data-glass-pocket]").textContent`))
}
