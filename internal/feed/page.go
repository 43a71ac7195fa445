package feed

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"glasspocket/internal/item"
)

func isPage(d *Document) bool {
	head := strings.ToLower(d.head())
	return strings.HasPrefix(head, "<!doctype html") || strings.HasPrefix(head, "<html") || d.media() == "text/html" || d.media() == "application/xhtml+xml" || strings.HasPrefix(head, "<!--") && strings.Contains(head, "<html")
}

// pagesMost is how many pages of one list are read.
const pagesMost = 10

// readPage reads the schema.org data of a page, and of the pages that follow it in its list: JSON-LD
// and microdata. Of several kinds of content, the one that Options.Part names is read, or else the
// first of Parts that the page has.
func readPage(ctx context.Context, d *Document, o Options) (*Found, error) {
	f := &Found{}
	all := map[string][]item.Item{}
	at := d
	for n := 0; at != nil && n < pagesMost; n++ {
		p, err := cut(at)
		if err != nil {
			return nil, err
		}
		if n == 0 {
			f.Title, f.Link, f.Language = p.siteName(), at.Address, p.lang
			f.Icon = p.icon()
			f.Hub, f.Topic = p.linkTo("hub"), p.linkTo("self")
		}
		g := newGraph(f, p)
		if n == 0 {
			f.Credit = item.Credit{Name: item.Line(p.siteName(), 120), Link: origin(at.Address)}
			if subject := g.subject(); subject != nil {
				f.Title, f.Place = subject.plainText("name"), addressOf(subject)
			}
		}
		for part, items := range g.items() {
			all[part] = append(all[part], items...)
		}
		next := p.linkTo("next")
		if next == "" || d.Get == nil || next == at.Address {
			break
		}
		if at, err = d.Get(ctx, next, "text/html"); err != nil {
			f.skip("Page %d of the list cannot be read: %v", n+2, err)
			break
		}
	}
	part := o.Part
	if part == "" {
		for _, each := range Parts {
			if len(all[each.Kind]) > 0 {
				part = each.Kind
				break
			}
		}
	}
	f.Items = all[part]
	if len(f.Items) == 0 {
		what := "no reviews, dates, products or articles"
		if o.Part != "" {
			what = "none of the content that it had before"
		}
		return nil, &Error{What: fmt.Sprintf("The page has %s as structured data (schema.org).", what), Hint: "Enter the address of the page that shows them, or of a feed."}
	}
	f.Window = part == item.Post || part == item.Review && len(f.Items) < f.Rated.Count
	return f, nil
}

// Part is a kind of content that a page can have.
type Part struct{ Kind, Label string }

// Parts lists them; a page's choice begins with the first that it has.
var Parts = []Part{{item.Review, "Reviews"}, {item.Date, "Dates"}, {item.Notice, "Notices"}, {item.Post, "Articles"}, {item.Card, "Products"}, {"person", "People"}}

// PartsOf counts the items of each part of a page.
func PartsOf(d *Document) map[string]int {
	counts := map[string]int{}
	if p, err := cut(d); err == nil {
		for part, items := range newGraph(&Found{}, p).items() {
			counts[part] = len(items)
		}
	}
	return counts
}

// siteName returns what a page calls itself.
func (p *pieces) siteName() string {
	for _, name := range []string{"og:site_name", "application-name"} {
		if text := p.meta(name); text != "" {
			return text
		}
	}
	if p.title != "" {
		return p.title
	}
	return p.heading
}

func (p *pieces) meta(name string) (content string) {
	var look func(n *html.Node)
	look = func(n *html.Node) {
		if n.Type == html.ElementNode && n.DataAtom == atom.Meta && (attribute(n, "property") == name || attribute(n, "name") == name) && content == "" {
			content = attribute(n, "content")
		}
		for c := n.FirstChild; c != nil && content == ""; c = c.NextSibling {
			look(c)
		}
	}
	look(p.root)
	return content
}

func (p *pieces) icon() string {
	for _, rel := range []string{"apple-touch-icon", "icon"} {
		if at := p.linkTo(rel); at != "" {
			return at
		}
	}
	return ""
}

// linkTo returns the address of a page's link with a relation, or "".
func (p *pieces) linkTo(rel string) string {
	for _, n := range p.links {
		if slices.Contains(strings.Fields(strings.ToLower(attribute(n, "rel"))), rel) {
			if at := resolve(p.base, attribute(n, "href")); at != "" {
				return at
			}
		}
	}
	return ""
}

// headerLink takes a hub from a Link header field (RFC 8288).
func (f *Found) headerLink(d *Document, header string) {
	for _, part := range strings.Split(header, ",") {
		target, rest, ok := strings.Cut(strings.TrimPrefix(strings.TrimSpace(part), "<"), ">")
		if !ok {
			continue
		}
		for _, parameter := range strings.Split(rest, ";") {
			if rel, ok := strings.CutPrefix(strings.TrimSpace(parameter), "rel="); ok {
				for _, each := range strings.Fields(strings.Trim(rel, `"`)) {
					f.link(d, each, target)
				}
			}
		}
	}
}

// origin returns the address of the site of a page.
func origin(address string) string {
	u, err := url.Parse(address)
	if err != nil || u.Host == "" {
		return ""
	}
	return u.Scheme + "://" + u.Host + "/"
}

// subject returns what the page is about: the first entity with a rating or reviews, or nil.
func (g *graph) subject() *node {
	for _, n := range g.nodes {
		if n.plainText("name") != "" && (len(n.of("aggregateRating", "review", "reviews", "event", "events")) > 0 || len(n.of("address")) > 0 && !isEvent(n)) {
			return n
		}
	}
	return nil
}
