package e2e

import (
	"encoding/base64"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/folder"
	"glasspocket/internal/wire"
)

// Somebody pastes a whole page, sees what needs a hand, keeps an image where it is, puts the
// widget on the worktop, and it works there as it did in its page.
func TestBringAPage(t *testing.T) {
	t.Parallel()
	page, err := os.ReadFile(filepath.Join(service.Root(), "internal", "intake", "testdata", "board.html"))
	require.NoError(t, err)
	p := signedIn(t)
	b := &bench{p, t, "tide-board-of-hask"}
	require.NoError(t, p.Go(demo.Manage+"/worktop"))
	b.press("New widget")
	b.wait(`document.querySelector("textarea")`)
	eval[any](t, p, `document.querySelector("textarea").focus(); 0`)
	require.NoError(t, p.Type(string(page)))
	b.press("Import")
	b.wait(`document.querySelector("main").innerText.includes("“Tide board of Hask” is imported")`)
	for _, want := range []string{"You can release it now.", "line 38 of the page", "img/pier.jpg", "Files from other servers"} {
		assert.Contains(t, b.text("main"), want)
	}
	eval[any](t, p, `[...document.querySelectorAll("main li")].find(l => l.innerText.startsWith("https://pictures.example/boat.jpg") && l.innerText.includes("Load it from there")).querySelector("input").click(); 0`)
	b.wait(`[...document.querySelectorAll("main li")].some(l => l.innerText.includes("loaded from its server"))`)
	assert.Equal(t, "tide-board-of-hask", eval[string](t, p, `document.querySelector("input.font-mono").value`))
	b.press("Make widget")
	b.sees(inTide + `("#count")?.textContent == "0"`)
	eval[any](t, p, `document.querySelector("input[type=checkbox]").click(); 0`) // clicks are the widget's own
	b.sees(`(` + inTide + `(".row.high").click(), Number(` + inTide + `("#count").textContent) > 0)`)
	b.sees(`(document.dispatchEvent(new KeyboardEvent("keydown", {key: "m"})), Number(` + inTide + `("#count").textContent) > 1)`)
	assert.Contains(t, b.file("widget.json"), `"remotes": ["https://pictures.example/boat.jpg"]`)
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("img/pier.jpg") || document.querySelector("section[aria-label=Messages]").innerText.includes("This image has no text alternative")`)

	// A blank one is sound from its first moment.
	require.NoError(t, p.Go(demo.Manage+"/new-widget"))
	b.press("Blank")
	b.wait(`document.querySelector("main input.field")`)
	fill(t, p, "main input.field", "Harbour Bell")
	b.press("Make widget")
	b.sees(inTide + `(".heading")?.textContent == "Harbour Bell"`)
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("There are no faults. You can release this draft.")`)
	// And can be had as a zip file, with what was typed last.
	b = &bench{p, t, "harbour-bell"}
	b.press("Files")
	b.press("settings.json")
	b.choose("Harbour Bell")
	eval[any](t, p, `document.execCommand("insertText", false, "Harbour Gong"); 0`)
	eval[any](t, p, `{ URL.createObjectURL = (blob) => ((window.blob = blob), "#"); HTMLAnchorElement.prototype.click = function () { window.got = blob.arrayBuffer().then(b => this.download + " " + btoa(String.fromCharCode(...new Uint8Array(b)))) } } 0`)
	b.press("Download as ZIP")
	b.wait(`window.got`)
	name, text, _ := strings.Cut(eval[string](t, p, `window.got`), " ")
	assert.Equal(t, "harbour-bell.zip", name)
	packed, err := base64.StdEncoding.DecodeString(text)
	require.NoError(t, err)
	files, faults, err := folder.Unpack(packed)
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Contains(t, string(files["settings.json"]), "Harbour Gong")

	drafts, err := api.WidgetDrafts(t.Context())
	require.NoError(t, err)
	var names []string
	for _, d := range drafts {
		names = append(names, d.Widget)
	}
	assert.Contains(t, names, "harbour-bell")
	_, err = api.StartWidgetDraft(t.Context(), "harbour-bell", wire.NewWidgetDraft{Blank: true})
	assert.Equal(t, 409, problem(t, err).Status)
}
