package host

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"glasspocket/internal/widget"
)

var subject = Subject{Base: "https://pockets.example", Key: "abc", Title: `Tea & "kiln" <now>`, Heights: []widget.Height{{From: 0, Height: 92}, {From: 560, Height: 60}}}

func TestSnippets(t *testing.T) {
	s, ok := Write(subject, Ask{Delivery: Script})
	require.True(t, ok)
	assert.Equal(t, `<div data-glass-pocket="abc" style="min-height:calc(92px + clamp(-32px,(559px - 100vw)*9999,0px))"><a href="https://pockets.example/p/abc">Tea &amp; &#34;kiln&#34; &lt;now&gt;</a></div>
<script async src="https://pockets.example/s/abc.js"></script>`, s.Parts[0].Text)
	s, _ = Write(subject, Ask{Delivery: Split})
	require.Len(t, s.Parts, 2)
	assert.Equal(t, `<script async src="https://pockets.example/loader.js"></script>`, s.Parts[1].Text)
	s, _ = Write(subject, Ask{Delivery: Frame})
	assert.Contains(t, s.Parts[0].Text, ` height="92"`)
	_, ok = Write(subject, Ask{Delivery: "hologram"})
	assert.False(t, ok)
}

// Each part parses as HTML without anything being fixed: what goes in comes out.
func TestSnippetsAreHTML(t *testing.T) {
	for _, delivery := range Deliveries {
		s, _ := Write(subject, Ask{Delivery: delivery})
		for _, part := range s.Parts {
			z := html.NewTokenizer(strings.NewReader(part.Text))
			depth := 0
			for {
				kind := z.Next()
				if kind == html.ErrorToken {
					break
				}
				switch kind {
				case html.StartTagToken:
					if name, _ := z.TagName(); string(name) != "img" {
						depth++
					}
				case html.EndTagToken:
					depth--
				case html.CommentToken:
					t.Errorf("%s: unexpected %s", delivery, z.Raw())
				}
			}
			assert.Zero(t, depth, part.Text)
			assert.NotContains(t, part.Text, "<now>")
		}
	}
}

func TestReserve(t *testing.T) {
	for _, c := range []struct {
		heights []widget.Height
		want    string
	}{
		{nil, ""},
		{[]widget.Height{{From: 0, Height: 100}}, "100px"},
		{[]widget.Height{{From: 0, Height: 100}, {From: 560, Height: 100}}, "100px"},
		{[]widget.Height{{From: 0, Height: 100}, {From: 560, Height: 120}}, "calc(100px + clamp(0px,(100vw - 559px)*9999,20px))"},
		{[]widget.Height{{From: 0, Height: 120}, {From: 560, Height: 100}, {From: 900, Height: 150}}, "calc(120px + clamp(-20px,(559px - 100vw)*9999,0px) + clamp(0px,(100vw - 899px)*9999,50px))"},
	} {
		assert.Equal(t, c.want, Reserve(c.heights))
	}
}

// Titles of operators stand within sentences, in whatever letters.
func TestTitlesInSentences(t *testing.T) {
	for title, within := range map[string]string{"Übersicht": "übersicht", "HTML part": "HTML part", "The footer": "the footer", "A": "a", "": ""} {
		assert.Equal(t, within, lower(title))
	}
	assert.Equal(t, "Übersicht", upper("übersicht"))
	assert.Empty(t, upper(""))
}
