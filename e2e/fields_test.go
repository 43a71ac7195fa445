package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// everything is a widget with every setting type, each shown somewhere.
func everything(t *testing.T) widget.Files {
	schema, err := os.ReadFile(filepath.Join(service.Root(), "internal", "setting", "testdata", "types.json"))
	require.NoError(t, err)
	frame := append([]byte{0xff, 0xfb, 0x90, 0x00}, make([]byte, 413)...)
	font, err := os.ReadFile(filepath.Join(service.Root(), "e2e", "testdata", "tide.woff2"))
	require.NoError(t, err)
	return widget.Files{
		"widget.json":      []byte(`{"format": 1, "name": "everything", "title": {"en": "Everything"}, "languages": ["en"]}`),
		"settings.json":    schema,
		"messages/en.json": []byte(`{}`),
		"sample.json":      []byte(`{"settings": {"when": "P3D[UTC]"}}`),
		"view.html": []byte(`<section class="all"><h2 data-text="title">{{.settings.title}}</h2><p>{{.settings.note}} {{.settings.code}} <a href="{{.settings.link}}">l</a></p><div class="story">{{.settings.story}}</div>
{{range .settings.parts}}<i>{{.}}</i>{{end}}<div {{heading .settings.level}}>h</div><time>{{date .settings.day "long"}} {{.settings.opens}} {{dateOf .settings.when "short"}} {{number .settings.pause.seconds 0}}</time>
<a {{linkTo .settings.more}}>more</a>{{image .settings.photo "50vw"}}{{if .settings.bell.shown}}<audio src="{{.settings.bell.address}}"></audio>{{end}}{{icon .settings.mark}}<b class="price">{{money .settings.price}}</b> {{.settings.speaks}} {{number .settings.score.value 1}}
{{range .settings.topics}}<em>{{.}}</em>{{end}}{{range .settings.cards}}<article class="card" id="card-{{.id}}"><h3>{{.title}}</h3>{{image .photo "9vw"}}<a {{linkTo .more}}>x</a></article>{{end}}{{range .settings.said}}<blockquote>{{.author.name}} {{.text}} {{number .rating.value 1}} {{dateOf .at "short"}}{{range .media}}{{image .image "9vw"}}{{end}}</blockquote>{{end}}</section>`),
		"style.css":         []byte(`.all { padding: var(--room); border: var(--edge); border-radius: var(--corner); background: var(--fill); background-color: var(--surface); box-shadow: var(--shade); color: var(--main-accent); font-family: var(--typeface); font-size: var(--size); text-align: var(--align); gap: var(--gap); } [data-shown="false"] .card { display: none; } [data-layout="stack"] .card { display: block; }`),
		"assets/boat.jpg":   photo(320, 200),
		"assets/bell.mp3":   []byte(strings.Repeat(string(frame), 4)),
		"assets/tide.woff2": font,
	}
}

// Every setting type has a field that a person can use, free of what axe-core can find; what
// is set there is what is saved, and what the preview shows.
func TestEveryField(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	_, err := api.Release(ctx, "everything", everything(t))
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "everything", Customer: "kelp-and-kiln", Widget: "everything"})
	require.NoError(t, err)
	jars, err := api.Upload(ctx, "kelp-and-kiln", "jars.jpg", photo(300, 200))
	require.NoError(t, err)
	p := signedIn(t)
	require.NoError(t, p.Do(chromedp.EmulateViewport(1280, 6000))) // so that nothing has to be scrolled to
	require.NoError(t, p.Go(demo.Manage+"/pockets/everything"))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	eval[any](t, p, `window.fill = (at, value) => { const e = typeof at == "string" ? document.querySelector(at) : at; if (!e) throw new Error("there is no " + at);
		if (e.type == "checkbox") { if (e.checked != value) e.click(); return }
		Object.getOwnPropertyDescriptor(Object.getPrototypeOf(e), "value").set.call(e, value); e.dispatchEvent(new Event(e.localName == "select" ? "change" : "input", {bubbles: true})) };
		window.within = key => document.getElementById("setting-" + key + "-label").closest(".mb-5");
		window.press = (key, text) => { const b = [...within(key).querySelectorAll("button")].find(b => b.innerText.trim() == text || b.getAttribute("aria-label")?.startsWith(text)); if (!b) throw new Error(key + " has no " + text); b.click() }; 0`)
	for _, step := range []string{
		`fill("#setting-title", "Tide"); fill("#setting-note", "a\nb"); fill("#setting-link", "https://a.example/")`,
		`fill("#setting-size", 20); fill("#setting-corner", 4)`,
		`[...within("layout").querySelectorAll("[role=radio]")].at(-1).click()`,
		`fill(within("parts").querySelectorAll("input")[2], true)`,
		`fill("#setting-mainAccent", "#0b5c8a")`,
		`press("fill", "Add a colour"); fill(within("fill").querySelectorAll("input[type=number]")[0], 45)`,
		`fill("#setting-typeface", "book"); fill("#setting-gap", 20)`,
		`press("room", "Set each side")`,
		`fill(within("room").querySelectorAll("input")[3], 5)`,
		`fill(within("edge").querySelector("select"), "dashed")`,
		`[...within("shade").querySelectorAll("[role=radio]")][1].click()`,
		`fill("#setting-level", "4"); [...within("align").querySelectorAll("[role=radio]")][1].click()`,
		`fill("#setting-day", "2027-06-01"); fill("#setting-opens", "10:15"); fill("#setting-when", "2027-07-01T12:00")`,
		`fill("#setting-pause", 9); fill("#setting-more", "https://b.example/")`,
		`fill(within("more").querySelector("input[type=checkbox]"), true)`,
		`press("mark", "None")`,
		`[...within("mark").querySelectorAll("[role=radio]")].find(r => r.title == "sail").click()`,
		`fill("#setting-price", 19.5); fill("#setting-speaks", "pl"); fill(within("score").querySelector("input"), 4.5); fill("#setting-topics", "tea, kiln, tea")`,
		`{ const b = document.getElementById("setting-story"); b.innerHTML = "<p>Hello <b>there</b></p>"; b.dispatchEvent(new Event("input", {bubbles: true})) }`,
		// A list: one more, a name for it, doubled, the first moved down, the last taken away.
		`press("cards", "Add")`,
		`fill(document.querySelector("#setting-cards-1-title"), "Second")`,
		`within("cards").querySelectorAll("[aria-label^='Duplicate']")[1].click()`,
		`within("cards").querySelectorAll("[aria-label^='Move down']")[0].click()`,
		`within("cards").querySelectorAll("[aria-label^='Delete']")[2].click()`,
		`press("said", "Add")`,
		`fill("#setting-said-0-author-name", "Runa"); fill("#setting-said-0-text", "Good")`,
		`{ const rating = '[aria-labelledby="setting-said-0-rating-label"] input'; fill(rating, 0); fill(rating, "") }`,
		// Set a different value for small screens; as the page has it.
		`press("corner", "Set a different value for small screens")`,
		`fill("#setting-corner-small", 2)`,
		`fill(within("size").querySelector("input[type=checkbox]"), true)`,
	} {
		eval[any](t, p, step+"; 0")
		require.NoError(t, p.Wait(`(window.turn = (window.turn ?? 0) + 1) > 1`)) // let the page draw
		eval[any](t, p, `window.turn = 0; 0`)
	}
	require.NoError(t, p.Wait(saved), "%v", eval[string](t, p, `[...document.querySelectorAll("[role=alert]")].map(e => e.innerText).join(" | ")`))
	draft, err := api.Draft(ctx, "everything")
	require.NoError(t, err)
	var values map[string]any
	require.NoError(t, json.Unmarshal(draft.Settings, &values))
	for key, want := range map[string]any{
		"title": "Tide", "note": "a\nb", "link": "https://a.example/", "size": "inherit", "corner": 4.0, "layout": "stack", "parts": []any{"date", "photo"}, "mainAccent": "#0b5c8a",
		"typeface": "book", "gap": "20px", "room": map[string]any{"top": 8.0, "right": 16.0, "bottom": 8.0, "left": 5.0}, "level": "4", "align": "center",
		"day": "2027-06-01", "opens": "10:15", "pause": "PT9S", "more": map[string]any{"address": "https://b.example/", "target": "new"}, "mark": "sail",
		"price": map[string]any{"amount": 1950.0, "currency": "EUR"}, "speaks": "pl", "score": map[string]any{"value": 4.5, "best": 5.0}, "topics": []any{"tea", "kiln"},
		"small": map[string]any{"corner": 2.0}, "story": "<p>Hello <strong>there</strong></p>",
	} {
		assert.Equal(t, want, values[key], key)
	}
	assert.Equal(t, "dashed", values["edge"].(map[string]any)["style"])
	assert.Equal(t, "outside", values["shade"].(map[string]any)["kind"])
	assert.Len(t, values["fill"].(map[string]any)["stops"], 3)
	assert.Contains(t, values["when"], "2027-07-01T12:00[")
	var titles []any
	ids := map[any]bool{}
	for _, c := range values["cards"].([]any) {
		titles = append(titles, c.(map[string]any)["title"])
		ids[c.(map[string]any)["id"]] = true
	}
	assert.Equal(t, []any{"Second", nil}, titles, "the first has gone down, the double has gone")
	assert.Len(t, ids, 2)
	said := values["said"].([]any)[0].(map[string]any)
	assert.Equal(t, "Runa", said["author"].(map[string]any)["name"])
	assert.Equal(t, map[string]any{"best": 5.0}, said["rating"], "emptied, it is none, and not 0")
	inPreview(t, p, inShadow+`(".price")?.textContent == "€19.50" && `+inShadow+`(".story strong")?.textContent == "there" && getComputedStyle(document.getElementById("stage").shadowRoot.querySelector(".all")).borderTopStyle == "dashed"`)

	// An image is chosen in a dialog, and its focus point is moved by keys.
	eval[any](t, p, `[...within("photo").querySelectorAll("button")].find(b => b.innerText == "Choose an image").click(); 0`)
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog] img")?.complete`))
	assert.Empty(t, axe(t, p))

	// One of the customer's own files is deleted there, but not while a pocket uses it.
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "shows-it", Customer: "kelp-and-kiln", Widget: "everything"})
	require.NoError(t, err)
	set(t, "shows-it", map[string]any{"photo": map[string]any{"asset": jars.Digest, "alt": "Jars"}})
	const remove = `[...document.querySelectorAll("[role=dialog] button")].find(b => b.ariaLabel == "Delete jars.jpg").click(); 0`
	const question = `document.querySelector("[role=dialog] [role=group]")`
	eval[any](t, p, remove)
	require.NoError(t, p.Wait(question+`?.innerText.includes("jars.jpg is used by shows-it")`))
	assert.Empty(t, axe(t, p))
	eval[any](t, p, `document.activeElement.closest("[role=group]").querySelector("button").click(); 0`)
	require.NoError(t, p.Wait(`!`+question+` && document.activeElement.ariaLabel == "Delete jars.jpg"`))
	set(t, "shows-it", map[string]any{"photo": nil})
	eval[any](t, p, remove)
	require.NoError(t, p.Wait(question+`?.innerText.includes("Delete jars.jpg?")`))
	assert.Empty(t, axe(t, p))
	eval[any](t, p, question+`.querySelector("button:last-child").click(); 0`)
	require.NoError(t, p.Wait(`document.activeElement.type == "file" && ![...document.querySelectorAll("[role=dialog] li")].some(l => l.innerText.includes("jars.jpg"))`))
	_, err = api.Asset(ctx, "kelp-and-kiln", jars.Digest)
	assert.Equal(t, "asset-not-found", problem(t, err).Code)

	eval[any](t, p, `document.querySelector("[role=dialog] li button").click(); 0`)
	require.NoError(t, p.Wait(`!document.querySelector("[role=dialog]") && within("photo").querySelector("img")`))
	eval[any](t, p, `within("photo").querySelector("button:has(img)").dispatchEvent(new KeyboardEvent("keydown", {key: "ArrowLeft", bubbles: true, cancelable: true})); 0`)
	require.NoError(t, p.Wait(saved+` && within("photo").querySelector("button:has(img)").getAttribute("aria-label").includes("45 %")`))
	inPreview(t, p, inShadow+`("img")?.alt === ""`)
	assert.Empty(t, axe(t, p))

	// What is refused is said at its place, within a list too, and nothing else is held up.
	eval[any](t, p, `fill("#setting-title", "T"); fill("#setting-code", "12a"); fill("#setting-note", "kept"); 0`)
	require.NoError(t, p.Wait(`within("title").querySelector("[role=alert]")?.innerText.includes("2 to 5 are allowed") && within("code").querySelector("[role=alert]")`))
	require.NoError(t, p.Wait(fmt.Sprintf(`fetch("/api/v1/pockets/everything/draft").then(r => r.json()).then(d => d.settings.note == %q && d.settings.title == "Tide")`, "kept")))
	for _, e := range p.Errors() {
		assert.Regexp(t, "42[0-9]|404", e, "only the refused requests themselves, and the browser's own search for an icon")
	}
}
