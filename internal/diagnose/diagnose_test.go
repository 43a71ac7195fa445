package diagnose

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

var world = World{Base: "https://pockets.example", Keys: []string{"tide", "kiln-opening", "ferry", "ferry-times"}, Key: "kiln-opening", Look: func(key string) (bool, bool) {
	return key == "tide" || key == "kiln-opening" || key == "ferry" || key == "ferry-times", key != "ferry"
}}

const tide = `<div data-glass-pocket="tide"><a href="https://pockets.example/p/tide">Tide</a></div>
<script async src="https://pockets.example/s/tide.js"></script>`

func TestPage(t *testing.T) {
	for _, c := range []struct {
		name, html string
		codes      []string
		fix        string
	}{
		{"as it was pasted", "<p>Hello</p>" + tide, nil, ""},
		{"no snippet at all", "<p class=MsoNormal>“Hello”", nil, ""},
		{"twice the same", tide + tide, nil, ""},
		{"the very pocket", `<iframe src="https://pockets.example/p/kiln-opening"></iframe>`, []string{"there-already"}, "do not need to paste anything"},
		{"the very pocket, by script", strings.ReplaceAll(tide, "tide", "kiln-opening"), []string{"there-already"}, "do not need to paste anything"},
		{"the very pocket, by the site's script", `<div data-glass-pocket="kiln-opening"></div><script async src="https://pockets.example/loader.js"></script>`, []string{"there-already"}, ""},
		{"the very pocket, by a link", `<a href="https://pockets.example/p/kiln-opening">Kiln</a><script async src="https://pockets.example/links.js"></script>`, []string{"there-already"}, ""},
		{"only the fallback's link is left", `<p>Hello</p><div style="min-height:400px"><a href="https://pockets.example/p/kiln-opening">Kiln</a></div>`, []string{"link-only"}, "See “Delivery”"},
		{"a frame that runs nothing", `<iframe sandbox="" src="https://pockets.example/p/kiln-opening"></iframe>`, []string{"frame-fenced"}, "sandbox"},
		{"a frame that runs scripts", `<iframe sandbox="allow-scripts" src="https://pockets.example/p/kiln-opening"></iframe>`, []string{"there-already"}, ""},
		{"its mount point without a script", `<div data-glass-pocket="kiln-opening"><a href="https://pockets.example/p/kiln-opening">Kiln</a></div>`, []string{"no-script"}, "without a script"},
		{"its script made inert", strings.ReplaceAll(strings.ReplaceAll(tide, "tide", "kiln-opening"), "<script", `<script type="text/plain"`), []string{"no-script"}, ""},
		{"a frame's code printed", `<p>&lt;iframe src="https://pockets.example/p/kiln-opening"&gt;&lt;/iframe&gt;</p>`, []string{"printed"}, "source view"},
		{"a link's code printed", `<p>&lt;a href="https://pockets.example/p/kiln-opening"&gt;Kiln&lt;/a&gt;</p>`, []string{"printed"}, ""},
		{"a link in a noscript element", `<noscript><a href="https://pockets.example/p/tide">Tide</a></noscript>`, nil, ""},
		{"two, one after the other", tide + `<div data-glass-pocket="ferry-times"></div><script src="https://pockets.example/s/ferry-times.js"></script>`, nil, ""},
		{"typographic quotes", `<div data-glass-pocket=“tide”><a href=“https://pockets.example/p/tide”>Tide</a></div><script async src=”https://pockets.example/s/tide.js”></script>`, []string{"quotes", "no-script"}, "not through a word processor"},
		{"guillemets", `<script async src=«https://pockets.example/s/tide.js»></script><div data-glass-pocket=«tide»></div>`, []string{"quotes", "no-script"}, ""},
		{"printed as text", `<p>&lt;div data-glass-pocket="tide"&gt;&lt;/div&gt;</p>`, []string{"printed"}, "source view"},
		{"a typing error", `<div data-glass-pocket="kiln-openimg"></div><script src="https://pockets.example/s/kiln-openimg.js"></script>`, []string{"key-unknown"}, "probably “kiln-opening”"},
		{"a typing error in a frame", `<iframe src="https://pockets.example/p/tyde?background=ffffff"></iframe>`, []string{"key-unknown"}, "probably “tide”"},
		{"not published", `<iframe src="https://pockets.example/p/ferry"></iframe>`, []string{"not-published"}, "Publish it"},
		{"run together", `<div data-glass-pocket="tide"<div data-glass-pocket="kiln-opening"></div><script async src="https://pockets.example/s/tide.js"></script>`, []string{"run-together"}, "one after the other"},
		{"one within the other", `<div data-glass-pocket="tide"><a href="https://pockets.example/p/tide">Tide<div data-glass-pocket="kiln-opening"></div></div><script async src="https://pockets.example/s/tide.js"></script>`, []string{"run-together"}, ""},
		{"from a word processor", `<p class=MsoNormal style='mso-margin-top-alt:auto'><span>` + tide + `</span></p>`, []string{"word-processor"}, "plain text"},
		{"script taken out", `<div data-glass-pocket="tide"></div>`, []string{"no-script"}, "without a script"},
		{"an address without a key", `<a href="https://pockets.example/p/?x">x</a>`, nil, ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			var codes []string
			fixes := ""
			for _, f := range Page(c.html, world) {
				codes = append(codes, f.Code)
				fixes += f.Fix
				assert.NotEmpty(t, f.What)
				assert.Contains(t, Codes, f.Code)
			}
			assert.Equal(t, c.codes, codes)
			assert.Contains(t, fixes, c.fix)
		})
	}
}

func FuzzPage(f *testing.F) {
	f.Add(tide)
	f.Add(`<a href="https://pockets.example/p/">`)
	f.Add(`<div data-glass-pocket="tide"<div`)
	f.Fuzz(func(t *testing.T, text string) { Page(text, world) })
}
