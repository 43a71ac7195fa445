package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/engine"
	"glasspocket/internal/wire"
)

// hits lists the controls that a click in their middle does not reach, scrolled into view.
const hits = `(() => { const lost = [];
	for (const e of document.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, [contenteditable=true]")) {
		let r = e.getBoundingClientRect();
		if (r.width < 2 || r.height < 2 || !e.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue;
		e.scrollIntoView({ block: "center", inline: "nearest", behavior: "instant" });
		r = e.getBoundingClientRect();
		const top = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2);
		if (!top || !(e.contains(top) || top.contains(e) && top.getBoundingClientRect().height < 80 || top.closest("label")?.control == e)) lost.push((e.ariaLabel || e.id || e.innerText || e.outerHTML.slice(0, 90)) + " lies below " + (top?.outerHTML.slice(0, 120) ?? "nothing"));
	}
	scrollTo(0, 0);
	return lost })()`

// The console can be walked through in every engine: each editor opens whole, every control can
// be clicked, and a setting travels from the keyboard to the page.
func TestConsoleInEveryEngine(t *testing.T) {
	for _, name := range []string{"chromium", "firefox", "webkit"} {
		key := "console-" + name
		_, err := api.StartWidgetDraft(t.Context(), "tide-"+name, wire.NewWidgetDraft{Files: tide("tide-" + name)})
		require.NoError(t, err)
		newPocket(t, key, "2098-01-01T00:00[UTC]", map[string]any{"heading": "Before"})
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			tab, err := engine.Open(name)
			require.NoError(t, err)
			t.Cleanup(tab.Close)
			signInTo(t, tab)
			everyEditor(t, tab)
			setAndPublish(t, tab, key)
			for path, there := range map[string]string{
				"/":                            `document.querySelectorAll("tbody tr").length > 10`,
				"/gallery":                     `document.querySelectorAll("li button").length > 20`,
				"/customers/kelp-and-kiln":     `document.querySelector("#c-zone")?.value`,
				"/hosts":                       `document.querySelectorAll("main a").length > 10`,
				"/new-widget":                  `document.querySelector("main input")`,
				"/customers/nowhere":           `document.querySelector("[role=alert]")`,
				"/pockets/" + key + "/nowhere": `document.querySelector("main, [role=alert]")`,
			} {
				require.NoError(t, tab.Go(demo.Manage+path))
				require.NoError(t, tab.Wait(there), path)
				assert.Empty(t, inEngine[[]string](t, tab, hits), path)
			}
			require.NoError(t, tab.Go(demo.Manage+"/worktop/tide-"+name))
			require.NoError(t, tab.ClickOn(`[...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Files"))`))
			require.NoError(t, tab.Wait(`document.querySelector(".cm-content")`))
			assert.Empty(t, inEngine[[]string](t, tab, hits), "worktop")
			// A click opens the row that it is on.
			require.NoError(t, tab.Go(demo.Manage+"/"))
			require.NoError(t, tab.Wait(`document.querySelectorAll("tbody tr").length > 10`))
			require.NoError(t, tab.ClickOn(`document.querySelectorAll("tbody tr")[2].querySelector("a")`))
			second := inEngine[string](t, tab, `document.querySelectorAll("tbody tr")[2]?.querySelector("a").pathname ?? location.pathname`)
			require.NoError(t, tab.Wait(`location.pathname == "`+second+`"`))
			for _, said := range tab.Errors() {
				assert.Regexp(t, `404|favicon|status of`, said)
			}
		})
	}
}

func signInTo(t *testing.T, tab *engine.Tab) {
	t.Helper()
	require.NoError(t, tab.Go(demo.Manage+"/healthz"))
	require.Equal(t, 201, inEngine[int](t, tab, fmt.Sprintf(`fetch("/api/v1/session", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({name: %q, password: %q})}).then(r => r.status)`, demo.Name, demo.Password)))
}

func everyEditor(t *testing.T, tab *engine.Tab) {
	for key := range shownOn {
		require.NoError(t, tab.Go(demo.Manage+"/pockets/"+key))
		require.NoError(t, tab.Wait(`document.querySelectorAll("[role=tab]").length == 3 && document.querySelector("form[aria-label=Settings]").innerText.length > 30 && document.querySelector("iframe").dataset.drawn > 0`), key)
		assert.Empty(t, inEngine[[]string](t, tab, hits), key)
	}
}

func setAndPublish(t *testing.T, tab *engine.Tab, key string) {
	require.NoError(t, tab.Go(demo.Manage+"/pockets/"+key))
	require.NoError(t, tab.ClickOn(`document.querySelector("#setting-heading")`))
	require.NoError(t, tab.Press(engine.Control+"a"))
	require.NoError(t, tab.Type("After"))
	require.NoError(t, tab.Wait(`document.querySelector("#setting-heading").value == "After"`))
	press := func(words string) {
		t.Helper()
		require.NoError(t, tab.Wait(fmt.Sprintf(`(window.found = [...document.querySelectorAll("button")].filter(b => b.getClientRects().length && b.innerText.trim() == %q && !b.closest("nav")).pop()) && !found.disabled`, words)), words)
		require.NoError(t, tab.ClickOn(`found`))
	}
	press("Publish")
	require.NoError(t, tab.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Published as number"))`))
	draft, err := api.Draft(t.Context(), key)
	require.NoError(t, err)
	assert.Contains(t, string(draft.Settings), `"After"`)
	require.NoError(t, tab.Go(demo.Public+"/p/"+key))
	require.NoError(t, tab.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot.querySelector(".pocket").innerText.includes("After")`))
	require.NoError(t, tab.Go(demo.Manage+"/pockets/"+key))
	for _, name := range []string{"Install", "History"} {
		press(name)
		require.NoError(t, tab.Wait(fmt.Sprintf(`[...document.querySelectorAll("[role=tab]")].find(b => b.innerText.trim() == %q).ariaSelected == "true" && document.querySelector("[role=tabpanel]:not([hidden])").querySelectorAll("button").length > 0`, name)))
		assert.Empty(t, inEngine[[]string](t, tab, hits), name)
	}
}
