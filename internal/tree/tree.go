// Package tree reads and changes elements of a parsed HTML document.
package tree

import (
	"strings"

	"golang.org/x/net/html"
)

// Attr returns an attribute, and whether the element has it.
func Attr(n *html.Node, name string) (value string, has bool) {
	for _, a := range n.Attr {
		if a.Key == name && a.Namespace == "" {
			return a.Val, true
		}
	}
	return "", false
}

// Get returns an attribute, or "".
func Get(n *html.Node, name string) string {
	value, _ := Attr(n, name)
	return value
}

// Has reports whether the element has an attribute.
func Has(n *html.Node, name string) bool {
	_, has := Attr(n, name)
	return has
}

// Set changes or adds an attribute.
func Set(n *html.Node, name, value string) {
	for i := range n.Attr {
		if n.Attr[i].Key == name && n.Attr[i].Namespace == "" {
			n.Attr[i].Val = value
			return
		}
	}
	n.Attr = append(n.Attr, html.Attribute{Key: name, Val: value})
}

// Drop removes an attribute.
func Drop(n *html.Node, name string) {
	for i := range n.Attr {
		if n.Attr[i].Key == name && n.Attr[i].Namespace == "" {
			n.Attr = append(n.Attr[:i:i], n.Attr[i+1:]...)
			return
		}
	}
}

// Find returns the first node, in document order, for which is returns true, or nil.
func Find(n *html.Node, is func(*html.Node) bool) *html.Node {
	if is(n) {
		return n
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if found := Find(c, is); found != nil {
			return found
		}
	}
	return nil
}

// Named matches elements with a name, for Find.
func Named(name string) func(*html.Node) bool {
	return func(n *html.Node) bool { return n.Type == html.ElementNode && n.Data == name }
}

// Each calls do for every element, in document order.
func Each(n *html.Node, do func(*html.Node)) {
	if n.Type == html.ElementNode {
		do(n)
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		Each(c, do)
	}
}

// Outermost calls do for every element below n with a name that is not in another one. do may
// remove it.
func Outermost(n *html.Node, name string, do func(*html.Node)) {
	for c := n.FirstChild; c != nil; {
		next := c.NextSibling
		if c.Type == html.ElementNode && c.Data == name {
			do(c)
		} else {
			Outermost(c, name, do)
		}
		c = next
	}
}

// Text returns the text in a node.
func Text(n *html.Node) string {
	if n.Type == html.TextNode {
		return n.Data
	}
	var b strings.Builder
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		b.WriteString(Text(c))
	}
	return b.String()
}
