package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/host"
)

// Every host page of the demo carries its snippet exactly as the service prints it, and
// shows its widget without a word in the console.
func TestHostPages(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		path, key string
		form      host.Delivery
		text      string
	}{
		{"/kelp-and-kiln", "demo-countdown", host.Script, "The kiln opens again"},
		{"/northbeck", "demo-night", host.Split, "Next open night under the dome"},
		{"/teasel-hall", "demo-choir", host.Script, "Tage"},
		{"/hask-orchard", "demo-orchard", host.Script, "The first pressing is in the shop"},
		{"/saltmarsh", "demo-ferry", host.Frame, ""},
		{"/", "demo-ticker", host.Script, "The kiln is lit on Thursday at six"},
		{"/", "demo-cards", host.Script, "An evening at the wheel"},
		{"/kelp-and-kiln", "demo-reviews", host.Script, "My bowl holds water"},
		{"/kelp-and-kiln", "demo-feed", host.Script, "The sea-green batch is out of the kiln"},
		{"/teasel-hall", "demo-dates", host.Script, "Nächste Termine"},
		{"/saltmarsh", "demo-notices", host.Frame, ""},
		{"/northbeck", "demo-person", host.Split, "Eske Lindqvist-Moor"},
		{"/northbeck", "demo-progress", host.Split, ""},
		{"/hask-orchard", "demo-popup", host.Script, ""},
	} {
		t.Run(c.path+" "+c.key, func(t *testing.T) {
			_, source := send(t, "GET", demo.Sites+c.path, "")
			for _, part := range snippet(t, c.key, c.form) {
				assert.Contains(t, source, part)
			}
			p := tab(t)
			require.NoError(t, p.Go(demo.Sites+c.path))
			if c.form == host.Frame {
				require.NoError(t, p.Wait(`document.querySelector("iframe").getBoundingClientRect().height == 92`))
			} else {
				require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket=`+c.key+`]").shadowRoot?.querySelector(".pocket").innerText.includes("`+c.text+`")`))
			}
			for _, e := range p.Errors() {
				assert.Contains(t, e, "404", "only the browser's own search for an icon")
			}
		})
	}
	res, body := send(t, "GET", demo.Sites+"/nowhere", "")
	assert.Equal(t, 404, res.StatusCode)
	assert.Contains(t, body, "no such page")
}

// With a frozen clock two demos show the same.
func TestFrozenTime(t *testing.T) {
	t.Parallel()
	var payloads []string
	for range 2 {
		d, err := service.StartDemo("", "-frozen-time", "2027-03-01T09:00:00Z")
		require.NoError(t, err)
		_, body := send(t, "GET", d.Public+"/s/demo-countdown.json", "")
		payloads = append(payloads, strings.ReplaceAll(body, d.Public, ""))
		require.NoError(t, d.Stop())
	}
	assert.Equal(t, payloads[0], payloads[1])
	assert.Contains(t, payloads[0], `"built":1803891600000`)
	assert.Contains(t, payloads[0], "12 days, 7 hours, 42 minutes, 0 seconds")
}

// Where no script runs, the pocket's own page still shows what was published, and the
// mount point is a link to it.
func TestWithoutScript(t *testing.T) {
	newPocket(t, "scriptless", "2099-01-01T00:00[UTC]", map[string]any{"heading": "Without script", "accent": "#123456"})
	p := tab(t)
	_, err := chromedp.Call(p.Ctx, emulation.SetScriptExecutionDisabled, emulation.SetScriptExecutionDisabledParams{Value: true})
	require.NoError(t, err)
	require.NoError(t, p.Go(demo.Public+"/p/scriptless"))
	drawn := `[...document.querySelectorAll("div")].find(e => e.shadowRoot)?.shadowRoot`
	require.NoError(t, p.Wait(drawn+`?.querySelector(".heading")?.textContent == "Without script"`))
	assert.Equal(t, "rgb(18, 52, 86)", eval[string](t, p, `getComputedStyle(`+drawn+`.querySelector(".digits")).color`))
	assert.Contains(t, strings.Join(snippet(t, "scriptless", host.Script), ""), `<a href="`+demo.Public+`/p/scriptless">Test scriptless</a>`)
}

// The whole editor by keyboard: from the form's first field to a published change.
func TestEditorByKeyboard(t *testing.T) {
	newPocket(t, "keyboard", "2099-01-01T00:00[UTC]", nil)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/keyboard"))
	require.NoError(t, p.Wait(`document.querySelector("#setting-heading")`))
	// tabTo presses Tab until a condition on the focused element holds, as a person would.
	tabTo := func(condition string) {
		t.Helper()
		for range 60 {
			require.NoError(t, p.Do(chromedp.KeyEvent(kb.Tab)))
			if eval[bool](t, p, `(e => !!(`+condition+`))(document.activeElement)`) {
				return
			}
		}
		t.Fatalf("Tab never reaches %s", condition)
	}
	tabTo(`e.id == "setting-heading"`)
	require.NoError(t, p.Do(chromedp.KeyEvent("By keys")))
	tabTo(`e.getAttribute("role") == "radio" && e.closest("[aria-labelledby=setting-ending-label]")`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.ArrowRight)))
	// What it looks like stands in another part of the form: "/" goes to its top from anywhere,
	// at once, so that what is typed right after it is not lost.
	eval[any](t, p, `[...document.querySelectorAll("[role=tab]")].find(e => e.innerText == "History").click()`)
	require.NoError(t, p.Wait(`document.querySelector("#find-setting").offsetParent == null`))
	assert.Equal(t, "find-setting", eval[string](t, p, `document.body.dispatchEvent(new KeyboardEvent("keydown", {key: "/", bubbles: true})), document.activeElement.id`))
	require.NoError(t, p.Do(chromedp.KeyEvent("color"))) // by what it is, whatever part of the form it stands in
	require.NoError(t, p.Wait(`document.querySelector("#setting-accent") && !document.querySelector("#setting-heading")`))
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Escape)))
	require.NoError(t, p.Do(chromedp.KeyEvent("decimals")))
	require.NoError(t, p.Wait(`document.querySelector("form").innerText.includes("no effect at the moment: Decimals")`))
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Escape)))
	require.NoError(t, p.Wait(`document.querySelector("#setting-heading")`))
	tabTo(`e.innerText == "Look" && e.closest("[aria-label='Parts of the settings']")`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	tabTo(`e.type == "range"`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.ArrowRight)))
	tabTo(`e.id == "setting-labels"`)
	require.NoError(t, p.Do(chromedp.KeyEvent(" ")))
	require.NoError(t, p.Wait(saved))
	d, err := api.Draft(t.Context(), "keyboard")
	require.NoError(t, err)
	for _, has := range []string{`By keys`, `"ending":"message"`, `"radius":15`, `"labels":false`} {
		assert.Contains(t, string(d.Settings), has)
	}
	tabTo(`e.innerText == "Publish"`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Published as number 2"))`))
}
