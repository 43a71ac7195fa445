package host

import (
	"glasspocket/internal/tree"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// InPage is what remains of a snippet in a page after the host has processed it.
type InPage struct {
	Content []*html.Node
	Head    []*html.Node
	End     []*html.Node
}

// Placed returns a snippet as a host leaves it, as nodes of a page. Scripts that wait for consent
// are there as after consent.
func Placed(g Ground, s Subject, snippet Snippet, o Outcome) (in InPage) {
	takes := g.Content.Takes
	first := snippet.Parts[0]
	switch {
	case takes.As == "file":
		in.Content = parse(el("div", attributes("data-glass-pocket", s.Key)))
		in.End = parse(tag(s.Base + "/loader.js"))
		return in
	case first.Role == "address" && (o.Shows == "frame" || o.Shows == "still" || o.Shows == "screen"):
		sandbox := ""
		if takes.Frames == "fence" {
			sandbox = "allow-scripts"
		}
		width, height := s.Size(Placing{})
		in.Content = parse(el("iframe", attributes("src", first.Text, "width", itoa(width), "height", itoa(height), "style", "border:0", "sandbox", sandbox)))
		return in
	case first.Role == "address" && o.Shows == "link", takes.As == "markdown" && o.Shows == "link":
		in.Content = parse(el("a", attributes("href", s.page()), text(s.Title)))
		return in
	case takes.As != "markup":
		in.Content = parse(el("p", nil, text(first.Text)))
		return in
	}
	if takes.Scripts == "hold" {
		takes.Scripts = "run"
	}
	passed := takes.Pass(first.Text)
	in.Content, in.End = passed.Nodes, passed.Moved
	if b := takes.Boxed; b != nil {
		var inside strings.Builder
		for _, n := range append(in.Content, in.End...) {
			html.Render(&inside, n)
		}
		sandbox := on // nothing runs
		if b.Scripts {
			sandbox = "allow-scripts"
		}
		in.Content, in.End = parse(el("iframe", attributes("srcdoc", "<!doctype html><body style=margin:0>"+inside.String(), "sandbox", sandbox, "height", itoa(b.Height), "width", "100%", "style", "border:0"))), nil
	}
	if i := slices.IndexFunc(snippet.Parts, func(p Part) bool { return p.Role == "script" }); i >= 0 && g.Script != nil {
		rules := g.Script.Takes
		if rules.Scripts == "hold" {
			rules.Scripts = "run"
		}
		site := rules.Pass(snippet.Parts[i].Text)
		if g.Script.Stands == "head" {
			in.Head = append(site.Nodes, site.Moved...)
		} else {
			in.End = append(in.End, append(site.Nodes, site.Moved...)...)
		}
	}
	return in
}

// parse converts an element to nodes.
func parse(e element) []*html.Node {
	w := writer{}
	w.element(e)
	nodes, _ := html.ParseFragment(strings.NewReader(w.b.String()), &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body})
	return nodes
}

// Show removes scripts and puts markup into the mount point, or in place of the script.
func (in *InPage) Show(markup string) {
	shown := false
	show := func(at *html.Node) {
		if shown || markup == "" {
			return
		}
		nodes, _ := html.ParseFragment(strings.NewReader(markup), &html.Node{Type: html.ElementNode, Data: "div", DataAtom: atom.Div})
		for _, n := range nodes {
			at.InsertBefore(n, at.FirstChild)
		}
		shown = true
	}
	var walk func(list []*html.Node) []*html.Node
	walk = func(list []*html.Node) (kept []*html.Node) {
		for _, n := range list {
			if n.Type == html.ElementNode {
				if n.Data == "script" {
					continue
				}
				if _, framed := tree.Attr(n, "srcdoc"); framed && markup != "" {
					tree.Set(n, "srcdoc", "<!doctype html><body style=margin:0><div>"+markup+"</div>")
					shown = true
				}
				if _, ok := tree.Attr(n, "data-glass-pocket"); ok {
					show(n)
				}
				var children []*html.Node
				for c := n.FirstChild; c != nil; c = c.NextSibling {
					children = append(children, c)
				}
				if keep := walk(children); len(keep) < len(children) {
					for _, c := range children {
						if !slices.Contains(keep, c) {
							n.RemoveChild(c)
						}
					}
				}
			}
			kept = append(kept, n)
		}
		return kept
	}
	in.Content, in.Head, in.End = walk(in.Content), nil, nil
	if !shown && markup != "" {
		box := &html.Node{Type: html.ElementNode, Data: "div", DataAtom: atom.Div}
		show(box)
		// It also removes a link that the site's script would convert to a mount point.
		in.Content = append(slices.DeleteFunc(in.Content, func(n *html.Node) bool { return n.Data == "a" }), box)
	}
}
