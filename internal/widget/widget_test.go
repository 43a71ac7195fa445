package widget_test

import (
	"bytes"
	"fmt"
	"io/fs"
	"maps"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/bundle"
	"glasspocket/internal/fault"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

// small is the smallest folder that is sound.
func small() widget.Files {
	return widget.Files{
		"widget.json":      []byte(`{"format": 1, "name": "small", "title": {"en": "Small"}, "languages": ["en"]}`),
		"settings.json":    []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {"title": {"type": "string", "default": "x", "glass": {"type": "text", "label": {"en": "Title"}}}}}`),
		"view.html":        []byte(`<p>{{.settings.title}}</p>`),
		"messages/en.json": []byte(`{"hello": "Hello"}`),
	}
}

func TestSmallFolder(t *testing.T) {
	r, faults := widget.Read(small(), bundle.Builder{})
	require.Empty(t, faults)
	values, faults := r.Preview(nil, time.Now())
	require.Empty(t, faults)
	shown, faults := r.Show(values, "fr", time.Now(), setting.World{})
	require.Empty(t, faults)
	assert.Equal(t, "<p>x</p>", shown.Markup)
	assert.Equal(t, "en", shown.Language, "an unknown language falls back to the widget's first")
}

// Each case breaks one thing in the small folder and expects one fault at one place.
func TestFolderFaults(t *testing.T) {
	for _, c := range []struct {
		name, file, content string
		code                fault.Code
		line, column        int
	}{
		{"no view", "view.html", "-", fault.FileMissing, 0, 0},
		{"no messages", "messages/en.json", "-", fault.BadLanguage, 1, 72},
		{"misspelt file", "styles.css", "p{}", fault.FileUnknown, 0, 0},
		{"Latin-1", "style.css", "p{content:'\xfc'}", fault.FileNotText, 1, 1},
		{"too large", "mount.js", "export default()=>{}//" + strings.Repeat("x", widget.FileMost), fault.FileTooLarge, 0, 0},
		{"manifest syntax", "widget.json", "{\n\"format\": 1,}", fault.JSONSyntax, 2, 13},
		{"newer format", "widget.json", `{"format": 9, "name": "small", "title": {"en": "S"}, "languages": ["en"]}`, fault.FormatUnknown, 1, 12},
		{"bad name", "widget.json", `{"format": 1, "name": "Small!", "title": {"en": "S"}, "languages": ["en"]}`, fault.BadName, 1, 23},
		{"misspelt key", "widget.json", `{"format": 1, "nam": "s", "name": "small", "title": {"en": "S"}, "languages": ["en"]}`, fault.KeyUnknown, 1, 15},
		{"heights out of order", "widget.json", `{"format": 1, "name": "small", "title": {"en": "S"}, "languages": ["en"], "heights": [{"from": 9, "height": 10}]}`, fault.WrongType, 1, 87},
		{"mount setting unknown", "widget.json", `{"format": 1, "name": "small", "title": {"en": "S"}, "languages": ["en"], "mount": {"settings": ["titel"]}}`, fault.SettingUnknown, 1, 98},
		{"said but not written", "view.html", "<p>\n{{say \"helo\"}}{{.settings.title}}</p>", fault.MessageMissing, 2, 7},
		{"style syntax", "style.css", "p {\n color: red", fault.StyleSyntax, 2, 12},
		{"style address", "style.css", "p{}\n.a{background:url( \"assets/nothere.png\")}", fault.AddressLost, 2, 15},
		{"view address", "view.html", "<p>{{.settings.title}}</p>\n<img alt=\"\" src=\"boat.png\">", fault.AddressLost, 2, 13},
		{"style import", "style.css", "/* @import */\n@import 'x.css';", fault.StyleFence, 2, 1},
		{"style rem", "style.css", "p { margin:\n 2rem }", fault.StyleFence, 2, 2},
		{"style root", "style.css", ":root{--a:1}", fault.StyleFence, 1, 1},
		{"style font", "style.css", "p{}\n@font-face{}", fault.StyleFence, 2, 1},
		{"style property", "style.css", "p{}\n@property --a{}", fault.StyleFence, 2, 1},
		{"style body", "style.css", "p{}\nbody .a{}", fault.StyleFence, 2, 1},
		{"style remote in quotes", "style.css", "p{background:url('//a.example/x.png')}", fault.StyleFence, 1, 14},
		{"style remote", "style.css", "p{background:url( https://a.example/x.png )}", fault.StyleFence, 1, 14},
		{"mount syntax", "mount.ts", "export default function () {\n  let a = ;\n}", fault.MountSyntax, 2, 11},
		{"mount import", "mount.ts", "import x from 'left';\nexport default () => x;", fault.MountImport, 1, 15},
		{"mount reads the disk", "mount.js", "import x from '/etc/passwd';\nexport default () => x;", fault.MountImport, 1, 15},
		{"mount climbs out", "mount.js", "import x from '../../etc/passwd';\nexport default () => x;", fault.MountImport, 1, 15},
		{"mount without default", "mount.js", "export const a = 1;", fault.MountSyntax, 1, 1},
		{"starter value", "starters/warm.json", "{\"title\": {\"en\": \"W\"},\n\"settings\": {\"title\": 3}}", fault.ValueType, 2, 23},
		{"starter setting", "starters/warm.json", `{"title": {"en": "W"}, "settings": {"titel": "x"}}`, fault.SettingUnknown, 1, 37},
		{"sample", "sample.json", `{"settings": {"title": null, "x": 1}}`, fault.SettingUnknown, 1, 30},
		{"view stops", "view.html", "<p>{{say .settings.title}}</p>", fault.ViewRun, 1, 6},
		{"setting unused", "view.html", "<p>x</p>", fault.SettingUnused, 1, 94},
		{"wrong type in the view", "view.html", "<p>{{range .settings.title}}{{end}}</p>", fault.ViewType, 1, 12},
		{"a sound that is none", "assets/bell.mp3", "no sound", fault.AssetUnknown, 0, 0},
		{"a font that is none", "assets/tide.woff2", "wOF2 and nothing else", fault.AssetBroken, 0, 0},
		{"an asset's name", "assets/My Boat 😀.svg", "<svg viewBox='0 0 1 1'/>", fault.BadName, 0, 0},
		{"an asset in a folder", "assets/x/boat.svg", "<svg viewBox='0 0 1 1'/>", fault.BadName, 0, 0},
		{"a slot that nobody knows of", "view.html", "<p>{{.settings.title}}</p>\n<slot name=\"aside\"></slot>", fault.PlaceUnknown, 2, 1},
		{"a slot that is not there", "widget.json", `{"format": 1, "name": "small", "title": {"en": "S"}, "languages": ["en"], "slots": [{"name": "", "label": {"en": "L"}}]}`, fault.PlaceUnknown, 1, 85},
		{"a fact that nobody knows of", "view.html", "<p data-fact=\"firstName\">{{.settings.title}}</p>", fault.PlaceUnknown, 1, 4},
		{"a fact of a wrong type", "widget.json", `{"format": 1, "name": "small", "title": {"en": "S"}, "languages": ["en"], "facts": [{"name": "a", "type": "number", "label": {"en": "L"}}]}`, fault.WrongType, 1, 107},
		{"path out", "../x.js", "1", fault.FileUnknown, 0, 0},
	} {
		t.Run(c.name, func(t *testing.T) {
			files := small()
			files[c.file] = []byte(c.content)
			if c.content == "-" {
				delete(files, c.file)
			}
			r, faults := widget.Read(files, bundle.Builder{})
			assert.Nil(t, r)
			require.NotEmpty(t, faults)
			f := faults[0]
			assert.Equal(t, c.code, f.Code, f.String())
			if c.name != "no messages" && c.name != "mount setting unknown" && c.name != "setting unused" {
				assert.Equal(t, c.file, f.Path)
			}
			assert.Equal(t, [2]int{c.line, c.column}, [2]int{f.Line, f.Column}, f.String())
			assert.NotEmpty(t, f.Fix)
		})
	}
}

// One reading reports the faults of all files together, in order.
func TestAllFaultsAtOnce(t *testing.T) {
	files := small()
	files["widget.json"] = []byte(`{"format": 1, "name": "Small", "title": {"en": "Small"}, "languages": ["en"]}`)
	files["settings.json"] = []byte(strings.Replace(string(files["settings.json"]), `"default": "x", `, "", 1))
	files["view.html"] = []byte("<div onclick='x'>{{.settings.titel}}")
	files["style.css"] = []byte("p{margin:1rem}\n:root{}")
	files["mount.ts"] = []byte("export default (")
	_, faults := widget.Read(files, bundle.Builder{})
	var got []string
	for _, f := range faults {
		got = append(got, fmt.Sprintf("%s:%d:%d %s", f.Path, f.Line, f.Column, f.Code))
	}
	assert.Equal(t, []string{
		"mount.ts:1:17 mount-syntax", "settings.json:1:103 no-default", "style.css:1:10 style-fence", "style.css:2:1 style-fence",
		"view.html:1:1 view-balance", "view.html:1:6 view-attribute", "view.html:1:29 view-field", "widget.json:1:23 bad-name",
		"style.css:1:1 style-global", // a warning, behind the faults
	}, got)
}

// The shipped widgets are sound, and a stored release opens to the same digest and output.
func TestShippedWidgets(t *testing.T) {
	for _, name := range widgets.Names {
		folder, err := widgets.Folder(name)
		require.NoError(t, err)
		files, faults, err := widget.Collect(folder)
		require.NoError(t, err)
		require.Empty(t, faults)
		r, faults := widget.Read(files, bundle.Builder{})
		require.Empty(t, faults)
		assert.Empty(t, r.Warnings)
		again, faults := widget.Open(maps.Clone(files), widget.Opened{Built: r.Built})
		require.Empty(t, faults)
		assert.Equal(t, r.Digest, again.Digest)
		assert.GreaterOrEqual(t, len(r.Starters), 4)
	}
}

// A folder's settings are a schema that any validator of JSON Schema 2020-12 takes, and
// what starters and samples hold is valid by it.
func TestSettingsAreJSONSchema(t *testing.T) {
	for _, name := range widgets.Names {
		files := shipped(t, name)
		read := func(file string) any {
			v, err := jsonschema.UnmarshalJSON(bytes.NewReader(files[file]))
			require.NoError(t, err, file)
			return v
		}
		c := jsonschema.NewCompiler()
		require.NoError(t, c.AddResource("settings.json", read(widget.SchemaFile)))
		schema, err := c.Compile("settings.json")
		require.NoError(t, err, name)
		for _, file := range files.Paths() {
			if strings.HasPrefix(file, "starters/") || file == widget.SampleFile {
				settings := read(file).(map[string]any)["settings"].(map[string]any)
				required, _ := read(widget.SchemaFile).(map[string]any)["required"].([]any)
				for _, key := range required {
					if settings[key.(string)] == nil {
						settings[key.(string)] = "2027-03-01T18:00[UTC]" // the countdown's moments
					}
				}
				assert.NoError(t, schema.Validate(settings), "%s/%s", name, file)
			}
		}
	}
}

// What a mount module is told of its settings is what the folder says now.
func TestDeclarationsAreUpToDate(t *testing.T) {
	for _, name := range widgets.Names {
		files := shipped(t, name)
		r, faults := widget.Read(files, bundle.Builder{})
		require.Empty(t, faults)
		assert.Equal(t, r.Declarations(), string(files[widget.DeclarationsFile]), "run: glasspocket types widgets/%s", name)
	}
}

func shipped(t *testing.T, name string) widget.Files {
	folder, err := widgets.Folder(name)
	require.NoError(t, err)
	files, faults, err := widget.Collect(folder)
	require.NoError(t, err)
	require.Empty(t, faults)
	return files
}

// What will bite later is said, at its place, and stops nothing.
func TestWarnings(t *testing.T) {
	const colours = `{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {
"title": {"type": "string", "default": "x", "glass": {"type": "text", "label": {"en": "T"}}},
"ink": {"type": "string", "default": "%s", "glass": {"type": "colour", "look": true, "small": true, "on": "surface", "label": {"en": "I"}}},
"surface": {"type": "string", "default": "#ffffff", "glass": {"type": "colour", "look": true, "label": {"en": "S"}}},
"photo": {"type": "object", "default": {}, "glass": {"type": "image", "label": {"en": "P"}}}}}`
	const style = ".a{color:var(--ink);background:var(--surface)}\n"
	for _, c := range []struct {
		name, file, content string
		code                fault.Code
		line, column        int
	}{
		{"faint default", "settings.json", fmt.Sprintf(colours, "#999999"), fault.Contrast, 3, 38},
		{"faint starter", "starters/pale.json", "{\"title\": {\"en\": \"P\"},\n\"settings\": {\"ink\": \"#aaaaaa\"}}", fault.Contrast, 2, 21},
		{"faint on small screens", "starters/pale.json", "{\"title\": {\"en\": \"P\"},\n\"settings\": {\"ink\": \"#222222\", \"small\": {\"ink\": \"#aaaaaa\"}}}", fault.Contrast, 2, 49},
		{"faint on a starter's surface", "starters/pale.json", "{\"title\": {\"en\": \"P\"},\n\"settings\": {\"surface\": \"#333333\"}}", fault.Contrast, 2, 25},
		{"nothing stands for a picture", "starters/pale.json", "{\"title\": {\"en\": \"P\"},\n\"settings\": {\"photo\": {\"asset\": \"assets/a.svg\"}}}", fault.AltMissing, 2, 23},
		{"an image without alt", "view.html", "<p>{{.settings.title}}{{image .settings.photo \"1px\"}}<img src=\"{{.settings.photo.address}}\"></p>", fault.AltMissing, 1, 54},
		{"an id in a loop", "view.html", "<p>{{.settings.title}}{{image .settings.photo \"1px\"}}</p>{{range .settings.photo.forms}}<i id=\"x\"></i>{{end}}", fault.IDTwice, 1, 92},
		{"an id twice", "view.html", "<p id=\"x\">{{.settings.title}}</p>\n<p id=\"x\">{{image .settings.photo \"1px\"}}</p>", fault.IDTwice, 2, 4},
		{"a remote picture", "view.html", "<p>{{.settings.title}}{{image .settings.photo \"1px\"}}<img alt=\"\" src=\"https://a.example/x.png\"></p>", fault.RemoteFile, 1, 66},
		{"an element's own style", "style.css", style + "h2, .b { color: red }", fault.StyleGlobal, 2, 1},
		{"everything", "style.css", style + "@media print {\n * { color: red } }", fault.StyleGlobal, 3, 2},
		{"a fixed width", "style.css", style + ".b { width: 400px }", fault.WidthFixed, 2, 6},
		{"a selector newer than the floor", "style.css", style + ".c:has(.d) { color: red }", fault.StyleNewer, 2, 3},
		{"a function newer than the floor", "style.css", style + ".b { color: red; background: color-mix(in srgb, red, blue) }", fault.StyleNewer, 2, 30},
		{"var() drops the fallback too", "style.css", style + ".b { background: red; background: color-mix(in srgb, var(--a), blue) }", fault.StyleNewer, 2, 35},
		{"a look-up in the page", "mount.js", "export default () => {\n  document.querySelector('.a');\n}", fault.ScriptOutside, 2, 3},
		{"a handler of the window", "mount.js", "export default () => {\n  window.onscroll = () => {};\n}", fault.ScriptOutside, 2, 3},
		{"a handler of the page, bare", "mount.js", "export default () => {\n  let a;\nonresize = draw;\n  function draw() {}\n}", fault.ScriptOutside, 3, 1},
		{"a scroll that is 0 without a doctype", "mount.js", "export default () => {\n  document.documentElement.scrollTop;\n}", fault.ScriptOutside, 2, 3},
		{"a global", "mount.js", "export default () => {\n  window.mine = 1;\n}", fault.ScriptOutside, 2, 3},
		{"a remote call", "mount.js", "export default () => {\n  fetch(\"https://a.example/\");\n}", fault.RemoteFile, 2, 3},
		{"a heavy script", "mount.js", "export default () => [" + noise(9000) + "];", fault.ScriptWeight, 1, 1},
	} {
		t.Run(c.name, func(t *testing.T) {
			files := small()
			files["settings.json"] = fmt.Appendf(nil, colours, "#111111")
			files["style.css"] = []byte(style)
			files["view.html"] = []byte(`<p class="a">{{.settings.title}}{{image .settings.photo "1px"}}</p>`)
			files["assets/a.svg"] = []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"/>`)
			r, faults := widget.Read(files, bundle.Builder{})
			require.Empty(t, faults)
			require.Empty(t, r.Warnings, "nothing to say of it as it was")
			files[c.file] = []byte(c.content)
			r, faults = widget.Read(files, bundle.Builder{})
			require.Empty(t, faults)
			require.Len(t, r.Warnings, 1)
			w := r.Warnings[0]
			assert.Equal(t, c.code, w.Code, w.String())
			assert.Equal(t, [3]any{c.file, c.line, c.column}, [3]any{w.Path, w.Line, w.Column}, w.String())
			assert.True(t, w.Warning)
			assert.Positive(t, w.Length)
		})
	}
	// What does not bite is not spoken of.
	files := small()
	files["style.css"] = []byte("/* h2 {} */ .pocket p { max-width: 900px } @container (min-width: 600px) { .c { width: 500px } } @keyframes x { from { opacity: 0 } to { opacity: 1 } }")
	files["mount.js"] = []byte("// document.body\nexport default ({ root }) => { root.querySelector('a'); document.addEventListener('x', () => {}); }")
	r, faults := widget.Read(files, bundle.Builder{})
	require.Empty(t, faults)
	assert.Empty(t, r.Warnings)
}

// noise is an array's content that does not compress.
func noise(n int) string {
	var b strings.Builder
	for i, x := 0, uint32(1); i < n/8; i++ {
		x = x*1664525 + 1013904223
		fmt.Fprintf(&b, "%d,", x)
	}
	return b.String()
}

func TestCountdownView(t *testing.T) {
	folder, _ := widgets.Folder("countdown")
	files, _, err := widget.Collect(folder)
	require.NoError(t, err)
	r, faults := widget.Read(files, bundle.Builder{})
	require.Empty(t, faults)
	now := time.Date(2027, 3, 27, 12, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		target, units, lang string
		has                 []string
		not                 string
	}{
		// The clocks of Berlin go forward in between: 23 hours of elapsed time, not a day.
		{"2027-03-28T13:00[Europe/Berlin]", "days-hours-minutes-seconds", "en", []string{">0</div><div class=\"name\">days<", ">23</div><div class=\"name\">hours<", `data-state="running"`}, ""},
		{"2027-03-28T14:00[Europe/Berlin]", "days-hours", "de", []string{">1</div><div class=\"name\">Tag<", ">00</div><div class=\"name\">Stunden<"}, "Sekunde"},
		{"2027-03-27T13:00:01[Europe/Berlin]", "hours-minutes-seconds", "de", []string{">01</div><div class=\"name\">Sekunde<", "0 Stunden"}, ""},
		{"2027-03-27T13:00[Europe/Berlin]", "days", "en", []string{`data-state="over"`, ">0</div><div class=\"name\">days<"}, `data-state="running"`},
	} {
		values, faults := r.Preview(setting.Values{"target": c.target, "units": c.units}, now)
		require.Empty(t, faults)
		shown, faults := r.Show(values, c.lang, now, setting.World{})
		require.Empty(t, faults)
		for _, has := range c.has {
			assert.Contains(t, shown.Markup, has, c.target)
		}
		if c.not != "" {
			assert.NotContains(t, shown.Markup, c.not, c.target)
		}
		passed := slices.Sorted(maps.Keys(shown.Settings))
		assert.Equal(t, []string{"clock", "ending", "runs", "target"}, passed, "the mount module gets what the manifest lists, as far as it matters, and no more")
	}
}

func TestCollect(t *testing.T) {
	files, faults, err := widget.Collect(fstest.MapFS{
		"widget.json": {Data: []byte("{}")}, ".git/config": {Data: []byte("x")}, "node_modules/a/b.js": {Data: []byte("x")}, ".hidden": {Data: []byte("x")},
		"link": {Mode: fs.ModeSymlink, Data: []byte("/etc/passwd")}, "starters/a.json": {Data: []byte("{}")},
	})
	require.NoError(t, err)
	require.Len(t, faults, 1, "a link is no file, and is not followed")
	assert.Equal(t, "link is a symbolic link.", faults[0].What)
	assert.Equal(t, []string{"starters/a.json", "widget.json"}, files.Paths())
	other := widget.Files{"a": []byte("1"), "b": []byte("")}
	assert.NotEqual(t, other.Digest(), widget.Files{"a": []byte(""), "b": []byte("1")}.Digest())
}

// FuzzManifest holds that no manifest panics or places a fault outside itself.
func FuzzManifest(f *testing.F) {
	f.Add([]byte(`{"format": 1, "name": "small", "title": {"en": "S"}, "languages": ["en", 3], "heights": [{"from": 0, "height": 1}], "mount": {"settings": [1, "title"], "messages": ["x"]}}`))
	f.Add([]byte(`[1]`))
	f.Add([]byte(`{"mount": 1, "languages": {}, "title": []}`))
	f.Fuzz(func(t *testing.T, manifest []byte) {
		files := small()
		files["widget.json"] = manifest
		_, faults := widget.Open(files, widget.Opened{})
		for _, x := range faults {
			if x.Path == "widget.json" && x.Line > strings.Count(string(manifest), "\n")+1 {
				t.Fatalf("fault outside the text: %v", x)
			}
		}
	})
}

// The list of paths is closed: a folder is fetched by people who did not write it, and tools run
// some files by themselves.
func TestPaths(t *testing.T) {
	for _, p := range []string{"widget.json", "settings.json", "view.html", "style.css", "sample.json", "mount.ts", "grow.js", "lib/deep/a_b-C.ts", "pocket.d.ts", "starters/harbour.json", "messages/de-CH.json",
		"assets/red-boat.jpg", "README.md", "LICENSE", "CHANGELOG.md", "tsconfig.json"} {
		assert.Nil(t, widget.PathFault(p), p)
	}
	for _, p := range []string{"", ".", "..", "/etc/passwd", "a/../b.ts", "a//b.ts", ".git/config", ".envrc", ".vscode/tasks.json", "lib/.git/hooks.js", "node_modules/x/index.js", "lib/node_modules/x.js", "package.json", "Makefile",
		"eslint.config.js", "lib/vite.config.ts", "starters/a/b.json", "starters/.hidden.json", "assets/Boat.JPG", "assets/x/y.png", "a\x00b.ts", "a\nb.ts", "a\\b.ts", "\xff.ts", "run.sh", "view.html/x", "widget.json.orig",
		strings.Repeat("a", 198) + ".ts", strings.Repeat("d/", 40000) + "a.ts"} {
		f := widget.PathFault(p)
		if assert.NotNil(t, f, "%.40q", p) {
			assert.Less(t, len(f.What)+len(f.Path), 600)
		}
	}
	assert.Nil(t, widget.PathFault(strings.Repeat("a", 197)+".ts"))
}
