// Package item has the model of content from external sources: reviews, posts, dates, people, cards
// and notices. It selects which of them a pocket shows, and in which order. It knows neither where
// items come from nor where they are stored.
package item

import (
	"slices"
	"time"
)

// Item is one piece of content, as a reader returns it and as it is stored. The names in JSON are
// those of the item model in internal/setting/item.json, which follow schema.org and
// ActivityStreams 2.0.
type Item struct {
	ID      string `json:"id"`            // see IDOf; unique within a customer
	Origin  string `json:"uid,omitempty"` // the source's own ID, as the source writes it
	Kind    string `json:"kind,omitempty"`
	Title   string `json:"title,omitempty"`
	Text    string `json:"text,omitempty"`    // plain text
	Content string `json:"content,omitempty"` // the same as safe HTML; "" if it adds nothing to Text

	Author   Person `json:"author,omitzero"`
	At       Time   `json:"at,omitzero"` // when it was published
	Language string `json:"language,omitempty"`
	Rating   Rating `json:"rating,omitzero"`

	Start    Time   `json:"startDate,omitzero"`
	End      Time   `json:"endDate,omitzero"` // a day is the last one
	Location Place  `json:"location,omitzero"`
	Status   string `json:"eventStatus,omitempty"` // of a date; "" is Confirmed

	Importance string `json:"importance,omitempty"` // of a notice; "" is Normal
	Expires    Time   `json:"expires,omitzero"`

	Media     []Media  `json:"media,omitempty"`
	Link      string   `json:"link,omitempty"`
	Tags      []string `json:"tags,omitempty"`
	InReplyTo string   `json:"inReplyTo,omitempty"` // address of the post that it answers
	Reply     Reply    `json:"reply,omitzero"`      // the owner's reply to a review
	Publisher Credit   `json:"publisher,omitzero"`  // the source, to credit it

	// Source is the ID of the source, "" for a typed-in item. It is not stored with the item.
	Source string `json:"-"`
	// Seen is when the service first saw it. Items without a date are ordered by it.
	Seen time.Time `json:"seen,omitzero"`

	// typed are the values of a typed-in item in the form of settings; see Typed.
	typed map[string]any
	// corrected are the values of a correction.
	corrected map[string]any
}

// The kinds that the service decides by; setting.ItemKinds lists all.
const (
	Review = "review"
	Post   = "post"
	Date   = "date"
	Card   = "card"
	Notice = "notice"
)

// The statuses of a date.
const (
	Confirmed = "confirmed"
	Cancelled = "cancelled"
	SoldOut   = "sold-out"
)

// The degrees of a notice's importance.
const (
	Low    = "low"
	Normal = "normal"
	Urgent = "urgent"
)

// Person is an author.
type Person struct {
	Name  string `json:"name,omitempty"`
	About string `json:"about,omitempty"`
	Link  string `json:"link,omitempty"`
	Image string `json:"image,omitempty"` // address at the source
}

// Place is the venue of a date.
type Place struct {
	Name    string `json:"name,omitempty"`
	Address string `json:"address,omitempty"`
	Link    string `json:"link,omitempty"`
}

// Has reports whether an item has a field of the item model that can be missing.
func (it *Item) Has(field string) bool {
	switch field {
	case "title":
		return it.Title != ""
	case "text", "content":
		return it.Text != "" || it.Content != ""
	case "author":
		return it.Author.Name != ""
	case "at":
		return !it.At.IsZero()
	case "rating":
		_, has := it.Rating.Share()
		return has
	case "startDate":
		return !it.Start.IsZero()
	case "endDate":
		return !it.End.IsZero()
	case "location":
		return it.Location.Name != ""
	case "expires":
		return !it.Expires.IsZero()
	case "media":
		return it.hasImage()
	case "link":
		return it.Link != ""
	case "tags":
		return len(it.Tags) > 0
	case "reply":
		return it.Reply.Text != ""
	}
	return true
}

func (it *Item) hasImage() bool {
	return slices.ContainsFunc(it.Media, func(m Media) bool { return m.Still() != "" }) || it.typed != nil && typedImage(it.typed)
}

// Rating is a value on a scale from Worst to Best. Best is 0 if the source states no scale.
type Rating struct {
	Value float64 `json:"value"`
	Best  float64 `json:"best,omitempty"`
	Worst float64 `json:"worst,omitempty"`
}

// Share returns the rating as a part of the best one, from 0 to 1. ok is false without a rating.
func (r Rating) Share() (share float64, ok bool) {
	if r.Best <= 0 {
		return 0, false
	}
	return min(max(r.Value/r.Best, 0), 1), true
}

// The kinds of media.
const (
	Image = "image"
	Video = "video"
	Audio = "audio"
)

// Media is an image, a video or a sound of an item, at the source.
type Media struct {
	Kind    string `json:"kind"` // Image, Video or Audio
	Address string `json:"address"`
	Width   int    `json:"width,omitempty"` // pixels; 0 if unknown
	Height  int    `json:"height,omitempty"`
	Alt     string `json:"alt,omitempty"`    // text alternative
	Poster  string `json:"poster,omitempty"` // address of an image that represents a video or a sound
}

// Still returns the address of the image that shows the media, or "".
func (m Media) Still() string {
	if m.Kind == Image {
		return m.Address
	}
	return m.Poster
}

// Reply is an owner's answer to a review.
type Reply struct {
	Author string `json:"author,omitempty"`
	At     Time   `json:"at,omitzero"`
	Text   string `json:"text,omitempty"`
}

// Credit names a source and where to find it.
type Credit struct {
	Name string `json:"name,omitempty"`
	Link string `json:"link,omitempty"`
}

// Images lists the addresses of the images that show an item, each once.
func (it *Item) Images() (list []string) {
	add := func(address string) {
		if address == "" {
			return
		}
		for _, has := range list {
			if has == address {
				return
			}
		}
		list = append(list, address)
	}
	add(it.Author.Image)
	for _, m := range it.Media {
		add(m.Still())
	}
	return list
}

// When returns the time that orders an item: of its publication, or of its start, or when it was
// first seen.
func (it *Item) When() time.Time {
	switch {
	case !it.At.IsZero():
		return it.At.Time
	case !it.Start.IsZero():
		return it.Start.Time
	}
	return it.Seen
}

// Over returns when a date is over: at its end, or two hours after its start, or at the end of its
// last day in zone. It is zero for an item without a start.
func (it *Item) Over(zone *time.Location) time.Time {
	end := it.End
	if end.Before(it.Start.Time) {
		end = it.Start
	}
	switch {
	case it.Start.IsZero():
		return time.Time{}
	case end.Day:
		y, m, d := end.Date()
		return time.Date(y, m, d+1, 0, 0, 0, 0, zone)
	case end.After(it.Start.Time):
		return end.Time
	}
	return it.Start.Add(assumedLength)
}

// assumedLength is how long a date lasts whose source states no end.
const assumedLength = 2 * time.Hour
