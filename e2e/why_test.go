package e2e

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/wire"
)

// told is what the panel says of each pocket: key, state, sentence, then name: value lines.
const told = `[...document.documentElement.lastElementChild.shadowRoot.querySelectorAll("article")].map(a => [a.querySelector("h3").textContent, a.dataset.state, a.querySelector(".says").textContent, ...[...a.querySelectorAll("dt")].map(d => d.textContent + ": " + d.nextElementSibling.textContent)].join("\n"))`

func why(t *testing.T, p *browser.Page, cards int) []string {
	t.Helper()
	eval[any](t, p, `location.hash = "#section#glass-pocket-why"; 0`)
	require.NoError(t, p.Wait(fmt.Sprintf(`document.documentElement.lastElementChild.shadowRoot?.querySelectorAll("article").length == %d`, cards)), "console: %v", p.Errors())
	return eval[[]string](t, p, told)
}

// The end of a page's address has the page tell why each pocket is shown or not, and what
// it costs; also on a page that allows nothing but our origin.
func TestWhy(t *testing.T) {
	t.Parallel()
	newPocket(t, "why-shown", "2099-01-01T00:00[UTC]", nil)
	newPocket(t, "why-over", "2001-01-01T00:00[UTC]", map[string]any{"ending": "hide"})
	newPocket(t, "why-hidden", "2099-01-01T00:00[UTC]", nil)
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "why-unpublished", Customer: "kelp-and-kiln", Widget: "countdown"})
	require.NoError(t, err)
	newPocket(t, "why-withheld", "2099-01-01T00:00[UTC]", nil)
	_, err = api.WithholdPocket(t.Context(), "why-withheld", "", false)
	require.NoError(t, err)
	var body strings.Builder
	for _, key := range []string{"why-shown", "why-over", "why-unpublished", "why-withheld"} {
		fmt.Fprintf(&body, `<div data-glass-pocket="%s"></div><script src="%s/s/%[1]s.js"></script>`, key, demo.Public)
	}
	body.WriteString(`<section class="tucked away" hidden>` + pasted(t, "why-hidden") + `</section><div data-glass-pocket="why-alone"></div>`)
	csp := "default-src 'none'; script-src " + demo.Public + "; style-src " + demo.Public + "; img-src " + demo.Public + "; connect-src " + demo.Public + "; require-trusted-types-for 'script'; trusted-types glass-pocket"
	p := page(t, `<!doctype html><title>x</title>`+body.String(), "Content-Security-Policy", csp)
	require.NoError(t, p.Wait(`glassPocket.live.size == 3`), "console: %v", p.Errors())
	by := map[string]string{}
	for _, card := range why(t, p, 6) {
		by[strings.SplitN(card, "\n", 2)[0]] = card
	}
	for key, has := range map[string][]string{
		"why-shown":       {"\nshown\nShown.", "On this page: publication 1, published less than a minute ago", "On the service: publication 1, ", "over the network", " uncompressed", "Mounted in: ", "Layout shift: 0.", "Size: "},
		"why-over":        {"\nhidden\nIts widget shows nothing at the moment"},
		"why-hidden":      {"\nhidden\nThe page hides it: <section class=tucked> has display: none."},
		"why-unpublished": {"\nmissing\n", "is not published"},
		"why-withheld":    {"\nmissing\n", "is withheld by its operator"},
		"why-alone":       {"\nmissing\n", "Nothing is published under “why-alone”"},
	} {
		for _, h := range has {
			assert.Contains(t, by[key], h, key)
		}
	}
	bytes := eval[float64](t, p, `performance.getEntriesByName("`+demo.Public+`/s/why-shown.js")[0].encodedBodySize`)
	assert.Greater(t, bytes, 3000.0, "a page's owner may see what it costs")

	// What the page has is older than what the service has by now.
	set(t, "why-shown", map[string]any{"heading": "Newer"})
	publish(t, "why-shown")
	eval[any](t, p, `location.hash = ""; 0`)
	newer := ""
	for _, card := range why(t, p, 6) {
		if strings.HasPrefix(card, "why-shown\n") {
			newer = card
		}
	}
	assert.Contains(t, newer, "This is an older publication")
	assert.Contains(t, newer, "On the service: publication 2")

	// It closes with Escape, takes its word out of the address, and leaves the page alone.
	assert.Equal(t, "Pockets on this page", eval[string](t, p, `document.activeElement.shadowRoot.activeElement.querySelector("h2").textContent`), "focus is in it")
	eval[any](t, p, `document.documentElement.lastElementChild.shadowRoot.querySelector("section").dispatchEvent(new KeyboardEvent("keydown", { key: "Escape" })); 0`)
	require.NoError(t, p.Wait(`document.documentElement.lastElementChild.localName == "body"`))
	assert.Equal(t, "#section", eval[string](t, p, `location.hash`))
	for _, e := range p.Errors() {
		assert.NotRegexp(t, `why|TrustedHTML`, strings.ReplaceAll(e, "why-", ""))
	}

	// What lies over the page takes no room in it, which is no reason not to show.
	filled(t, "why-bar", "progress", "", "en", nil)
	filled(t, "why-waits", "popup", "", "en", map[string]any{"opens": "click"})
	p = page(t, `<!doctype html><title>x</title>`+pointsAt("why-bar", "why-bar", "why-waits"))
	require.NoError(t, p.Wait(`glassPocket.live.size == 3`))
	var says []string
	for _, card := range why(t, p, 3) {
		says = append(says, strings.Join(strings.Split(card, "\n")[:3], " "))
	}
	slices.Sort(says)
	assert.Equal(t, []string{
		"why-bar hidden Another copy of it is already shown. Floating widgets show once per page.",
		"why-bar shown Shown, floating over the page.",
		"why-waits hidden It is not open yet, or a visitor has closed it. Its settings say when it opens and how long it stays closed.",
	}, says)
	eval[any](t, p, `document.querySelector("[data-glass-pocket=why-waits]").dispatchEvent(new CustomEvent("glass-pocket:open")); location.hash = ""; 0`)
	assert.Contains(t, strings.Join(why(t, p, 3), "\n"), "why-waits\nshown\nShown, floating over the page.")

	// A page with nothing but a key that has nothing is told so too, and so is one without any pocket's script.
	p = page(t, fmt.Sprintf(`<!doctype html><title>x</title><script>location.hash = "#glass-pocket-why"</script><script src="%s/s/why-nothing.js"></script>`, demo.Public))
	require.NoError(t, p.Wait(`document.documentElement.lastElementChild.shadowRoot?.querySelectorAll("article").length == 1`))
	assert.Contains(t, eval[[]string](t, p, told)[0], "is not published")
	p = page(t, fmt.Sprintf(`<!doctype html><title>x</title><script src="%s/loader.js"></script>`, demo.Public))
	eval[any](t, p, `location.hash = "#glass-pocket-why"; 0`)
	require.NoError(t, p.Wait(`document.documentElement.lastElementChild.shadowRoot?.querySelector(".list").textContent.includes("This page has no pockets")`))
}
