package e2e

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/wire"
)

// Whoever may only look finds fields that cannot be changed, and a reason.
func TestViewerOnlyLooks(t *testing.T) {
	t.Parallel()
	filled(t, "viewed", "section", "boathouse", "en", map[string]any{"title": "Viewed", "text": "<p>Rich</p>"})
	_, err := api.MakeUser(t.Context(), wire.NewUser{Name: "looks@hask.example", Password: "six red sails at noon", Role: "customer-viewer", Customer: plain})
	require.NoError(t, err)
	p := tab(t)
	require.NoError(t, p.Go(demo.Manage+"/healthz"))
	require.Equal(t, 201, eval[int](t, p, `fetch("/api/v1/session", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({name: "looks@hask.example", password: "six red sails at noon"})}).then(r => r.status)`))
	require.NoError(t, p.Go(demo.Manage+"/pockets/viewed"))
	require.NoError(t, p.Wait(`document.querySelector("#setting-title")`))
	assert.Contains(t, eval[string](t, p, `document.body.innerText`), "You can view this pocket but not change it.")
	eval[any](t, p, `document.querySelector("#setting-title").focus(); document.querySelector("#setting-title").click(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent("x")))
	assert.Equal(t, "Viewed", eval[string](t, p, `document.querySelector("#setting-title").value`))
	assert.Empty(t, eval[[]string](t, p, `[...document.querySelectorAll("form [data-path] :is(input, textarea, select, button)")].filter(e => !e.matches(":disabled")).map(e => e.outerHTML.slice(0, 90))`))
	assert.Empty(t, eval[[]string](t, p, `[...document.querySelectorAll("form [contenteditable=true]")].map(e => e.id)`))
	assert.Equal(t, "", eval[string](t, p, `[...document.querySelectorAll("header button")].map(b => b.innerText).filter(t => t == "Publish").join()`))
	assert.True(t, eval[bool](t, p, `!document.querySelector("[data-part=publish]") && !!document.querySelector("[data-part=looks]") && !!document.querySelector("[data-part=stands]")`), "there is nothing to publish")
}

// Set, Install and History are places of their own: Back, reload and links lead to them.
func TestStepsHaveAddresses(t *testing.T) {
	t.Parallel()
	newPocket(t, "steps", "2098-01-01T00:00[UTC]", map[string]any{"heading": "Steps"})
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/steps"))
	open := func(step string) {
		t.Helper()
		require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=tab]")].find(b => b.innerText == "`+step+`")?.ariaSelected == "true"`), eval[string](t, p, `location.pathname`))
	}
	for _, step := range []string{"Install", "History"} {
		require.NoError(t, p.Wait(`document.querySelectorAll("[role=tab]").length == 3`))
		eval[any](t, p, `[...document.querySelectorAll("[role=tab]")].find(b => b.innerText == "`+step+`").click(); 0`)
		open(step)
		assert.Equal(t, "/pockets/steps/"+strings.ToLower(step), eval[string](t, p, `location.pathname`))
	}
	require.NoError(t, p.Do(chromedp.Reload()))
	open("History")
	eval[any](t, p, `history.back(); 0`)
	open("Install")
	eval[any](t, p, `history.back(); 0`)
	open("Edit")
	require.NoError(t, p.Wait(`document.querySelector("#setting-heading").value == "Steps"`))
}

// What is done to many names them first, and nobody is chosen before somebody chooses.
func TestManyAreNamed(t *testing.T) {
	t.Parallel()
	for _, key := range []string{"many-one", "many-two"} {
		_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: key, Customer: plain, Widget: "countdown", Starter: "harbour", Title: "Among " + key})
		require.NoError(t, err)
	}
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/"))
	types(t, p, "main input[type=search]", "Among many")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 2`))
	pick := func() {
		eval[any](t, p, `document.querySelectorAll("tbody input[type=checkbox]").forEach(e => e.checked || e.click()); 0`)
		require.NoError(t, p.Wait(`document.querySelector("[role=group][aria-label^='Actions']")?.innerText.includes("2 selected")`))
	}
	press := func(words string) {
		require.NoError(t, p.Wait(`(b => b && (b.click(), true))([...document.querySelectorAll("main button")].find(b => b.innerText == "`+words+`"))`))
	}
	pick()
	press("Delete…")
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog]")`))
	says := eval[string](t, p, `document.querySelector("[role=dialog]").innerText`)
	assert.Contains(t, says, "Among many-one")
	assert.Contains(t, says, "Among many-two")
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.Escape)))

	// An import leaves nothing picked that was picked for something else.
	press("Import…")
	require.NoError(t, p.Wait(`document.querySelector("#to-customer option")`))
	assert.Equal(t, "", eval[string](t, p, `document.querySelector("#to-customer").value`))
	assert.True(t, eval[bool](t, p, `document.querySelector("[role=dialog] button[type=submit]").disabled`))
	exported, err := api.ExportPocket(t.Context(), "many-one", false)
	require.NoError(t, err)
	text, err := json.Marshal(exported)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "one.pocket.json")
	require.NoError(t, os.WriteFile(file, text, 0o644))
	require.NoError(t, p.Do(chromedp.SetUploadFiles("#import-file", []string{file})))
	eval[any](t, p, `document.querySelector("#to-customer").focus(); 0`)
	require.NoError(t, p.Do(chromedp.KeyEvent("Hask"))) // a list chooses what is typed
	require.NoError(t, p.Wait(`document.querySelector("#to-customer").value == "`+plain+`"`))
	pressInDialog(t, p, "Import")
	require.NoError(t, p.Wait(`!document.querySelector("[role=group][aria-label^='Actions']")`))
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 3`))
}
