// Package onpage inserts a snippet into a copy of somebody's page, as the page's host would, so
// that people can see the result before they paste anything.
package onpage

import (
	"net/url"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"glasspocket/internal/clip"
	"glasspocket/internal/host"
	"glasspocket/internal/tree"
)

// Page is a page that was fetched or pasted.
type Page struct {
	Address string // "" if it was pasted
	HTML    string
	Policy  string // from its header
}

// Spot is a place in a page after which something can be inserted.
type Spot struct {
	After string `json:"after"` // the start of its text
	Tag   string `json:"tag"`
}

// SpotsMost is the largest number of places that are offered for one page.
const SpotsMost = 40

// Placed is a page with a snippet in it.
type Placed struct {
	Title  string
	Spots  []Spot
	Spot   int    // the spot that it follows; -1 for the start of the page
	Policy string // from the page's header and meta elements, with its own address in place of 'self'
	Live   string // the page with its scripts
	Still  string // the same without scripts, with the widget's rendering
}

// Anchor is the id of the snippet's place, for the fragment of the frame's address.
const Anchor = "glass-pocket-here"

// IsFrames reports whether a page consists only of frames, which show other pages. An error means
// that the page cannot be read: its elements are nested more than 512 deep.
func IsFrames(text string) (bool, error) {
	doc, err := html.Parse(strings.NewReader(text))
	return err == nil && tree.Find(doc, tree.Named("body")) == nil, err
}

// Put inserts a snippet after a spot; -1 selects the most likely one. rendered is the widget as
// markup that needs no script, for Still.
func Put(page Page, spot int, ground host.Ground, s host.Subject, snippet host.Snippet, outcome host.Outcome, rendered string) Placed {
	out := Placed{}
	make := func(still bool) string {
		doc, err := html.Parse(strings.NewReader(page.HTML))
		if err != nil { // IsFrames reports it
			return ""
		}
		d := &document{root: doc, head: tree.Find(doc, tree.Named("head")), body: tree.Find(doc, tree.Named("body"))}
		if d.body == nil { // a frameset has none
			d.body = &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body}
			tree.Find(doc, tree.Named("html")).AppendChild(d.body)
		}
		out.Policy = d.policy(page)
		out.Title = strings.TrimSpace(words(tree.Find(doc, tree.Named("title")), 200))
		spots := d.spots(ground.Content.Stands)
		out.Spots = out.Spots[:0]
		for _, at := range spots {
			out.Spots = append(out.Spots, Spot{After: words(at, 60), Tag: at.Data})
		}
		out.Spot = spot
		if spot < 0 || spot >= len(spots) {
			out.Spot = likely(spots, ground.Content.Stands)
		}
		d.base(page.Address)
		here := host.Placed(ground, s, snippet, outcome)
		if still {
			d.strip()
			if !slices.Contains([]string{"widget", "boxed", "astray"}, outcome.Shows) {
				rendered = "" // the page shows nothing of it
			}
			here.Show(rendered)
		}
		d.insert(here, spots, out.Spot, ground)
		var b strings.Builder
		html.Render(&b, doc)
		return b.String()
	}
	out.Live, out.Still = make(false), make(true)
	return out
}

type document struct{ root, head, body *html.Node }

// words returns the text of an element on one line, shortened.
func words(n *html.Node, most int) string {
	if n == nil {
		return ""
	}
	var b strings.Builder
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		if n.Type == html.TextNode {
			b.WriteString(n.Data + " ")
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			if c.Data != "script" && c.Data != "style" && c.Data != "template" {
				walk(c)
			}
		}
	}
	walk(n)
	return clip.Text(strings.Join(strings.Fields(b.String()), " "), most)
}

var blocks = map[string]bool{"h1": true, "h2": true, "h3": true, "p": true, "figure": true, "ul": true, "ol": true, "blockquote": true, "section": true, "table": true, "form": true}

// spots lists the elements after which something can be inserted: headings, paragraphs and the like
// in the page's main part, or in its side column.
func (d *document) spots(stands string) (list []*html.Node) {
	within := d.body
	for _, name := range map[bool][]string{true: {"aside"}, false: {"main", "article"}}[stands == "column"] {
		if n := tree.Find(d.root, tree.Named(name)); n != nil {
			within = n
			break
		}
	}
	var walk func(n *html.Node)
	walk = func(n *html.Node) {
		for c := n.FirstChild; c != nil && len(list) < SpotsMost; c = c.NextSibling {
			if c.Type != html.ElementNode || hidden[c.Data] {
				continue
			}
			if blocks[c.Data] && words(c, 2) != "" {
				// Visit a section that has its own headings.
				if c.Data != "section" || tree.Find(c, tree.Named("h2")) == nil && tree.Find(c, tree.Named("h3")) == nil && tree.Find(c, tree.Named("h1")) == nil {
					list = append(list, c)
					continue
				}
			}
			walk(c)
		}
	}
	if within != nil {
		walk(within)
	}
	return list
}

var hidden = map[string]bool{"script": true, "style": true, "template": true, "noscript": true, "nav": true, "header": true, "footer": true, "svg": true, "iframe": true, "dialog": true}

// likely returns the place after the first text that follows the first heading.
func likely(spots []*html.Node, stands string) int {
	if stands == "column" {
		return len(spots) - 1
	}
	heading := false
	for i, n := range spots {
		if n.Data[0] == 'h' {
			heading = true
		} else if heading || i == len(spots)-1 {
			return i
		}
	}
	return len(spots) - 1
}

// base makes the page's relative addresses lead where they led before.
func (d *document) base(address string) {
	at, err := url.Parse(address)
	if address == "" || err != nil {
		return
	}
	if own := tree.Find(d.head, tree.Named("base")); own != nil { // which can itself be relative to the page's address
		for i, a := range own.Attr {
			if to, err := at.Parse(a.Val); a.Key == "href" && err == nil {
				own.Attr[i].Val = to.String()
			}
		}
		return
	}
	d.head.InsertBefore(&html.Node{Type: html.ElementNode, Data: "base", DataAtom: atom.Base, Attr: []html.Attribute{{Key: "href", Val: address}}}, d.head.FirstChild)
}

// policy returns the page's content policy, including that of meta elements, which it removes.
func (d *document) policy(page Page) string {
	list := []string{}
	if page.Policy != "" {
		list = append(list, page.Policy)
	}
	tree.Outermost(d.root, "meta", func(n *html.Node) {
		equiv, content := "", ""
		for _, a := range n.Attr {
			switch a.Key {
			case "http-equiv":
				equiv = strings.ToLower(a.Val)
			case "content":
				content = a.Val
			}
		}
		if equiv == "content-security-policy" {
			list = append(list, content)
		}
		if equiv == "content-security-policy" || equiv == "refresh" {
			n.Parent.RemoveChild(n)
		}
	})
	policy := ofContent(strings.Join(list, ", "))
	if u, err := url.Parse(page.Address); err == nil && u.Host != "" {
		policy = strings.ReplaceAll(policy, "'self'", u.Scheme+"://"+u.Host)
	}
	return policy
}

// ofContent reduces a policy to what concerns loading, on one line. Rules about who can frame the
// page do not apply to a copy in a frame, and refusals in it are not reported to anybody.
func ofContent(policy string) string {
	var kept []string
	for one := range strings.SplitSeq(policy, ",") {
		var directives []string
		for d := range strings.SplitSeq(one, ";") {
			words := strings.Fields(d)
			if len(words) == 0 {
				continue
			}
			switch strings.ToLower(words[0]) {
			case "frame-ancestors", "report-uri", "report-to":
			default:
				directives = append(directives, strings.Join(words, " "))
			}
		}
		if len(directives) > 0 {
			kept = append(kept, strings.Join(directives, "; "))
		}
	}
	return strings.Join(kept, ", ")
}

// PolicyOf returns the content policy of a page, from its header and its meta elements.
func PolicyOf(page Page) string {
	doc, err := html.Parse(strings.NewReader(page.HTML))
	if err != nil { // IsFrames reports it
		return page.Policy
	}
	page.Address = "" // leaves 'self' unchanged
	return (&document{root: doc}).policy(page)
}

// strip removes everything that would run.
func (d *document) strip() {
	for _, name := range []string{"script", "link"} {
		tree.Outermost(d.root, name, func(n *html.Node) {
			if name == "script" {
				n.Parent.RemoveChild(n)
				return
			}
			for _, a := range n.Attr {
				if a.Key == "rel" && (strings.Contains(a.Val, "preload") || strings.Contains(a.Val, "prefetch")) {
					n.Parent.RemoveChild(n)
					return
				}
			}
		})
	}
}

// insert puts the pasted code in its place.
func (d *document) insert(here host.InPage, spots []*html.Node, spot int, g host.Ground) {
	mark := &html.Node{Type: html.ElementNode, Data: "span", DataAtom: atom.Span, Attr: []html.Attribute{{Key: "id", Val: Anchor}}}
	nodes := append([]*html.Node{mark}, here.Content...)
	switch {
	case g.Content.Stands == "head":
		for _, n := range here.Content {
			d.head.AppendChild(n)
		}
	case g.Content.Stands == "end" || g.Content.Stands == "whole" || spot < 0:
		for _, n := range nodes {
			d.body.AppendChild(n)
		}
	default:
		at := spots[spot]
		for _, n := range nodes {
			at.Parent.InsertBefore(n, at.NextSibling)
			at = n
		}
	}
	for _, n := range here.Head {
		d.head.AppendChild(n)
	}
	for _, n := range here.End {
		d.body.AppendChild(n)
	}
}
