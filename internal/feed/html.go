package feed

import (
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"glasspocket/internal/item"
)

// setHTML sets an item's text from HTML whose addresses are relative to base, and takes the images
// in it.
func setHTML(it *item.Item, source, base string) {
	if !strings.ContainsAny(source, "<&") {
		it.SetHTML(html.EscapeString(source))
		return
	}
	nodes, err := html.ParseFragment(strings.NewReader(source), &html.Node{Type: html.ElementNode, DataAtom: atom.Div, Data: "div"})
	if err != nil {
		it.SetHTML(source)
		return
	}
	var b strings.Builder
	for _, n := range nodes {
		settle(it, n, base)
		_ = html.Render(&b, n) // a Builder does not fail
	}
	it.SetHTML(b.String())
}

// settle makes the addresses in a tree absolute, and takes its images and videos.
func settle(it *item.Item, n *html.Node, base string) {
	if n.Type == html.ElementNode {
		switch n.DataAtom {
		case atom.A:
			for i := range n.Attr {
				if n.Attr[i].Key == "href" && !strings.HasPrefix(n.Attr[i].Val, "mailto:") && !strings.HasPrefix(n.Attr[i].Val, "tel:") {
					n.Attr[i].Val = resolve(base, n.Attr[i].Val)
				}
			}
		case atom.Img:
			src := attribute(n, "src")
			if src != "" && attribute(n, "width") != "1" { // not a counter
				it.Media = append(it.Media, item.Media{Kind: item.Image, Address: resolve(base, src), Alt: attribute(n, "alt")})
			}
		case atom.Video:
			if src := attribute(n, "src"); src != "" {
				it.Media = append(it.Media, item.Media{Kind: item.Video, Address: resolve(base, src), Poster: resolve(base, attribute(n, "poster"))})
			}
		}
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		settle(it, c, base)
	}
}

func attribute(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

func has(n *html.Node, name string) bool {
	for _, a := range n.Attr {
		if a.Key == name {
			return true
		}
	}
	return false
}

// textOf returns the text of a tree.
func textOf(n *html.Node) string {
	var b strings.Builder
	_ = html.Render(&b, n)
	return item.Plain(b.String())
}

// pieces has a document's elements that readers look for.
type pieces struct {
	root    *html.Node
	base    string // for relative addresses
	title   string
	lang    string
	scripts []string     // JSON-LD
	links   []*html.Node // <link>
	scopes  []*html.Node // outermost elements with itemscope
	heading string
}

// cut parses a page.
func cut(d *Document) (*pieces, error) {
	root, err := html.Parse(strings.NewReader(d.Text()))
	if err != nil {
		return nil, &Error{What: d.named() + " is not HTML: " + err.Error() + ".", Hint: "Check the address."}
	}
	p := &pieces{root: root, base: d.Address}
	p.walk(root, false)
	return p, nil
}

func (p *pieces) walk(n *html.Node, within bool) {
	if n.Type == html.ElementNode {
		switch n.DataAtom {
		case atom.Html:
			p.lang = attribute(n, "lang")
		case atom.Base:
			if href := attribute(n, "href"); href != "" {
				if at := resolve(p.base, href); at != "" {
					p.base = at
				}
			}
		case atom.Title:
			if p.title == "" {
				p.title = item.Line(inner(n), 200)
			}
		case atom.H1:
			if p.heading == "" {
				p.heading = item.Line(textOf(n), 200)
			}
		case atom.Link:
			p.links = append(p.links, n)
		case atom.Script:
			if kind, _, _ := strings.Cut(attribute(n, "type"), ";"); strings.EqualFold(strings.TrimSpace(kind), "application/ld+json") {
				p.scripts = append(p.scripts, inner(n))
			}
		}
		if has(n, "itemscope") && !within && !has(n, "itemprop") {
			p.scopes = append(p.scopes, n)
			within = true
		}
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		p.walk(c, within)
	}
}

// inner returns the text directly within an element, as of a script.
func inner(n *html.Node) string {
	var b strings.Builder
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if c.Type == html.TextNode {
			b.WriteString(c.Data)
		}
	}
	return b.String()
}
