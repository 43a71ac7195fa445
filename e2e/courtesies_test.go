package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/wire"
)

// What is scheduled is said in the header, and a moment that has passed cannot be chosen.
func TestScheduleInConsole(t *testing.T) {
	t.Parallel()
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "scheduled", Customer: plain, Widget: "countdown", Starter: "harbour", Title: "Scheduled"})
	require.NoError(t, err)
	set(t, "scheduled", map[string]any{"target": "2099-01-01T00:00[UTC]"})
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/scheduled"))
	formPart(t, p, "Publish")
	press(t, p, "At a set time")
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[data-part=publish] label")].some(l => l.innerText == "Schedule for later" && (l.click(), true))`))
	button := `[...document.querySelectorAll("[data-part=publish] button")].find(b => b.innerText == "Schedule")`
	require.NoError(t, p.Wait(button+`.disabled && document.querySelector("#publish-at").getAttribute("aria-label") == "Publish at"`))
	fill(t, p, "#publish-at", "2020-01-02T18:30")
	require.NoError(t, p.Wait(button+`.disabled && document.querySelector("#publish-at-wrong").innerText.includes("is in the past")`))
	fill(t, p, "#publish-at", "2098-01-02T18:30")
	require.NoError(t, p.Wait(`!`+button+`.disabled && document.querySelector("#publish-at-wrong").innerText == ""`))
	eval[any](t, p, button+`.click(); 0`)
	require.NoError(t, p.Wait(`document.querySelector("header").innerText.includes("Scheduled for 2 Jan") && document.body.innerText.includes("Scheduled. The draft will be published as it is now")`))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("header a")].some(a => a.innerText.startsWith("Scheduled for") && a.title.startsWith("2 January 2098") && (a.click(), true))`))
	require.NoError(t, p.Wait(`location.pathname.endsWith("/history") && [...document.querySelectorAll("button")].some(b => b.innerText == "Cancel" && (b.click(), true))`))
	require.NoError(t, p.Wait(`!document.querySelector("header").innerText.includes("Scheduled for")`))
}

// Names that are only emoji get an id; nobody is asked about ids who has not given one.
func TestNamesWithoutLetters(t *testing.T) {
	t.Parallel()
	for range 2 {
		c, err := api.MakeCustomer(t.Context(), wire.NewCustomer{Name: "🐙🌊"})
		require.NoError(t, err)
		assert.Regexp(t, regexp.MustCompile(`^customer-[a-z2-7]{8}$`), c.ID)
		assert.Equal(t, "🐙🌊", c.Name)
	}
	_, err := api.MakeCustomer(t.Context(), wire.NewCustomer{ID: "🐙", Name: "Octopus"})
	assert.ErrorContains(t, err, "is not a valid customer ID")
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/new-widget"))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("button, label")].some(b => b.innerText == "Blank" && (b.click(), true)) && document.querySelector("input[maxlength='80']")`))
	types(t, p, "input[maxlength='80']", "🐙🌊")
	require.NoError(t, p.Wait(`/^widget-[a-z0-9]+$/.test(document.querySelector("input.font-mono").value)`))
}

// A file that is no image is answered with the types that are.
func TestWrongImageFile(t *testing.T) {
	t.Parallel()
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "wrong-image", Customer: plain, Widget: "person", Title: "Wrong image"})
	require.NoError(t, err)
	dir := t.TempDir()
	film := filepath.Join(dir, "film.png")
	require.NoError(t, os.WriteFile(film, []byte("\x00\x00\x00\x20ftypisom and more"), 0o600))
	sound := filepath.Join(dir, "bell.wav")
	require.NoError(t, os.WriteFile(sound, []byte("RIFF\x2c\x00\x00\x00WAVEfmt \x10\x00\x00\x00\x01\x00\x01\x00\x40\x1f\x00\x00\x40\x1f\x00\x00\x01\x00\x08\x00data\x08\x00\x00\x00\x80\x80\x80\x80\x80\x80\x80\x80"), 0o600))
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/wrong-image"))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("button")].some(b => /^Choose/.test(b.innerText) && (b.click(), true))`))
	for _, c := range []struct{ file, says string }{
		{film, "film.png is not an image that can be used here. Accepted: JPEG, PNG, GIF, WebP and SVG."},
		{sound, "bell.wav is a sound. Here you need an image: JPEG, PNG, GIF, WebP and SVG files are accepted."},
	} {
		require.NoError(t, p.Wait(`document.querySelector("[role=dialog] input[type=file]")`))
		require.NoError(t, p.Do(chromedp.SetUploadFiles("[role=dialog] input[type=file]", []string{c.file})))
		require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector("[role=dialog] [role=alert]")?.innerText.startsWith(%q)`, c.says)), eval[string](t, p, `document.querySelector("[role=dialog]").innerText`))
	}
}

// Whoever has no account finds the way to one at the sign-in; a widget has one name in the list;
// and a name that stands in an invitation is there to begin with.
func TestOneNameEverywhere(t *testing.T) {
	t.Parallel()
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "one-name", Customer: plain, Widget: "reviews", Title: "One name"})
	require.NoError(t, err)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/"))
	types(t, p, "input[type=search]", "one-name")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 1 && document.querySelector("tbody tr").innerText.includes("Reviews")`))
	assert.Equal(t, "Reviews", eval[string](t, p, `document.querySelector("select[aria-label=Widget] option[value=reviews]").innerText`))
	invitation, err := api.Invite(t.Context(), plain, wire.NewInvitation{Role: "customer-editor", Name: "Míra  Holm"})
	require.NoError(t, err)
	guest := tab(t)
	require.NoError(t, guest.Go(invitation.Link))
	require.NoError(t, guest.Wait(`document.querySelector("#name")?.value == "mira.holm"`))
	require.NoError(t, guest.Go(demo.Manage+"/sign-in"))
	require.NoError(t, guest.Wait(`[...document.querySelectorAll("main a")].some(a => a.innerText == "Choose a widget in the gallery" && (a.click(), true))`))
	require.NoError(t, guest.Wait(`location.pathname == "/gallery"`))
}
