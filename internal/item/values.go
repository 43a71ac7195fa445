package item

import (
	"crypto/sha256"
	"encoding/base32"
	"strings"

	"glasspocket/internal/clip"
	"glasspocket/internal/setting"
)

// IDOf returns the ID of an item: the same for the same source and the same ID there, and different
// from those of other sources. It is a valid ID of a list's item.
func IDOf(source, origin string) string {
	sum := sha256.Sum256([]byte(source + "\n" + origin))
	return strings.ToLower(base32.StdEncoding.EncodeToString(sum[:10]))
}

// Typed returns the items that somebody typed in, from the value of a setting of the type items.
func Typed(value any) (list []Item) {
	values, _ := value.([]any)
	for _, v := range values {
		m, _ := v.(map[string]any)
		if m == nil {
			continue
		}
		it := Item{typed: m}
		it.ID, _ = m[setting.IDKey].(string)
		it.take(m)
		list = append(list, it)
	}
	return list
}

// take reads the fields by which rules and orders decide from values in the form of settings.
func (it *Item) take(m map[string]any) {
	text := func(m map[string]any, key string, to *string) {
		if t, ok := m[key].(string); ok {
			*to = t
		}
	}
	moment := func(key string, to *Time) {
		if t, ok := m[key].(string); ok {
			*to = Time{}
			if at, f := setting.ReadMoment(t); t != "" && f == nil {
				*to = Time{Time: at.At, Zone: at.Zone}
			}
		}
	}
	inner := func(key string) map[string]any { v, _ := m[key].(map[string]any); return v }
	text(m, "kind", &it.Kind)
	text(m, "title", &it.Title)
	text(m, "text", &it.Text)
	text(m, "language", &it.Language)
	text(m, "eventStatus", &it.Status)
	text(m, "importance", &it.Importance)
	text(m, "inReplyTo", &it.InReplyTo)
	text(inner("author"), "name", &it.Author.Name)
	text(inner("link"), "address", &it.Link)
	moment("at", &it.At)
	moment("startDate", &it.Start)
	moment("endDate", &it.End)
	moment("expires", &it.Expires)
	if r := inner("rating"); r != nil {
		it.Rating = Rating{}
		if value, ok := r["value"].(float64); ok {
			best, _ := r["best"].(float64)
			it.Rating = Rating{Value: value, Best: best}
		}
	}
	if list, ok := m["tags"].([]any); ok {
		it.Tags = nil
		for _, t := range list {
			if tag, ok := t.(string); ok {
				it.Tags = append(it.Tags, tag)
			}
		}
	}
}

// correct replaces fields of an item by a correction.
func (it *Item) correct(fields map[string]any) {
	if len(fields) == 0 {
		return
	}
	if _, replaced := fields["text"]; replaced {
		it.Content = ""
	}
	it.take(fields)
	it.corrected = fields
}

func typedImage(m map[string]any) bool {
	list, _ := m["media"].([]any)
	for _, v := range list {
		one, _ := v.(map[string]any)
		image, _ := one["image"].(map[string]any)
		if ref, _ := image["asset"].(string); ref != "" {
			return true
		}
	}
	return false
}

// World is what an item's values depend on besides the item.
type World struct {
	Zone     string // IANA name of the customer's time zone
	Language string // of the pocket; texts in it are not marked with a language
	// Asset returns the digest of the stored copy of an image, or "".
	Asset func(address string) string
}

// The longest values of the model; see internal/setting/item.json.
var longest = func() map[string]int {
	most := map[string]int{}
	var read func(prefix string, fields []*setting.Setting)
	read = func(prefix string, fields []*setting.Setting) {
		for _, f := range fields {
			most[prefix+f.Key] = f.MaxLength
			read(prefix+f.Key+".", f.Fields)
		}
	}
	read("", setting.ItemFields)
	return most
}()

// Values returns an item in the form of settings, complete enough for a rendering. Whatever the
// source says, the values are valid for the item model.
func (it *Item) Values(in World) map[string]any {
	if it.typed != nil {
		return it.overlaid(it.typed)
	}
	m := map[string]any{setting.IDKey: it.ID, "kind": orElse(it.Kind, Card)}
	line := func(to map[string]any, key, path, text string) {
		if text = Line(text, longest[path]); text != "" {
			to[key] = text
		}
	}
	link := func(to map[string]any, key, address string) {
		if setting.IsLink(address) && len(address) <= 2000 {
			to[key] = address
		}
	}
	moment := func(to map[string]any, key string, at Time) {
		if text := at.Moment(orElse(in.Zone, "UTC")); text != "" {
			to[key] = text
		}
	}
	group := func(key string, of map[string]any) {
		if len(of) > 0 {
			m[key] = of
		}
	}
	line(m, "title", "title", it.Title)
	if text := clip.Text(tidy(it.Text), longest["text"]); text != "" {
		m["text"] = text
	}
	if it.Content != "" {
		m["content"] = showable(setting.SafeHTML(it.Content))
	}
	author := map[string]any{}
	line(author, "name", "author.name", it.Author.Name)
	line(author, "about", "author.about", it.Author.About)
	link(author, "link", it.Author.Link)
	if digest := in.asset(it.Author.Image); digest != "" {
		author["picture"] = image(digest, "", true)
	}
	group("author", author)
	moment(m, "at", it.At)
	if it.Rating.Best >= 1 && it.Rating.Best <= 100 {
		best := float64(int(it.Rating.Best))
		m["rating"] = map[string]any{"value": min(max(it.Rating.Value, 0), best), "best": best}
	}
	if media := it.media(in); len(media) > 0 {
		m["media"] = media
	}
	if setting.IsLink(it.Link) && len(it.Link) <= 2000 {
		m["link"] = map[string]any{"address": it.Link, "target": "new"}
	}
	if tags := it.tags(); len(tags) > 0 {
		m["tags"] = tags
	}
	if it.Language != "" && !speaks(it.Language, in.Language) {
		m["language"] = it.Language
	}
	moment(m, "startDate", it.Start)
	moment(m, "endDate", it.End)
	if it.Start.Day {
		m["allDay"] = true
	}
	place := map[string]any{}
	line(place, "name", "location.name", it.Location.Name)
	line(place, "address", "location.address", it.Location.Address)
	link(place, "link", it.Location.Link)
	group("location", place)
	if it.Status == Cancelled || it.Status == SoldOut {
		m["eventStatus"] = it.Status
	}
	if it.Importance == Low || it.Importance == Urgent {
		m["importance"] = it.Importance
	}
	moment(m, "expires", it.Expires)
	link(m, "inReplyTo", it.InReplyTo)
	reply := map[string]any{}
	line(reply, "author", "reply.author", it.Reply.Author)
	moment(reply, "at", it.Reply.At)
	if text := clip.Text(tidy(it.Reply.Text), longest["reply.text"]); text != "" {
		reply["text"] = text
	}
	group("reply", reply)
	publisher := map[string]any{}
	line(publisher, "name", "publisher.name", it.Publisher.Name)
	link(publisher, "link", it.Publisher.Link)
	group("publisher", publisher)
	return it.overlaid(m)
}

func (in World) asset(address string) string {
	if address == "" || in.Asset == nil {
		return ""
	}
	return in.Asset(address)
}

func image(digest, alt string, decorative bool) map[string]any {
	return map[string]any{"asset": digest, "alt": Line(alt, 300), "decorative": decorative, "focus": map[string]any{"x": 50.0, "y": 50.0}}
}

// mediaMost is how many media of an item are shown.
const mediaMost = 8

func (it *Item) media(in World) (list []any) {
	for _, each := range it.Media {
		digest := in.asset(each.Still())
		if digest == "" || len(list) == mediaMost {
			continue
		}
		one := map[string]any{"image": image(digest, each.Alt, each.Alt == ""), "kind": each.Kind}
		if each.Kind != Image && setting.IsLink(each.Address) && len(each.Address) <= 2000 {
			one["address"] = each.Address
		}
		list = append(list, one)
	}
	return list
}

func (it *Item) tags() (list []any) {
	seen := map[string]bool{}
	for _, tag := range it.Tags {
		tag = strings.TrimPrefix(Line(tag, setting.TagMost), "#")
		if tag != "" && !seen[tag] && len(list) < setting.TagsMost {
			seen[tag] = true
			list = append(list, tag)
		}
	}
	return list
}

// overlaid returns values with the item's correction.
func (it *Item) overlaid(m map[string]any) map[string]any {
	if len(it.corrected) == 0 {
		return m
	}
	out := make(map[string]any, len(m)+len(it.corrected))
	for key, v := range m {
		out[key] = v
	}
	if _, replaced := it.corrected["text"]; replaced {
		delete(out, "content")
	}
	for key, v := range it.corrected {
		was, _ := out[key].(map[string]any)
		now, isGroup := v.(map[string]any)
		if !isGroup || was == nil || key == "rating" || key == "link" {
			out[key] = v
			continue
		}
		merged := make(map[string]any, len(was)+len(now)) // a correction of a name keeps the image
		for k, v := range was {
			merged[k] = v
		}
		for k, v := range now {
			merged[k] = v
		}
		out[key] = merged
	}
	return out
}

func orElse(text, other string) string {
	if text == "" {
		return other
	}
	return text
}
