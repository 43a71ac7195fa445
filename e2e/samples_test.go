package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// Sample content is marked where it is shown, and is not in what publishing shows and measures.
func TestSampleContent(t *testing.T) {
	t.Parallel()
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "sampled", Customer: plain, Widget: "reviews", Starter: "shelf", Title: "Sampled"})
	require.NoError(t, err)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/sampled"))
	inPreview(t, p, inShadow+`(".review")`)
	mark := `[...document.querySelectorAll("section[aria-label=Preview] [role=status]")].map(e => e.innerText).join()`
	assert.Equal(t, "Sample content, which visitors do not get: Title, Reviews.", eval[string](t, p, mark))
	assert.Contains(t, eval[string](t, p, `document.querySelector("[data-path=reviews]").innerText`), "The preview shows sample content")

	// A title of its own is not one of them any more, and neither is one that was emptied.
	types(t, p, "#setting-title", "Own")
	require.NoError(t, p.Wait(mark+` == "Sample content, which visitors do not get: Reviews."`))
	eval[any](t, p, `document.querySelector("#setting-title").select(); document.execCommand("delete"); 0`)
	inPreview(t, p, `!`+inShadow+`(".heading") && `+inShadow+`(".review")`)

	eval[any](t, p, `[...document.querySelectorAll("button")].find(b => b.innerText == "Hide samples").click(); 0`)
	inPreview(t, p, `!`+inShadow+`(".review") && `+inShadow+`(".empty")`)
	eval[any](t, p, `[...document.querySelectorAll("button")].find(b => b.innerText == "Show samples").click(); 0`)
	inPreview(t, p, inShadow+`(".review")`)

	// What is reserved is what visitors' pages need: the empty widget's height.
	formPart(t, p, "Publish")
	press(t, p, "As visitors would see it")
	require.NoError(t, p.Wait(`document.querySelector("[data-part=publish] iframe")?.dataset.drawn > 0`))
	assert.Less(t, eval[float64](t, p, `document.querySelector("[data-part=publish] iframe").getBoundingClientRect().height`), 200.0, "the image is of the empty widget")
	// Before the first publication, somebody says once that no entries are meant.
	press(t, p, "Plain HTML")
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog]")?.innerText.includes("Publish the sample entries?")`))
	pressInDialog(t, p, "Publish without entries")
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("number 1"))`))
	visitor := page(t, `<!doctype html><meta charset="utf-8"><body style="margin:0 auto;width:700px">`+strings.Join(snippet(t, "sampled", host.Script), ""))
	shows(t, visitor, 1)
	sizes := eval[[]float64](t, visitor, `(at => [at.getBoundingClientRect().height, at.shadowRoot.querySelector(".pocket").getBoundingClientRect().height])(document.querySelector("[data-glass-pocket]"))`)
	assert.InDelta(t, sizes[1], sizes[0], 1, "no gap below the widget: %s", fmt.Sprint(sizes))

	// What cannot be published for want of a value says so before anything else.
	_, err = api.Preview(t.Context(), "sampled", wire.Preview{Live: true})
	require.NoError(t, err)
	_, err = api.MakePocket(t.Context(), wire.NewPocket{Key: "lacking", Customer: plain, Widget: "countdown", Starter: "harbour", Title: "Lacking"})
	require.NoError(t, err)
	_, err = api.Preview(t.Context(), "lacking", wire.Preview{Live: true})
	require.ErrorContains(t, err, "some settings have no value")
}

// An order and a hidden review show in the preview at once, and reach visitors.
func TestOrderAndHideInConsole(t *testing.T) {
	t.Parallel()
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "in-order", Customer: plain, Widget: "reviews", Starter: "shelf", Title: "In order"})
	require.NoError(t, err)
	review := func(id, by, date string, stars int) map[string]any {
		return map[string]any{"id": id, "kind": "review", "author": map[string]any{"name": by}, "text": "Said by " + by + ".", "at": date + "T12:00[UTC]", "rating": map[string]any{"value": stars, "best": 5}}
	}
	set(t, "in-order", map[string]any{"reviews": []any{review("aaaa0001", "Ola", "2026-03-01", 3), review("aaaa0002", "Mira", "2027-01-01", 5), review("aaaa0003", "Runa", "2026-09-01", 4)}})
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/in-order"))
	names := func(want string) {
		t.Helper()
		inPreview(t, p, `[...document.querySelector(".stage").shadowRoot.querySelectorAll(".review")].map(r => /Said by (\w+)/.exec(r.textContent)[1]).join(" ") == "`+want+`"`)
	}
	names("Ola Mira Runa")
	fill(t, p, "#setting-sort", "newest")
	names("Mira Runa Ola")
	require.NoError(t, p.Wait(`(b => b && (b.focus(), true))(document.querySelector("[aria-label^='Hide: Runa']"))`))
	require.NoError(t, p.Do(chromedp.KeyEvent(" ")))
	names("Mira Ola")
	require.NoError(t, p.Wait(saved+` && document.querySelector("[aria-label^='Hide: Runa']").ariaPressed == "true"`))
	publish(t, "in-order")
	assert.NotContains(t, served(t, "in-order"), "Said by Runa")
	fill(t, p, "#setting-sort", "best")
	names("Mira Ola")
	require.NoError(t, p.Do(chromedp.Click(chromedp.CSS("[aria-label^='Hide: Runa']"))))
	names("Mira Runa Ola")
}
