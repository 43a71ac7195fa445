package feed

import (
	"strings"

	"glasspocket/internal/item"
)

// items makes items of a page's entities, by part.
func (g *graph) items() map[string][]item.Item {
	out := map[string][]item.Item{}
	seen := map[*node]bool{}
	var visit func(n, owner *node, depth int)
	visit = func(n, owner *node, depth int) {
		if n == nil || seen[n] || depth > depthMost {
			return
		}
		seen[n] = true
		for _, rated := range n.of("aggregateRating") {
			g.rated(rated)
		}
		if n.is("AggregateRating", "EmployerAggregateRating") {
			g.rated(n)
			return
		}
		part, it, ok := g.item(n)
		if ok {
			out[part] = append(out[part], it)
		}
		for _, inner := range n.of("review", "reviews", "itemReviewed", "event", "events", "subEvent", "performerIn", "mainEntity", "itemListElement", "item", "hasPart", "about", "blogPost", "employee", "member", "makesOffer", "itemOffered", "hasOfferCatalog", "dataFeedElement", "@graph") {
			visit(inner, n, depth+1)
		}
	}
	for _, n := range g.nodes {
		visit(n, nil, 0)
	}
	return out
}

// item makes an item of a node. ok is false if it is not content.
func (g *graph) item(n *node) (part string, it item.Item, ok bool) {
	switch {
	case n.is("Review", "UserReview", "CriticReview", "EmployerReview", "ClaimReview", "MediaReview", "Recommendation"):
		it, ok = g.review(n)
		return item.Review, it, ok
	case isEvent(n):
		it, ok = g.event(n)
		return item.Date, it, ok
	case n.is("SpecialAnnouncement"):
		it = g.article(n)
		it.Kind = item.Notice
		it.Expires = g.when(n, "expires")
		return item.Notice, it, !empty(&it)
	case n.is("Article", "NewsArticle", "BlogPosting", "SocialMediaPosting", "LiveBlogPosting", "Report", "TechArticle", "DiscussionForumPosting", "VideoObject", "PodcastEpisode"):
		it = g.article(n)
		return item.Post, it, !empty(&it)
	case n.is("Product", "Offer", "Service", "Course", "Recipe", "Book", "MenuItem"):
		it = g.card(n)
		return item.Card, it, it.Title != "" && (it.Text != "" || len(it.Media) > 0 || it.Link != "")
	}
	return "", it, false
}

func isEvent(n *node) bool {
	for _, t := range n.types {
		if t == "Event" || strings.HasSuffix(t, "Event") && t != "PublicationEvent" && t != "BroadcastEvent" || t == "Festival" || t == "Hackathon" || t == "EventSeries" {
			return true
		}
	}
	return false
}

// base takes what all kinds have in common.
func (g *graph) base(n *node, kind string) item.Item {
	it := item.Item{Kind: kind, Origin: n.id, Link: n.plainText("url"), Language: n.text("inLanguage")}
	if strings.HasPrefix(it.Origin, "_:") { // the ID of a blank node differs on every request
		it.Origin = ""
	}
	if it.Link == "" && strings.HasPrefix(n.id, "http") {
		it.Link = n.id
	}
	for _, tag := range n.properties["keywords"] {
		if text, ok := tag.(string); ok {
			for each := range strings.SplitSeq(text, ",") {
				it.Tags = append(it.Tags, strings.TrimSpace(each))
			}
		}
	}
	g.images(&it, n)
	return it
}

func (g *graph) images(it *item.Item, n *node) {
	for _, name := range []string{"image", "associatedMedia", "photo", "thumbnailUrl"} {
		for _, v := range n.properties[name] {
			switch v := v.(type) {
			case string:
				it.Media = append(it.Media, item.Media{Kind: item.Image, Address: resolve(g.page.base, v)})
			case *node:
				at := v.plainText("contentUrl", "url")
				if at == "" && strings.HasPrefix(v.id, "http") {
					at = v.id
				}
				it.Media = append(it.Media, item.Media{Kind: item.Image, Address: resolve(g.page.base, at), Alt: v.plainText("caption", "description", "name")})
			}
		}
	}
}

func (g *graph) person(n *node, names ...string) (p item.Person) {
	for _, name := range names {
		for _, v := range n.properties[name] {
			switch v := v.(type) {
			case string:
				p.Name = v
			case *node:
				p = item.Person{Name: v.plainText("name", "givenName", "alternateName"), About: v.text("jobTitle", "description"), Link: v.plainText("url"), Image: resolve(g.page.base, v.text("image"))}
			}
			if p.Name != "" {
				return p
			}
		}
	}
	return p
}

func (g *graph) when(n *node, names ...string) item.Time {
	for _, name := range names {
		if text := n.text(name); text != "" {
			at, err := item.ParseTime(text, "")
			if err == nil {
				return at
			}
			g.repair("“%s” is not a date (%s), so it was left out.", item.Line(text, 40), name)
		}
	}
	return item.Time{}
}

func (g *graph) review(n *node) (item.Item, bool) {
	it := g.base(n, item.Review)
	it.Title = n.plainText("name", "headline")
	setHTML(&it, n.plainText("reviewBody", "description", "text", "claimReviewed"), g.page.base)
	it.Author = g.person(n, "author", "creator")
	it.At = g.when(n, "datePublished", "dateCreated", "dateModified")
	for _, r := range n.of("reviewRating", "rating") {
		it.Rating = ratingNode(r)
	}
	if it.Rating == (item.Rating{}) {
		if r, ok := ratingOf(n.plainText("reviewRating", "ratingValue", "rating")); ok {
			it.Rating = r
		}
	}
	for _, c := range n.of("comment", "reply", "response") {
		if it.Reply.Text == "" {
			it.Reply = item.Reply{Author: g.person(c, "author", "creator").Name, At: g.when(c, "dateCreated", "datePublished"), Text: item.Plain(c.plainText("text", "description"))}
		}
	}
	if credit := g.person(n, "publisher"); credit.Name != "" {
		it.Publisher = item.Credit{Name: credit.Name, Link: credit.Link}
	}
	return it, !empty(&it)
}

// ratingNode reads schema.org's Rating. Numbers are often texts.
func ratingNode(n *node) (r item.Rating) {
	value, ok := ratingOf(n.plainText("ratingValue"))
	if !ok {
		return r
	}
	r = value
	if best, ok := number(n.plainText("bestRating")); ok && best > 0 {
		r.Best = best
	}
	if worst, ok := number(n.plainText("worstRating")); ok && worst >= 0 {
		r.Worst = worst
	}
	return r
}

// rated takes the rating that a page states for the whole. Of several, the one with the most reviews
// counts.
func (g *graph) rated(n *node) {
	r := ratingNode(n)
	if r == (item.Rating{}) {
		return
	}
	scale(&r, g.Found)
	count, ok := number(n.plainText("reviewCount", "ratingCount"))
	if ok && int(count) > g.Rated.Count {
		g.Rated = Rated{Value: r.Value, Best: r.Best, Count: int(count)}
	}
}

func (g *graph) event(n *node) (item.Item, bool) {
	it := g.base(n, item.Date)
	it.Title = n.plainText("name", "headline")
	setHTML(&it, n.plainText("description"), g.page.base)
	it.Start, it.End = g.when(n, "startDate", "doorTime"), g.when(n, "endDate")
	it.Author = g.person(n, "organizer", "performer")
	it.Status = statusOf(n.text("eventStatus"))
	if text := n.text("eventStatus"); strings.HasSuffix(text, "EventPostponed") {
		g.repair("“%s” is postponed without a new date, so it is shown as cancelled.", item.Line(it.Title, 60))
	}
	soldOut, offers := true, n.of("offers")
	for _, offer := range offers {
		soldOut = soldOut && strings.HasSuffix(offer.text("availability"), "SoldOut")
	}
	if len(offers) > 0 && soldOut && it.Status != item.Cancelled {
		it.Status = item.SoldOut
	}
	for _, v := range n.properties["location"] {
		switch v := v.(type) {
		case string:
			it.Location.Name = v
		case *node:
			it.Location = item.Place{Name: v.plainText("name"), Address: addressOf(v), Link: v.plainText("url")}
		}
		if it.Location.Name != "" || it.Location.Address != "" {
			break
		}
	}
	it.At = g.when(n, "datePublished", "dateCreated")
	if it.Start.IsZero() {
		g.skip("“%s” has no start, so it was left out.", item.Line(it.Title, 60))
	}
	return it, !it.Start.IsZero() && it.Title != ""
}

func addressOf(n *node) string {
	for _, v := range n.properties["address"] {
		switch v := v.(type) {
		case string:
			return v
		case *node:
			var parts []string
			for _, name := range []string{"streetAddress", "postalCode", "addressLocality", "addressRegion", "addressCountry"} {
				if text := v.text(name); text != "" {
					parts = append(parts, text)
				}
			}
			return strings.Join(parts, ", ")
		}
	}
	return ""
}

func (g *graph) article(n *node) item.Item {
	it := g.base(n, item.Post)
	it.Title = n.plainText("headline", "name", "title")
	setHTML(&it, n.plainText("articleBody", "description", "text", "abstract"), g.page.base)
	it.Author = g.person(n, "author", "creator", "publisher")
	it.At = g.when(n, "datePublished", "datePosted", "uploadDate", "dateCreated", "dateModified")
	if n.is("VideoObject") {
		poster := resolve(g.page.base, n.plainText("thumbnailUrl", "thumbnail"))
		it.Media = []item.Media{{Kind: item.Video, Address: n.plainText("embedUrl", "contentUrl", "url"), Poster: poster, Alt: it.Title}}
	}
	return it
}

func (g *graph) card(n *node) item.Item {
	it := g.base(n, item.Card)
	it.Title = n.plainText("name", "headline")
	setHTML(&it, n.plainText("description", "text"), g.page.base)
	for _, rated := range n.of("aggregateRating") {
		it.Rating = ratingNode(rated)
	}
	return it
}
