package intake_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/bundle"
	"glasspocket/internal/fault"
	"glasspocket/internal/intake"
	"glasspocket/internal/widget"
)

func board(t testing.TB) []byte {
	page, err := os.ReadFile("testdata/board.html")
	require.NoError(t, err)
	return page
}

func notes(m *intake.Made, done bool) string {
	var lines []string
	for _, n := range m.Notes {
		if n.Done == done {
			lines = append(lines, fmt.Sprintf("%d %s %s", n.Line, n.What, n.Fix))
		}
	}
	return strings.Join(lines, "\n")
}

// A whole page becomes a folder that could be released, and everything that was changed or
// left out is said.
func TestPage(t *testing.T) {
	m, faults := intake.Make(intake.Ask{Page: board(t), Name: "board"}, bundle.Builder{})
	require.Empty(t, faults)
	for _, f := range m.Faults {
		assert.True(t, f.Warning, f)
	}
	r, faults := widget.Read(m.Files, bundle.Builder{})
	require.NotNil(t, r, faults)
	assert.Equal(t, "Tide board of Hask", r.Manifest.Title["en"])

	view, style, script := string(m.Files["view.html"]), string(m.Files["style.css"]), string(m.Files["mount.js"])
	for _, want := range []string{
		`<div class="board page">`, `<h1>Tides <em>today</em></h1>`, `<main class="board" id="board">`, `Hask {{"{{"}} 15:05 }}</p>`,
		`class="row head p1"`, `<p class="row high" data-does="1">`, `class="row high p1"`, `{{if .settings.image.shown}}{{image .settings.image "100vw" "buoy"}}{{end}}`,
		`<a href="#" data-does="2">`, `href="https://isles.example/?a=1&amp;b=2"`, `<span id="count">`, `<linearGradient id="g">`,
	} {
		assert.Contains(t, view, want)
	}
	for _, gone := range []string{"onclick", "style=", "javascript:", "iframe", "noscript", "<script", "intake"} {
		assert.NotContains(t, view, gone)
	}
	for _, want := range []string{
		".pocket { --accent: #0b6b63; }", ".pocket { margin: 0; font-family: Tide, sans-serif; }", ".board * { box-sizing: border-box }", ".board h1", "margin: 0 0 24px",
		"padding: 16px 20px", ".board .row:not(.head)", ".high { font-weight: 700; }", "@media (max-width: 480px) { .board { padding: 8px; }", "@keyframes swell", ".p1 { color: #0b6b63; padding-top: 4px; }",
	} {
		assert.Contains(t, style, want)
	}
	for _, gone := range []string{"@import", "@font-face", "nowhere", ".gone", "rem", "waves.svg", ".lead"} {
		assert.NotContains(t, style, gone)
	}
	for _, want := range []string{
		"export default function mount({ root, signal }) {", `root.querySelector("#count").textContent = count`, `root.querySelectorAll(".row")`, `row.title = "/* no comment */ document.body"`,
		`root.getElementsByClassName("row")`, "every(() => {", `document.addEventListener("keydown", (e) => { if (e.key == "m") more(1) }, { signal })`, "byId(id).dataset.ready", `/["{]/.test`,
		`root.querySelector('[data-does="1"]').addEventListener("click", function (event) {`, "more(1);", "return false", "more(0);",
	} {
		assert.Contains(t, script, want)
	}
	for _, gone := range []string{"DOMContentLoaded", "document.querySelector", "document.getElement", `"load"`} {
		assert.NotContains(t, script, gone)
	}
	hands := notes(m, false)
	for _, want := range []string{
		"6 The stylesheet https://styles.example/base.css was left out", "7 The stylesheet print.css", "9 @import was left out", "10 @font-face", "waves.svg", "38 The image https://pictures.example/boat.jpg is on another server",
		"39 The image img/pier.jpg is next to the page", "<iframe> was left out", `type "application/ld+json"`, "47 The script https://scripts.example/lib.js was left out",
	} {
		assert.Contains(t, hands, want)
	}
	assert.Contains(t, notes(m, true), `The ID "high" occurred more than once`)
	var remotes []string
	for _, r := range m.Remotes {
		remotes = append(remotes, fmt.Sprint(r.Kind, " ", r.Address, " ", r.State))
	}
	for _, want := range []string{"style https://styles.example/base.css left", "font tide.woff2 left", "image img/waves.svg left", "script https://scripts.example/lib.js left", "frame https://maps.example/embed left"} {
		assert.Contains(t, remotes, want)
	}
	require.NotEmpty(t, m.Parts)
	assert.Equal(t, "#board", m.Parts[0].Selector)
	assert.Equal(t, "High water", m.Parts[0].Name)
}

// What is brought or kept takes its place, and one part can be taken alone.
func TestCopiesAndParts(t *testing.T) {
	picture := []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"/>`)
	m, faults := intake.Make(intake.Ask{Page: board(t), Name: "tide-table", Part: "#board",
		Copies: map[string]intake.Copy{"img/pier.jpg": {Path: "assets/pier.svg", Bytes: picture}, "img/waves.svg": {Path: "assets/waves.svg", Bytes: picture}, "https://styles.example/base.css": {Path: "base.css", Bytes: []byte("b { color: #123456; }")}},
		Keep:   []string{"https://pictures.example/boat.jpg", "https://scripts.example/lib.js"},
	}, bundle.Builder{})
	require.Empty(t, faults)
	r, faults := widget.Read(m.Files, bundle.Builder{})
	require.NotNil(t, r, faults)
	assert.Equal(t, []string{"https://pictures.example/boat.jpg", "https://scripts.example/lib.js"}, r.Manifest.Remotes)
	for _, w := range r.Warnings {
		assert.NotEqual(t, fault.RemoteFile, w.Code, "what is declared is no surprise: %v", w)
	}
	assert.Equal(t, "High water", m.Title)
	view, style, script := string(m.Files["view.html"]), string(m.Files["style.css"]), string(m.Files["mount.js"])
	assert.NotContains(t, view, "Tides")
	assert.Contains(t, view, `<img src="https://pictures.example/boat.jpg" alt=""/>`)
	assert.Contains(t, view, `{{image .settings.image2 "100vw"}}`)
	assert.Contains(t, style, ".tide-table b { color: #123456; }")
	assert.Contains(t, style, `#eef5f4 url("data:image/svg+xml;base64,`)
	assert.Contains(t, script, `await load("https://scripts.example/lib.js");`)
	assert.Contains(t, script, "export default async function mount")

	kept, faults := intake.Make(intake.Ask{Page: board(t), Name: "board", Leave: intake.Repairs}, bundle.Builder{})
	require.Empty(t, faults)
	for _, want := range []string{":root {", "html, body", "1.5rem", ".nowhere"} {
		assert.Contains(t, string(kept.Files["style.css"]), want, "what is not to be fixed stays")
	}
	assert.Contains(t, notes(kept, false), `The ID "high" occurs more than once.`)
	codes := map[fault.Code]bool{}
	for _, f := range kept.Faults {
		codes[f.Code] = true
	}
	assert.True(t, codes[fault.StyleFence], "and is a fault")
}

// A page of five megabytes with forty scripts comes apart, or says which part to take.
func TestLargePage(t *testing.T) {
	var b strings.Builder
	b.WriteString("<title>Large</title><body><main id=one><h2>One</h2>")
	for i := range 40 {
		fmt.Fprintf(&b, "<script>var v%d = document.querySelector('.c%[1]d'); function f%[1]d() { return v%[1]d }</script><p class=c%[1]d>%s</p>", i, strings.Repeat("tide ", 20))
	}
	b.WriteString("</main><section class=rest>")
	for b.Len() < 5<<20 {
		b.WriteString("<p>" + strings.Repeat("water ", 50) + "</p>")
	}
	b.WriteString("</section>")
	m, faults := intake.Make(intake.Ask{Page: []byte(b.String()), Name: "large"}, bundle.Builder{})
	require.Empty(t, faults)
	assert.Contains(t, notes(m, false), "Use one of the page's parts instead.")
	require.GreaterOrEqual(t, len(m.Parts), 2)
	m, faults = intake.Make(intake.Ask{Page: []byte(b.String()), Name: "large", Part: "#one"}, bundle.Builder{})
	require.Empty(t, faults)
	for _, f := range m.Faults {
		assert.True(t, f.Warning, f)
	}
	assert.Equal(t, 40, strings.Count(string(m.Files["mount.js"]), "root.querySelector("))

	for what, ask := range map[string]intake.Ask{
		"the limit is 8388608":       {Page: make([]byte, intake.PageMost+1), Name: "x"},
		"no content for a widget":    {Page: []byte("<title>x</title><script>1</script>"), Name: "x"},
		"is not a valid widget name": {Page: board(t), Name: "1x"},
		"has no part":                {Page: board(t), Name: "x", Part: "#nope"},
	} {
		_, faults := intake.Make(ask, bundle.Builder{})
		require.Len(t, faults, 1)
		assert.Contains(t, faults[0].What, what)
	}
	_, faults = intake.Make(intake.Ask{Page: []byte("<body>" + strings.Repeat("<div>", 5000)), Name: "x"}, bundle.Builder{})
	require.Len(t, faults, 1, "nested too deep")
}

// Whatever is brought, it comes apart without a panic, and what comes out is free of what a
// view must not have.
func FuzzMake(f *testing.F) {
	f.Add(string(board(f)))
	f.Add(`<b onclick='a("}")'>{{x<style>a{b:c(}</style><script>/*`)
	f.Add("<script>`${{a:`}`}}` / 2 / a</script><p style=\"a:b;}*{\">")
	f.Fuzz(func(t *testing.T, page string) {
		m, _ := intake.Make(intake.Ask{Page: []byte(page), Name: "x"}, stub{})
		if m == nil {
			return
		}
		for _, f := range m.Faults {
			if f.Path == widget.ViewFile && !f.Warning {
				t.Errorf("%v\n%s", f, m.Files[widget.ViewFile])
			}
		}
	})
}

// What lies beside the page comes along: stylesheets with what they import, scripts, images and
// fonts, each from where it is named. What is not there is said.
func TestBeside(t *testing.T) {
	svg := `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"/>`
	files := map[string]string{
		"css/site.css":       "@charset \"utf-8\"; @import \"parts/card.css\" print; .board { *zoom: 1; background: url(../img/boat.svg); font-family: \"Tide\", serif } @page { margin: 0 } html { font-size: 62.5% } .row { width: 20rem }",
		"css/parts/card.css": ".card { color: red; background: url(nothere.png) }",
		"js/site.js":         "\ufeff(function () { window.first = 1 })()",
		"img/boat.svg":       svg,
		"/shared/top.js":     "(function () { document.querySelector('body').dataset.top = '1' })()",
	}
	m, faults := intake.Make(intake.Ask{Name: "board", Beside: func(at string) ([]byte, bool) { text, ok := files[at]; return []byte(text), ok }, Page: []byte(`<!doctype html><html lang="pt-br"><head>
<link rel="stylesheet" href="css/site.css"><link rel="stylesheet" href="css/gone.css">
<script src="js/site.js"></script><script src="/shared/top.js?v=3"></script><script src="js/gone.js"></script></head>
<body><div class="board row card">x<img src="img/boat.svg" alt="A boat"><img src="img/gone.png" alt=""></div></body></html>`)}, bundle.Builder{})
	require.Empty(t, faults)
	for _, f := range m.Faults {
		assert.True(t, f.Warning, f)
	}
	style, script := string(m.Files["style.css"]), string(m.Files["mount.js"])
	for _, want := range []string{"@media print {", ".card { color: red;", "data:image/svg+xml", "width: 200px", ".pocket { font-size: 10px }"} {
		assert.Contains(t, style, want)
	}
	for _, gone := range []string{"zoom", "@page", "@charset", "@import", "nothere"} {
		assert.NotContains(t, style, gone)
	}
	assert.Equal(t, 2, strings.Count(script, "part(function () {"), "two calls and not one: %s", script)
	assert.Contains(t, script, "root.dataset.top = '1'")
	assert.Contains(t, string(m.Files["view.html"]), `{{image .settings.image "100vw"}}`)
	assert.Contains(t, m.Files, "assets/boat.svg")
	assert.Contains(t, string(m.Files["widget.json"]), `"pt-BR"`)
	hands, done := notes(m, false), notes(m, true)
	for _, want := range []string{"css/gone.css was not found", "js/gone.js was not found", "img/gone.png was not found", "css/parts/nothere.png"} {
		assert.Contains(t, hands, want)
	}
	assert.Contains(t, done, "2 scripts moved to mount.js")
	assert.Contains(t, done, "@charset, *zoom, @page", "one note for what nobody misses")
	assert.Contains(t, done, "font size is 10 px")
}

// Scripts of a page are parts of one mount function, and stay what they were for one another.
func TestScriptsTogether(t *testing.T) {
	make := func(body string) (string, *intake.Made) {
		t.Helper()
		m, faults := intake.Make(intake.Ask{Name: "board", Page: []byte("<!doctype html><body><p id=out>x</p>" + body)}, bundle.Builder{})
		require.Empty(t, faults)
		for _, f := range m.Faults {
			assert.True(t, f.Warning, "%v in %s", f, m.Files["mount.js"])
		}
		return string(m.Files["mount.js"]), m
	}
	// What another script or a handler uses is declared around the part.
	script, _ := make(`<script>const { a, b } = { a: 1, b: 2 }; let c = 3; class Gull { fly() { return c } } function more(n) { return n + a } throw new Error("stops here")</script><script>out.title = more(b) + new Gull().fly()</script><p onclick="more(c)">y</p>`)
	for _, want := range []string{"var a, b, c, Gull;", "function more(n) { return n + a }", "( { a, b } = { a: 1, b: 2 });", "c = 3;", "Gull = class Gull {", "part(() => {", "part(function () {"} {
		assert.Contains(t, script, want)
	}
	// What a block declares with var is shared too, a function's own is not; two scripts may declare one name.
	script, _ = make(`<script>function assert(x) { if (!x) throw x }</script><script>if (window.late) { var assert = require, tide = 2; for (var i = 0; i < 2; i++) tide++ } const f = function () { var i = 9; return { go(a) { var tide = a } } }</script><script>assert(tide + i)</script>`)
	for _, want := range []string{"function assert(x)", "var assert, tide, i, f;", " assert = require, tide = 2; for ( i = 0;", "var i = 9;", "var tide = a"} {
		assert.Contains(t, script, want)
	}
	// No script, no note and no file.
	_, m := make(`<script src="https://scripts.example/a.js"></script><script src="b.js"></script>`)
	assert.NotContains(t, notes(m, true), "mount.js")
	assert.NotContains(t, m.Files, "mount.js")
	// Handlers of the whole page become listeners; what scrolls is found with and without a doctype.
	script, _ = make(`<script>window.onscroll = function () { bar.style.width = document.documentElement.scrollTop + document.body.scrollTop + "px" }; onresize = draw; function draw() {}</script>`)
	for _, want := range []string{`window.addEventListener("scroll", function () {`, `}, { signal })`, `window.addEventListener("resize", draw, { signal })`, "document.scrollingElement.scrollTop + document.scrollingElement.scrollTop"} {
		assert.Contains(t, script, want)
	}
	// The page's own elements: its root is the widget's, its head stays the page's.
	script, _ = make(`<script>document.querySelector("body > .x"); document.getElementsByTagName("html")[0].id; document.documentElement.classList.add("js"); const first = document.getElementsByTagName("script")[0]; document.querySelector('head').append(first)</script>`)
	for _, want := range []string{`root.querySelector(".x")`, `[root][0].id`, `root.classList.add("js")`, `document.getElementsByTagName("script")[0]`, `document.querySelector('head')`} {
		assert.Contains(t, script, want)
	}
	// A page's <base> is written out.
	m2, faults := intake.Make(intake.Ask{Name: "board", Page: []byte(`<!doctype html><head><base href="https://isles.example/tides/"></head><body><a href="today.html">x</a><img src="boat.png" alt="">`)}, bundle.Builder{})
	require.Empty(t, faults)
	assert.Contains(t, string(m2.Files["view.html"]), `href="https://isles.example/tides/today.html"`)
	assert.Contains(t, notes(m2, true), "The page's <base> was removed")
	assert.Equal(t, "https://isles.example/tides/boat.png", m2.Remotes[0].Address)
}
