package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/demo/standin"
	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/wire"
)

// A customer connects a business by its name, filters, finds out why a review is missing, hides and
// corrects one that the preview shows, and hears of it when the directory is down.
func TestSourcesInConsole(t *testing.T) {
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Stop()
	_, err = d.Client().MakePocket(t.Context(), wire.NewPocket{Key: "voices", Customer: "teasel-hall-choir", Widget: "reviews", Starter: "shelf", Title: "Voices"})
	require.NoError(t, err)
	p := signedInAt(t, d)
	require.NoError(t, p.Go(d.Manage+"/pockets/voices"))
	const box = `document.querySelector("[aria-label='Sources of Reviews']")`
	says := func(words string) {
		t.Helper()
		require.NoError(t, p.Wait(fmt.Sprintf(`%s?.innerText.replace(/\s+/g, " ").includes(%q)`, box, words)), "it says %q", eval[string](t, p, box+`?.innerText`))
	}
	key := func(k string) { t.Helper(); require.NoError(t, p.Do(chromedp.KeyEvent(k))) }
	focused := func(words string) {
		t.Helper()
		require.NoError(t, p.Wait(fmt.Sprintf(`document.activeElement?.innerText?.includes(%q)`, words)), "the keyboard is at %q", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 200)`))
	}
	to := func(words string) {
		t.Helper()
		require.NoError(t, p.Wait(fmt.Sprintf(`(b => b && !b.disabled && (b.focus(), document.activeElement == b))([...%s?.querySelectorAll("button") ?? []].find(b => (b.ariaLabel ?? b.innerText).trim().startsWith(%q)))`, box, words)), words)
	}

	// By the keyboard alone: a name, the right one of two businesses, and its reviews in the preview.
	require.NoError(t, p.Wait(`document.activeElement?.id == "connect-reviews"`), "a new pocket opens on the address")
	types(t, p, "#connect-reviews", "Kelp")
	key(kb.Enter)
	focused("Pier 2, Marrow Town · 4.6 of 5, 213 reviews · Marrow Voices")
	says("Harbour Steps 9, Northbeck · 3.4 of 5, 31 reviews")
	key(kb.Enter)
	focused("Connect")
	inPreview(t, p, inShadow+`("section").textContent.includes("My bowl")`)
	key(kb.Enter)
	says("Kelp & Kiln: reviews is connected")
	focused("Add a source")
	inPreview(t, p, inShadow+`("section").textContent.includes("My bowl")`)
	total := eval[int](t, p, `+/of (\d+) items/.exec(`+box+`.innerText)[1]`)
	says(fmt.Sprintf("Shows %d of %[1]d items", total))

	// Rules count as they are typed, and list what they drop, with the reasons.
	to("Rules")
	key(kb.Enter)
	eval[any](t, p, `document.querySelector("#reviews-rule-rating").focus(); 0`)
	key("3")
	says("drops 1")
	inPreview(t, p, `!`+inShadow+`("section").textContent.includes("Cold room")`)
	to("drops 1")
	key(kb.Enter)
	says("Its rating is 2 of 5, below 3 of 5.")
	to("Show all items")
	key(kb.Enter)
	types(t, p, "#reviews-rule-no-words", "bowl, stool")
	says(fmt.Sprintf("Shows %d of %d items", total-2, total))
	require.NoError(t, p.Wait(`document.activeElement.value == "bowl, stool"`), "what is typed is not rewritten")
	inPreview(t, p, `!`+inShadow+`("section").textContent.includes("My bowl")`)
	require.NoError(t, p.Do(chromedp.KeyEvent("a", chromedp.KeyModifiers(2))))
	key(kb.Delete)
	inPreview(t, p, inShadow+`("section").textContent.includes("My bowl")`)

	// What the preview shows is clicked, corrected and hidden.
	pick := func(title string) {
		t.Helper()
		find := fmt.Sprintf(`[...document.getElementById("stage").shadowRoot.querySelectorAll(".review .title")].find(e => e.textContent.includes(%q))`, title)
		frame := frameOf(t, p, "/preview")
		spot, err := chromedp.Run(frame, chromedp.Evaluate[[]float64]("("+find+`.scrollIntoView({block: "center"}), (b => [b.left + b.width / 2, b.top + b.height / 2])(`+find+`.getBoundingClientRect()))`))
		require.NoError(t, err)
		at := eval[[]float64](t, p, `(b => [b.left, b.top])(document.querySelector("iframe").getBoundingClientRect())`)
		require.NoError(t, p.Do(chromedp.MouseClickXY(at[0]+spot[0], at[1]+spot[1])))
	}
	key(kb.F2)
	require.NoError(t, p.Wait(`document.querySelector("button[aria-pressed=true]")?.innerText.trim() == "Select"`))
	pick("My bowl")
	const field = "[data-path^='reviews/'] [id^='item-'][id$='-title']"
	require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector(%q)?.value.includes("My bowl")`, field)), "the box says %q", eval[string](t, p, box+`.innerText`))
	types(t, p, field, "Our bowl")
	key(kb.Tab)
	inPreview(t, p, inShadow+`("section").textContent.includes("Our bowl")`)
	says("corrected")
	to("Hide: Our bowl")
	key(kb.Enter)
	inPreview(t, p, `!`+inShadow+`("section").textContent.includes("Our bowl")`)
	says("It is hidden.")
	require.NoError(t, p.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2))))
	inPreview(t, p, inShadow+`("section").textContent.includes("Our bowl")`)
	assert.Empty(t, axe(t, p))
	require.NoError(t, p.Wait(`document.querySelector("header").innerText.includes("Draft saved")`))
	_, err = d.Client().Publish(t.Context(), "voices", wire.Publish{})
	require.NoError(t, err)
	assert.Contains(t, visited(t, d, "voices"), "Our bowl")
	assert.NotContains(t, visited(t, d, "voices"), "Cold room")

	// A profile can be shown with its replies.
	to("Add a source")
	key(kb.Enter)
	types(t, p, "#connect-reviews", "@kiln@"+strings.TrimPrefix(d.Skerry, "http://"))
	key(kb.Enter)
	says("(ActivityStreams), 4 items")
	require.NoError(t, p.Wait(`[...document.querySelectorAll("label")].find(l => l.innerText.includes("With its replies"))?.querySelector("input").focus() !== 0 && document.activeElement.type == "checkbox"`))
	key(" ")
	says("(ActivityStreams), 5 items")
	key(kb.Escape)
	focused("Add a source")

	// A file is dropped, and a column that has an unknown name fills the text.
	key(kb.Enter)
	drop := func() {
		t.Helper()
		eval[any](t, p, `(d => {
			d.items.add(new File(["Besucher;Sterne;Meinung\nAda Brill;5;Warm; quiet\nPer Oldag;2;Zu heiß"], "guests.csv"));
			document.querySelector("#connect-reviews").dispatchEvent(new DragEvent("drop", { dataTransfer: d, bubbles: true, cancelable: true }));
		})(new DataTransfer()), 0`)
		says("Table (CSV or TSV)")
		says("An item without a text")
	}
	drop()
	require.NoError(t, p.Wait(`document.activeElement.id == "map-title"`))
	key(kb.Tab)
	key("M")
	says("Zu heiß")
	inPreview(t, p, inShadow+`("section").textContent.includes("Zu heiß")`)
	types(t, p, "#connect-reviews", "kelp")
	require.NoError(t, p.Wait(`!`+box+`.innerText.includes("Table (CSV or TSV)")`), "what is typed is not what was found")
	inPreview(t, p, `!`+inShadow+`("section").textContent.includes("Zu heiß")`)
	drop()
	require.NoError(t, p.Wait(`document.activeElement.id == "map-title"`))
	key(kb.Tab)
	key("M")
	says("Zu heiß")
	to("Connect")
	key(kb.Enter)
	says("guests is connected")

	// The directory is down: the customer sees why, and visitors see what they saw before.
	control(t, d.Voices, "mode", standin.Failing)
	to("Refresh Kelp & Kiln")
	key(kb.Enter)
	says("has a problem of its own (503)")
	says("Visitors see the items of")
	assert.Contains(t, visited(t, d, "voices"), "Our bowl")
	require.NoError(t, p.Go(d.Manage+"/customers/teasel-hall-choir?tab=sources"))
	require.NoError(t, p.Wait(`document.querySelector("main").innerText.includes("has a problem of its own (503)")`))
	assert.Empty(t, axe(t, p))
	control(t, d.Voices, "mode", standin.Normal)
	control(t, d.Voices, "change", "add")
	require.NoError(t, p.Wait(`(b => b && (b.click(), true))([...document.querySelectorAll("main button")].filter(b => b.innerText.trim() == "Refresh")[1])`))
	require.NoError(t, p.Wait(`(m => m.includes("13 items") && !m.includes("(503)"))(document.querySelector("main").innerText)`), "it says %q", eval[string](t, p, `document.querySelector("main").innerText`))
	soon(t, "it is with visitors", func() bool { return strings.Contains(visited(t, d, "voices"), "Review number 1 of today") })
	assert.Empty(t, scriptErrors(p))
}

// scriptErrors returns the errors of a page, without those of its requests.
func scriptErrors(p *browser.Page) (list []string) {
	for _, e := range p.Errors() {
		if !strings.Contains(e, "Failed to load resource") {
			list = append(list, e)
		}
	}
	return list
}
