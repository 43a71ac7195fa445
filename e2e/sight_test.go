package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/wire"
)

// edit opens a pocket in the console and waits until its preview is drawn.
func edit(t *testing.T, key string) *browser.Page {
	t.Helper()
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/"+key))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	return p
}

// press clicks a button by its words.
func press(t *testing.T, p *browser.Page, words string) {
	t.Helper()
	require.NoError(t, p.Wait(fmt.Sprintf(`(b => b && !b.disabled && (b.click(), true))([...document.querySelectorAll("button, summary")].find(b => b.getClientRects().length && b.innerText.trim().startsWith(%q)))`, words)), "there is no button %q", words)
}

// see shows a pocket in a preview case that is kept with it.
func see(t *testing.T, p *browser.Page, key, name string, in pocket.Conditions) {
	t.Helper()
	_, err := api.SavePreviewCase(t.Context(), key, name, in)
	require.NoError(t, err)
	require.NoError(t, p.Do(chromedp.Reload()))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	press(t, p, name)
}

// A countdown's last ten seconds are seen now, running or standing still, in another zone; and
// a visitor's own clock as somebody finds it who has been here before.
func TestAnyMoment(t *testing.T) {
	t.Parallel()
	newPocket(t, "any-moment", "2098-01-01T12:00[Atlantic/Faroe]", map[string]any{"heading": "Soon", "ending": "message", "endMessage": "It is over"})
	p := edit(t, "any-moment")
	digits := `[...document.getElementById("stage").shadowRoot.querySelectorAll(".digits")].map(d => d.textContent).join(":")`
	see(t, p, "any-moment", "Ten seconds", pocket.Conditions{Moment: "2098-01-01T12:59:50[Europe/Berlin]", Frozen: true})
	inPreview(t, p, digits+` == "0:00:00:10"`)
	inPreview(t, p, `new Date().getHours() == 12 && new Intl.DateTimeFormat().resolvedOptions().timeZone == "Europe/Berlin" && new Date(2098, 0, 1, 12, 59, 50).getTime() == Date.now() && new Date(2098, 6, 1).toISOString() == "2098-06-30T22:00:00.000Z"`)
	see(t, p, "any-moment", "Three seconds", pocket.Conditions{Moment: "2098-01-01T11:59:57[Atlantic/Faroe]"})
	inPreview(t, p, inShadow+`(".countdown")?.dataset.state == "over"`)

	newPocket(t, "own-clock", "2099-01-01T00:00[UTC]", map[string]any{"clock": "visitor", "lastsDays": 0, "lastsHours": 1, "lastsMinutes": 0})
	p = edit(t, "own-clock")
	see(t, p, "own-clock", "Back again", pocket.Conditions{Visitor: "returning", Moment: "2098-01-01T12:00:00[UTC]", Frozen: true})
	inPreview(t, p, digits+` == "0:00:50:00"`)
}

// A pop-up is seen open for setting it, waiting as a new visitor finds it, and not at all as
// somebody does who has closed it; in a page with a bar, and without motion.
func TestVisitorsAndPages(t *testing.T) {
	t.Parallel()
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "who-looks", Customer: "kelp-and-kiln", Widget: "popup", Starter: "harvest"})
	require.NoError(t, err)
	set(t, "who-looks", map[string]any{"title": "Tide", "opens": "after", "after": "PT2S"})
	p := edit(t, "who-looks")
	open := inShadow + `(".popup")?.open`
	inPreview(t, p, open)
	see(t, p, "who-looks", "Newcomer", pocket.Conditions{Visitor: "new", Page: "bar", Still: true})
	inPreview(t, p, `!`+open+` && document.querySelector(".bar").getBoundingClientRect().height == 64 && matchMedia("(prefers-reduced-motion: reduce)").matches`)
	inPreview(t, p, open) // when it is time
	see(t, p, "who-looks", "Second visit", pocket.Conditions{Visitor: "returning"})
	inPreview(t, p, inShadow+`(".popup") && !`+open+` && (window.came ??= performance.now()) < performance.now() - 2500`)

	// All of them side by side, each in a frame of its own.
	press(t, p, "Side by side")
	require.NoError(t, p.Wait(`document.querySelectorAll("section[aria-label=Preview] li iframe").length == 3`))
	assert.Empty(t, axe(t, p))
}

// What is pointed at opens the setting that made it, the very item of a list; what has the
// keyboard is outlined.
func TestPointToEdit(t *testing.T) {
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "pointed-at", Customer: plain, Widget: "reviews", Starter: "shelf"})
	require.NoError(t, err)
	text := func(id, words string) map[string]any {
		return map[string]any{"id": id, "kind": "review", "title": words, "text": "Well", "author": map[string]any{"name": words}}
	}
	set(t, "pointed-at", map[string]any{"title": "Voices", "reviews": []any{text("a", "First"), text("b", "Second"), text("c", "Third")}})
	p := edit(t, "pointed-at")
	frame := frameOf(t, p, "/preview")
	at := func(find string) [2]float64 {
		box, err := chromedp.Run(frame, chromedp.Evaluate[[]float64](`(b => [b.left + b.width / 2, b.top + b.height / 2])(document.getElementById("stage").shadowRoot`+find+`.getBoundingClientRect())`))
		require.NoError(t, err)
		origin := eval[[]float64](t, p, `(b => [b.left, b.top])(document.querySelector("iframe").getBoundingClientRect())`)
		return [2]float64{origin[0] + box[0], origin[1] + box[1]}
	}
	require.NoError(t, p.Do(chromedp.KeyEvent(kb.F2)))
	require.NoError(t, p.Wait(`document.querySelector("button[aria-pressed=true]")?.innerText.trim() == "Select"`))
	second := at(`.querySelectorAll(".review")[1].querySelector(".title")`)
	require.NoError(t, p.Do(chromedp.MouseEvent(chromedp.MouseMoved, second[0], second[1])))
	require.NoError(t, p.Wait(`document.querySelector("section[aria-label=Preview] [role=status]")?.innerText.startsWith("Reviews 2")`))
	require.NoError(t, p.Do(chromedp.MouseClickXY(second[0], second[1])))
	require.NoError(t, p.Wait(`document.activeElement?.closest("[data-path='reviews/1']") && document.querySelector("#setting-reviews-1-title")?.value == "Second"`))
	inPreview(t, p, `document.querySelectorAll("[popover]:popover-open").length == 1`)
	title := at(`.querySelector(".heading")`)
	require.NoError(t, p.Do(chromedp.MouseClickXY(title[0], title[1])))
	require.NoError(t, p.Wait(`document.activeElement?.id == "setting-title"`))
	require.NoError(t, p.Wait(`document.querySelector("[aria-label='Settings of the selected part']").innerText.includes("Title")`))
	// A look setting that has the keyboard outlines what it styles.
	formPart(t, p, "Look")
	require.NoError(t, p.Do(chromedp.Focus(chromedp.CSS("#setting-surface"))))
	inPreview(t, p, `document.querySelectorAll("[popover]:popover-open").length > 0`)
}
