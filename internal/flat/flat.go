// Package flat converts a rendering for emails: into rows of words, images and links, and into an
// image of them.
package flat

import (
	"path"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/host"
)

// Limits of what an email shows of a pocket.
const (
	rowsMost  = 14
	wordsMost = 280 // characters in a row
)

// Rows reads the visible content of a rendering's markup, in order. It leaves out hidden parts and
// decorations, for which the markup has a text alternative.
func Rows(markup string) []host.Row {
	doc, err := html.Parse(strings.NewReader(markup))
	if err != nil { // reading from a string cannot fail
		return nil
	}
	f := &flattening{}
	f.under(doc)
	f.end("words")
	if len(f.rows) <= rowsMost {
		return f.rows
	}
	most := rowsMost
	for _, begins := range f.items { // never show a part of an item
		if begins <= rowsMost && begins > 0 {
			most = begins
		}
	}
	return f.rows[:most]
}

type flattening struct {
	rows  []host.Row
	items []int // indexes of the rows where items start
	text  strings.Builder
}

// inline are elements within a line of words.
var inline = map[string]bool{"span": true, "b": true, "strong": true, "i": true, "em": true, "small": true, "time": true, "abbr": true, "q": true, "cite": true, "sub": true, "sup": true, "u": true, "s": true, "mark": true, "code": true}

var skipped = map[string]bool{"script": true, "style": true, "template": true, "svg": true, "button": true, "input": true, "select": true, "textarea": true, "head": true, "audio": true, "video": true, "progress": true}

func (f *flattening) under(n *html.Node) {
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		f.node(c)
	}
}

func (f *flattening) node(n *html.Node) {
	if n.Type == html.TextNode {
		f.text.WriteString(n.Data)
		return
	}
	if n.Type != html.ElementNode && n.Type != html.DocumentNode {
		return
	}
	get := func(name string) string {
		for _, a := range n.Attr {
			if a.Key == name {
				return a.Val
			}
		}
		return ""
	}
	has := func(name string) bool {
		for _, a := range n.Attr {
			if a.Key == name {
				return true
			}
		}
		return false
	}
	switch {
	case skipped[n.Data] || has("hidden") || get("aria-hidden") == "true":
		return
	case get("role") == "status" || get("role") == "alert": // announcements show only when something happens
		return
	case n.Data == "img":
		// Many mail programs do not show SVG and newer formats.
		if ending := strings.ToLower(path.Ext(get("src"))); ending == ".png" || ending == ".jpg" || ending == ".jpeg" {
			f.end("words")
			width, _ := strconv.Atoi(get("width"))
			height, _ := strconv.Atoi(get("height"))
			f.rows = append(f.rows, host.Row{Kind: "image", Words: get("alt"), Address: get("src"), Width: width, Height: height})
		}
		return
	case n.Data == "a" && strings.HasPrefix(get("href"), "http"):
		f.end("words")
		f.under(n)
		if words := f.flush(); words != "" {
			f.rows = append(f.rows, host.Row{Kind: "link", Words: words, Address: get("href")})
		}
		return
	case inline[n.Data] || n.Data == "a":
		f.under(n)
		return
	case n.Data == "br":
		f.text.WriteByte(' ')
		return
	}
	f.end("words")
	if n.Data == "article" || n.Data == "li" {
		f.items = append(f.items, len(f.rows))
	}
	f.under(n)
	kind := "words"
	if len(n.Data) == 2 && n.Data[0] == 'h' && n.Data[1] >= '1' && n.Data[1] <= '6' || get("role") == "heading" || get("class") == "heading" {
		kind = "heading"
	}
	f.end(kind)
}

// flush returns the text so far on one line, and clears it.
func (f *flattening) flush() string {
	words := strings.Join(strings.Fields(f.text.String()), " ")
	f.text.Reset()
	if r := []rune(words); len(r) > wordsMost {
		words = strings.TrimSpace(string(r[:wordsMost-1])) + "…"
	}
	return words
}

func (f *flattening) end(kind string) {
	if words := f.flush(); words != "" {
		f.rows = append(f.rows, host.Row{Kind: kind, Words: words})
	}
}
