package app_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/portable"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

func picture(t testing.TB, c color.Color) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 40, 30))
	for i := range 40 * 30 {
		img.Set(i%40, i/40, c)
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	return b.Bytes()
}

// withCards is a world in which kelp has cards that show an uploaded image.
func withCards(t testing.TB) (w *world, key, digest string) {
	w = newWorld(t)
	folder, err := widgets.Folder("cards")
	require.NoError(t, err)
	files, _, err := widget.Collect(folder)
	require.NoError(t, err)
	_, _, _, err = w.Rollouts.Release(ctx, operator, "cards", rollout.NewRelease{Files: files})
	require.NoError(t, err)
	p, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "kelp", Widget: "cards", Key: "kelp-cards", Starter: "pantry", Title: "What we fire"})
	require.NoError(t, err)
	at, _, err := w.Customers.AddAsset(ctx, operator, "kelp", "bowl.png", picture(t, color.RGBA{200, 90, 40, 255}))
	require.NoError(t, err)
	w.set(t, p.Key, fmt.Sprintf(`{"cards": [{"title": "Bowl", "media": [{"image": {"asset": %q, "alt": "A bowl"}}]}], "accent": "#123456"}`, at.Digest))
	require.NoError(t, w.Pockets.SaveCase(ctx, operator, p.Key, pocket.Case{Name: "On a phone", Conditions: pocket.Conditions{Width: 360, Page: "dark"}}))
	return w, p.Key, at.Digest
}

// A pocket taken out as a file and in again is the same pocket of another customer, with its
// image and its cases; without the image's bytes the file goes only where the image is.
func TestPocketAsFile(t *testing.T) {
	w, key, digest := withCards(t)
	ferry := access.Scope{Role: access.CustomerEditor, CustomerID: "ferry", Name: "olm"}
	_, err := w.Files.Export(ctx, ferry, key, true)
	assert.Equal(t, "pocket-not-found", refusal(t, err).Code, "somebody else's")
	f, err := w.Files.Export(ctx, operator, key, true)
	require.NoError(t, err)
	require.Len(t, f.Assets, 1)
	assert.Equal(t, [2]string{digest, "bowl.png"}, [2]string{f.Assets[0].Digest, f.Assets[0].Name})
	assert.Contains(t, f.Assets[0].Address, "https://pockets.example/")
	listed, err := w.Files.Export(ctx, operator, key, false)
	require.NoError(t, err)
	assert.Empty(t, listed.Assets[0].Bytes)
	poor, _ := json.Marshal(listed)
	_, err = w.Files.Import(ctx, ferry, "ferry", poor, "poor")
	assert.Contains(t, refusal(t, err).Faults[0].What, "bowl.png")
	_, err = w.Files.Import(ctx, operator, "kelp", poor, "beside")
	require.NoError(t, err, "where the image is")

	file, _ := json.Marshal(f)
	p, err := w.Files.Import(ctx, ferry, "ferry", file, "ferry-cards")
	require.NoError(t, err)
	assert.Equal(t, [4]string{"ferry", "What we fire", "cards", "pantry"}, [4]string{p.CustomerID, p.Title, p.Widget, p.Starter})
	again, err := w.Files.Export(ctx, ferry, "ferry-cards", true)
	require.NoError(t, err)
	require.Len(t, again.Assets, 1)
	was, _ := json.Marshal(f.Settings)
	is, _ := json.Marshal(again.Settings)
	assert.Equal(t, strings.ReplaceAll(string(was), digest, again.Assets[0].Digest), string(is))
	assert.Equal(t, f.Cases, again.Cases)
	_, err = w.Publishing.Publish(ctx, ferry, "ferry-cards", publish.Draft{})
	require.NoError(t, err)
	assert.Contains(t, w.markup(t, "ferry-cards"), "A bowl")

	// An image does not go from under a draft; what a draft gets that is not there is refused.
	refused := refusal(t, w.Customers.DeleteAsset(ctx, operator, "kelp", digest))
	assert.Contains(t, refused.What, "beside, kelp-cards")
	p, err = w.Pockets.Get(ctx, operator, key)
	require.NoError(t, err)
	_, err = w.Pockets.SaveDraft(ctx, operator, key, p.Revision, fmt.Appendf(nil, `{"cards": [{"media": [{"image": {"asset": "%064d", "alt": ""}}]}]}`, 7), false)
	refused = refusal(t, err)
	require.Len(t, refused.Faults, 1)
	assert.Equal(t, "cards", refused.Faults[0].Field)
	assert.NotEmpty(t, refused.Faults[0].Fix)
}

// Whatever a file holds, it is a pocket or a refusal that says why; nothing half is left.
func TestFilesThatAreNone(t *testing.T) {
	w, key, _ := withCards(t)
	f, err := w.Files.Export(ctx, operator, key, true)
	require.NoError(t, err)
	changed := func(change func(*portable.PocketFile)) []byte {
		g := f
		change(&g)
		text, _ := json.Marshal(g)
		return text
	}
	for name, c := range map[string]struct {
		file []byte
		code string
	}{
		"no JSON":            {[]byte("<html>"), "file-faulty"},
		"half of it":         {changed(func(*portable.PocketFile) {})[:200], "file-faulty"},
		"a later format":     {changed(func(g *portable.PocketFile) { g.Format = 2 }), "file-format"},
		"no widget of ours":  {changed(func(g *portable.PocketFile) { g.Widget = "tides" }), "widget-not-found"},
		"a long title":       {changed(func(g *portable.PocketFile) { g.Title = strings.Repeat("ä", 121) }), "title-too-long"},
		"settings in a list": {regexp.MustCompile(`"settings":\{.*?\},"`).ReplaceAll(changed(func(g *portable.PocketFile) { g.Settings = setting.Values{"a": 1.0} }), []byte(`"settings":[1],"`)), "settings-faulty"},
		"no address":         {changed(func(g *portable.PocketFile) { g.Cues.Only = []string{"the shop"} }), "cues-faulty"},
		"another picture": {changed(func(g *portable.PocketFile) {
			g.Assets = []portable.FileAsset{{Digest: strings.Repeat("0", 64), Name: "x.png", Bytes: []byte("no picture")}}
		}), "asset-unknown"},
	} {
		_, err := w.Files.Import(ctx, operator, "ferry", c.file, "never")
		require.Error(t, err, name)
		assert.Equal(t, c.code, refusal(t, err).Code, name)
		assert.NotEmpty(t, refusal(t, err).Hint, name)
		_, err = w.Pockets.Get(ctx, operator, "never")
		assert.Equal(t, "pocket-not-found", refusal(t, err).Code, name)
	}
	// Of an older release: what this one does not know is kept aside; a case that is none is left out.
	p, err := w.Files.Import(ctx, operator, "ferry", changed(func(g *portable.PocketFile) {
		g.Settings = setting.Values{"accent": "#123456", "shimmer": 3.0}
		g.Title, g.Starter, g.Language, g.Assets = " ", "never", "xx", nil
		g.Cases = []portable.FileCase{{Name: "ok", Conditions: pocket.Conditions{Width: 300}}, {Name: "", Conditions: pocket.Conditions{}}, {Name: "too wide", Conditions: pocket.Conditions{Width: 1e6}}, {Name: "a\x00b", Conditions: pocket.Conditions{}}}
	}), "older")
	require.NoError(t, err)
	assert.Equal(t, [3]string{"Card carousel", "", "en"}, [3]string{p.Title, p.Starter, p.Language})
	_, aside, err := w.Pockets.Draft(ctx, operator, "older")
	require.NoError(t, err)
	assert.Equal(t, []string{"shimmer"}, aside)
	assert.Contains(t, p.Settings, "shimmer")
	cases, err := w.Pockets.Cases(ctx, operator, "older")
	require.NoError(t, err)
	assert.Equal(t, []pocket.Case{{Name: "ok", Conditions: pocket.Conditions{Width: 300}}}, cases)
}

// FuzzImport reads anything as a file of a pocket.
func FuzzImport(f *testing.F) {
	w, key, _ := withCards(f)
	file, err := w.Files.Export(ctx, operator, key, true)
	if err != nil {
		f.Fatal(err)
	}
	text, _ := json.Marshal(file)
	f.Add(text)
	f.Add([]byte(`{"format":1,"widget":"cards","title":"x","settings":{"cards":[{"media":[{"image":{"asset":"0"}}]}]}}`))
	n := 0
	f.Fuzz(func(t *testing.T, text []byte) {
		n++
		key := fmt.Sprintf("fuzz-%d", n)
		if _, err := w.Files.Import(ctx, operator, "ferry", text, key); err != nil {
			assert.NotEmpty(t, refusal(t, err).Hint)
			return
		}
		_, _, err := w.Pockets.Draft(ctx, operator, key)
		assert.NoError(t, err)
		_, err = w.Files.Export(ctx, operator, key, true)
		assert.NoError(t, err)
	})
}
