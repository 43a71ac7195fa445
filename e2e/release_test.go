package e2e

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// changed gives files with one text replaced in one of them.
func changed(t *testing.T, files []wire.File, path, old, new string) []wire.File {
	t.Helper()
	out := append([]wire.File{}, files...)
	for i, f := range out {
		if f.Path == path {
			require.Contains(t, f.Text, old)
			out[i].Text = strings.Replace(f.Text, old, new, 1)
		}
	}
	return out
}

// dry runs a dry run to its end.
func dry(t *testing.T, name string, files []wire.File) wire.DryRun {
	t.Helper()
	run, err := api.StartDryRun(t.Context(), name, wire.NewDryRun{Files: files})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		run, err = api.DryRun(t.Context(), name, run.ID, "")
		return err == nil && run.Finished
	}, browser.Patience, 2*time.Millisecond)
	return run
}

// served is what visitors get of a key.
func served(t *testing.T, key string) string {
	t.Helper()
	res, body := send(t, http.MethodGet, demo.Public+"/s/"+key+".json", "")
	require.Equal(t, 200, res.StatusCode, body)
	return body
}

// A release is rendered for every pocket that follows before it is made, says what it would do
// to each, needs a plain yes to break one, goes to a share and then to all, and back in one
// step; what customers have typed comes along and is lost by none of it.
func TestReleases(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	const name = "tide-releases"
	first := tide(name)
	out, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: first, Note: "The first", Share: 10})
	require.NoError(t, err)
	assert.Equal(t, 100, out.Share, "the first release is for all: there is nothing else")
	follow := true
	var keys []string
	for i := range 24 {
		key := fmt.Sprintf("tide-follows-%d", i)
		keys = append(keys, key)
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "saltmarsh-ferry", Widget: name})
		require.NoError(t, err)
		set(t, key, map[string]any{"heading": "Tide " + key})
		_, err = api.Publish(ctx, key, wire.Publish{Follow: &follow})
		require.NoError(t, err)
	}

	// A setting has another key, and nothing says what becomes of it.
	renamed := changed(t, changed(t, first, "view.html", "{{.settings.heading}}", "{{.settings.title}}"), "settings.json", `"heading":`, `"title":`)
	run := dry(t, name, renamed)
	assert.Equal(t, []int{24, 0, 0, 24}, []int{run.Of, run.Identical, run.Changed, run.Broken})
	require.Len(t, run.Pockets, 24)
	assert.Contains(t, run.Pockets[0].Why, `There is no setting "heading".`)
	_, err = api.ReleaseAs(ctx, name, wire.NewRelease{Files: renamed})
	p := problem(t, err)
	assert.Equal(t, "release-breaks", p.Code)
	assert.Contains(t, p.Detail, "24 of 24 pockets")
	require.NotEmpty(t, p.Faults)
	assert.Contains(t, p.Faults[0].Fix, `"changes"`)

	// With a word about it, visitors get the same.
	told := changed(t, renamed, "settings.json", `"type": "object",`, `"type": "object",
  "glass": { "changes": [{ "rename": "heading", "to": "title" }] },`)
	run = dry(t, name, told)
	assert.Equal(t, []int{24, 24, 0, 0}, []int{run.Of, run.Identical, run.Changed, run.Broken})
	assert.Empty(t, run.Pockets)

	// Something else is released while that dry run is being looked at.
	other, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: changed(t, first, "style.css", "16px", "17px")})
	require.NoError(t, err)
	assert.Equal(t, 2, other.Number)
	_, err = api.ReleaseAs(ctx, name, wire.NewRelease{Files: told, DryRun: run.ID})
	assert.Equal(t, "released-meanwhile", problem(t, err).Code)
	again, err := api.DryRun(ctx, name, run.ID, "")
	require.NoError(t, err)
	assert.True(t, again.Stale)
	_, err = api.ReleaseAs(ctx, name, wire.NewRelease{Files: renamed, DryRun: dry(t, name, told).ID})
	assert.Equal(t, "dry-run-other", problem(t, err).Code)

	// To a half first.
	told = changed(t, told, "view.html", "</section>", "<p class=\"new\">new</p></section>")
	run = dry(t, name, told)
	assert.Equal(t, 24, run.Changed)
	assert.Equal(t, []string{"markup", "stylesheet"}, run.Pockets[0].What)
	half, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: told, DryRun: run.ID, Share: 50, Note: "A paragraph"})
	require.NoError(t, err)
	assert.Equal(t, []any{3, 50, "A paragraph"}, []any{half.Number, half.Share, half.Note})
	has := func() (n int) {
		for _, key := range keys {
			body := served(t, key)
			require.Contains(t, body, "Tide "+key, "what was typed is there, whatever the release")
			if strings.Contains(body, `class=\"new\"`) {
				n++
			}
		}
		return n
	}
	some := has()
	assert.Greater(t, some, 1)
	assert.Less(t, some, 23)
	assert.Equal(t, some, has(), "a pocket is in or out for good")
	// Who has it edits with it, and who has not does not.
	inHalf := func(key string) bool { return strings.Contains(served(t, key), `class=\"new\"`) }
	for _, key := range keys {
		draft, err := api.Draft(ctx, key)
		require.NoError(t, err)
		assert.Equal(t, inHalf(key), strings.Contains(string(draft.Settings), `"title"`), "%s: %s", key, draft.Settings)
	}
	_, err = api.ShareRelease(ctx, name, 3, 100)
	require.NoError(t, err)
	assert.Equal(t, 24, has())

	// What is typed under the new release, and what was typed before, outlive going back.
	draft, err := api.Draft(ctx, keys[0])
	require.NoError(t, err)
	assert.JSONEq(t, `{"title": "Tide tide-follows-0"}`, string(draft.Settings))
	set(t, keys[0], map[string]any{"step": 5})
	set(t, keys[1], map[string]any{"title": nil})
	draft, err = api.Draft(ctx, keys[1])
	require.NoError(t, err)
	assert.JSONEq(t, `{}`, string(draft.Settings), "what is taken away does not come back from before")
	_, err = api.Withdraw(ctx, name, 3, true)
	require.NoError(t, err)
	assert.Zero(t, has(), "back in one step")
	draft, err = api.Draft(ctx, keys[0])
	require.NoError(t, err)
	assert.JSONEq(t, `{"heading": "Tide tide-follows-0", "step": 5}`, string(draft.Settings))
	assert.Equal(t, []string{"title"}, draft.Aside)

	// A plain yes lets those that break stay behind.
	_, err = api.Withdraw(ctx, name, 3, false)
	require.NoError(t, err)
	assert.Equal(t, 24, has())
	gone := changed(t, first, "settings.json", `"heading": { "type": "string", "default": "High water", "glass": { "type": "text", "label": { "en": "Heading" } } },`, "")
	gone = changed(t, gone, "view.html", "{{.settings.heading}}", "Fixed")
	broken, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: gone, Breaks: true})
	require.NoError(t, err)
	assert.Equal(t, 4, broken.Number)
	assert.Equal(t, 24, has(), "they stay with what they have")

	for _, bad := range []int{0, 101, -1} {
		_, err = api.ShareRelease(ctx, name, 3, bad)
		assert.Equal(t, 422, problem(t, err).Status)
	}
	// The same by the client, from a folder.
	code, text, errs := glasspocket(t, "", "fetch", name, t.TempDir()+"/x", "-release", "3")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, text, "release 3")
	code, text, _ = glasspocket(t, "", "list", "releases", name)
	require.Equal(t, 0, code)
	assert.Contains(t, text, "A paragraph")
	code, text, errs = glasspocket(t, "", "roll", name, "3", "20")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, text, "rolled out to 20%")
}

// A copy knows where it comes from, shows what has changed there since, and takes it over
// where it does not collide.
func TestCopies(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	original := tide("tide-original")
	_, err := api.ReleaseAs(ctx, "tide-original", wire.NewRelease{Files: original})
	require.NoError(t, err)
	copied, err := api.StartWidgetDraft(ctx, "tide-copy", wire.NewWidgetDraft{From: "tide-original"})
	require.NoError(t, err)
	texts := map[string]wire.DraftFile{}
	for _, f := range copied.Files {
		texts[f.Path] = f
	}
	assert.Contains(t, texts["widget.json"].Text, "\"name\": \"tide-copy\",\n  \"copyOf\": { \"widget\": \"tide-original\", \"release\": 1 },\n")
	mine := func(path, old, new string) {
		t.Helper()
		require.Contains(t, texts[path].Text, old)
		d, err := api.ChangeWidgetDraft(ctx, "tide-copy", []wire.DraftFile{{Path: path, Text: strings.Replace(texts[path].Text, old, new, 1), Was: texts[path].Digest}})
		require.NoError(t, err)
		for _, f := range d.Files {
			texts[f.Path] = f
		}
	}
	o, err := api.Origin(ctx, "tide-copy")
	require.NoError(t, err)
	assert.Equal(t, o.Release, o.Newest)
	mine("style.css", ".pocket { container-type: inline-size; }", ".pocket { container-type: inline-size; padding: 30px; }")
	mine("messages/en.json", "One more", "And one more")
	next := changed(t, changed(t, changed(t, original, "style.css", ".title { color: var(--accent); }", ".title { color: var(--accent); font-weight: 900; }"), "messages/en.json", "One more", "Another"), "settings.json", `"High water"`, `"Low water"`)
	_, err = api.ReleaseAs(ctx, "tide-original", wire.NewRelease{Files: next})
	require.NoError(t, err)

	// In the console: what has changed there, and one step that can be undone.
	b := openBench(t, "tide-copy")
	b.wait(`document.body.innerText.includes("tide-original, the original of this copy, has changed.")`)
	b.press("Show changes")
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("Heading")`)
	box := b.text("[role=dialog]")
	for _, want := range []string{"since release 1", "default: \"High water\" → \"Low water\"", "style.css", "messages/en.json", "Changed in both", "Another"} {
		assert.Contains(t, box, want)
	}
	b.press("Merge changes")
	b.wait(saved)
	assert.Contains(t, b.file("style.css"), "padding: 30px")
	assert.Contains(t, b.file("style.css"), "font-weight: 900")
	assert.Contains(t, b.file("settings.json"), "Low water")
	assert.Contains(t, b.file("messages/en.json"), "And one more", "where both have changed, the copy keeps its own")
	assert.Contains(t, b.file("widget.json"), `"copyOf": { "widget": "tide-original", "release": 2 }`)
	b.press("Undo")
	b.wait(saved)
	assert.Contains(t, b.file("widget.json"), `"release": 1`)

	_, err = api.Origin(ctx, "nothing-here")
	assert.Equal(t, 404, problem(t, err).Status)
	var p *client.Problem
	_, err = api.StartWidgetDraft(ctx, "tide-copy-2", wire.NewWidgetDraft{From: "nothing-here"})
	require.ErrorAs(t, err, &p)
	assert.Contains(t, p.Detail, "nothing-here")
}

// In the console: what has changed, how it looks, what it does to pockets, and a release only
// when somebody says yes to what it breaks.
func TestReleaseInConsole(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	const name = "tide-console"
	_, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: tide(name)})
	require.NoError(t, err)
	follow := true
	for _, key := range []string{"tide-console-1", "tide-console-2"} {
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "saltmarsh-ferry", Widget: name, Title: "Board " + key})
		require.NoError(t, err)
		set(t, key, map[string]any{"heading": "Tide " + key})
		_, err = api.Publish(ctx, key, wire.Publish{Follow: &follow})
		require.NoError(t, err)
	}
	_, err = api.StartWidgetDraft(ctx, name, wire.NewWidgetDraft{})
	require.NoError(t, err)
	b := openBench(t, name)
	b.press("Release")
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("Nothing has changed since release 1")`)
	b.press("Cancel")

	// Removed in the text alone: pockets that have it would break.
	b.press("Files")
	b.write("", strings.Replace(tide(name)[2].Text, "{{.settings.heading}}", "Fixed", 1))
	eval[any](t, b.Page, `[...document.querySelectorAll("nav[aria-label=Files] button")].find(b => b.innerText.startsWith("settings.json")).click(); 0`)
	b.wait(`document.querySelector(".cm-content")?.getAttribute("aria-label").startsWith("settings.json")`)
	without := strings.Replace(tide(name)[1].Text, `    "heading": { "type": "string", "default": "High water", "glass": { "type": "text", "label": { "en": "Heading" } } },`+"\n", "", 1)
	b.write("", without)
	b.wait(saved)
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("There are no faults")`)
	b.press("Release")
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("Board tide-console-1") && document.querySelector("[role=dialog]").innerText.includes("2 broken")`)
	box := b.text("[role=dialog]")
	for _, want := range []string{"Changes since release 1", "Heading removed", "view.html", "Before and after", "0 identical", "0 changed", "Board tide-console-1", `There is no setting "heading".`} {
		assert.Contains(t, box, want)
	}
	assert.True(t, eval[bool](t, b.Page, `[...document.querySelectorAll("[role=dialog] button[type=submit]")][0].disabled`))
	// Closing the box is no release, whichever way it is closed.
	eval[any](t, b.Page, `document.querySelector("[role=dialog] input[type=checkbox]").click(); 0`)
	b.wait(`!document.querySelector("[role=dialog] button[type=submit]").disabled`)
	eval[any](t, b.Page, `document.querySelector("[role=dialog] [aria-label=Close]").click(); 0`)
	b.wait(`!document.querySelector("[role=dialog]")`)
	now, err := api.Releases(ctx, name)
	require.NoError(t, err)
	assert.Len(t, now.Releases, 1)
	b.press("Release")
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("Board tide-console-1")`)
	eval[any](t, b.Page, `[...document.querySelectorAll("[role=dialog] button")].find(e => e.innerText == "Look").click(); 0`)
	b.wait(`document.querySelector("[role=dialog]").innerText.includes("It cannot use this release") && document.querySelector("[role=dialog] iframe[title=Before]")`)
	b.press("Cancel")
	b.press("Undo")

	// By the worktop's own hand it is noted what becomes of it, and nothing breaks.
	b.press("Parts")
	b.press("Undo")
	b.wait(saved)
	b.sees(inTide + `(".title").textContent == "High water"`)
	b.point("title")
	b.wait(`document.querySelector("[aria-label='rename Heading']")`)
	eval[any](t, b.Page, `document.querySelector("[aria-label='rename Heading']").click(); 0`)
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("Customers' values move along")`)
	fill(t, b.Page, "[role=dialog] input.field", "title")
	require.NoError(t, b.Do(chromedp.KeyEvent(kb.Enter)))
	b.wait(saved)
	assert.Contains(t, b.file("settings.json"), `"changes": [{ "rename": "heading", "to": "title" }]`)
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("There are no faults")`)
	b.press("Release")
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("2 identical")`)
	fill(t, b.Page, "[role=dialog] input.field", "Another key")
	require.NoError(t, b.Do(chromedp.KeyEvent(kb.Enter)))
	b.wait(`document.querySelector("[role=dialog]")?.innerText.includes("Made release 2")`)
	b.wait(`document.querySelector("[role=dialog]").innerText.includes("Another key")`)
	assert.Contains(t, served(t, "tide-console-1"), "Tide tide-console-1")
	eval[any](t, b.Page, `document.querySelector("[role=dialog] [aria-label='Withdraw release 2']").click(); 0`)
	b.wait(`[...document.querySelectorAll("[role=dialog] button")].some(e => e.innerText == "Withdraw release 2" && (e.click(), true))`)
	b.wait(`document.querySelector("[role=dialog]").innerText.includes("Withdrawn")`)
	// From here it goes on to a pocket.
	eval[any](t, b.Page, `[...document.querySelectorAll("[role=dialog] button")].find(e => e.innerText == "Close").click(); 0`)
	b.wait(`!document.querySelector("[role=dialog]") && document.querySelector("form[aria-label='Make pockets']")`)
	out, err := api.Releases(ctx, name)
	require.NoError(t, err)
	assert.NotNil(t, out.Releases[0].WithdrawnAt)
}
