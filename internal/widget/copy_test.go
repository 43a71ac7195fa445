package widget_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/bundle"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// A copy's manifest says where it is from, and is otherwise as its author wrote it.
func TestCopyOf(t *testing.T) {
	from := widget.Origin{Widget: "tide", Release: 3}
	for name, c := range map[string]struct{ before, after string }{
		"lines":    {"{\n  \"format\": 1,\n\t\"name\": \"tide\",\n  \"title\": {}\n}", "{\n  \"format\": 1,\n\t\"name\": \"copy\",\n\t\"copyOf\": { \"widget\": \"tide\", \"release\": 3 },\n  \"title\": {}\n}"},
		"one line": {`{"name":"tide"}`, `{"name":"copy", "copyOf": { "widget": "tide", "release": 3 }}`},
		"again":    {`{"name": "x", "copyOf": {"widget": "old", "release": 1}, "format": 1}`, `{"name": "copy", "copyOf": { "widget": "tide", "release": 3 }, "format": 1}`},
		"no name":  {`{"format": 1}`, `{"format": 1}`},
		"no JSON":  {`{`, `{`},
	} {
		files := widget.Files{widget.ManifestFile: []byte(c.before), "view.html": []byte("v")}
		copied := widget.CopyOf(files, "copy", from)
		assert.Equal(t, c.after, string(copied[widget.ManifestFile]), name)
		assert.Equal(t, c.before, string(files[widget.ManifestFile]), "%s: what it is a copy of stays", name)
		if strings.Contains(c.after, "copyOf") {
			assert.Equal(t, &from, widget.OriginOf(copied), name)
		}
	}
}

func TestBlankIsSound(t *testing.T) {
	for _, title := range []string{"Tide", `Say "hello" \ {{x}} <b>`, "潮"} {
		r, faults := widget.Read(widget.Blank("tide-board", title, "pt-BR"), bundle.Builder{})
		require.NotNil(t, r, faults)
		assert.Empty(t, r.Warnings)
		assert.Equal(t, title, r.Manifest.Title["pt-BR"])
	}
}

// A folder with faults is shown as far as it can be; its elements are placed as editors count.
func TestTry(t *testing.T) {
	files := widget.Blank("tide", "Tide", "en")
	files["view.html"] = []byte("<p>😀ä</p><h2 class=\"heading\">{{.settings.heading}}</h2>")
	files["mount.ts"] = []byte("import { x } from \"./part\";\n\nexport default function mount({ root }: { root: HTMLElement }) {\n  root.title = x;\n}\n")
	files["part.ts"] = []byte("export const x: string = \"x\";\n")
	trials := widget.NewTrials(bundle.Builder{})
	trial, faults := trials.Try(files, nil)
	require.NotNil(t, trial)
	assert.Empty(t, faults)
	h2 := trial.Elements[1]
	assert.Equal(t, [2]string{"h2", "heading"}, [2]string{h2.Name, h2.Settings[0]})
	assert.Equal(t, len("<p>")+3+len("</p>"), h2.Start, "in UTF-16 code units")
	assert.Contains(t, trial.Map, `"sources": ["part.ts", "mount.ts"`)
	assert.Contains(t, trial.Built.Mount, "root.title = x;", "as it was written")

	files["part.ts"] = []byte("export const x: string = \"y\";\n")
	files["style.css"] = append([]byte("@import \"x.css\";\n"), files["style.css"]...)
	trial, faults = trials.Try(files, nil)
	assert.Contains(t, trial.Built.Mount, `"y"`, "what has been read before is not taken for what has changed")
	require.Len(t, faults, 1)
	assert.Equal(t, fault.StyleFence, faults[0].Code)
	files["style.css"] = widget.Blank("tide", "Tide", "en")["style.css"]

	files["settings.json"] = []byte(strings.Replace(string(files["settings.json"]), `"accent": {`, `"idle": { "type": "string", "default": "", "glass": { "type": "text", "label": { "en": "Idle" } } }, "accent": {`, 1))
	trial, faults = trials.Try(files, nil)
	require.NotNil(t, trial, "a setting that nothing uses does not keep it from being seen")
	require.Len(t, faults, 1)
	assert.Equal(t, fault.SettingUnused, faults[0].Code)
	files["view.html"] = []byte(`<p onclick="x">{{.settings.heading}}</p>`)
	trial, faults = trials.Try(files, nil)
	assert.Nil(t, trial, "what the fences refuse is never shown")
	assert.NotEmpty(t, faults)
}

func TestTitled(t *testing.T) {
	for before, after := range map[string]string{
		`{"title": {"en": "Tide", "de": "Gezeiten }\""}, "name": "x"}`: `{"title": { "en": "Isle \"A\"", "de": "Isle \"A\"" }, "name": "x"}`,
		`{"title": "Tide"}`: `{"title": "Tide"}`,
		`{"name": "x"}`:     `{"name": "x"}`,
	} {
		assert.Equal(t, after, string(widget.Titled(widget.Files{widget.ManifestFile: []byte(before)}, `Isle "A"`)[widget.ManifestFile]))
	}
	assert.Equal(t, "Isle cards", widget.TitleFrom("isle-cards"))
}
