package feed

import (
	"slices"
	"strings"
)

// Link is a feed to which a page links.
type Link struct {
	Title   string
	Address string
	Type    string // media type
}

// linkedTypes are the media types of such links, the most useful first.
var linkedTypes = []string{"application/activity+json", "application/atom+xml", "application/rss+xml", "application/feed+json", "text/calendar", "application/json"}

// Linked returns the feeds to which a page links with rel="alternate" (HTML, section 4.6.7.1), the
// most useful first. Of several forms of the same feed, all are returned.
func Linked(d *Document) (list []Link) {
	p, err := cut(d)
	if err != nil {
		return nil
	}
	for _, n := range p.links {
		kind, _, _ := strings.Cut(strings.ToLower(attribute(n, "type")), ";")
		at := resolve(p.base, attribute(n, "href"))
		if at == "" || !slices.Contains(strings.Fields(strings.ToLower(attribute(n, "rel"))), "alternate") || !slices.Contains(linkedTypes, kind) {
			continue
		}
		if !slices.ContainsFunc(list, func(has Link) bool { return has.Address == at }) && len(list) < linksMost {
			list = append(list, Link{attribute(n, "title"), at, kind})
		}
	}
	slices.SortStableFunc(list, func(a, b Link) int {
		return slices.Index(linkedTypes, a.Type) - slices.Index(linkedTypes, b.Type)
	})
	return list
}

const linksMost = 8

// ProfileParts returns what can be shown of a profile: PartPosts, and PartLikes if it lists the posts
// that it has liked. A collection has one part, which is "".
func ProfileParts(d *Document) []string {
	o, err := readObject(d)
	switch {
	case err != nil || o.link("outbox") == "":
		return []string{""}
	case o.link("liked") == "":
		return []string{PartPosts}
	}
	return []string{PartPosts, PartLikes}
}
