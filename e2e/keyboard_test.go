package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/wire"
)

// keys presses the key of each character of a text.
func keys(t *testing.T, p *browser.Page, text string) {
	t.Helper()
	for _, r := range text {
		require.NoError(t, p.Do(chromedp.KeyEvent(string(r))))
	}
}

// types presses a key for each character, as a person does, and waits until the field has them.
func types(t *testing.T, p *browser.Page, field, text string) {
	t.Helper()
	require.NoError(t, p.Wait(`document.querySelector("`+field+`")`))
	eval[any](t, p, `(e => { e.focus(); e.select?.() })(document.querySelector("`+field+`")); 0`)
	keys(t, p, text)
	require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector("%s").value == %q`, field, text)), "it holds %q, and %s has the keyboard", eval[string](t, p, `document.querySelector("`+field+`").value`), eval[string](t, p, `document.activeElement.outerHTML.slice(0, 80)`))
}

// A pop-up that opens in the preview leaves the keyboard to the form, in each of its layouts.
func TestPreviewLeavesTheKeyboard(t *testing.T) {
	for _, s := range read()["popup"].Starters {
		t.Run(s.Name, func(t *testing.T) {
			t.Parallel()
			key := "types-" + s.Name
			_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: key, Customer: plain, Widget: "popup", Starter: s.Name, Title: key})
			require.NoError(t, err)
			p := signedIn(t)
			require.NoError(t, p.Go(demo.Manage+"/pockets/"+key))
			require.NoError(t, p.Wait(`document.querySelector("iframe").dataset.drawn > 0`))
			assert.NotEqual(t, "IFRAME", eval[string](t, p, `document.activeElement.tagName`), "nor does it take it when the editor opens")
			// Each keystroke is drawn before the next.
			for i, r := range "Ten percent off" {
				if i == 0 {
					types(t, p, "#setting-title", "T")
					continue
				}
				drawn := eval[string](t, p, `document.querySelector("iframe").dataset.drawn`)
				require.NoError(t, p.Do(chromedp.KeyEvent(string(r))))
				require.NoError(t, p.Wait(`document.querySelector("iframe").dataset.drawn != "`+drawn+`"`))
			}
			assert.Equal(t, "Ten percent off", eval[string](t, p, `document.querySelector("#setting-title").value`))
			inPreview(t, p, inShadow+`(".title").textContent == "Ten percent off"`)
		})
	}
}

// Each dialog takes the keyboard, keeps it, and gives it back.
func TestDialogsTakeTheKeyboard(t *testing.T) {
	t.Parallel()
	newPocket(t, "dialogs", "2098-01-01T00:00[UTC]", map[string]any{"heading": "Dialogs"})
	set(t, "dialogs", map[string]any{"heading": "Dialogs and more"})
	_, err := api.StartWidgetDraft(t.Context(), "dialogs-tide", wire.NewWidgetDraft{Files: tide("dialogs-tide")})
	require.NoError(t, err)
	part := `[...document.querySelectorAll("main li button")].find(b => b.innerText.startsWith(".title"))`
	for _, c := range []struct{ path, ready, opener, has string }{
		{"/worktop/dialogs-tide", part, `document.querySelector("button[aria-label^=rename]") || (` + part + `?.click(), null)`, `INPUT`},
		{"/gallery", galleryDrawn + ` && document.querySelector("#for option:nth-child(3)")`, `document.querySelector("li button")`, `SELECT`},
		{"/customers", `document.querySelector("main li")`, `[...document.querySelectorAll("button")].find(b => b.innerText.startsWith("New customer"))`, `INPUT`},
		{"/pockets/dialogs", `document.querySelector("iframe")?.dataset.drawn > 0`, `[...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Change starter"))`, `INPUT`},
		{"/", `document.querySelector("tbody tr")`, `[...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Import"))`, `INPUT`},
		{"/hosts", `document.querySelector("main li")`, `[...document.querySelectorAll("main button")].find(b => b.innerText.startsWith("New") || b.innerText.startsWith("Add"))`, `TEXTAREA`},
	} {
		t.Run(strings.ReplaceAll(c.path+" "+c.has, "/", "-"), func(t *testing.T) {
			t.Parallel()
			p := signedIn(t)
			require.NoError(t, p.Go(demo.Manage+c.path))
			require.NoError(t, p.Wait(c.ready))
			require.NoError(t, p.Wait(`(window.opener_ = `+c.opener+`)`))
			eval[any](t, p, `opener_.focus(); 0`)
			require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
			require.NoError(t, p.Wait(`document.querySelector("[role=dialog]")`))
			has := `(at => document.querySelector("[role=dialog]").contains(at) && (at.tagName == "BUTTON" ? at.innerText : at.tagName))(document.activeElement)`
			require.NoError(t, p.Wait(has+` == "`+c.has+`"`), "it is at %s", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 120)`))
			for range 5 {
				require.NoError(t, p.Do(chromedp.KeyEvent(kb.Tab)))
			}
			assert.True(t, eval[bool](t, p, `document.querySelector("[role=dialog]").contains(document.activeElement)`), "it stays in it")
			require.NoError(t, p.Do(chromedp.KeyEvent(kb.Escape)))
			require.NoError(t, p.Wait(`!document.querySelector("[role=dialog]") && document.activeElement == opener_`), "it is at %s", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 120)`))
		})
	}
}

// What the keyboard was on is gone; it goes on from the heading, not from the top of the page.
func TestKeyboardGoesOn(t *testing.T) {
	t.Parallel()
	heading := `document.activeElement.tagName == "H1" && document.activeElement.innerText`
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/gallery"))
	require.NoError(t, p.Wait(galleryDrawn))
	eval[any](t, p, `document.querySelector("[data-widget=countdown] li button").focus(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(`document.activeElement.id == "for-customer" && document.activeElement.options.length > 3`))
	require.NoError(t, p.Do(chromedp.KeyEvent("Hask"))) // a list chooses what is typed
	pressInDialog(t, p, "Use this starter")
	require.NoError(t, p.Wait(`location.pathname.startsWith("/pockets/") && document.activeElement.id == "setting-target"`), "a new pocket opens on the field that it needs first: %s", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 120)`))

	newPocket(t, "goes-on", "2098-01-01T00:00[UTC]", map[string]any{"heading": "Before"})
	set(t, "goes-on", map[string]any{"heading": "After"})
	require.NoError(t, p.Go(demo.Manage+"/pockets/goes-on"))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	publishInConsole(t, p, 2)
	require.NoError(t, p.Wait(heading+` == "Test goes-on"`), "after publishing: %s", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 120)`))
	eval[any](t, p, `[...document.querySelectorAll("[role=tab]")].find(b => b.innerText == "Install").click(); 0`)
	choice := `[...document.querySelectorAll("section[aria-labelledby=host-heading] li button")].find(b => b.innerText.startsWith("Rich text"))`
	require.NoError(t, p.Wait(choice))
	eval[any](t, p, choice+`.focus(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Enter)))
	require.NoError(t, p.Wait(`document.activeElement.id == "host-heading"`), "after choosing a host: %s", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 120)`))
}

// A slider shows its value, also above the 100 that a browser begins with.
func TestSliderShowsItsValue(t *testing.T) {
	t.Parallel()
	p := signedIn(t)
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "slider", Customer: plain, Widget: "popup", Starter: "harvest", Title: "Slider"})
	require.NoError(t, err)
	require.NoError(t, p.Go(demo.Manage+"/pockets/slider"))
	require.NoError(t, p.Wait(`document.querySelector("form [role=radio]")`))
	formPart(t, p, "Look")
	require.NoError(t, p.Wait(`[...document.querySelectorAll("input[type=range]")].some(e => e.max > 100)`))
	assert.Empty(t, eval[[]string](t, p, `[...document.querySelectorAll("input[type=range]")].filter(e => e.value != e.closest("div").querySelector("input[type=number]").value).map(e => e.outerHTML + e.value)`))
}
