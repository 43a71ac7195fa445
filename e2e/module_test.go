package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// A module gets what its folder's declarations promise: settings as the page has them, items
// in order, messages, facts that follow the page, events to and from it and between copies,
// how far somebody has read, the page's bars, and a signal when it is taken away.
func TestMountModule(t *testing.T) {
	ctx := t.Context()
	const items = `{"type": "array", "default": [], "glass": {"type": "items", "kind": "review", "fields": ["author", "text"], "label": {"en": "I"}}}`
	_, err := api.Release(ctx, "probe", widget.Files{
		"widget.json": []byte(`{"format": 1, "name": "probe", "title": {"en": "Probe"}, "languages": ["de", "en"],
			"mount": {"settings": ["corner", "said", "before"], "messages": ["voices"]},
			"facts": [{"name": "firstName", "type": "text", "label": {"en": "F"}}, {"name": "signedIn", "type": "switch", "label": {"en": "S"}}]}`),
		"settings.json": []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {
			"before": ` + items + `, "said": ` + items + `,
			"corner": {"type": "number", "default": 4, "glass": {"type": "number", "look": true, "unit": "px", "override": true, "label": {"en": "C"}}}}}`),
		"view.html":        []byte(`<output class="out">{{range .settings.before}}{{.text}}{{end}}{{range .settings.said}}{{.text}}{{end}}</output>`),
		"style.css":        []byte(`.out { border-radius: var(--corner); }`),
		"messages/en.json": []byte(`{"voices": {"one": "{count} voice", "other": "{count} voices"}}`),
		"messages/de.json": []byte(`{"voices": {"one": "{count} Stimme", "other": "{count} Stimmen"}}`),
		"part.ts":          []byte(`export const names = (items: { id: string; author: { name: string } }[]) => items.map((i) => i.id + " " + i.author.name).join();`),
		"mount.ts": []byte(`import { names } from "./part";
			import type { Pocket } from "./pocket";
			export default function mount({ root, settings, items, facts, language, say, tell, hear, reading, edges, signal }: Pocket) {
				let heard = "", depth = -1, bars = "";
				const show = () => (root.querySelector(".out")!.textContent = JSON.stringify({ names: names(items), corner: settings.corner, before: settings.before.length, language, voices: say("voices", items.length), facts: facts.now(), heard, depth, bars }));
				facts.changed(show);
				hear("knock", (by) => { heard += by ? "click " + by.id : "event"; show(); if (by) tell("knock", { by: by.id }); });
				reading((now) => { depth = now; show(); });
				edges(({ top, bottom }) => { bars = top + " " + bottom; show(); });
				signal.addEventListener("abort", () => document.body.append("ended;"));
				show();
			}`),
	})
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "probe", Customer: "kelp-and-kiln", Widget: "probe", Language: "en"})
	require.NoError(t, err)
	set(t, "probe", map[string]any{"said": []any{
		map[string]any{"id": "b", "text": "Good", "author": map[string]any{"name": "Runa"}},
		map[string]any{"id": "a", "text": "Fine", "author": map[string]any{"name": "Tjark"}},
	}})
	publish(t, "probe")

	p := page(t, `<!doctype html><html lang="en" data-fact-first-name="Isa"><head><meta charset="utf-8"><title>x</title></head><body style="margin: 0">
		<nav style="position: sticky; top: 0; height: 50px; background: #fff">Bar</nav>
		<div data-glass-pocket="probe" data-set-corner="9"></div><div data-fact-signed-in="true"><div data-glass-pocket="probe" data-set-corner="x"></div></div>
		<button id="one" data-glass-knock="probe">knock</button><button data-glass-knock="other">another's</button><div style="height: 5000px"></div>`+pointsAt())
	shows(t, p, 2)
	at := func(i int) string {
		return fmt.Sprintf(`JSON.parse(document.querySelectorAll("[data-glass-pocket]")[%d].shadowRoot.querySelector(".out").textContent)`, i)
	}
	require.NoError(t, p.Wait(`glassPocket.live.size == 2`))
	want := func(i int, want string) {
		t.Helper()
		assert.JSONEq(t, want, eval[string](t, p, `JSON.stringify(`+at(i)+`)`))
	}
	want(0, `{"names": "b Runa,a Tjark", "corner": 9, "before": 0, "language": "en", "voices": "2 voices", "facts": {"firstName": "Isa", "signedIn": false}, "heard": "", "depth": 0, "bars": "50 0"}`)
	want(1, `{"names": "b Runa,a Tjark", "corner": 4, "before": 0, "language": "en", "voices": "2 voices", "facts": {"firstName": "Isa", "signedIn": true}, "heard": "", "depth": 0, "bars": "50 0"}`)

	eval[any](t, p, `document.documentElement.dataset.factFirstName = "Ola"; 0`)
	require.NoError(t, p.Wait(at(0)+`.facts.firstName == "Ola" && `+at(1)+`.facts.firstName == "Ola"`))
	eval[any](t, p, `scrollTo(0, 1e6); 0`)
	require.NoError(t, p.Wait(at(0)+`.depth == 1 && `+at(1)+`.depth == 1`))

	// A click is heard by both, and what each tells by the other and by the page.
	eval[any](t, p, `addEventListener("glass-pocket:knock", e => document.body.append(JSON.stringify(e.detail))); document.querySelector("[data-glass-knock=other]").click(); document.getElementById("one").click(); 0`)
	assert.Equal(t, 2, eval[int](t, p, `document.body.innerText.split('{"by":"one"}').length - 1`))
	assert.Equal(t, "click oneevent|eventclick one", eval[string](t, p, at(0)+`.heard + "|" + `+at(1)+`.heard`))
	// The page sends one; who is gone hears no more and has been told.
	eval[any](t, p, `document.querySelector("[data-glass-pocket]").dispatchEvent(new CustomEvent("glass-pocket:knock")); 0`)
	assert.Equal(t, "click oneeventevent", eval[string](t, p, at(0)+`.heard`))
	eval[any](t, p, `document.querySelector("[data-glass-pocket]").remove(); 0`)
	require.NoError(t, p.Wait(`document.body.innerText.split("ended;").length == 2`))
	assert.Contains(t, said(t, p, 1)[0], `cannot use data-set-corner="x"; it keeps its own.`)
}
