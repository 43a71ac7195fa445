package onpage_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"glasspocket/hosts"
	"glasspocket/internal/host"
	"glasspocket/internal/onpage"
)

const workshop = `<!doctype html><html><head><title>Kelp &amp; Kiln</title><meta http-equiv="Content-Security-Policy" content="img-src 'self'"><meta http-equiv="refresh" content="0;url=https://elsewhere.example/"></head>
<body><header><h1>Site</h1><p>Bar</p></header><main><h1>Three days</h1><p>We fire twice a year.</p><section><h2>Bring</h2><p>Gloves.</p></section><ul><li>Clay</li></ul></main><aside><p>Beside.</p></aside><script>own()</script><footer><p>Foot</p></footer></body></html>`

var tide = host.Subject{Base: "https://pockets.example", Key: "tide", Title: "Tide"}

// put puts the best form for a wish into a page.
func put(t testing.TB, page onpage.Page, name, where string, spot int) (onpage.Placed, host.Offer) {
	set, err := hosts.Shipped()
	require.NoError(t, err)
	p := set.Get(name)
	c := host.Choose(p, tide, host.Needs{}, where, host.Placing{})
	require.NotNil(t, c.Best)
	g := host.Lead(p, tide, where, host.Placing{}, *c.Best)
	ground := host.Ground{Pages: p.Pages, Self: page.Address, Content: p.Place(c.Best.Content), Script: p.Place(c.Best.Script)}
	snippet := host.Snippet{Delivery: c.Best.Delivery, Parts: g.Parts}
	return onpage.Put(page, spot, ground, tide, snippet, c.Best.Outcome, "<template shadowrootmode=open><p>High at six</p></template>"), *c.Best
}

func TestPut(t *testing.T) {
	page := onpage.Page{Address: "https://kelp.example/workshops/", HTML: workshop, Policy: "frame-ancestors\t'self';\n script-src  'self'; REPORT-URI /told; report-to us, report-to us"}
	out, _ := put(t, page, "plain-page", "new", -1)
	assert.Equal(t, "Kelp & Kiln", out.Title)
	assert.Equal(t, "script-src https://kelp.example, img-src https://kelp.example", out.Policy, "the page's own address stands for 'self', which a sandbox has not")
	var after []string
	for _, s := range out.Spots {
		after = append(after, s.After)
	}
	assert.Equal(t, []string{"Three days", "We fire twice a year.", "Bring", "Gloves.", "Clay"}, after, "of the page's main part, and not of its bars")
	assert.Equal(t, 1, out.Spot, "behind the first words after the first heading")
	assert.Regexp(t, `twice a year\.</p><span id="glass-pocket-here"></span><div data-glass-pocket="tide"><a href="https://pockets.example/p/tide">Tide</a></div>\s*<script async="" src="https://pockets.example/s/tide.js"></script><section>`, out.Live)
	assert.Contains(t, out.Live, `<head><base href="https://kelp.example/workshops/"/>`)
	assert.Contains(t, out.Live, "own()", "what runs on the page runs here too")
	assert.NotContains(t, out.Live, "http-equiv", "its policy is sent, and nothing leads away")
	assert.NotContains(t, out.Still, "<script")
	assert.Contains(t, out.Still, `<div data-glass-pocket="tide"><template shadowrootmode="open"><p>High at six</p></template>`)

	based := page
	based.HTML = strings.Replace(workshop, "<head>", `<head><base href="/shop/" target="_top">`, 1)
	out, _ = put(t, based, "plain-page", "new", -1)
	assert.Contains(t, out.Live, `<base href="https://kelp.example/shop/" target="_top"/>`)
	out, _ = put(t, page, "plain-page", "new", 4)
	assert.Contains(t, out.Live, `</ul><span id="glass-pocket-here">`)
	out, _ = put(t, page, "plain-page", "column", -1)
	assert.Contains(t, out.Live, `Beside.</p><span id="glass-pocket-here">`)
	out, _ = put(t, page, "plain-page", "site", -1)
	assert.Regexp(t, `</footer><span id="glass-pocket-here"></span><div data-glass-pocket`, out.Live)
	out, _ = put(t, page, "rich-text", "new", -1)
	assert.Regexp(t, `<a href="https://pockets.example/p/tide">Tide</a><section>`, out.Live)
	assert.Contains(t, out.Live, `<script async="" src="https://pockets.example/links.js"></script></body>`)
	assert.Contains(t, out.Still, "High at six", "the link is the widget then")
	assert.NotContains(t, out.Still, `href="https://pockets.example/p/tide"`)
	out, _ = put(t, page, "free-placement", "new", -1)
	assert.Contains(t, out.Live, `<iframe src="https://pockets.example/p/tide"`)
	out, _ = put(t, onpage.Page{HTML: "text only"}, "plain-page", "new", 7)
	assert.Empty(t, out.Spots)
	assert.Contains(t, out.Live, "text only")
	assert.NotContains(t, out.Live, "<base")
	frames, err := onpage.IsFrames(`<frameset><frame src="a.html"></frameset>`)
	assert.NoError(t, err)
	assert.True(t, frames)
	frames, err = onpage.IsFrames(workshop)
	assert.NoError(t, err)
	assert.False(t, frames)
	_, err = onpage.IsFrames(strings.Repeat("<div>", 600))
	assert.Error(t, err)
}

func FuzzPut(f *testing.F) {
	f.Add(workshop)
	f.Add("<table><tr><td><main><svg><p>")
	f.Add("<frameset><frame>")
	f.Fuzz(func(t *testing.T, text string) {
		for _, name := range []string{"plain-page", "rich-text", "free-placement"} {
			if _, err := onpage.IsFrames(text); err != nil {
				return
			}
			out, _ := put(t, onpage.Page{HTML: text, Address: "https://kelp.example/"}, name, "new", -1)
			doc, err := html.Parse(strings.NewReader(out.Still))
			require.NoError(t, err)
			for n := range doc.Descendants() {
				assert.False(t, n.Type == html.ElementNode && n.Data == "script", out.Still)
			}
		}
	})
}
