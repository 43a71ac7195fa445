package e2e

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/app/install"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// signedIn opens the console with a session.
func signedIn(t *testing.T) *browser.Page {
	t.Helper()
	return signedInAt(t, demo)
}

func signedInAt(t *testing.T, d *service.Demo) *browser.Page {
	t.Helper()
	p := tab(t)
	require.NoError(t, p.Go(d.Manage+"/healthz"))
	require.Equal(t, 201, eval[int](t, p, fmt.Sprintf(`fetch("/api/v1/session", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({name: %q, password: %q})}).then(r => r.status)`, d.Name, d.Password)))
	return p
}

// inPreview waits until an expression is true inside the preview's sandboxed frame.
func inPreview(t *testing.T, p *browser.Page, expression string) {
	t.Helper()
	inFrame(t, p, "/preview", expression)
}

// inFrame waits until an expression is true inside a sandboxed frame of the public side, or in
// the one that came in its place meanwhile.
func inFrame(t *testing.T, p *browser.Page, path, expression string) {
	t.Helper()
	var err error
	for until := time.Now().Add(browser.Patience); time.Now().Before(until); {
		// One that is gone does not answer any more.
		frame, cancel := context.WithTimeout(frameOf(t, p, path), 5*time.Second)
		err = browser.WaitIn(frame, expression)
		cancel()
		if err == nil {
			return
		}
	}
	holds, _ := browser.Eval[string](&browser.Page{Ctx: frameOf(t, p, path)}, `document.documentElement.outerHTML.slice(0, 400) + [...document.querySelectorAll("*")].map(e => e.shadowRoot?.textContent ?? "").join("")`)
	page, _ := browser.Eval[string](p, `document.body.innerText.slice(0, 1500)`)
	require.NoError(t, err, "in the frame, which holds %q; the page says %q", holds, page)
}

// frameOf is the first frame with an address of the public side.
func frameOf(t *testing.T, p *browser.Page, path string) (ctx context.Context) {
	t.Helper()
	mine := chromedp.FromContext(p.Ctx).BrowserContextID // other tests have tabs too
	require.Eventually(t, func() bool {
		infos, err := chromedp.Targets(p.Ctx)
		if err != nil {
			return false
		}
		for _, info := range infos {
			if info.Type == "iframe" && info.BrowserContextID == mine && strings.HasPrefix(info.URL, "http://127.0.0.1:") && strings.HasSuffix(info.URL, path) {
				ctx, _ = chromedp.NewContext(p.Ctx, chromedp.WithTargetID(info.TargetID))
				// Attached with the tab's context: the frame reports events as long as it exists, and
				// if nobody took them any more, they would block those of the tab.
				return chromedp.Do(ctx) == nil
			}
		}
		return false
	}, browser.Patience, 10*time.Millisecond, "there is no preview frame")
	return ctx
}

// formPart scrolls to a part of a pocket's form: Content, Look, Position or Publish.
func formPart(t *testing.T, p *browser.Page, name string) {
	t.Helper()
	anchor := fmt.Sprintf(`[...document.querySelectorAll("nav[aria-label='Parts of the settings'] button")].find(b => b.innerText == %q)`, name)
	require.NoError(t, p.Wait(anchor))
	// A new pocket scrolls to its first field when it has loaded, which may be after the click.
	require.NoError(t, p.Wait(`((at) => at.ariaCurrent == "true" || (at.click(), false))(`+anchor+`)`))
}

// publishInConsole publishes what is open, and waits until the console says that it is live.
func publishInConsole(t *testing.T, p *browser.Page, number int) {
	t.Helper()
	require.NoError(t, p.Wait(`(b => b && !b.disabled && (b.click(), true))([...document.querySelectorAll("header button")].find(b => b.innerText == "Publish"))`))
	said := fmt.Sprintf("Published as number %d. The service now delivers it.", number)
	require.NoError(t, p.Wait(fmt.Sprintf(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes(%q))`, said)), "the console says %v; errors %v", eval[[]string](t, p, `[...document.querySelectorAll("[role=status],[role=alert]")].map(e => e.innerText)`), p.Errors())
}

// pressInDialog presses a button of the open dialog as soon as it can be pressed.
func pressInDialog(t *testing.T, p *browser.Page, words string) {
	t.Helper()
	require.NoError(t, p.Wait(fmt.Sprintf(`(b => b && !b.disabled && (b.click(), true))([...document.querySelectorAll("[role=dialog] button")].find(b => b.innerText == %q))`, words)), "the dialog says %q", eval[string](t, p, `document.querySelector("[role=dialog]")?.innerText ?? "nothing"`))
}

// galleryDrawn waits until some of the gallery's images are there.
const galleryDrawn = `document.querySelector("iframe")?.dataset.drawn > 3`

const inShadow = `document.getElementById("stage")?.shadowRoot?.querySelector`

// A person signs in with the keyboard, changes date and accent, publishes, and sees the
// host page change, which still carries the snippet that it always carried.
func TestFromConsoleToPage(t *testing.T) {
	newPocket(t, "walk", "2098-01-01T00:00[UTC]", map[string]any{"heading": "Walk", "accent": "#0b6b63"})
	html := "<!doctype html>" + strings.Join(snippet(t, "walk", host.Script), "")
	visitor := page(t, html)
	require.NoError(t, visitor.Wait(mounted+`.join() == "Walk"`))

	p := tab(t)
	require.NoError(t, p.Go(demo.Manage+"/sign-in"))
	require.NoError(t, p.Wait(`document.activeElement?.id == "name"`))
	require.NoError(t, p.Do(chromedp.KeyEvent(demo.Name), chromedp.KeyEvent(kb.Tab), chromedp.KeyEvent("wrong"), chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(`document.querySelector("[role=alert]").innerText.includes("The name or the password is wrong")`))
	eval[any](t, p, `document.querySelector("#password").select(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent(demo.Password), chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("tbody a")].some(a => a.pathname == "/pockets/walk")`))
	assert.Contains(t, eval[string](t, p, `document.querySelector('a[href="/pockets/walk"]').closest("tr").innerText`), "Published")
	require.NoError(t, p.Do(chromedp.Click(chromedp.CSS(`a[href="/pockets/walk"]`))))
	require.NoError(t, p.Wait(`document.querySelector("#setting-heading")`))
	inPreview(t, p, inShadow+`(".heading")?.textContent == "Walk"`)

	// Each keystroke is followed.
	require.NoError(t, p.Do(chromedp.Focus(chromedp.CSS("#setting-heading")), chromedp.KeyEvent(kb.End), chromedp.KeyEvent("i")))
	inPreview(t, p, inShadow+`(".heading").textContent == "Walki"`)
	require.NoError(t, p.Do(chromedp.KeyEvent("n"), chromedp.KeyEvent("g")))
	inPreview(t, p, inShadow+`(".heading").textContent == "Walking"`)
	// A look setting reaches the preview without a request.
	requests := `performance.getEntriesByType("resource").filter(e => e.name.endsWith("/preview") && e.initiatorType == "fetch").length`
	before := eval[int](t, p, requests)
	fill := func(sel, value string) {
		t.Helper()
		fill(t, p, sel, value)
	}
	formPart(t, p, "Look")
	fill("#setting-accent", "#aa3300")
	inPreview(t, p, `getComputedStyle(`+inShadow+`(".digits")).color == "rgb(170, 51, 0)"`)
	assert.Equal(t, before, eval[int](t, p, requests))
	formPart(t, p, "Content")
	fill("#setting-target", "2099-05-05T12:30")
	inPreview(t, p, `Number(`+inShadow+`("[data-unit=days] .digits").textContent) > 26000`)
	// What the service refuses is said beside its field, and the rest is saved.
	formPart(t, p, "Look")
	fill("#setting-accent", "teal")
	require.NoError(t, p.Wait(`document.querySelector("#setting-accent-about").innerText.includes("not a hexadecimal colour")`))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("header [role=status]")].some(e => e.innerText == "Not saved")`))
	fill("#setting-accent", "#aa3300")
	require.NoError(t, p.Wait(saved))
	assert.Contains(t, eval[string](t, p, `document.querySelector("header").innerText`), "Draft changed")

	visitor = page(t, html)
	require.NoError(t, visitor.Wait(mounted+`.join() == "Walk"`), "a draft never leaks")
	publishInConsole(t, p, 2)
	visitor = page(t, html)
	require.NoError(t, visitor.Wait(mounted+`.join() == "Walking"`))
	assert.Equal(t, "rgb(170, 51, 0)", eval[string](t, visitor, `getComputedStyle(document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".digits")).color`))
	saved, err := api.Draft(t.Context(), "walk")
	require.NoError(t, err)
	assert.Contains(t, string(saved.Settings), `"target":"2099-05-05T12:30[UTC]"`)

	// The preview may ask for the time as any page may.
	preview := tab(t)
	require.NoError(t, preview.Go(demo.Public+"/preview"))
	told := eval[string](t, preview, `(async () => { try { return await (await fetch("`+demo.Public+`/t")).text() } catch (e) { return "refused" } })()`)
	assert.Regexp(t, `^\d{13}$`, told, "its own policy lets it ask the service's clock")

	// The snippet in the console is what the client prints.
	press(t, p, "Install")
	press(t, p, "Plain HTML")
	require.NoError(t, p.Wait(`document.querySelector("pre")`))
	assert.Equal(t, strings.Join(snippet(t, "walk", host.Script), "\n"), eval[string](t, p, `document.querySelector("pre").textContent`))
	// And its heights were measured in this browser.
	assert.Contains(t, strings.Join(snippet(t, "walk", host.Frame), ""), `height="162"`)
}

// History shows what was published and brings an older state back; following is chosen
// there, and a withheld pocket says so.
func TestHistory(t *testing.T) {
	newPocket(t, "history", "2099-01-01T00:00[UTC]", map[string]any{"heading": "First"})
	set(t, "history", map[string]any{"heading": "Second"})
	publish(t, "history")
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/history"))
	require.NoError(t, p.Wait(`document.querySelectorAll("[role=tab]").length == 3`))
	eval[any](t, p, `document.querySelectorAll("[role=tab]")[2].click(); 0`)
	require.NoError(t, p.Wait(`document.querySelectorAll("ol li").length == 2 && document.querySelector("ol li").innerText.includes("Live")`))
	eval[any](t, p, `document.querySelector('[aria-label="Restore number 1"]').click(); 0`)
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog] dl")?.innerText.replace(/\s+/g, " ").includes("Heading Second → First")`), "what it changes is told before")
	pressInDialog(t, p, "Restore")
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Number 1 is published again as number 3. The service now delivers it"))`))
	require.NoError(t, p.Wait(`document.querySelectorAll("ol li").length == 3 && document.querySelector("ol li").innerText.includes("restored from number 1")`))
	_, body := send(t, "GET", demo.Public+"/s/history.json", "")
	assert.Contains(t, body, "First")
	assert.Equal(t, "Second", eval[string](t, p, `(document.querySelectorAll("[role=tab]")[0].click(), new Promise(r => setTimeout(() => r(document.querySelector("#setting-heading").value), 100)))`), "the draft stays")
	eval[any](t, p, `document.querySelectorAll("[role=tab]")[2].click(); 0`)
	follows := `document.querySelector("[role=tabpanel]:not([hidden]) input[type=checkbox]")`
	require.NoError(t, p.Wait(follows))
	eval[any](t, p, follows+`.click(); 0`)
	publishInConsole(t, p, 4)
	pocket, err := api.Pocket(t.Context(), "history")
	require.NoError(t, err)
	assert.True(t, pocket.Follow)
	_, err = api.WithholdPocket(t.Context(), "history", "A complaint", false)
	require.NoError(t, err)
	require.NoError(t, p.Go(demo.Manage+"/pockets/history"))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=alert]")].some(e => e.innerText.includes("The operator withholds this pocket") && e.innerText.includes("A complaint"))`))
}

// Somebody else saves the same draft: both changes are kept, and the second is told.
func TestTwoSavers(t *testing.T) {
	newPocket(t, "two-savers", "2099-01-01T00:00[UTC]", map[string]any{"heading": "Heading of two-savers", "ending": "message"})
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/two-savers"))
	require.NoError(t, p.Wait(`document.querySelector("#setting-heading")`))
	set(t, "two-savers", map[string]any{"endMessage": "From elsewhere"})
	require.NoError(t, p.Do(chromedp.SendKeys(chromedp.CSS("#setting-heading"), "!")))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("also changed this draft. Added from them: Message"))`))
	require.NoError(t, p.Wait(`document.querySelector("#setting-endMessage").value == "From elsewhere"`))
	require.Eventually(t, func() bool {
		d, err := api.Draft(t.Context(), "two-savers")
		return err == nil && strings.Contains(string(d.Settings), "From elsewhere") && strings.Contains(string(d.Settings), "two-savers!")
	}, browser.Patience, 10*time.Millisecond)
}

// Every screen, light and dark, wide and narrow, is free of what axe-core can find.
func TestAccessibility(t *testing.T) {
	t.Parallel()
	axe, err := os.ReadFile(filepath.Join(service.Root(), "console", "node_modules", "axe-core", "axe.min.js"))
	require.NoError(t, err)
	newPocket(t, "accessible", "2099-01-01T00:00[UTC]", nil)
	drawn := `document.querySelector("iframe")?.dataset.drawn > 0 && document.querySelector("#setting-heading")`
	_, err = api.StartWidgetDraft(t.Context(), "accessible-tide", wire.NewWidgetDraft{Files: tide("accessible-tide")})
	require.NoError(t, err)
	const bench = "/worktop/accessible-tide"
	listed := `[...document.querySelectorAll("main li button")].some(b => b.innerText.startsWith(".title")) && document.querySelector("section[aria-label=Messages]").innerText.includes("There are no faults")`
	once := func(seen, find string) string { // clicks until it is seen
		return `document.querySelector(` + "`" + seen + "`" + `) || (` + listed + ` && ([...document.querySelectorAll("button")].find(b => ` + find + `)?.click(), false))`
	}
	out, in := tab(t), signedIn(t)
	handed, err := api.HandOver(t.Context(), "accessible", wire.NewHandover{Install: install.Install{Host: "rich-text"}, Note: "Above the calendar."})
	require.NoError(t, err)
	set(t, "accessible", map[string]any{"heading": "Changed"}) // so that there is something to publish
	for _, screen := range []struct {
		name, address, wait string
		p                   *browser.Page
	}{
		{"sign-in", "/sign-in", `document.querySelector("#password")`, out},
		{"open gallery", "/", galleryDrawn, out},
		{"gallery", "/gallery", galleryDrawn, in},
		{"customers", "/customers", `document.querySelector("main li a")`, in},
		{"brand", "/customers/kelp-and-kiln", `document.querySelector("main fieldset button")`, in},
		{"sources", "/customers/kelp-and-kiln?tab=sources", `document.querySelector("[aria-expanded=true]") ? document.querySelector("main table") : (document.querySelector("main li button")?.click(), false)`, in},
		{"people", "/customers/kelp-and-kiln", `(document.querySelectorAll("[role=tab]")[2]?.click(), [...document.querySelectorAll("button")].some(b => b.innerText == "Invite somebody"))`, in},
		{"sites", "/customers/kelp-and-kiln", `(document.querySelectorAll("[role=tab]")[3]?.click(), document.querySelector("#c-sites"))`, in},
		{"publish", "/pockets/accessible", drawn + ` && document.querySelector("[data-part=publish] li button") && ([...document.querySelectorAll("nav button")].find(b => b.innerText == "Publish")?.click(), true) && document.querySelector("[data-part=publish] section")`, in},
		{"starters", "/pockets/accessible", drawn + ` && (document.querySelector("[role=dialog]") || ([...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Change starter"))?.click(), false)) && document.querySelector("[role=dialog] dl")`, in},
		{"pockets", "/", `document.querySelector("tbody tr")`, in},
		{"editor", "/pockets/accessible", drawn, in},
		{"install", "/pockets/accessible", `document.querySelector("main pre") || (document.querySelectorAll("[role=tab]")[1]?.click(), document.querySelector("section[aria-labelledby=host-heading] li button")?.click(), false)`, in},
		{"how it stands", "/pockets/accessible", `document.querySelector("details[open] #placing-width") || ([...document.querySelectorAll("[role=tab]")].find(b => b.innerText == "Install")?.click(), document.querySelectorAll("main details").forEach(d => d.open = true), false)`, in},
		{"for the webmaster", "/pockets/accessible", `document.querySelector("#handover-note") || ([...document.querySelectorAll("[role=tab]")].find(b => b.innerText == "Install")?.click(), [...document.querySelectorAll("main button")].find(b => b.innerText == "Hand over to a webmaster")?.click(), false)`, in},
		{"steps", handed.Link, `document.querySelector("ol")`, out},
		{"only here", "/pockets/accessible", `document.querySelector("#cues-not")`, in},
		{"hosts", "/hosts", `document.querySelector("main table")`, in},
		{"host", "/hosts/blog", `document.querySelector("main table")`, in},
		{"own words", "/hosts/blog", `document.querySelector("main textarea") || ([...document.querySelectorAll("main button")].find(b => b.innerText == "Edit texts")?.click(), false)`, in},
		{"history", "/pockets/accessible", drawn + ` && (document.querySelectorAll("[role=tab]")[2].click(), document.querySelector("ol li"))`, in},
		{"widgets", "/worktop", `document.querySelector("main li")`, in},
		{"new widget", "/new-widget", `document.querySelector("textarea")`, in},
		{"worktop", bench, listed, in},
		{"a part", bench, once("nav[aria-label='Parents']", `b.innerText.startsWith(".title")`) + ` && document.querySelectorAll(".cm-content").length > 2`, in},
		{"files", bench, once(".cm-content", `b.innerText.startsWith("Files")`), in},
		{"release", bench, once("[role=dialog]", `b.innerText == "Release…"`) + ` && document.querySelector("[role=dialog]").innerText.includes("No pockets follow") | document.querySelector("[role=dialog]").innerText.includes("The first release")`, in},
		{"no such pocket", "/pockets/nothing-here", `document.querySelector("[role=alert]")`, in},
		{"no such page", "/nowhere", `document.querySelector("[role=alert]")`, in},
		{"widget", demo.Public + "/p/accessible", mounted + `.length == 1`, in},
	} {
		t.Run(screen.name, func(t *testing.T) {
			p := screen.p
			address := screen.address
			if strings.HasPrefix(address, "/") {
				address = demo.Manage + address
			}
			// Contrast depends on the scheme, room on the width: each of both once is enough. The
			// second comes while the page is open, as when somebody turns a tablet at dusk.
			for _, look := range []struct {
				scheme string
				width  int64
			}{{"light", 1280}, {"dark", 390}} {
				require.NoError(t, p.Media(look.scheme, "reduce"))
				require.NoError(t, p.Do(chromedp.EmulateViewport(look.width, 800)))
				if look.width == 1280 {
					require.NoError(t, p.Go(address))
				}
				require.NoError(t, p.Wait(screen.wait))
				require.NoError(t, p.Wait(fmt.Sprintf(`innerWidth == %d && matchMedia("(prefers-color-scheme: %s)").matches`, look.width, look.scheme)))
				if look.width == 1280 {
					eval[any](t, p, string(axe)+";0")
				}
				found := eval[[]string](t, p, `axe.run(document, {iframes: false, resultTypes: ["violations"], runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}).then(r => r.violations.flatMap(v => v.nodes.map(n => v.id + ": " + n.html.slice(0, 160) + " " + (n.any[0]?.message ?? ""))))`)
				assert.Empty(t, found, "%v", look)
				assert.LessOrEqual(t, eval[float64](t, p, `document.documentElement.scrollWidth - innerWidth`), 0.0, "nothing sticks out to the side: %v", look)
			}
		})
	}
}

// Whoever publishes in the console sees it on the host page at once in the same browser,
// though that page had the script in its cache for a minute.
func TestPublisherSeesItAtOnce(t *testing.T) {
	newPocket(t, "publisher", "2099-01-01T00:00[UTC]", map[string]any{"heading": "Open"})
	site := eval[string](t, page(t, "<!doctype html>"+strings.Join(snippet(t, "publisher", host.Script), "")), `location.href`)
	p := signedIn(t)
	require.NoError(t, p.Go(site))
	require.NoError(t, p.Wait(mounted+`.join() == "Open"`))
	require.NoError(t, p.Go(demo.Manage+"/pockets/publisher"))
	require.NoError(t, p.Wait(`document.querySelector("#setting-heading")`))
	require.NoError(t, p.Do(chromedp.SendKeys(chromedp.CSS("#setting-heading"), " tonight")))
	require.NoError(t, p.Wait(saved+` && document.querySelector("header").innerText.includes("Draft changed")`))
	publishInConsole(t, p, 2)
	require.NoError(t, p.Go(site))
	require.NoError(t, p.Wait(mounted+`.join() == "Open tonight"`), "the page shows %v", eval[[]string](t, p, mounted))
}
