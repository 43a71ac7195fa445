package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/jobs"
	"glasspocket/internal/content"
	"glasspocket/internal/cue"
	"glasspocket/internal/wire"
)

func jobsWorld() jobs.World {
	return jobs.World{API: api, Manage: demo.Manage, Skerry: demo.Skerry, Name: demo.Name, Password: demo.Password, Browser: chromium}
}

// Ten everyday jobs, each within its number of actions: with the mouse, on a phone, and with the
// keyboard alone.
func TestJobs(t *testing.T) {
	w := jobsWorld()
	for _, j := range jobs.All {
		for _, way := range []struct {
			name          string
			width, height int
			keys          bool
			budget        int
		}{
			{"mouse", 1280, 800, false, j.Budget},
			{"phone", 390, 844, false, j.Budget + 1},
			{"keys", 1280, 800, true, j.Budget},
		} {
			if way.name == "phone" && !j.Phone {
				continue
			}
			t.Run(j.Name+"-"+way.name, func(t *testing.T) {
				if !j.Pastes && !(way.keys && j.Name == "B") {
					t.Parallel()
				}
				a, err := j.Run(w.For(j.Name+"-"+way.name), way.width, way.height, way.keys)
				require.NoError(t, err)
				assert.LessOrEqual(t, a.Actions, way.budget, "%s: %v", j.About, a.Log)
				t.Logf("%d of %d: %v", a.Actions, way.budget, a.Log)
			})
		}
	}
}

// signedInActor opens a page of the console for somebody who acts with real clicks and keys.
func signedInActor(t *testing.T, path string, before string, act func(*jobs.Actor)) {
	t.Helper()
	w := jobsWorld()
	_, err := w.Act(1280, 800, false, func(a *jobs.Actor) {
		if before != "" {
			require.NoError(t, a.Page.Before(before))
		}
		w.SignIn(a, demo.Name, demo.Password)
		a.Go(demo.Manage + path)
		act(a)
	})
	require.NoError(t, err)
}

const notice = `[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes(%q))`

func button(words string) string {
	return fmt.Sprintf(`[...document.querySelectorAll("button")].find(b => b.getClientRects().length && b.innerText.trim() == %q)`, words)
}

// A pasted table that is not clear is shown first, and can be corrected; a clear one is taken at
// once. Typed entries replace the sample, and a changed sample entry makes all of them the
// customer's own.
func TestEntries(t *testing.T) {
	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "entered", Customer: plain, Widget: "reviews", Starter: "shelf", Title: "Entered"})
	require.NoError(t, err)
	items := `[...document.querySelectorAll("[data-path=reviews] [data-item]")].map(e => e.innerText).join("|")`
	signedInActor(t, "/pockets/entered", "", func(a *jobs.Actor) {
		a.Wait(`document.activeElement.id == "setting-reviews"`)
		a.Paste("a ragged table", "", "Name\tRating\tText\nEske\tmany\t\"Warm, and\n\"\"near\"\"\"\nMirre\t4\n")
		a.Wait(`document.querySelector("[role=dialog]")?.innerText.includes("1 row has fewer columns than the others.")`)
		a.Wait(`document.querySelector("[role=dialog]").innerText.includes("“many” is not a rating") && document.querySelector("[role=dialog] button[type=submit]").disabled`)
		a.Fill("the rating", `document.querySelector("[aria-label='Row 2, column 2']")`, "4.5")
		a.Fill("the text", `document.querySelector("[aria-label='Row 3, column 3']")`, "Far")
		a.Click("add", button("Add 2 entries"))
		a.Wait(items + ` == "Eske|Mirre"`)
		a.Fill("another", `document.querySelector("#setting-reviews")`, "By hand")
		a.Press("next", "Enter")
		a.Wait(items + ` == "Eske|Mirre|By hand" && document.activeElement.value == ""`)
		a.Wait(saved)
	})
	d, err := api.Draft(t.Context(), "entered")
	require.NoError(t, err)
	for _, has := range []string{`"name":"Eske"`, `Warm, and\n\"near\"`, `"value":4.5`, `"Far"`, `"title":"By hand"`} {
		assert.Contains(t, string(d.Settings), has)
	}

	_, err = api.MakePocket(t.Context(), wire.NewPocket{Key: "adopted", Customer: plain, Widget: "reviews", Starter: "shelf", Title: "Adopted"})
	require.NoError(t, err)
	signedInActor(t, "/pockets/adopted", "", func(a *jobs.Actor) {
		a.Click("delete the first sample", `document.querySelector("[data-path=reviews] [aria-label^='Delete: Eske']")`)
		a.Wait(fmt.Sprintf(notice, "The sample entries of Reviews are now your own."))
		a.Wait(items + `.startsWith("Mirre") && ` + saved)
		a.Click("undo", `document.querySelector("header [aria-label^=Undo]")`)
		a.Wait(items + `.startsWith("Eske") && document.body.innerText.includes("Sample entries.")`)
		a.Click("redo", `document.querySelector("header [aria-label^=Redo]")`)
		a.Wait(saved)
	})
	d, err = api.Draft(t.Context(), "adopted")
	require.NoError(t, err)
	assert.Equal(t, 7, strings.Count(string(d.Settings), `"kind":"review"`))
}

// What goes wrong while publishing is said, and nothing is lost: a clipboard that is refused, an
// undo that comes too late, a second tab, and a place that the rules contradict.
func TestPublishingThatGoesWrong(t *testing.T) {
	t.Parallel()
	newPocket(t, "goes-wrong", "2098-01-01T00:00[UTC]", map[string]any{"heading": "First"})
	path := "/pockets/goes-wrong"
	ready := `document.querySelector("iframe")?.dataset.drawn > 0 && document.querySelector("[data-part=publish] li button")`
	undo := button("Undo publishing")

	// Undo, and an undo after somebody else has published.
	signedInActor(t, path, "", func(a *jobs.Actor) {
		a.Wait(ready)
		a.Fill("heading", `document.querySelector("#setting-heading")`, "Second")
		a.Wait(`[...document.querySelectorAll("[data-part=publish] dl dt")].some(e => e.innerText == "Heading") || (document.querySelector("[data-part=publish]").scrollIntoView(), false)`)
		a.Click("publish", button("Publish changes"))
		a.Wait(fmt.Sprintf(notice, "Published as number 2."))
		a.Click("undo", undo)
		a.Wait(fmt.Sprintf(notice, "Undone. Visitors get number 1 again."))
		assert.Contains(t, served(t, "goes-wrong"), "First")
		a.Fill("heading", `document.querySelector("#setting-heading")`, "Third")
		a.Click("publish", `[...document.querySelectorAll("header button")].find(b => b.innerText == "Publish")`)
		a.Wait(fmt.Sprintf(notice, "Published as number 4."))
		set(t, "goes-wrong", map[string]any{"accent": "#112233"})
		publish(t, "goes-wrong")
		a.Click("undo", undo)
		a.Wait(fmt.Sprintf(notice, "Number 5 has been published since then, so number 4 was not undone."))
		assert.Contains(t, served(t, "goes-wrong"), "#112233")

		// Another tab has changed the draft meanwhile: both changes are published.
		set(t, "goes-wrong", map[string]any{"radius": 3})
		a.Fill("heading", `document.querySelector("#setting-heading")`, "Fourth")
		a.Click("publish", `[...document.querySelectorAll("header button")].find(b => b.innerText == "Publish")`)
		a.Wait(fmt.Sprintf(notice, "Published as number 6."))
		assert.Contains(t, served(t, "goes-wrong"), "Fourth")
		assert.Contains(t, served(t, "goes-wrong"), `"--radius":"3px"`)
	})

	// The browser refuses to copy: the snippet is selected, with the reason.
	signedInActor(t, path, `for (const name of ["write", "writeText"]) Clipboard.prototype[name] = async () => { throw new DOMException("no", "NotAllowedError") }`, func(a *jobs.Actor) {
		a.Wait(ready)
		a.Click("publish for", `[...document.querySelectorAll("[data-part=publish] li button")].find(b => b.innerText.startsWith("Plain HTML"))`)
		a.Wait(fmt.Sprintf(notice, "The browser did not allow copying. The snippet is selected"))
		a.Wait(`getSelection().toString().includes("/s/goes-wrong.js")`)
		// The link to the steps is shown instead.
		a.Click("copy link to steps", button("Copy link to steps"))
		a.Wait(fmt.Sprintf(notice, demo.Manage+"/steps#"))
	})

	// A rule that contradicts the place is kept until somebody says otherwise.
	draft, err := api.Draft(t.Context(), "goes-wrong")
	require.NoError(t, err)
	_, err = api.ChangePocket(t.Context(), "goes-wrong", draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cue.Cues{Only: []string{"/events/*"}}}})
	require.NoError(t, err)
	signedInActor(t, path, "", func(a *jobs.Actor) {
		a.Wait(ready)
		home := `[...document.querySelectorAll("[data-part=publish] [role=radio]")].find(b => b.innerText == "Home page")`
		a.Click("home page", home)
		a.Wait(`document.querySelector("[data-part=publish] [role=alert]").innerText.includes("A rule shows this pocket only at /events/*")`)
		a.Wait(`[...document.querySelectorAll("[data-part=publish] li button")].every(b => b.disabled && b.innerText.includes("Decide about the rule first."))`)
		a.Click("insist", button("Show it only on the home page"))
		a.Wait(`!document.querySelector("[data-part=publish] [role=alert]") && ` + saved)
		a.Wait(`[...document.querySelectorAll("[data-part=publish] li button:disabled")].some(b => b.innerText.includes("It cannot be limited to the home page there."))`)
	})
	draft, err = api.Draft(t.Context(), "goes-wrong")
	require.NoError(t, err)
	assert.Equal(t, []string{"/"}, draft.Cues.Only)
}

// Pockets, widgets and starters can be duplicated where they are listed.
func TestDuplicateWhereListed(t *testing.T) {
	t.Parallel()
	newPocket(t, "doubled", "2098-01-01T00:00[UTC]", nil)
	signedInActor(t, "/", "", func(a *jobs.Actor) {
		a.Fill("search", `document.querySelector("main input[type=search]")`, "doubled")
		a.Wait(`document.querySelectorAll("tbody tr").length == 1`)
		a.Click("duplicate", `[...document.querySelectorAll("tbody [aria-label='Duplicate: Test doubled']")].find(b => b.getClientRects().length)`)
		a.Wait(`document.querySelectorAll("tbody tr").length == 2 && ` + fmt.Sprintf(notice, "Duplicated as"))
		a.Click("undo", button("Undo"))
		a.Wait(`document.querySelectorAll("tbody tr").length == 1`)
		a.Go(demo.Manage + "/worktop")
		a.Click("duplicate", `document.querySelector("[aria-label='Duplicate Person card']")`)
		a.Wait(fmt.Sprintf(notice, "Duplicated as person-copy.") + ` && document.querySelector("a[href='/worktop/person-copy']")`)
		a.Go(demo.Manage + "/gallery")
		a.Click("duplicate", `document.querySelector("[aria-label='Duplicate the starter Boathouse']")`)
		a.Wait(`location.pathname.startsWith("/worktop/")`)
	})
	copied, err := api.WidgetDraft(t.Context(), "person")
	require.NoError(t, err)
	found := false
	for _, f := range copied.Files {
		found = found || strings.HasPrefix(f.Path, "starters/boathouse-copy") && strings.Contains(f.Text, "Boathouse 2")
	}
	assert.True(t, found)
}

// The pieces of a widget can be dropped as files, in any order.
func TestPiecesAsFiles(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	var files []string
	for name, text := range map[string]string{"card.js": `const card = document.querySelector(".card"); card.title = "By script";`, "card.css": `.card { color: #17233a; }`, "card.html": `<div class="card"><h2>Dropped</h2></div>`} {
		files = append(files, filepath.Join(dir, name))
		require.NoError(t, os.WriteFile(files[len(files)-1], []byte(text), 0o644))
	}
	signedInActor(t, "/new-widget", "", func(a *jobs.Actor) {
		a.Drop("three files", `document.querySelector("form[aria-label=Source] textarea")`, files...)
		a.Wait(`document.querySelectorAll("[aria-label='Pasted pieces'] li").length == 3 && document.querySelector("input[aria-label^='Make “Text colour']").checked`)
		a.Fill("label", `document.querySelector("input[aria-label='Label of Dropped']")`, "Heading")
		a.Click("make", button("Make widget"))
		a.Wait(`location.pathname == "/worktop/dropped" && document.querySelector("section[aria-label=Messages]").innerText.includes("You can release this draft")`)
	})
	draft, err := api.WidgetDraft(t.Context(), "dropped")
	require.NoError(t, err)
	var all strings.Builder
	for _, f := range draft.Files {
		all.WriteString(f.Text)
	}
	for _, has := range []string{"{{.settings.heading}}", "color: var(--text-colour-of-card)", "By script"} {
		assert.Contains(t, all.String(), has)
	}
}

// The next pocket of a customer is proposed for the last place, and needs one click.
func TestNextPocketIsForTheSamePlace(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	_, err := api.MakeCustomer(ctx, wire.NewCustomer{ID: "again-there", Name: "Again There"})
	require.NoError(t, err)
	_, err = api.RememberPlace(ctx, "again-there", wire.NewPlace{Host: "blog", Where: "column"})
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "again-there", Customer: "again-there", Widget: "section", Starter: "orchard", Title: "Again"})
	require.NoError(t, err)
	signedInActor(t, "/pockets/again-there", "", func(a *jobs.Actor) {
		a.Click("publish", `[...document.querySelectorAll("header button")].find(b => b.innerText == "Publish for Blog with a sidebar and a template")`)
		a.Wait(fmt.Sprintf(notice, "The snippet for “Blog with a sidebar and a template” is copied.") + ` && document.querySelector("input[name=where][value=column]")?.checked`)
		assert.Contains(t, a.Copied(), "again-there")
	})
}
