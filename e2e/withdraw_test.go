package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// Withdrawing a release shows first what it affects; without any release pockets stay
// manageable.
func TestWithdrawInConsole(t *testing.T) {
	ctx := t.Context()
	files := widget.Files{}
	for _, f := range tide("tide-gone") {
		files[f.Path] = []byte(f.Text)
	}
	_, err := api.Release(ctx, "tide-gone", files)
	require.NoError(t, err)
	_, err = api.MakePocket(ctx, wire.NewPocket{Key: "goes-out", Customer: plain, Widget: "tide-gone", Title: "Goes out"})
	require.NoError(t, err)
	publish(t, "goes-out")

	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/worktop"))
	row := `[...document.querySelectorAll("main li")].find(li => li.innerText.includes("tide-gone"))`
	press := func(within, words string) {
		t.Helper()
		require.NoError(t, p.Wait(`(b => b && !b.disabled && (b.click(), true))([...(`+within+`).querySelectorAll("button")].find(b => b.innerText.startsWith("`+words+`")))`), words)
	}
	dialog := `document.querySelector("[role=dialog]")`
	press(row, "Releases…")
	press(dialog, "Withdraw…")
	require.NoError(t, p.Wait(dialog+`.innerText.includes("This is the last release in use.")`))
	assert.Contains(t, eval[string](t, p, dialog+`.innerText`), "Goes out", "what is affected is named")
	assert.NotContains(t, eval[string](t, p, dialog+`.innerText`), "Withdrawn", "nothing has happened yet")
	press(dialog, "Withdraw release 1")
	require.NoError(t, p.Wait(dialog+`.innerText.includes("Withdrawn")`))
	press(dialog, "Close")
	require.NoError(t, p.Wait(`!`+dialog+` && `+row+`?.innerText.includes("withdrawn")`))

	// The list marks its pockets, and they can be opened, changed and unpublished.
	require.NoError(t, p.Go(demo.Manage+"/"))
	types(t, p, "main input[type=search]", "Goes out")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 1 && document.querySelector("tbody tr").innerText.includes("No release")`))
	require.NoError(t, p.Go(demo.Manage+"/pockets/goes-out"))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	types(t, p, "#setting-heading", "Still changed")
	require.NoError(t, p.Wait(saved))
	assert.True(t, eval[bool](t, p, `[...document.querySelectorAll("header button")].find(b => b.innerText == "Publish").disabled`))
	_, err = api.Publish(ctx, "goes-out", wire.Publish{})
	require.ErrorContains(t, err, "All releases of tide-gone have been withdrawn")
	require.NoError(t, p.Go(demo.Manage+"/pockets/goes-out/history"))
	press(`document`, "Unpublish…")
	pressInDialog(t, p, "Unpublish")
	require.NoError(t, p.Wait(`document.querySelector("main").parentElement.innerText.includes("Unpublished. Visitors no longer see it")`))

	// And back.
	require.NoError(t, p.Go(demo.Manage+"/worktop"))
	require.NoError(t, p.Wait(row))
	press(row, "Releases…")
	press(dialog, "Put back into use")
	require.NoError(t, p.Wait(`[...`+dialog+`.querySelectorAll("button")].some(b => b.innerText.startsWith("Withdraw…"))`), "the answer has come")
	press(dialog, "Close")
	_, err = api.Publish(ctx, "goes-out", wire.Publish{})
	require.NoError(t, err)
}

// What a withdrawal reports is what visitors get: a publication goes back to the older release as
// a draft does, and one that the older release does not take is named before and after.
func TestWithdrawnWithFollowers(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	const name = "tide-back"
	first := tide(name)
	first = changed(t, first, "settings.json", `"heading": { "type": "string", `, `"heading": { "type": "string", "maxLength": 20, `)
	_, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: first})
	require.NoError(t, err)
	follow := true
	for _, key := range []string{"back-moves", "back-stays", "back-again"} {
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: plain, Widget: name})
		require.NoError(t, err)
		set(t, key, map[string]any{"heading": "Old " + key})
		_, err = api.Publish(ctx, key, wire.Publish{Follow: &follow})
		require.NoError(t, err)
	}
	second := changed(t, first, "settings.json", `"heading": { "type": "string", "maxLength": 20, `, `"title": { "type": "string", `)
	second = changed(t, second, "settings.json", `"accent": {`, `"extra": { "type": "string", "default": "x", "glass": { "type": "text", "label": { "en": "Extra" } } },
    "accent": {`)
	second = changed(t, second, "settings.json", `"type": "object",
  "prop`, `"type": "object",
  "glass": { "changes": [{ "rename": "heading", "to": "title" }] },
  "prop`)
	second = changed(t, second, "view.html", "{{.settings.heading}}", `{{.settings.title}} <i class="two">{{.settings.extra}}</i>`)
	_, err = api.ReleaseAs(ctx, name, wire.NewRelease{Files: second})
	require.NoError(t, err)
	write := func(key, title string) int {
		set(t, key, map[string]any{"title": title, "extra": "of two"})
		return publish(t, key).Number
	}
	write("back-moves", "New back-moves")
	write("back-stays", "Too long for release one")
	long := write("back-again", "Too long as well, this is")
	write("back-again", "Short")

	uses, err := api.ReleaseUses(ctx, name, 2)
	require.NoError(t, err)
	require.Equal(t, 1, uses.Stuck.Count, "%v", uses.Stuck)
	assert.Equal(t, "back-stays", uses.Stuck.Pockets[0].Key)
	assert.Contains(t, uses.Stuck.Pockets[0].Why, "20")
	code, out, errs := glasspocket(t, "", "withdraw", name, "2")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "Affected: 3 pockets that follow new releases. Visitors of 2 get an older release, such as 1.")
	assert.Contains(t, out, "Not changed: 1 pocket that cannot use that release:")
	assert.Contains(t, out, "back-stays (Tide board): ")

	release := func(key string) int {
		p, err := api.Pocket(ctx, key)
		require.NoError(t, err)
		all, err := api.Pockets(ctx, plain)
		require.NoError(t, err)
		for _, one := range all {
			if one.Key == key {
				assert.Equal(t, p.Release, one.Release, "one and the list say the same of %s", key)
			}
		}
		return p.Release
	}
	assert.Equal(t, [3]int{1, 2, 1}, [3]int{release("back-moves"), release("back-stays"), release("back-again")}, "before anybody has asked for them")
	assert.Contains(t, served(t, "back-moves"), "New back-moves")
	assert.NotContains(t, served(t, "back-moves"), `two`)
	assert.Contains(t, served(t, "back-stays"), "of two")
	assert.Equal(t, [2]int{1, 2}, [2]int{release("back-moves"), release("back-stays")}, "and after")

	// What was published with release 2 is read with its settings.
	d, err := api.PocketDifferences(ctx, "back-moves", 1, 2)
	require.NoError(t, err)
	assert.Equal(t, []string{"extra", "title"}, keysOf(d))
	d, err = api.PocketDifferences(ctx, "back-moves", 2, 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"heading"}, keysOf(d), "the draft went back to what was typed under release 1")

	// Restoring and moving agree with that.
	_, err = api.Restore(ctx, "back-again", wire.Restore{Number: long})
	assert.Equal(t, "release-withdrawn", problem(t, err).Code)
	_, err = api.MovePocket(ctx, "back-stays", wire.Move{Release: 1})
	assert.Equal(t, "settings-faulty", problem(t, err).Code)
	moved, err := api.MovePocket(ctx, "back-moves", wire.Move{Release: 1})
	require.NoError(t, err)
	assert.Equal(t, 1, moved.Release)
	assert.Contains(t, served(t, "back-moves"), "New back-moves")

	// Back in use, release 2 is what all have again.
	_, err = api.Withdraw(ctx, name, 2, false)
	require.NoError(t, err)
	assert.Contains(t, served(t, "back-moves"), "two")
	assert.Equal(t, [2]int{2, 2}, [2]int{release("back-moves"), release("back-stays")})

	// The only release in use serves everybody, whatever its share.
	_, err = api.Withdraw(ctx, name, 2, true)
	require.NoError(t, err)
	code, out, errs = glasspocket(t, "", "roll", name, "1", "1")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "is the oldest one in use, so every pocket")
	publish(t, "back-moves")
	list, err := api.Releases(ctx, name)
	require.NoError(t, err)
	assert.Equal(t, 100, list.Releases[len(list.Releases)-1].Share)
	code, out, errs = glasspocket(t, "", "release", folderOf(t, tide("tide-alone")), "-share", "10")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "for all pockets, because no older release is in use")
}

// keysOf are the settings that differ.
func keysOf(d wire.PocketDifferences) (keys []string) {
	for _, c := range d.Changes {
		keys = append(keys, c.Key)
	}
	slices.Sort(keys)
	return keys
}

// folderOf is a folder on disk with files.
func folderOf(t *testing.T, files []wire.File) string {
	t.Helper()
	dir := t.TempDir()
	for _, f := range files {
		at := filepath.Join(dir, f.Path)
		require.NoError(t, os.MkdirAll(filepath.Dir(at), 0o755))
		require.NoError(t, os.WriteFile(at, []byte(f.Text), 0o644))
	}
	return dir
}

// The client works with the release that a pocket has while another is being rolled out.
func TestClientInPartialRollout(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	const name = "tide-part"
	first := tide(name)
	_, err := api.ReleaseAs(ctx, name, wire.NewRelease{Files: first})
	require.NoError(t, err)
	second := changed(t, first, "settings.json", `"heading": { "type": "string", `, `"tone": { "type": "string", `)
	second = changed(t, second, "settings.json", `"type": "object",
  "prop`, `"type": "object",
  "glass": { "changes": [{ "rename": "heading", "to": "tone" }] },
  "prop`)
	second = changed(t, second, "view.html", "{{.settings.heading}}", `{{.settings.tone}}`)
	_, err = api.ReleaseAs(ctx, name, wire.NewRelease{Files: second, Share: 50})
	require.NoError(t, err)
	for i, seen := 0, map[string]bool{}; len(seen) < 2; i++ {
		key := fmt.Sprintf("part-%d", i)
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: plain, Widget: name})
		require.NoError(t, err)
		w, err := api.WidgetOf(ctx, name, key)
		require.NoError(t, err)
		setting, other := w.Settings[0].Key, map[string]string{"heading": "tone", "tone": "heading"}[w.Settings[0].Key]
		if seen[setting] {
			continue
		}
		seen[setting] = true
		code, _, errs := glasspocket(t, "", "set", key, setting+"=High at six")
		require.Equal(t, 0, code, errs)
		code, out, errs := glasspocket(t, "", "read", key, setting)
		assert.Equal(t, [3]any{0, "High at six\n", ""}, [3]any{code, out, errs})
		code, _, errs = glasspocket(t, "", "set", key, setting+"=")
		assert.Equal(t, 0, code, errs)
		code, _, errs = glasspocket(t, "", "set", key, other+"=x")
		assert.Equal(t, 3, code, errs)
	}
}
