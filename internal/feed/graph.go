package feed

import (
	"encoding/json"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// A node is an entity of structured data: JSON-LD and microdata lead to the same form.
type node struct {
	id    string
	types []string // without the vocabulary's address
	// properties have values that are strings or *node.
	properties map[string][]any
}

// graph is the structured data of a page.
type graph struct {
	*Found
	page   *pieces
	nodes  []*node // in the order of the page
	byID   map[string]*node
	listed map[*node]bool
	count  int
}

// Limits of a page's structured data.
const (
	nodesMost = 50_000
	depthMost = 32
)

func newGraph(f *Found, p *pieces) *graph {
	g := &graph{Found: f, page: p, byID: map[string]*node{}, listed: map[*node]bool{}}
	for _, script := range p.scripts {
		g.jsonLD(script)
	}
	for _, scope := range p.scopes {
		g.add(g.microdata(scope, 0))
	}
	return g
}

// add adds an entity of the page. One with the ID of another adds what that one lacks; if they
// contradict each other, the first counts.
func (g *graph) add(n *node) {
	if n = g.merged(n); n != nil && !g.listed[n] {
		g.listed[n] = true
		g.nodes = append(g.nodes, n)
	}
}

// merged returns the entity with the ID of n, with everything that it lacked, or n.
func (g *graph) merged(n *node) *node {
	if n == nil || n.id == "" {
		return n
	}
	known := g.byID[n.id]
	if known == nil || known == n {
		g.byID[n.id] = n
		return n
	}
	for name, values := range n.properties {
		if _, has := known.properties[name]; !has {
			known.properties[name] = values
		}
	}
	if len(known.types) == 0 {
		known.types = n.types
	}
	return known
}

var (
	commented = regexp.MustCompile(`^\s*(?:<!--|//\s*<!\[CDATA\[|/\*\s*<!\[CDATA\[\s*\*/|<!\[CDATA\[)|(?:-->|//\s*\]\]>|/\*\s*\]\]>\s*\*/|\]\]>)\s*$`)
	trailing  = regexp.MustCompile(`,(\s*[}\]])`)
)

// jsonLD reads a script with JSON-LD 1.1. Contexts are not loaded: pages use schema.org's, and a
// context of another server must not decide what a page means.
func (g *graph) jsonLD(script string) {
	var v any
	err := json.Unmarshal([]byte(script), &v)
	if err != nil {
		mended := trailing.ReplaceAllString(commented.ReplaceAllString(script, ""), "$1")
		mended = strings.Map(func(r rune) rune { // line breaks within texts
			if r < ' ' {
				return ' '
			}
			return r
		}, mended)
		if json.Unmarshal([]byte(mended), &v) != nil {
			if json.Unmarshal([]byte(html.UnescapeString(mended)), &v) != nil {
				g.skip("A block of JSON-LD is not valid JSON, so it was left out: %v.", err)
				return
			}
		}
		g.repair("A block of JSON-LD is not valid JSON and was corrected.")
	}
	g.top(v, 0)
}

func (g *graph) top(v any, depth int) {
	if depth > depthMost {
		return
	}
	switch v := v.(type) {
	case []any:
		for _, each := range v {
			g.top(each, depth+1)
		}
	case map[string]any:
		if list, ok := v["@graph"]; ok {
			g.top(list, depth+1)
			if len(v) <= 2 { // only a context besides
				return
			}
		}
		g.add(g.node(v, depth))
	}
}

func (g *graph) node(m map[string]any, depth int) *node {
	if g.count++; g.count > nodesMost || depth > depthMost {
		return nil
	}
	n := &node{properties: map[string][]any{}}
	n.id, _ = m["@id"].(string)
	for _, t := range g.values(m["@type"], depth+1) {
		if text, ok := t.(string); ok {
			n.types = append(n.types, short(text))
		}
	}
	for name, v := range m {
		if !strings.HasPrefix(name, "@") {
			n.properties[short(name)] = append(n.properties[short(name)], g.values(v, depth+1)...)
		}
	}
	if reverse, ok := m["@reverse"].(map[string]any); ok {
		for name, v := range reverse {
			for _, each := range g.values(v, depth+1) {
				if of, ok := each.(*node); ok {
					of.properties[short(name)] = append(of.properties[short(name)], n)
					g.add(of)
				}
			}
		}
	}
	return n
}

// values returns a value as a list of strings and nodes.
func (g *graph) values(v any, depth int) (list []any) {
	switch v := v.(type) {
	case string:
		return []any{v}
	case float64, bool:
		text, _ := json.Marshal(v)
		return []any{string(text)}
	case []any:
		for _, each := range v {
			list = append(list, g.values(each, depth)...)
		}
	case map[string]any:
		if value, ok := v["@value"]; ok {
			return g.values(value, depth)
		}
		if inner, ok := v["@list"]; ok {
			return g.values(inner, depth)
		}
		if inner, ok := v["@set"]; ok {
			return g.values(inner, depth)
		}
		if n := g.merged(g.node(v, depth)); n != nil {
			return []any{n}
		}
	}
	return list
}

// short removes the vocabulary from a name: "https://schema.org/Review", "schema:Review".
func short(name string) string {
	if i := strings.LastIndexAny(name, "/#:"); i >= 0 {
		return name[i+1:]
	}
	return name
}

// microdata reads an element with itemscope (HTML, section 5.2).
func (g *graph) microdata(n *html.Node, depth int) *node {
	if g.count++; g.count > nodesMost || depth > depthMost {
		return nil
	}
	of := &node{properties: map[string][]any{}, id: attribute(n, "itemid")}
	for _, t := range strings.Fields(attribute(n, "itemtype")) {
		of.types = append(of.types, short(t))
	}
	var crawl func(n *html.Node)
	crawl = func(n *html.Node) {
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			if c.Type != html.ElementNode {
				continue
			}
			names := strings.Fields(attribute(c, "itemprop"))
			scoped := has(c, "itemscope")
			switch {
			case scoped && len(names) == 0:
				g.add(g.microdata(c, depth+1)) // an entity by itself
				continue
			case scoped:
				if inner := g.microdata(c, depth+1); inner != nil {
					for _, name := range names {
						of.properties[short(name)] = append(of.properties[short(name)], inner)
					}
				}
				continue
			case len(names) > 0:
				for _, name := range names {
					of.properties[short(name)] = append(of.properties[short(name)], g.valueOf(c))
				}
			}
			crawl(c)
		}
	}
	crawl(n)
	for _, id := range strings.Fields(attribute(n, "itemref")) {
		if other := byID(g.page.root, id); other != nil && other != n {
			wrapper := &html.Node{Type: html.ElementNode, Data: "div", DataAtom: atom.Div}
			clone := *other
			clone.Parent, clone.PrevSibling, clone.NextSibling = nil, nil, nil
			wrapper.FirstChild, wrapper.LastChild = &clone, &clone
			crawl(wrapper)
		}
	}
	return of
}

// valueOf returns the value of a property (HTML, section 5.2.4).
func (g *graph) valueOf(n *html.Node) string {
	switch n.DataAtom {
	case atom.Meta:
		return attribute(n, "content")
	case atom.Audio, atom.Embed, atom.Iframe, atom.Img, atom.Source, atom.Track, atom.Video:
		return resolve(g.page.base, attribute(n, "src"))
	case atom.A, atom.Area, atom.Link:
		href := attribute(n, "href")
		if at := resolve(g.page.base, href); at != "" {
			return at
		}
		return href
	case atom.Data, atom.Meter:
		return attribute(n, "value")
	case atom.Time:
		if at := attribute(n, "datetime"); at != "" {
			return at
		}
	case atom.Object:
		return resolve(g.page.base, attribute(n, "data"))
	}
	if has(n, "content") { // not in the standard, but common
		return attribute(n, "content")
	}
	return textOf(n)
}

func byID(n *html.Node, id string) *html.Node {
	if n.Type == html.ElementNode && attribute(n, "id") == id {
		return n
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if found := byID(c, id); found != nil {
			return found
		}
	}
	return nil
}

// is reports whether a node has one of the types.
func (n *node) is(types ...string) bool {
	return slices.ContainsFunc(n.types, func(t string) bool { return slices.Contains(types, t) })
}

// text returns the first value of the first of the properties that has one. Of a node, it is the
// name or the value.
func (n *node) text(names ...string) string {
	for _, name := range names {
		for _, v := range n.properties[name] {
			text, ok := v.(string)
			if of, isNode := v.(*node); isNode && of != n {
				text = of.plainText("name", "text", "url", "@value")
				ok = text != ""
			}
			if ok && strings.TrimSpace(text) != "" {
				return strings.TrimSpace(text)
			}
		}
	}
	return ""
}

// plainText is text without looking into further nodes.
func (n *node) plainText(names ...string) string {
	for _, name := range names {
		for _, v := range n.properties[name] {
			if text, ok := v.(string); ok && strings.TrimSpace(text) != "" {
				return strings.TrimSpace(text)
			}
		}
	}
	return ""
}

// of returns the nodes of some properties.
func (n *node) of(names ...string) (list []*node) {
	for _, name := range names {
		for _, v := range n.properties[name] {
			if inner, ok := v.(*node); ok {
				list = append(list, inner)
			}
		}
	}
	return list
}
