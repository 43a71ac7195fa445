package e2e

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/wire"
)

// tide is a small widget with everything that the worktop leads to.
func tide(name string) []wire.File {
	return []wire.File{
		{Path: "widget.json", Text: `{
  "format": 1,
  "name": "` + name + `",
  "title": { "en": "Tide board" },
  "languages": ["en"],
  "mount": { "settings": ["step"] }
}
`},
		{Path: "settings.json", Text: `{
  "$schema": "https://json-schema.org/draft/2020-12/schema",
  "type": "object",
  "properties": {
    "heading": { "type": "string", "default": "High water", "glass": { "type": "text", "label": { "en": "Heading" } } },
    "accent": { "type": "string", "default": "#0b6b63", "glass": { "type": "colour", "label": { "en": "Accent" }, "look": true } },
    "step": { "type": "number", "default": 1, "glass": { "type": "number", "label": { "en": "Step" } } },
    "rows": {
      "type": "array", "default": [{ "name": "Skerry" }, { "name": "Hask" }],
      "items": { "type": "object", "properties": { "name": { "type": "string", "default": "", "glass": { "type": "text", "label": { "en": "Name" } } } } },
      "glass": { "type": "list", "label": { "en": "Rows" } }
    }
  }
}
`},
		{Path: "view.html", Text: `<section class="tide">
  <h2 class="title">{{.settings.heading}}</h2>
  <button class="more" type="button">{{say "more"}} <b class="count">0</b></button>
  <ul class="rows">{{range .settings.rows}}<li class="row">{{.name}}</li>{{end}}</ul>
</section>
`},
		{Path: "style.css", Text: `.tide { padding: 16px; color: #17233a; }
.title { color: var(--accent); }
@media (min-width: 10000px) {
  .title { color: red; }
}
@container (min-width: 1px) {
  .pocket .title { letter-spacing: 1px; }
}
.pocket { container-type: inline-size; }
`},
		{Path: "mount.ts", Text: `import { grow } from "./grow";
import type { Pocket } from "./pocket";

export default function mount({ root, settings }: Pocket) {
  const count = root.querySelector<HTMLElement>(".count")!;
  for (let i = 0; i < 3; i++) count.dataset.turn = String(i);
  root.querySelector(".more")!.addEventListener("click", () => {
    grow(count, settings.step as number);
  });
}
`},
		{Path: "grow.ts", Text: `export function grow(at: HTMLElement, by: number) {
  at.textContent = String(Number(at.textContent) + by);
}
`},
		{Path: "messages/en.json", Text: `{
  "more": "One more"
}
`},
	}
}

// bench is the worktop in a browser.
type bench struct {
	*browser.Page
	t    *testing.T
	name string
}

const inTide = `document.querySelector(".stage")?.shadowRoot?.querySelector`

func openBench(t *testing.T, name string) *bench {
	t.Helper()
	p := signedIn(t)
	b := &bench{p, t, name}
	require.NoError(t, p.Go(demo.Manage+"/worktop/"+name))
	b.sees(inTide + `(".tide")`)
	return b
}

// sees waits until an expression is true in the preview.
func (b *bench) sees(expression string) {
	b.t.Helper()
	inFrame(b.t, b.Page, "/worktop", expression)
}

func (b *bench) wait(expression string) {
	b.t.Helper()
	require.NoError(b.t, b.Wait(expression), "messages: %s", b.text(`section[aria-label=Messages]`))
}

func (b *bench) text(at string) string {
	return eval[string](b.t, b.Page, fmt.Sprintf(`[...document.querySelectorAll(%q)].map(e => e.innerText).join("\n")`, at))
}

// point clicks an element of the preview, as a hand does.
func (b *bench) point(class string) {
	b.t.Helper()
	b.sees(inTide + `(".` + class + `")`)
	within, cancel := context.WithTimeout(frameOf(b.t, b.Page, "/worktop"), browser.Patience)
	defer cancel()
	part, err := chromedp.Run(within, chromedp.Evaluate[[]float64](`(() => { const e = `+inTide+`(".`+class+`").getBoundingClientRect(); return [e.x + e.width / 2, e.y + e.height / 2] })()`))
	require.NoError(b.t, err)
	at := eval[[]float64](b.t, b.Page, `(() => { const e = document.querySelector("iframe").getBoundingClientRect(); return [e.x, e.y] })()`)
	require.NoError(b.t, b.Do(chromedp.MouseClickXY(at[0]+part[0], at[1]+part[1])))
}

// write replaces what an editor holds; the piece is found by a text in it.
func (b *bench) write(holds, text string) {
	b.t.Helper()
	found := fmt.Sprintf(`[...document.querySelectorAll(".cm-content")].find(e => e.innerText.includes(%q))`, holds)
	b.wait(found)
	eval[any](b.t, b.Page, found+`.focus(); 0`)
	require.NoError(b.t, b.Do(chromedp.KeyEvent("a", chromedp.KeyModifiers(2))))
	eval[any](b.t, b.Page, fmt.Sprintf(`document.execCommand("insertText", false, %q); 0`, text))
}

func (b *bench) press(button string) {
	b.t.Helper()
	b.wait(fmt.Sprintf(`[...document.querySelectorAll("button")].some(b => b.innerText.trim().startsWith(%q) && !b.disabled)`, button))
	eval[any](b.t, b.Page, fmt.Sprintf(`[...document.querySelectorAll("button")].find(b => b.innerText.trim().startsWith(%q) && !b.disabled).click(); 0`, button))
}

func (b *bench) file(path string) string {
	b.t.Helper()
	draft, err := api.WidgetDraft(b.t.Context(), b.name)
	require.NoError(b.t, err)
	for _, f := range draft.Files {
		if f.Path == path {
			return f.Text
		}
	}
	return ""
}

const saved = `[...document.querySelectorAll("header [role=status]")].some(e => e.innerText == "Draft saved")`

// An author selects a part of the preview, sees what makes it, changes each piece of it on the
// spot, and sees it at once; a change of style leaves the widget as it is.
func TestPartFirst(t *testing.T) {
	t.Parallel()
	_, err := api.StartWidgetDraft(t.Context(), "tide-parts", wire.NewWidgetDraft{Files: tide("tide-parts")})
	require.NoError(t, err)
	b := openBench(t, "tide-parts")

	b.point("title")
	b.wait(`document.querySelector("nav[aria-label='Parents']")?.innerText.replace(/\s+/g, " ") == ".tide › .title"`)
	column := b.text("main > div:last-child")
	for _, want := range []string{"view.html:2", `{{.settings.heading}}`, "style.css:2", "var(--accent)", "style.css:7", "@container (min-width: 1px)", "Heading text", "settings.json:5", "Accent colour", "settings.json:6", "rgb(11, 107, 99)"} {
		assert.Contains(t, column, want)
	}
	assert.NotContains(t, column, "color: red", "a rule whose condition does not hold does not hit it")
	assert.NotContains(t, column, "settings.json:7")

	// The widget counts: its state must outlive what follows. Pointing is off for a click of the
	// widget's own.
	eval[any](t, b.Page, `document.querySelector("input[type=checkbox]").click(); 0`)
	b.point("more")
	b.sees(inTide + `(".count").textContent == "1"`)
	requests := `performance.getEntriesByType("resource").filter(e => e.name.endsWith("/previews")).length`
	before := eval[int](t, b.Page, requests)
	require.Positive(t, before)
	b.write("var(--accent)", ".title { color: rgb(1, 2, 3); }")
	b.sees(inTide + `(".title") && getComputedStyle(` + inTide + `(".title")).color == "rgb(1, 2, 3)"`)
	assert.Equal(t, before, eval[int](t, b.Page, requests), "style is painted without a request")
	b.sees(inTide + `(".count").textContent == "1"`)
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), ".title { color: rgb(1, 2, 3); }\n@media", "and it is saved where it stood")

	// What the style no longer asks for is said, at its place, without being in the way.
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("Nothing uses the setting")`)
	assert.Contains(t, b.text("section[aria-label=Messages]"), "settings.json:6")

	// The view, and a setting's default.
	b.write("{{.settings.heading}}", `<h2 class="title">{{.settings.heading}}, <i>today</i></h2>`)
	b.sees(inTide + `(".title").textContent == "High water, today"`)
	b.write(`"High water"`, `"heading": { "type": "string", "default": "Low water", "glass": { "type": "text", "label": { "en": "Heading" } } }`)
	b.sees(inTide + `(".title").textContent == "Low water, today"`)
	b.write("settings.heading", `<h2 class="title">{{.settings.headline}}</h2>`)
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("headline")`)
	b.wait(`document.querySelector(".cm-lintRange-error")?.innerText.includes("headline")`)
	b.sees(inTide + `(".title").textContent == "Low water, today"`) // what was seen last stays
	for range 3 {
		b.press("Undo")
	}
	b.sees(inTide + `(".title").textContent == "High water"`)
	b.press("Redo")
	b.sees(inTide + `(".title").textContent == "High water, today"`)

	// The lines of script that touch a part, in whichever file, and words.
	eval[any](t, b.Page, `document.querySelector("input[type=checkbox]").click(); 0`)
	b.point("count")
	b.wait(`document.querySelector("nav[aria-label='Parents']")?.innerText.includes(".count")`)
	column = b.text("main > div:last-child")
	assert.Contains(t, column, "mount.ts:5")
	assert.Contains(t, column, `root.querySelector<HTMLElement>(".count")!`)
	assert.Contains(t, column, "mount.ts:6")
	b.point("more")
	b.wait(`document.querySelector("main > div:last-child").innerText.includes("messages/en.json:2")`)
	assert.Contains(t, b.text("main > div:last-child"), "mount.ts:7")

	// Completion knows the values that exist.
	eval[any](t, b.Page, `[...document.querySelectorAll("button")].find(b => b.innerText.includes("All parts")).click(); 0`)
	b.wait(`[...document.querySelectorAll("main li button")].some(b => b.innerText.includes(".rows"))`)
	eval[any](t, b.Page, `[...document.querySelectorAll("main li button")].find(b => b.innerText.startsWith(".title")).click(); 0`)
	b.write("settings.heading", `<h2 class="title">{{.settings.`)
	require.NoError(t, b.Do(chromedp.KeyEvent("h")))
	b.wait(`document.querySelector(".cm-tooltip-autocomplete")?.innerText.includes("heading")`)
	require.NoError(t, b.Do(chromedp.KeyEvent("\u001b")))

	// The whole files are one key away.
	eval[any](t, b.Page, `document.activeElement.blur(); document.body.dispatchEvent(new KeyboardEvent("keydown", {key: "F9", bubbles: true})); 0`)
	b.wait(`[...document.querySelectorAll("nav[aria-label=Files] button")].map(b => b.innerText).join().replace(/[!\s]/g, "").startsWith("view.html,style.css,mount.ts")`)
}

// What the script says, and where it fails, stands beside the preview with the author's own
// file and line; neither a throwing script nor one without end keeps anybody from going on.
func TestScriptsThatFail(t *testing.T) {
	t.Parallel()
	files := tide("tide-fails")
	_, err := api.StartWidgetDraft(t.Context(), "tide-fails", wire.NewWidgetDraft{Files: files})
	require.NoError(t, err)
	b := openBench(t, "tide-fails")
	change := func(path, text string) {
		t.Helper()
		eval[any](t, b.Page, fmt.Sprintf(`[...document.querySelectorAll("nav[aria-label=Files] button")].find(b => b.innerText.startsWith(%q)).click(); 0`, path))
		b.wait(fmt.Sprintf(`document.querySelector(".cm-content")?.getAttribute("aria-label").startsWith(%q)`, path))
		b.write("", text)
	}
	log := `document.querySelector("section[aria-label=Messages]").innerText`
	b.press("Files")
	b.press("Console")

	change("grow.ts", "export function grow(at: HTMLElement, by: number) {\n  // a comment\n  console.log(\"grown\", { by }, at);\n}\n")
	change("mount.ts", "import { grow } from \"./grow\";\n\nexport default function mount({ root }: any) {\n  grow(root.querySelector(\".count\"), 7);\n}\n")
	b.wait(log + `.includes('grown {"by":7} <b class="count">') && ` + log + `.includes("grow.ts:3")`)

	change("mount.ts", "export default function mount({ root }: any) {\n  const none: any = null;\n\n  none.focus();\n}\n")
	b.wait(log + `.includes("TypeError") && ` + log + `.includes("mount.ts:4")`)
	change("mount.ts", "export default function mount() {\n  setTimeout(() => {\n    throw new Error(\"later\");\n  });\n  Promise.reject(new Error(\"refused\"));\n}\n")
	b.wait(log + `.includes("later") && ` + log + `.includes("mount.ts:3") && ` + log + `.includes("refused") && ` + log + `.includes("mount.ts:5")`)
	b.sees(inTide + `(".title")`)

	// Loops without end: at once, in a callback, without braces, waiting for nothing.
	for i, body := range []string{"while (true) {}", "for (;;) ;", "do { } while (1);", "setTimeout(() => { for (let i = 0; ; i++) { } });", "(async () => { while (true) await null; })();"} {
		change("mount.ts", fmt.Sprintf("export default function mount({ root }: any) {\n  root.querySelector(\".count\").textContent = \"run %d\";\n  console.info(\"begun %d\");\n  %s\n}\n", i, i, body))
		b.wait(fmt.Sprintf(log+`.split("begun %d")[1]?.includes("This loop ran for a second without ending")`, i))
		assert.Contains(t, eval[string](t, b.Page, fmt.Sprintf(log+`.split("begun %d")[1]`, i)), "mount.ts:4")
		b.sees(fmt.Sprintf(inTide+`(".count").textContent == "run %d"`, i))
	}
	// One that no guard stops: the frame is taken away and comes back without its script.
	change("mount.ts", "export default function mount() {\n  /^(a+)+$/.test(\"a\".repeat(60) + \"b\");\n}\n")
	b.wait(`[...document.querySelectorAll("[role=alert]")].some(e => e.innerText.includes("The preview was stopped"))`)
	change("mount.ts", "export default function mount({ root }: any) {\n  root.querySelector(\".count\").textContent = \"back\";\n}\n")
	b.sees(inTide + `(".count").textContent == "back"`)
	b.wait(saved)

	// A click leads to the line.
	change("grow.ts", "export const grow = 1;\n")
	eval[any](t, b.Page, `[...document.querySelectorAll("section[aria-label=Messages] button")].find(b => b.innerText == "mount.ts:4").click(); 0`)
	b.wait(`document.querySelector(".cm-content").getAttribute("aria-label").startsWith("mount.ts")`)
}

// Every condition is one click, and all of them can be seen side by side.
func TestPreviewCases(t *testing.T) {
	t.Parallel()
	_, err := api.StartWidgetDraft(t.Context(), "tide-cases", wire.NewWidgetDraft{Files: tide("tide-cases")})
	require.NoError(t, err)
	b := openBench(t, "tide-cases")
	rows := `document.querySelector(".stage")?.shadowRoot?.querySelectorAll(".row").length`
	for _, c := range []struct{ label, shows string }{
		{"No items", rows + ` == 0`},
		{"Many", rows + ` == 50`},
		{"Long words", inTide + `(".title").textContent.length >= 40 && innerWidth == 360`},
		{"Right to left", inTide + `(".pocket").dir == "rtl"`},
		{"Phone", `innerWidth == 360`},
		{"Column", `innerWidth == 240`},
		{"Top bar", `document.querySelector(".bar")?.getBoundingClientRect().height == 64 && document.documentElement.scrollHeight > innerHeight`},
		{"Dark page", `document.querySelector(".host") && getComputedStyle(document.querySelector(".host")).backgroundColor == "rgb(16, 21, 31)"`},
		{"Two copies", `document.querySelectorAll(".stage").length == 2 && [...document.querySelectorAll(".stage")].every(s => s.shadowRoot.querySelector(".title"))`},
		{"Default", rows + ` == 2 && document.querySelectorAll(".stage").length == 1`},
	} {
		b.press(c.label)
		b.sees(c.shows)
	}
	b.press("Side by side")
	b.wait(`document.querySelectorAll("iframe").length == 10`)
	assert.NotContains(t, strings.Join(b.Errors(), "\n"), "exception")
}

// Two people on one widget: what does not meet is taken in, what meets is shown to whoever
// saves second; and a tab that is closed in the middle of a word loses nothing.
func TestTwoAuthors(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	begun, err := api.StartWidgetDraft(ctx, "tide-two", wire.NewWidgetDraft{Files: tide("tide-two")})
	require.NoError(t, err)
	digest := func(d wire.WidgetDraft, path string) string {
		for _, f := range d.Files {
			if f.Path == path {
				return f.Digest
			}
		}
		return ""
	}
	b := openBench(t, "tide-two")
	b.point("title")
	_, err = api.ChangeWidgetDraft(ctx, "tide-two", []wire.DraftFile{{Path: "grow.ts", Text: "export const grow = () => {};\n", Was: digest(begun, "grow.ts")}})
	require.NoError(t, err)
	b.write("var(--accent)", ".title { color: var(--accent); font-style: italic; }")
	b.wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Added from them: grow.ts"))`)
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "italic")

	now, err := api.WidgetDraft(ctx, "tide-two")
	require.NoError(t, err)
	theirs := strings.Replace(b.file("style.css"), "italic", "oblique", 1)
	_, err = api.ChangeWidgetDraft(ctx, "tide-two", []wire.DraftFile{{Path: "style.css", Text: theirs, Was: digest(now, "style.css")}})
	require.NoError(t, err)
	_, err = api.ChangeWidgetDraft(ctx, "tide-two", []wire.DraftFile{{Path: "style.css", Text: "x", Was: digest(now, "style.css")}})
	p := problem(t, err)
	assert.Equal(t, 412, p.Status)
	assert.Contains(t, p.Detail, "style.css was changed by")
	b.write("italic", ".title { color: var(--accent); font-weight: 900; }")
	b.wait(`document.querySelector("section[aria-label='Changed by two people']")?.innerText.includes("oblique")`)
	assert.Contains(t, b.file("style.css"), "oblique", "nothing is overwritten")
	b.press("Keep my version")
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "900")
	b.press("Undo")
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "oblique", "what was not kept can be had back")
	b.press("Redo")
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "900")

	// Other lines of the same file: both stay, and it is said.
	now, err = api.WidgetDraft(ctx, "tide-two")
	require.NoError(t, err)
	_, err = api.ChangeWidgetDraft(ctx, "tide-two", []wire.DraftFile{{Path: "style.css", Text: b.file("style.css") + "\n.theirs { color: teal; }\n", Was: digest(now, "style.css")}})
	require.NoError(t, err)
	b.write("900", ".title { color: var(--accent); font-weight: 900; margin: 0; }")
	b.wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Added from them: style.css"))`)
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "margin: 0")
	assert.Contains(t, b.file("style.css"), ".theirs")

	// Nobody answers for a while: that is said, and it is tried again without being asked.
	eval[any](t, b.Page, `{ const real = window.fetch; window.fetch = (...a) => window.off ? Promise.reject(new TypeError("off")) : real(...a); window.off = true } 0`)
	b.write("margin: 0", ".title { color: var(--accent); font-weight: 900; margin: 1px; }")
	b.wait(`[...document.querySelectorAll("[role=alert]")].some(e => e.innerText.includes("The service does not answer."))`)
	b.wait(`[...document.querySelectorAll("header [role=status]")].some(e => e.innerText == "Not saved")`)
	assert.Contains(t, b.file("style.css"), "margin: 0")
	b.write("settings.heading", `<h2 class="title">{{.settings.heading}}, offshore</h2>`)
	eval[any](t, b.Page, `window.off = false; 0`)
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "margin: 1px")
	b.sees(inTide + `(".title").textContent.endsWith("offshore")`)
	b.wait(`!document.querySelector("[role=alert]")`)

	// Closed half a second before it would have been saved.
	b.point("title")
	b.write("900", ".title { color: var(--accent); font-weight: 100; }")
	again := &bench{b.Page, t, b.name}
	require.NoError(t, b.Go("about:blank"))
	require.NoError(t, b.Go(demo.Manage+"/worktop/tide-two"))
	again.sees(inTide + `(".title") && getComputedStyle(` + inTide + `(".title")).fontWeight == "100"`)
	again.wait(saved)
	assert.Contains(t, b.file("style.css"), "100")
}

// choose selects a text in an editor.
func (b *bench) choose(text string) {
	b.t.Helper()
	b.wait(fmt.Sprintf(`[...document.querySelectorAll(".cm-content")].some(e => e.innerText.includes(%q))`, text))
	eval[any](b.t, b.Page, fmt.Sprintf(`(() => {
		const editor = [...document.querySelectorAll(".cm-content")].find(e => e.innerText.includes(%[1]q));
		editor.scrollIntoView({block: "center"});
		editor.focus();
		for (const line of editor.querySelectorAll(".cm-line")) {
			const at = line.textContent.indexOf(%[1]q);
			if (at < 0) continue;
			const range = document.createRange();
			const place = (offset, set) => { const walk = document.createTreeWalker(line, NodeFilter.SHOW_TEXT); for (let n; n = walk.nextNode(); offset -= n.length) if (offset <= n.length) return set(n, offset) };
			place(at, (n, o) => range.setStart(n, o));
			place(at + %[1]q.length, (n, o) => range.setEnd(n, o));
			getSelection().removeAllRanges();
			getSelection().addRange(range);
			return;
		}
	})()`, text))
}

// A hard-coded value becomes a setting in one step; settings are renamed, doubled and removed
// everywhere. What comes out is sound each time, and undoing it leaves every file as it was.
func TestValueBecomesSetting(t *testing.T) {
	t.Parallel()
	files := tide("tide-values")
	for i, f := range files {
		switch f.Path {
		case "style.css":
			files[i].Text = strings.Replace(f.Text, "padding: 16px; color: #17233a;", "padding: 16px; color: #17233a; border: 1px solid #17233A; border-radius: 16px;", 1)
		case "view.html":
			files[i].Text = strings.Replace(f.Text, "</section>", "<p class=\"note\">Times are <em>local</em>. Mind the rocks &amp; the current.</p>\n</section>", 1)
		}
	}
	_, err := api.StartWidgetDraft(t.Context(), "tide-values", wire.NewWidgetDraft{Files: files})
	require.NoError(t, err)
	b := openBench(t, "tide-values")
	sound := func() {
		t.Helper()
		b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("There are no faults. You can release this draft.")`)
		b.wait(saved)
	}
	label := func(text string) {
		t.Helper()
		b.wait(`document.activeElement?.matches("[role=dialog] input.field")`) // without being asked
		eval[any](t, b.Page, `document.activeElement.select(); 0`)
		keys(t, b.Page, text)
		b.wait(fmt.Sprintf(`document.querySelector("[role=dialog] input.field").value == %q`, text))
	}
	enter := func() {
		t.Helper()
		eval[any](t, b.Page, `document.querySelector("[role=dialog] input.field").form.requestSubmit(); 0`)
		b.wait(`!document.querySelector("[role=dialog]")`)
	}
	sound()

	// A colour, by keyboard: both ways of writing it follow.
	b.point("rows")
	eval[any](t, b.Page, `[...document.querySelectorAll("nav[aria-label='Parents'] button")].find(e => e.innerText == ".tide").click(); 0`)
	b.choose("#17233a")
	b.wait(`document.querySelector(".cm-offer")`)
	require.NoError(t, b.Do(chromedp.KeyEvent(kb.F2)))
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("The same value is in 2 places")`)
	label("Ink & water")
	b.wait(`document.querySelector("[role=dialog]").innerText.includes("var(--ink-water)")`)
	enter()
	sound()
	assert.Contains(t, b.file("style.css"), "color: var(--ink-water); border: 1px solid var(--ink-water)")
	assert.Contains(t, b.file("settings.json"), `"inkWater": { "type": "string", "default": "#17233a"`)
	b.sees(`getComputedStyle(` + inTide + `(".tide")).borderTopColor == "rgb(23, 35, 58)"`)

	// A number of a stylesheet; the other property with that number is offered, and left alone.
	b.choose("16px")
	b.press("Make setting")
	b.wait(`document.querySelectorAll("[role=dialog] input[type=checkbox]:checked").length == 1`)
	label("Padding")
	enter()
	sound()
	assert.Contains(t, b.file("style.css"), "padding: var(--padding);")
	assert.Contains(t, b.file("style.css"), "border-radius: 16px")

	// A sentence of the view.
	b.point("note")
	b.choose("Mind the rocks")
	b.press("Make setting")
	label("Warning")
	enter()
	sound()
	assert.Contains(t, b.file("view.html"), `</em>. {{.settings.warning}} &amp; the current.`)
	b.sees(inTide + `(".note").textContent == "Times are local. Mind the rocks & the current."`)

	// What cannot be one says why.
	b.choose("note")
	b.press("Make setting")
	b.wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("The attribute class connects the widget's parts"))`)

	// Rename, duplicate, delete.
	b.wait(`document.querySelector("[aria-label='rename Warning']")`)
	eval[any](t, b.Page, `document.querySelector("[aria-label='rename Warning']").click(); 0`)
	label("1x")
	b.wait(`document.querySelector("[role=dialog]").innerText.includes("A key starts with a lower-case letter")`)
	label("heading")
	b.wait(`document.querySelector("[role=dialog]").innerText.includes("There is a setting heading already")`)
	label("caution")
	enter()
	sound()
	assert.Contains(t, b.file("view.html"), "{{.settings.caution}}")
	eval[any](t, b.Page, `document.querySelector("[aria-label='duplicate Warning']").click(); 0`)
	label("Second warning")
	enter()
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("Nothing uses the setting \"secondWarning\"")`)
	b.press("Undo")
	sound()
	b.wait(`document.querySelector("[aria-label='delete Warning']")`)
	eval[any](t, b.Page, `document.querySelector("[aria-label='delete Warning']").click(); 0`)
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("It is used in 1 place") && document.querySelector("[role=dialog]").innerText.includes("view.html:")`)
	eval[any](t, b.Page, `document.querySelector("[role=dialog] form").requestSubmit(); 0`)
	sound()
	assert.Contains(t, b.file("view.html"), "Mind the rocks &amp; the current.")

	for range 5 {
		b.press("Undo")
	}
	b.wait(`[...document.querySelectorAll("header button")].some(e => e.innerText == "Undo" && e.disabled)`)
	sound()
	for _, f := range files {
		assert.Equal(t, f.Text, b.file(f.Path), f.Path)
	}
}
