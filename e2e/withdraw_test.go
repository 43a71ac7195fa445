package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// Withdrawing a release shows first what it affects; without any release pockets stay
// manageable.
func TestWithdrawInConsole(t *testing.T) {
	ctx := t.Context()
	files := widget.Files{}
	for _, f := range tide("tide-gone") {
		files[f.Path] = []byte(f.Text)
	}
	_, err := api.Release(ctx, "tide-gone", files)
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "goes-out", Customer: plain, Widget: "tide-gone", Title: "Goes out"})
	require.NoError(t, err)
	publish(t, "goes-out")

	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/worktop"))
	row := `[...document.querySelectorAll("main li")].find(li => li.innerText.includes("tide-gone"))`
	press := func(within, words string) {
		t.Helper()
		require.NoError(t, p.Wait(`(b => b && !b.disabled && (b.click(), true))([...(`+within+`).querySelectorAll("button")].find(b => b.innerText.startsWith("`+words+`")))`), words)
	}
	dialog := `document.querySelector("[role=dialog]")`
	press(row, "Releases…")
	press(dialog, "Withdraw…")
	require.NoError(t, p.Wait(dialog+`.innerText.includes("This is the last release in use.")`))
	assert.Contains(t, eval[string](t, p, dialog+`.innerText`), "Goes out", "what is affected is named")
	assert.NotContains(t, eval[string](t, p, dialog+`.innerText`), "Withdrawn", "nothing has happened yet")
	press(dialog, "Withdraw release 1")
	require.NoError(t, p.Wait(dialog+`.innerText.includes("Withdrawn")`))
	press(dialog, "Done")
	require.NoError(t, p.Wait(`!`+dialog+` && `+row+`?.innerText.includes("withdrawn")`))

	// The list marks its pockets, and they can be opened, changed and unpublished.
	require.NoError(t, p.Go(demo.Manage+"/"))
	types(t, p, "main input[type=search]", "Goes out")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 1 && document.querySelector("tbody tr").innerText.includes("No release")`))
	require.NoError(t, p.Go(demo.Manage+"/pockets/goes-out"))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	types(t, p, "#setting-heading", "Still changed")
	require.NoError(t, p.Wait(saved))
	assert.True(t, eval[bool](t, p, `[...document.querySelectorAll("header button")].find(b => b.innerText == "Publish").disabled`))
	_, err = api.Publish(ctx, "goes-out", wire.Publish{})
	require.ErrorContains(t, err, "All releases of tide-gone have been withdrawn")
	require.NoError(t, p.Go(demo.Manage+"/pockets/goes-out/history"))
	press(`document`, "Unpublish…")
	pressInDialog(t, p, "Unpublish")
	require.NoError(t, p.Wait(`document.querySelector("main").parentElement.innerText.includes("Unpublished: visitors get nothing")`))

	// And back.
	require.NoError(t, p.Go(demo.Manage+"/worktop"))
	require.NoError(t, p.Wait(row))
	press(row, "Releases…")
	press(dialog, "Use it again")
	press(dialog, "Done")
	_, err = api.Publish(ctx, "goes-out", wire.Publish{})
	require.NoError(t, err)
}
