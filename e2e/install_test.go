package e2e

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/app/install"
	"glasspocket/internal/client"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// installing opens the Install view of a pocket.
func installing(t *testing.T, key string) *browser.Page {
	t.Helper()
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/"+key))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	press(t, p, "Install")
	require.NoError(t, p.Wait(`document.querySelector("[aria-label='Host: search hosts']")`))
	return p
}

const pastedText = `[...document.querySelectorAll("main pre")].map(e => e.textContent)`

// Somebody with no idea of code: finds their host by what they see there, says where, sees it
// on their own page, follows the steps into the host's editor, and it is there.
func TestInstallInConsole(t *testing.T) {
	t.Parallel()
	newPocket(t, "install-walk", "2099-01-01T00:00[UTC]", map[string]any{"heading": "Walk"})
	before, err := api.Draft(t.Context(), "install-walk")
	require.NoError(t, err)
	p := installing(t, "install-walk")
	eval[any](t, p, `window.blobs = []; { const make = URL.createObjectURL; URL.createObjectURL = b => (blobs.push(b), make(b)) } 0`)
	// The service's own page is the host's, before anything was pasted.
	site := demo.Sites + "/lab/rich-text/install-walk"
	fill(t, p, "[aria-label='Host: search hosts']", "source view")
	press(t, p, "Rich text")
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.shows == "widget"`))
	assert.Contains(t, eval[string](t, p, `document.querySelector("main").innerText`), "best here")
	fill(t, p, "#try-address", site+"/")
	require.NoError(t, p.Do(chromedp.Focus(chromedp.CSS("#try-address")), chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.title.includes("Teasel Hall")`))
	assert.Contains(t, eval[string](t, p, `document.querySelector("[aria-label='Preview on your page']").innerText`), "visitors get the widget")
	// Another place of the page.
	last := eval[string](t, p, `document.querySelector("iframe").src`)
	eval[any](t, p, `{ const s = document.querySelector("[aria-label='Preview on your page'] select"); s.value = "0"; s.dispatchEvent(new Event("change", {bubbles: true})) } 0`)
	require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector("iframe").src != %q`, last)))
	assert.Equal(t, "0", eval[string](t, p, `document.querySelector("[aria-label='Preview on your page'] select").value`))
	first := strings.TrimPrefix(eval[string](t, p, `document.querySelector("iframe").src`), demo.Public)
	// At any width: a wider one than there is room for is drawn smaller.
	for _, wide := range []int{501, 2100} {
		eval[any](t, p, fmt.Sprintf(`{ const i = document.querySelector("[aria-label='Width of the page in pixels']"); i.value = %d; i.dispatchEvent(new Event("change", {bubbles: true})) } 0`, wide))
		inFrame(t, p, first, fmt.Sprintf(`innerWidth == %d`, wide))
		assert.LessOrEqual(t, eval[float64](t, p, `document.querySelector("iframe").getBoundingClientRect().right - innerWidth`), 0.5)
	}
	// The text follows what is chosen; the pocket stays as it was.
	press(t, p, "Placement")
	fill(t, p, `input[placeholder="the pocket's title"]`, "Soon at the hall")
	require.NoError(t, p.Wait(pastedText+`[0].includes(">Soon at the hall</a>")`))
	after, err := api.Draft(t.Context(), "install-walk")
	require.NoError(t, err)
	assert.Equal(t, before.Revision, after.Revision, "the pocket's settings are untouched")
	// Copied, as the clipboard gets it.
	eval[any](t, p, copied)
	require.NoError(t, p.Wait(`(b => b && (b.click(), true))([...document.querySelectorAll("main button")].find(b => b.innerText == "Copy"))`))
	require.NoError(t, p.Wait(`window.copied`))
	parts := eval[[]string](t, p, pastedText)
	require.Len(t, parts, 2)
	assert.Equal(t, parts[0], eval[string](t, p, `window.copied`))
	assert.Equal(t, `<a data-glass-pocket="install-walk" href="`+demo.Public+`/p/install-walk">`, strings.SplitAfter(eval[string](t, p, `window.copiedRich`), ">")[0], "and a link for visual editors")
	assert.Contains(t, eval[string](t, p, `document.querySelector("main").innerText`), "This place needs the code. In a visual editor, it becomes a link to the widget.")
	press(t, p, "Select all")
	assert.Equal(t, parts[0], eval[string](t, p, `getSelection().toString()`))
	assert.Contains(t, eval[[]string](t, p, `Promise.all(blobs.map(b => b.text()))`), parts[0], "what a download holds")
	// Pasted where the steps say.
	q := watched(t)
	paste(t, q, site, map[string]string{"source": parts[0], "site-code": parts[1]})
	assert.Equal(t, "widget", look(t, q, "install-walk", "source", false))
	// What was chosen is there when one comes back.
	require.NoError(t, p.Do(chromedp.Reload()))
	require.NoError(t, p.Wait(pastedText+`[0]?.includes("Soon at the hall")`))
	for _, e := range p.Errors() {
		assert.Contains(t, e, "404", "nothing but the icon that the tab asked /healthz for")
	}
}

// What cannot be fetched is said plainly, with the way out; what is wrong in a page that was
// pastedText is found.
func TestTriedPages(t *testing.T) {
	t.Parallel()
	// The first of 500 keys are candidates for a suggestion, and other tests make many pockets.
	newPocket(t, "a-tried-pages", "2099-01-01T00:00[UTC]", nil)
	for _, c := range []struct{ address, html, says string }{
		{demo.Manage + "/", "", "private network"},
		{"http://no-such-name.invalid/", "", "does not answer"},
		{"nonsense", "", "does not answer"},
		{"", "", "Give the address"},
		{"", "no markup", "no HTML"},
		{"", strings.Repeat("<p>long</p>", 1<<18), "more than 2 MB"},
		{"", strings.Repeat("<div>", 600), "more than 512 deep"},
	} {
		_, err := api.TryOn(t.Context(), "a-tried-pages", wire.TryOn{Install: install.Install{Host: "blog"}, Address: c.address, HTML: c.html})
		require.Error(t, err, c.address)
		assert.Contains(t, err.Error(), c.says, c.address)
	}
	for html, says := range map[string]string{
		`<p class=MsoNormal>x</p><div data-glass-pocket=“a-tried-pages”></div>`:                                                       "typographic",
		`<p>&lt;div data-glass-pocket="a-tried-pages"&gt;</p>`:                                                                        "shows the snippet",
		`<div data-glass-pocket="a-tried-page"></div>`:                                                                                "no pocket “a-tried-page”",
		`<div data-glass-pocket="a-tried-pages"<div data-glass-pocket="demo-countdown"></div>`:                                        "mixed up",
		fmt.Sprintf(`<div data-glass-pocket="a-tried-pages"></div><script src="%s/s/a-tried-pages.js"></script><p>Fine`, demo.Public): "is already on the page",
	} {
		out, err := api.TryOn(t.Context(), "a-tried-pages", wire.TryOn{Install: install.Install{Host: "blog"}, HTML: html})
		require.NoError(t, err)
		said := ""
		for _, f := range out.Findings {
			said += f.What + " " + f.Fix + "\n"
		}
		assert.Contains(t, said, says)
		if says == "no pocket “a-tried-page”" {
			assert.Contains(t, said, "probably “a-tried-pages”")
		}
	}
	// Whether another customer has an unpublished pocket is nobody's business.
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "a-tried-pages-secret", Customer: "kelp-and-kiln", Widget: "countdown", Starter: "harbour"})
	require.NoError(t, err)
	_, err = api.MakePocket(t.Context(), wire.NewPocket{Key: "a-tried-pages-other", Customer: "saltmarsh-ferry", Widget: "countdown", Starter: "harbour"})
	require.NoError(t, err)
	set(t, "a-tried-pages-other", map[string]any{"target": "2099-01-01T00:00[UTC]"})
	publish(t, "a-tried-pages-other")
	token, err := api.MakeToken(t.Context(), wire.NewToken{Name: "tried", Days: 1, Role: "customer-editor", Customer: "saltmarsh-ferry"})
	require.NoError(t, err)
	other := &client.Client{Server: demo.Manage, Token: token.Secret}
	says := map[string]string{}
	for _, key := range []string{"a-tried-pages-secret", "a-tried-pages-absent"} {
		out, err := other.TryOn(t.Context(), "a-tried-pages-other", wire.TryOn{Install: install.Install{Host: "blog"}, HTML: `<div data-glass-pocket="` + key + `"></div>`})
		require.NoError(t, err)
		for _, f := range out.Findings {
			says[key] += strings.ReplaceAll(f.What+f.Fix, key, "KEY")
		}
	}
	assert.NotEmpty(t, says["a-tried-pages-absent"])
	assert.Equal(t, says["a-tried-pages-absent"], says["a-tried-pages-secret"])
	p := installing(t, "a-tried-pages")
	press(t, p, "Plain HTML")
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.shows`))
	fill(t, p, "#try-address", demo.Manage+"/")
	press(t, p, "Try it there")
	require.NoError(t, p.Wait(`document.querySelector("[aria-label='Preview on your page'] [role=alert]")?.innerText.includes("private network")`))
	press(t, p, "Paste its HTML")
	fill(t, p, "#try-html", `<main><h1>Ours</h1><p>Words.</p><div data-glass-pocket=“a-tried-pages”></div></main>`)
	press(t, p, "Try it there")
	require.NoError(t, p.Wait(`document.querySelector("[aria-label='Preview on your page']").innerText.includes("typographic")`))
	// A page that lets nobody frame it is seen all the same: it is a copy.
	press(t, p, "Enter its address")
	fill(t, p, "#try-address", demo.Sites+"/lab/strict-policy/tried/")
	press(t, p, "Try it there")
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.title.includes("Saltmarsh Ferry")`))
	inFrame(t, p, strings.TrimPrefix(eval[string](t, p, `document.querySelector("iframe").src`), demo.Public), `document.body.innerText.includes("Saltmarsh Ferry")`)
	shown := eval[string](t, p, `document.querySelector("[aria-label='Preview on your page']").innerText`)
	assert.Contains(t, shown, "blocks it (default-src)")
	assert.Equal(t, 1, strings.Count(shown, "script-src 'self' "+demo.Public), "what the policy lacks is said once: %s", shown)
	// The tried page is a page of nobody: in a sandbox, and gone for who does not know it.
	out, err := api.TryOn(t.Context(), "a-tried-pages", wire.TryOn{Install: install.Install{Host: "blog"}, HTML: "<p>Tide</p><script>window.ran = 1</script>"})
	require.NoError(t, err)
	live := strings.Split(out.Live, "#")[0]
	res, body := send(t, "GET", live, "", "Sec-Fetch-Dest", "iframe")
	assert.Regexp(t, `^sandbox allow-scripts allow-popups; form-action 'none'; frame-ancestors `+regexp.QuoteMeta(demo.Manage)+` \S+$`, res.Header.Get("Content-Security-Policy"))
	assert.Equal(t, "no-store", res.Header.Get("Cache-Control"))
	assert.Contains(t, body, "window.ran")
	_, still := send(t, "GET", strings.Split(out.Still, "#")[0], "", "Sec-Fetch-Dest", "iframe")
	assert.Contains(t, still, "Tide")
	assert.NotContains(t, still, "<script")
	// It opens in the console alone: not by itself, and not in anybody else's frame.
	for _, dest := range []string{"document", "", "script"} {
		res, body = send(t, "GET", live, "", "Sec-Fetch-Dest", dest)
		assert.Equal(t, 404, res.StatusCode, dest)
		assert.NotContains(t, body, "window.ran", dest)
	}
	q := page(t, `<iframe src="`+live+`"></iframe>`)
	require.NoError(t, q.Wait(`document.readyState == "complete"`))
	assert.Contains(t, strings.Join(said(t, q, 1), ""), "frame-ancestors")
	res, _ = send(t, "GET", demo.Public+"/tries/none", "")
	assert.Equal(t, 404, res.StatusCode)
}

// A page for the customer's own webmaster needs no account, follows what is published, and is
// over when it is ended.
func TestHandover(t *testing.T) {
	t.Parallel()
	newPocket(t, "handed", "2099-01-01T00:00[UTC]", nil)
	p := installing(t, "handed")
	press(t, p, "Blog with")
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.shows`))
	press(t, p, "Hand over to a webmaster")
	fill(t, p, "#handover-note", "Above the calendar.")
	pressInDialog(t, p, "Make page")
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog]").innerText.includes("/steps#")`))
	link := eval[string](t, p, `document.querySelector("[role=dialog]").innerText.match(/http\S+\/steps#\S+/)[0]`)

	q := tab(t)
	require.NoError(t, q.Go(link))
	require.NoError(t, q.Wait(`document.querySelector("ol")`))
	assert.Contains(t, eval[string](t, q, `document.body.innerText`), "Above the calendar.")
	assert.Equal(t, eval[[]string](t, p, pastedText), eval[[]string](t, q, pastedText))
	// It prints: what only a screen needs is left out, and nothing is cut off.
	require.NoError(t, q.Emulate("print", nil))
	assert.Zero(t, eval[int](t, q, `[...document.querySelectorAll("button, a[download]")].filter(e => e.getBoundingClientRect().height > 0).length`))
	assert.True(t, eval[bool](t, q, `[...document.querySelectorAll("pre")].every(e => e.scrollHeight <= e.clientHeight + 1)`))
	// What is published later is what the page says.
	_, err := api.ChangePocket(t.Context(), "handed", 2, wire.ChangePocket{Title: "Another name"})
	require.NoError(t, err)
	publish(t, "handed")
	require.NoError(t, q.Do(chromedp.Reload()))
	require.NoError(t, q.Wait(`document.querySelector("h1")?.innerText.includes("Another name")`))
	pressInDialog(t, p, "Revoke")
	require.NoError(t, p.Wait(`!document.querySelector("[role=dialog]").innerText.includes("Revoke")`))
	require.NoError(t, q.Do(chromedp.Reload()))
	require.NoError(t, q.Wait(`document.body.innerText.includes("has been revoked")`))
}

// A sealed snippet shows what was sealed under the very policy that is printed beside it,
// whatever is published later; one letter otherwise, and the browser refuses it.
func TestSealed(t *testing.T) {
	t.Parallel()
	newPocket(t, "sealed-one", "2099-01-01T00:00[UTC]", map[string]any{"heading": "As it was"})
	_, err := api.Snippets(t.Context(), "sealed-one", host.Sealed)
	assert.True(t, isCode(err, "not-sealed"), "%v", err)
	sealed, err := api.Seal(t.Context(), "sealed-one")
	require.NoError(t, err)
	again, err := api.Seal(t.Context(), "sealed-one")
	require.NoError(t, err)
	assert.Equal(t, sealed.Address, again.Address, "the same publication is the same script")
	parts := snippet(t, "sealed-one", host.Sealed)
	require.Len(t, parts, 2)
	set(t, "sealed-one", map[string]any{"heading": "As it is"})
	publish(t, "sealed-one")
	policy := "default-src 'none'; style-src 'unsafe-inline'; require-trusted-types-for 'script'; trusted-types glass-pocket; " + parts[1]
	p := page(t, "<!doctype html>"+parts[0], "Content-Security-Policy", policy)
	require.NoError(t, p.Wait(mounted+`[0] == "As it was"`), "console: %v", p.Errors())
	// The exact time is asked for under that policy too, and no other script ever is.
	require.NoError(t, p.Wait(`performance.getEntriesByType("resource").some(e => e.name.endsWith("/t"))`))
	assert.Equal(t, 1, eval[int](t, p, `performance.getEntriesByType("resource").filter(e => e.name.endsWith(".js")).length`))
	assert.Empty(t, p.Errors())
	res, _ := send(t, "GET", sealed.Address, "")
	assert.Contains(t, res.Header.Get("Cache-Control"), "immutable")
	spoilt := strings.Replace(parts[0], sealed.Integrity, sealed.Integrity[:20]+"A"+sealed.Integrity[21:], 1)
	if spoilt == parts[0] {
		spoilt = strings.Replace(parts[0], sealed.Integrity, sealed.Integrity[:20]+"B"+sealed.Integrity[21:], 1)
	}
	p = page(t, "<!doctype html>"+spoilt)
	require.Eventually(t, func() bool { return strings.Contains(strings.Join(p.Errors(), " "), "integrity") }, browser.Patience, 5e6)
	assert.Zero(t, eval[int](t, p, mounted+`.length`))
	// Withheld is withheld.
	_, err = api.WithholdPocket(t.Context(), "sealed-one", "test", false)
	require.NoError(t, err)
	res, _ = send(t, "GET", sealed.Address, "")
	assert.Equal(t, 404, res.StatusCode)
}

// A frame gets the height of what is in it when the site has the script for it, before or after
// the frame has loaded; a screen has the size that its address says.
func TestFramesAndScreens(t *testing.T) {
	t.Parallel()
	out, err := api.Guide(t.Context(), "demo-countdown", install.Install{Host: "rich-text", Where: "new", Delivery: host.Frame})
	require.NoError(t, err)
	fit := fmt.Sprintf(`<script async src="%s/fit.js"></script>`, demo.Public)
	frame := strings.Replace(out.Guide.Parts[0].Text, `loading="lazy"`, "", 1)
	frame = strings.Replace(frame, `height="`, `height="9`, 1) // far too high
	for _, html := range []string{fit + frame, frame + fit} {
		p := page(t, "<!doctype html><body style='margin:0;width:700px'>"+html)
		require.NoError(t, p.Wait(`(h => h > 100 && h < 200)(document.querySelector("iframe").getBoundingClientRect().height)`), "%v", eval[float64](t, p, `document.querySelector("iframe").getBoundingClientRect().height`))
	}
	p := watched(t)
	require.NoError(t, p.Go(demo.Public+"/p/demo-countdown?w=480&h=200&background=0b3a53"))
	assert.Equal(t, []any{"rgb(11, 58, 83)", 480.0, 200.0}, eval[[]any](t, p, `[getComputedStyle(document.documentElement).backgroundColor, document.body.offsetWidth, document.body.offsetHeight]`))
	require.NoError(t, p.Go(demo.Public+"/p/demo-countdown?w=a&h=-1&background=red;}"))
	assert.Equal(t, "rgba(0, 0, 0, 0)", eval[string](t, p, `getComputedStyle(document.documentElement).backgroundColor`), "what cannot be read is left out")
}

// “When it comes near”: nothing is fetched for what is far down until it is near.
func TestNear(t *testing.T) {
	t.Parallel()
	out, err := api.Guide(t.Context(), "demo-countdown", install.Install{Host: "plain-page", Where: "new", Placing: host.Placing{Loading: "near"}})
	require.NoError(t, err)
	p := page(t, "<!doctype html><div style='height:6000px'></div>"+out.Guide.Parts[0].Text)
	require.NoError(t, p.Wait(`performance.getEntriesByType("resource").some(e => e.name.endsWith("/near.js") && e.responseEnd > 0) && document.readyState == "complete"`))
	fetched := `performance.getEntriesByType("resource").some(e => e.name.includes("/s/demo-countdown"))`
	assert.False(t, eval[bool](t, p, `new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => done(`+fetched+`))))`))
	eval[any](t, p, `scrollTo(0, 5000); 0`)
	require.NoError(t, p.Wait(mounted+`.length == 1`), "console: %v", p.Errors())
	assert.Empty(t, p.Errors())
}

// An operator says a kind of host in their own words, with an image; customers' steps have
// them at once, and what ships comes back.
func TestOwnHost(t *testing.T) {
	ctx := t.Context()
	svg := []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>`)
	own := `{"format":1,"name":"course","extends":"course","language":"en","title":"Harbour School","places":[{"name":"side","steps":{"column":["Press the blue button.",{"say":"Put this there: {snippet}","image":"blue.svg","alt":"The blue button"}]}}]}`
	_, err := api.SaveHost(ctx, "course", wire.SaveHost{Profile: json.RawMessage(strings.Replace(own, "{snippet}", "", 1))})
	require.Error(t, err)
	assert.Contains(t, err.Error(), "cannot be used")
	saved, err := api.SaveHost(ctx, "course", wire.SaveHost{Profile: json.RawMessage(own)})
	require.NoError(t, err)
	t.Cleanup(func() { api.DeleteHost(ctx, "course") })
	_, err = api.SaveHost(ctx, "course", wire.SaveHost{Profile: json.RawMessage(own)})
	assert.True(t, isCode(err, "host-changed"), "%v", err)
	require.NoError(t, api.SaveHostImage(ctx, "course", "blue.svg", svg))
	assert.Error(t, api.SaveHostImage(ctx, "course", "evil.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`)))
	g := guideFor(t, "demo-countdown", install.Install{Host: "course", Where: "column"})
	assert.Equal(t, "Harbour School", g.Title)
	assert.Equal(t, []string{"Press the blue button.", "Put this there:"}, []string{g.Steps[0].Say, g.Steps[1].Say})
	assert.Equal(t, "blue.svg", g.Steps[1].Image)
	res, body := send(t, "GET", demo.Manage+"/api/v1/hosts/course/images/blue.svg", "")
	assert.Equal(t, [2]string{"image/svg+xml", string(svg)}, [2]string{res.Header.Get("Content-Type"), body})
	// In the console: another word, and back.
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/hosts/course"))
	require.NoError(t, p.Wait(`document.querySelector("h1")?.innerText == "Harbour School"`))
	press(t, p, "Edit texts")
	fill(t, p, "main input", "Island School")
	press(t, p, "Save")
	require.NoError(t, p.Wait(`document.querySelector("h1")?.innerText == "Island School"`))
	now, err := api.Host(ctx, "course")
	require.NoError(t, err)
	assert.Equal(t, saved.Revision+1, now.Revision)
	assert.Contains(t, string(now.Profile), "Press the blue button.", "what was said before stays")
	press(t, p, "Use built-in profile")
	require.NoError(t, p.Wait(`document.querySelector("h1")?.innerText.startsWith("Course pages")`))
	// By the client: a file with its image beside it.
	dir := t.TempDir()
	file(t, filepath.Join(dir, "harbour.json"), `{"format":1,"name":"harbour","extends":"page-of-parts","language":"en","title":"Harbour","places":[{"name":"code","steps":{"new":[{"say":"Here: {snippet}","image":"box.svg","alt":"The box"}]}}]}`)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "box.svg"), svg, 0o644))
	code, _, errs := glasspocket(t, "", "host", "harbour", filepath.Join(dir, "harbour.json"))
	require.Zero(t, code, errs)
	_, out, _ := glasspocket(t, "", "steps", "demo-countdown", "-host", "harbour", "-where", "new")
	assert.Contains(t, out, "Here:")
	file(t, filepath.Join(dir, "bad.json"), `{"format":1,"name":"bad","extends":"mail","language":"en","places":[{"name":"body","takes":{"as":"markup","scripts":"run"}}]}`)
	code, _, errs = glasspocket(t, "", "host", "bad", filepath.Join(dir, "bad.json"), "-dry-run")
	assert.Equal(t, 3, code)
	assert.Contains(t, errs, "do not work in email")
	code, _, errs = glasspocket(t, "", "delete", "host", "harbour")
	require.Zero(t, code, errs)
}

func isCode(err error, code string) bool {
	var p *client.Problem
	return errors.As(err, &p) && p.Code == code
}

// installLife calls what brings pockets to pages, for TestLifeOfAPocket.
func installLife(t *testing.T, c *client.Client) {
	ctx := t.Context()
	newPocket(t, "install-life", "2099-01-01T00:00[UTC]", nil)
	all, err := c.Hosts(ctx)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(all.Hosts), 16)
	one, err := c.Host(ctx, "blog")
	require.NoError(t, err)
	assert.NotEmpty(t, one.Proved)
	_, err = c.Host(ctx, "blogg")
	assert.Contains(t, problem(t, err).Hint, "blog")
	_, err = c.SaveHost(ctx, "life-host", wire.SaveHost{Profile: json.RawMessage(`{"format":1,"name":"life-host","extends":"blog","language":"en","title":"Life"}`)})
	require.NoError(t, err)
	require.NoError(t, c.SaveHostImage(ctx, "life-host", "a.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"/>`)))
	require.NoError(t, c.DeleteHostImage(ctx, "life-host", "a.svg"))
	g, err := c.Guide(ctx, "install-life", install.Install{Host: "life-host"})
	require.NoError(t, err)
	assert.Equal(t, "Life", g.Guide.Title)
	for ask, code := range map[install.Install]string{{Host: "life-hst"}: "no-such-host", {Host: "blog", Where: "attic"}: "where-unknown", {Host: "blog", Delivery: "carpet"}: "delivery-unknown", {Host: "blog", Delivery: host.PlainForm}: "delivery-unfit", {Host: "blog", Placing: host.Placing{Width: "wide"}}: "placing-faulty"} {
		_, err := c.Guide(ctx, "install-life", ask)
		assert.Equal(t, code, problem(t, err).Code)
	}
	require.NoError(t, c.DeleteHost(ctx, "life-host"))
	sealed, err := c.Seal(ctx, "install-life")
	require.NoError(t, err)
	assert.True(t, sealed.Newest)
	h, err := c.HandOver(ctx, "install-life", wire.NewHandover{Install: install.Install{Host: "blog"}, Note: "Please."})
	require.NoError(t, err)
	_, secret, _ := strings.Cut(h.Link, "#")
	seen, err := c.HandedOver(ctx, secret)
	require.NoError(t, err)
	assert.Equal(t, "Please.", seen.Note)
	list, err := c.Handovers(ctx, "install-life")
	require.NoError(t, err)
	require.Len(t, list.Handovers, 1)
	assert.NotNil(t, list.Handovers[0].SeenAt)
	assert.Empty(t, list.Handovers[0].Link, "told once")
	require.NoError(t, c.RevokeHandover(ctx, "install-life", h.ID))
	_, err = c.HandedOver(ctx, secret)
	assert.Equal(t, "handover-ended", problem(t, err).Code)
	_, err = c.TryOn(ctx, "install-life", wire.TryOn{Install: install.Install{Host: "blog"}, HTML: "<p>Tide"})
	require.NoError(t, err)
}
