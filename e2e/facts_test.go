package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/install"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/wire"
)

// A greeting with a name can be seen before it is installed, and the field and the steps say how
// a page states the name.
func TestGreetingIsExplained(t *testing.T) {
	t.Parallel()
	filled(t, "greets", "section", "boathouse", "en", map[string]any{"title": "Evenings"})
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/greets"))
	types(t, p, "#setting-greeting", "Good evening, {firstName}")
	field := `document.querySelector("[data-path=greeting]").innerText`
	require.NoError(t, p.Wait(field+`.includes('<body data-fact-first-name="Isa" data-fact-signed-in="true">')`), eval[string](t, p, field))
	types(t, p, "#setting-greeting-firstName", "Runa")
	inPreview(t, p, inShadow+`(".greeting").innerText == "Good evening, Runa"`)
	require.NoError(t, p.Wait(`document.querySelector("[aria-label='Preview cases']").innerText.includes("“Runa”")`), "what the page states is shown as unusual")
	eval[any](t, p, `document.querySelector("#setting-greeting-firstName").select(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent("\b")))
	inPreview(t, p, inShadow+`(".greeting").hidden`)

	guided, err := api.Guide(t.Context(), "greets", install.Install{Host: "plain-page"})
	require.NoError(t, err)
	require.NotNil(t, guided.Guide.Facts)
	assert.Equal(t, `<body data-fact-first-name="Isa" data-fact-signed-in="true">`, guided.Guide.Facts.Example)
	eval[any](t, p, `[...document.querySelectorAll("[role=tab]")].find(b => b.innerText == "Install").click(); 0`)
	require.NoError(t, p.Wait(`(b => b && (b.click(), true))([...document.querySelectorAll("[role=tabpanel] li button")].find(b => b.innerText.startsWith("Plain HTML")))`), eval[string](t, p, `document.querySelector("[role=tabpanel]:not([hidden])").innerText`))
	require.NoError(t, p.Wait(`document.querySelector("#facts-heading")?.parentElement.innerText.includes("data-fact-first-name")`))

	// Only what the widget asks for, and no novels.
	_, err = api.Preview(t.Context(), "greets", wire.Preview{Conditions: pocket.Conditions{Facts: map[string]string{"lastName": "x"}}})
	require.ErrorContains(t, err, "no fact")
}
