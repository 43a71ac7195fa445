package feed

import (
	"context"
	"strconv"
	"strings"
	"time"

	"github.com/mmcdole/gofeed"
	"github.com/mmcdole/gofeed/atom"
	ext "github.com/mmcdole/gofeed/extensions"
	"github.com/mmcdole/gofeed/rss"

	"glasspocket/internal/item"
)

// isXMLFeed recognises RSS 0.9 to 2.0 and Atom (RFC 4287) by the root element.
func isXMLFeed(d *Document) bool {
	head := d.head()
	if !strings.HasPrefix(head, "<") {
		return false
	}
	kind := gofeed.DetectFeedType(strings.NewReader(d.utf8XML()))
	return kind == gofeed.FeedTypeRSS || kind == gofeed.FeedTypeAtom
}

// utf8XML returns the text without a statement of its encoding, which would be wrong now.
func (d *Document) utf8XML() string {
	text := strings.TrimLeft(d.Text(), " \t\r\n\ufeff")
	if m := xmlEncoding.FindStringSubmatchIndex(text); m != nil {
		return text[:m[2]] + "utf-8" + text[m[3]:]
	}
	return text
}

// readXMLFeed reads RSS and Atom, with the extensions of Media RSS, Dublin Core and podcasts.
func readXMLFeed(_ context.Context, d *Document, _ Options) (*Found, error) {
	text := d.utf8XML()
	if gofeed.DetectFeedType(strings.NewReader(text)) == gofeed.FeedTypeAtom {
		return readAtom(d, text)
	}
	own, err := (&rss.Parser{}).Parse(strings.NewReader(text))
	if err != nil {
		return nil, broken(d, err)
	}
	f := &Found{Window: true}
	if minutes, err := strconv.Atoi(strings.TrimSpace(own.TTL)); err == nil && minutes > 0 {
		f.Every = time.Duration(minutes) * time.Minute
	}
	for _, link := range own.Extensions["atom"]["link"] {
		f.link(d, link.Attrs["rel"], link.Attrs["href"])
	}
	f.every(own.Extensions)
	all, err := (&gofeed.DefaultRSSTranslator{}).Translate(own)
	if err != nil {
		return nil, broken(d, err)
	}
	f.take(d, all, func(i int, it *item.Item) {
		if guid := own.Items[i].GUID; guid != nil && it.Link == "" && guid.IsPermalink != "false" && strings.HasPrefix(guid.Value, "http") {
			it.Link = guid.Value
		}
	})
	return f, nil
}

func readAtom(d *Document, text string) (*Found, error) {
	own, err := (&atom.Parser{}).Parse(strings.NewReader(text))
	if err != nil {
		return nil, broken(d, err)
	}
	f := &Found{Window: true}
	for _, link := range own.Links {
		f.link(d, link.Rel, link.Href)
	}
	f.every(own.Extensions)
	all, err := (&gofeed.DefaultAtomTranslator{}).Translate(own)
	if err != nil {
		return nil, broken(d, err)
	}
	f.take(d, all, func(i int, it *item.Item) {
		for _, person := range own.Entries[i].Authors {
			if it.Author.Link == "" && person.Name == it.Author.Name {
				it.Author.Link = person.URI
			}
		}
	})
	return f, nil
}

func broken(d *Document, err error) error {
	return &Error{What: d.named() + " is not a complete feed: " + strings.TrimSuffix(err.Error(), ".") + ".", Hint: "Tell the people who run the source, or wait until it is complete again."}
}

// link takes a feed's link to its WebSub hub, and to itself.
func (f *Found) link(d *Document, rel, href string) {
	switch rel {
	case "hub":
		if f.Hub == "" {
			f.Hub = d.absolute(href)
		}
	case "self":
		f.Topic = d.absolute(href)
	}
}

// every takes how often a feed is updated (RSS 1.0, module Syndication).
func (f *Found) every(e ext.Extensions) {
	value := func(name string) string {
		if list := e["sy"][name]; len(list) > 0 {
			return strings.TrimSpace(list[0].Value)
		}
		return ""
	}
	period := map[string]time.Duration{"hourly": time.Hour, "daily": 24 * time.Hour, "weekly": 7 * 24 * time.Hour, "monthly": 30 * 24 * time.Hour}[value("updatePeriod")]
	if period == 0 || f.Every != 0 {
		return
	}
	times, err := strconv.Atoi(value("updateFrequency"))
	if err != nil || times < 1 {
		times = 1
	}
	f.Every = period / time.Duration(times)
}

// take makes items from a feed. more completes the item from the entry with an index.
func (f *Found) take(d *Document, all *gofeed.Feed, more func(i int, it *item.Item)) {
	f.Title, f.Link, f.Language = all.Title, d.absolute(all.Link), all.Language
	if all.Image != nil {
		f.Icon = d.absolute(all.Image.URL)
	}
	undated := 0
	for i, each := range all.Items {
		it := item.Item{Kind: item.Post, Origin: each.GUID, Title: each.Title, Link: each.Link, Tags: each.Categories}
		base := d.Address
		if link := d.absolute(each.Link); link != "" {
			base = link
		}
		text := each.Content
		if strings.TrimSpace(text) == "" {
			text = each.Description
		}
		setHTML(&it, text, base)
		if len(each.Authors) > 0 {
			it.Author.Name = each.Authors[0].Name
			if it.Author.Name == "" {
				it.Author.Name, _, _ = strings.Cut(each.Authors[0].Email, "@")
			}
		} else if len(all.Authors) > 0 {
			it.Author.Name = all.Authors[0].Name
		}
		published := each.Published
		if published == "" {
			published = each.Updated
		}
		at, err := item.ParseTime(published, d.Zone)
		switch {
		case err == nil:
			it.At = at
		case each.PublishedParsed != nil:
			it.At = item.Time{Time: *each.PublishedParsed}
		case strings.TrimSpace(published) != "":
			f.repair("“%s” is not a date.", item.Line(published, 40))
		}
		mediaOf(&it, each)
		if dc := each.DublinCoreExt; dc != nil && len(dc.Language) > 0 {
			it.Language = dc.Language[0]
		}
		for _, reply := range each.Extensions["thr"]["in-reply-to"] { // RFC 4685
			it.InReplyTo = reply.Attrs["href"]
			if it.InReplyTo == "" {
				it.InReplyTo = reply.Attrs["ref"]
			}
		}
		more(i, &it)
		if it.Title == "" && it.Text == "" && len(it.Media) == 0 {
			f.skip("An entry without title, text and image was left out.")
			continue
		}
		if it.At.IsZero() {
			undated++
		}
		f.Items = append(f.Items, it)
	}
	if undated > 0 {
		f.repair("%d of %d entries have no date. They are ordered by when they first appeared.", undated, len(all.Items))
	}
}

// mediaOf takes enclosures, Media RSS and podcast images.
func mediaOf(it *item.Item, each *gofeed.Item) {
	add := func(kind, address, alt, poster, width, height string) {
		if address == "" {
			return
		}
		w, _ := strconv.Atoi(width)
		h, _ := strconv.Atoi(height)
		it.Media = append(it.Media, item.Media{Kind: kind, Address: address, Alt: item.Plain(alt), Poster: poster, Width: w, Height: h})
	}
	poster := ""
	first := func(list []ext.Extension) (e ext.Extension) {
		if len(list) > 0 {
			return list[0]
		}
		return e
	}
	contents := append([]ext.Extension{}, each.Extensions["media"]["content"]...)
	thumbnails := each.Extensions["media"]["thumbnail"]
	for _, group := range each.Extensions["media"]["group"] {
		contents = append(contents, group.Children["content"]...)
		thumbnails = append(thumbnails, group.Children["thumbnail"]...)
	}
	poster = first(thumbnails).Attrs["url"]
	if each.Image != nil && poster == "" {
		poster = each.Image.URL
	}
	for _, c := range contents {
		kind := kindOfMedia(c.Attrs["type"], c.Attrs["medium"], c.Attrs["url"])
		alt := first(c.Children["description"]).Value
		own := first(c.Children["thumbnail"]).Attrs["url"]
		if own == "" && kind != item.Image {
			own = poster
		}
		add(kind, c.Attrs["url"], alt, own, c.Attrs["width"], c.Attrs["height"])
	}
	for _, e := range each.Enclosures {
		if kind := kindOfMedia(e.Type, "", e.URL); kind == item.Image {
			add(kind, e.URL, "", "", "", "")
		} else if kind != "" {
			add(kind, e.URL, "", poster, "", "")
		}
	}
	if len(it.Media) == 0 && poster != "" {
		add(item.Image, poster, "", "", first(thumbnails).Attrs["width"], first(thumbnails).Attrs["height"])
	}
}

// kindOfMedia determines the kind of a medium, or returns "" for a file of another kind.
func kindOfMedia(mediaType, medium, address string) string {
	for _, kind := range []string{item.Image, item.Video, item.Audio} {
		if strings.HasPrefix(mediaType, kind+"/") || medium == kind {
			return kind
		}
	}
	if mediaType != "" || medium != "" {
		return ""
	}
	path, _, _ := strings.Cut(strings.ToLower(address), "?")
	for ending, kind := range map[string]string{".jpg": item.Image, ".jpeg": item.Image, ".png": item.Image, ".gif": item.Image, ".webp": item.Image, ".mp4": item.Video, ".webm": item.Video, ".mp3": item.Audio, ".ogg": item.Audio} {
		if strings.HasSuffix(path, ending) {
			return kind
		}
	}
	return ""
}
