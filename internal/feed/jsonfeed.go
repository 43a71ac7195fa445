package feed

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"strings"

	"glasspocket/internal/item"
)

func isJSONFeed(d *Document) bool {
	head := d.head()
	return strings.HasPrefix(head, "{") && strings.Contains(head, "jsonfeed.org/version/") || d.media() == "application/feed+json"
}

// loose is a text that some programs write as a number.
type loose string

func (l *loose) UnmarshalJSON(src []byte) error {
	if src[0] == '"' && !bytes.ContainsRune(src, '\\') { // nothing to decode, as in most texts
		*l = loose(src[1 : len(src)-1])
		return nil
	}
	var text string
	if json.Unmarshal(src, &text) == nil {
		*l = loose(text)
	} else if s := strings.TrimSpace(string(src)); s != "null" && !strings.HasPrefix(s, "{") && !strings.HasPrefix(s, "[") {
		*l = loose(s)
	}
	return nil
}

// jsonFeed is JSON Feed 1.1 (jsonfeed.org/version/1.1).
type jsonFeed struct {
	Title    loose        `json:"title"`
	Home     loose        `json:"home_page_url"`
	Address  loose        `json:"feed_url"`
	Icon     loose        `json:"icon"`
	Language loose        `json:"language"`
	Author   jsonAuthor   `json:"author"`
	Authors  []jsonAuthor `json:"authors"`
	Hubs     []struct {
		Type loose `json:"type"`
		URL  loose `json:"url"`
	} `json:"hubs"`
	Items []jsonItem `json:"items"`
}

type jsonItem struct {
	ID          loose        `json:"id"`
	URL         loose        `json:"url"`
	External    loose        `json:"external_url"`
	Title       loose        `json:"title"`
	HTML        loose        `json:"content_html"`
	Text        loose        `json:"content_text"`
	Summary     loose        `json:"summary"`
	Image       loose        `json:"image"`
	Banner      loose        `json:"banner_image"`
	Published   loose        `json:"date_published"`
	Modified    loose        `json:"date_modified"`
	Author      jsonAuthor   `json:"author"`
	Authors     []jsonAuthor `json:"authors"`
	Tags        []loose      `json:"tags"`
	Language    loose        `json:"language"`
	Attachments []struct {
		URL   loose `json:"url"`
		Type  loose `json:"mime_type"`
		Title loose `json:"title"`
	} `json:"attachments"`
}

type jsonAuthor struct {
	Name   loose `json:"name"`
	URL    loose `json:"url"`
	Avatar loose `json:"avatar"`
}

func readJSONFeed(_ context.Context, d *Document, _ Options) (*Found, error) {
	text := bytes.TrimPrefix(d.bytes(), []byte("\ufeff"))
	// A list that grows is copied again and again.
	own := jsonFeed{Items: make([]jsonItem, 0, min(bytes.Count(text, []byte(`"id"`)), ItemsMost))}
	if err := json.Unmarshal(text, &own); err != nil {
		return nil, brokenJSON(d, err)
	}
	f := &Found{Window: true, Title: string(own.Title), Link: d.absolute(string(own.Home)), Icon: d.absolute(string(own.Icon)), Language: string(own.Language), Topic: d.absolute(string(own.Address))}
	for _, hub := range own.Hubs {
		if strings.EqualFold(string(hub.Type), "websub") && f.Hub == "" {
			f.Hub = d.absolute(string(hub.URL))
		}
	}
	f.Items = make([]item.Item, 0, len(own.Items))
	for i := range own.Items {
		each := &own.Items[i]
		f.Items = append(f.Items, item.Item{Kind: item.Post, Origin: string(each.ID), Title: string(each.Title), Link: string(cmp.Or(each.URL, each.External)), Language: string(each.Language)})
		it := &f.Items[len(f.Items)-1]
		switch {
		case each.HTML != "":
			base := d.Address
			if at := d.absolute(it.Link); at != "" {
				base = at
			}
			setHTML(it, string(each.HTML), base)
		case each.Text != "":
			it.Text = string(each.Text)
		default:
			it.Text = string(each.Summary)
		}
		a := cmp.Or(cmp.Or(each.Authors...), each.Author, cmp.Or(own.Authors...), own.Author)
		it.Author = item.Person{Name: string(a.Name), Link: string(a.URL), Image: string(a.Avatar)}
		for _, text := range []loose{each.Published, each.Modified} {
			if at, err := item.ParseTime(string(text), d.Zone); err == nil {
				it.At = at
				break
			}
		}
		image := cmp.Or(each.Image, each.Banner)
		if image != "" {
			it.Media = append([]item.Media{{Kind: item.Image, Address: string(image)}}, it.Media...)
		}
		for _, a := range each.Attachments {
			if kind := kindOfMedia(string(a.Type), "", string(a.URL)); kind != "" {
				m := item.Media{Kind: kind, Address: string(a.URL), Alt: string(a.Title)}
				if kind != item.Image {
					m.Poster = string(image)
				}
				it.Media = append(it.Media, m)
			}
		}
		for _, tag := range each.Tags {
			it.Tags = append(it.Tags, string(tag))
		}
		if empty(it) {
			f.skip("An entry without title, text and image was left out.")
			f.Items = f.Items[:len(f.Items)-1]
		}
	}
	return f, nil
}

func brokenJSON(d *Document, err error) error {
	return &Error{What: d.named() + " is not valid JSON: " + err.Error() + ".", Hint: "Tell the people who run the source, or wait until it is correct again."}
}
