package host

import (
	"glasspocket/internal/tree"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Loss is something that a place removes from what was pasted.
type Loss struct {
	What string `json:"what"` // what it is, in words
	Why  string `json:"why"`  // a sentence
	Fix  string `json:"fix"`  // a sentence; "" if there is no fix
}

// Passed is what a place makes of a text.
type Passed struct {
	Nodes  []*html.Node // what is in the page
	Moved  []*html.Node // scripts that run in another place
	Losses []Loss
}

// Pass applies the rules to a text of markup. Predictions, tries on a page, and the choice of a
// delivery all use it.
func (r Rules) Pass(text string) Passed {
	if r.As != "markup" {
		return Passed{Nodes: []*html.Node{{Type: html.TextNode, Data: text}}}
	}
	around := &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body}
	nodes, err := html.ParseFragment(strings.NewReader(text), around)
	if err != nil { // reading from a string cannot fail
		return Passed{}
	}
	p := passing{rules: r}
	for _, n := range nodes {
		around.AppendChild(n)
	}
	p.under(around)
	for n := around.FirstChild; n != nil; {
		next := n.NextSibling
		around.RemoveChild(n)
		p.Nodes = append(p.Nodes, n)
		n = next
	}
	return p.Passed
}

type passing struct {
	Passed
	rules Rules
	told  map[string]bool
}

func (p *passing) lose(what, why, fix string) {
	if p.told[what] {
		return
	}
	if p.told == nil {
		p.told = map[string]bool{}
	}
	p.told[what] = true
	p.Losses = append(p.Losses, Loss{what, why, fix})
}

func (p *passing) under(parent *html.Node) {
	for n := parent.FirstChild; n != nil; {
		next := n.NextSibling
		if n.Type == html.ElementNode {
			if p.element(n) {
				p.under(n)
			} else if n.Parent != nil {
				parent.RemoveChild(n)
			}
		}
		n = next
	}
}

// element applies the rules to one element, and reports whether it stays.
func (p *passing) element(n *html.Node) bool {
	r := p.rules
	switch n.Data {
	case "script":
		switch r.Scripts {
		case "drop":
			p.lose("the script", "This place removes scripts.", "Put the script where the host allows scripts, or choose a delivery without a script.")
			return false
		case "hold":
			tree.Set(n, "type", "text/plain")
			p.lose("the script, until it is allowed", "Scripts wait here until somebody allows them.", "Turn on the switch that allows them.")
		case "inert":
			tree.Set(n, "type", "text/plain")
			p.lose("the script", "A program inserts this content, and browsers do not run scripts that are inserted this way.", "Put the script into the application's start page.")
		case "move":
			p.Moved = append(p.Moved, n)
			n.Parent.RemoveChild(n)
			return false
		}
	case "iframe":
		switch r.Frames {
		case "drop":
			p.lose("the frame", "This place removes frames.", "Use a link.")
			return false
		case "fence":
			tree.Set(n, "sandbox", "allow-scripts")
			p.lose("storage", "Frames get a sandbox without storage here.", "")
			p.lose("links", "Links in the frame do not open, because its sandbox blocks pop-ups.", "")
		case "still":
			tree.Set(n, "sandbox", "")
			p.lose("everything that moves or reacts", "Frames get a sandbox without scripts here.", "")
		}
	case "form", "input", "button", "label":
		if r.Forms == "drop" {
			p.lose("the form", "This place removes forms.", "Use a link to a page with the form.")
			return n.Data == "label"
		}
	case "img":
		if r.Images == "drop" {
			p.lose("the image", "This place removes images.", "")
			return false
		}
	case "a":
		if r.Links == "drop" {
			p.lose("the link", "This place removes links.", "")
			*n = html.Node{Type: html.ElementNode, Data: "span", DataAtom: atom.Span, Parent: n.Parent, PrevSibling: n.PrevSibling, NextSibling: n.NextSibling, FirstChild: n.FirstChild, LastChild: n.LastChild}
		}
	}
	kept := n.Attr[:0]
	for _, a := range n.Attr {
		switch {
		case a.Key == "style" && r.Styles == "drop":
			p.lose("the inline style", "This place removes style attributes.", "")
		case unknown(a.Key) && r.Attributes == "drop":
			p.lose("the mount point", "This place removes unknown attributes.", "")
		default:
			kept = append(kept, a)
		}
	}
	n.Attr = kept
	return true
}

// unknown reports whether a host with an allowlist drops an attribute.
func unknown(name string) bool { return strings.HasPrefix(name, "data-") || name == "slot" }
