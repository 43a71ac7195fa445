package intake

import (
	"fmt"
	"glasspocket/internal/tree"
	"sort"
	"strings"

	"golang.org/x/net/html"
)

// lineKey is an attribute with an element's line in the page, which the HTML parser does not keep.
// It is removed before anything is written.
const lineKey = "data-intake-line"

// parse reads the page. It first adds the line to each start tag.
func (m *maker) parse(text string) (doc *html.Node, depth int, err error) {
	var b strings.Builder
	z := html.NewTokenizer(strings.NewReader(text))
	line := 1
	for {
		kind := z.Next()
		raw := string(z.Raw())
		if kind == html.ErrorToken {
			break
		}
		if kind == html.StartTagToken || kind == html.SelfClosingTagToken {
			name, _ := z.TagName()
			at := 1 + len(name)
			if at <= len(raw) {
				b.WriteString(raw[:at] + fmt.Sprintf(` %s="%d"`, lineKey, line) + raw[at:])
			}
		} else {
			b.WriteString(raw)
		}
		line += strings.Count(raw, "\n")
	}
	// The parser refuses elements that are nested too deeply.
	if doc, err = html.Parse(strings.NewReader(b.String())); err != nil {
		return nil, 0, err
	}
	return doc, deep(doc), nil
}

// deep returns the depth of nesting, without recursion.
func deep(n *html.Node) (most int) {
	depth := 0
	for at := n; at != nil; {
		most = max(most, depth)
		switch {
		case at.FirstChild != nil:
			at = at.FirstChild
			depth++
		default:
			for at != n && at.NextSibling == nil {
				at = at.Parent
				depth--
			}
			if at == n {
				return most
			}
			at = at.NextSibling
		}
	}
	return most
}

func lineOf(n *html.Node) (line int) {
	fmt.Sscan(tree.Get(n, lineKey), &line)
	return line
}

// landmarks are elements that often are a part of a page.
var landmarks = map[string]bool{"main": true, "section": true, "article": true, "header": true, "footer": true, "nav": true, "aside": true, "form": true, "figure": true}

// selectorOf returns a selector for an element that could be a part: its id, or tag and first
// class.
func selectorOf(n *html.Node) string {
	if n.Type != html.ElementNode {
		return ""
	}
	if id := tree.Get(n, "id"); id != "" && !strings.ContainsAny(id, " \t\n") {
		return "#" + id
	}
	class, _, _ := strings.Cut(strings.TrimSpace(tree.Get(n, "class")), " ")
	switch {
	case landmarks[n.Data] && class != "":
		return n.Data + "." + class
	case landmarks[n.Data]:
		return n.Data
	}
	return ""
}

// Limits of the offered parts.
const (
	partsMost = 40
	partLeast = 120 // bytes of markup
)

// parts lists elements that could be widgets, the largest first. If a selector matches several, the
// first element counts, as in Make.
func parts(body *html.Node) (list []PagePart) {
	seen := map[string]bool{}
	tree.Each(body, func(n *html.Node) {
		selector := selectorOf(n)
		if selector == "" || seen[selector] || n == body || unseen[n.Data] || n.Data == "script" || n.Data == "style" {
			return
		}
		seen[selector] = true
		size := sizeOf(n)
		if size < partLeast {
			return
		}
		name := strings.Join(strings.Fields(tree.Text(n)), " ")
		if h := tree.Find(n, func(n *html.Node) bool { return headings.MatchString(n.Data) }); h != nil {
			name = strings.Join(strings.Fields(tree.Text(h)), " ")
		}
		if r := []rune(name); len(r) > 60 {
			name = string(r[:59]) + "…"
		}
		list = append(list, PagePart{selector, name, size})
	})
	sort.SliceStable(list, func(i, j int) bool { return list[i].Bytes > list[j].Bytes })
	return list[:min(len(list), partsMost)]
}

// sizeOf estimates the bytes of an element's markup without writing it.
func sizeOf(n *html.Node) (size int) {
	var visit func(*html.Node)
	visit = func(n *html.Node) {
		switch n.Type {
		case html.TextNode:
			size += len(n.Data)
		case html.ElementNode:
			size += 2*len(n.Data) + 5
			for _, a := range n.Attr {
				if a.Key != lineKey {
					size += len(a.Key) + len(a.Val) + 4
				}
			}
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			visit(c)
		}
	}
	visit(n)
	return size
}
