package feed

import (
	"regexp"
	"strconv"
	"strings"

	"glasspocket/internal/item"
)

// Field is a field of an item that a column, a JSON value or a key of front matter can fill.
type Field struct {
	Name  string // "authorName"
	Label string // for people
	// names are usual names of the column or key, separated by bars.
	names string
	set   func(it *item.Item, value string, d *Document) bool // false if the value is of no use
}

// Fields lists them, in the order of the item model.
var Fields []Field

func init() { // in init, because functions in the rows refer to ParseTime's zone
	Fields = []Field{
		{"id", "ID", "id|guid|uid|identifier|key", func(it *item.Item, v string, _ *Document) bool { it.Origin = v; return true }},
		{"title", "Title", "title|headline|name|subject|titel|überschrift|betreff", func(it *item.Item, v string, _ *Document) bool { it.Title = v; return true }},
		{"text", "Text", "text|body|content|description|review|comment|message|review text|beschreibung|inhalt|kommentar|bewertungstext", setText},
		{"authorName", "Author", "author|author name|reviewer|user|by|customer|person|autor|verfasser|kunde", func(it *item.Item, v string, _ *Document) bool { it.Author.Name = v; return true }},
		{"authorAbout", "About the author", "about|role|position|company|bio", func(it *item.Item, v string, _ *Document) bool { it.Author.About = v; return true }},
		{"authorLink", "Author's page", "author url|author link|profile", func(it *item.Item, v string, _ *Document) bool { it.Author.Link = v; return true }},
		{"authorImage", "Author's image", "avatar|author image|portrait", func(it *item.Item, v string, _ *Document) bool { it.Author.Image = v; return true }},
		{"at", "Date", "date|posted|posted at|published|date published|published at|created|created at|time|timestamp|datum|updated", setTime(func(it *item.Item) *item.Time { return &it.At })},
		{"rating", "Rating", "rating|stars|score|review rating|rating value|bewertung|sterne|note", setRating},
		{"best", "Best rating", "best|best rating|max|scale|out of", func(it *item.Item, v string, _ *Document) bool {
			n, ok := number(v)
			it.Rating.Best = n
			return ok && n > 0
		}},
		{"image", "Image", "image|image url|picture|photo|photo url|thumbnail|bild|foto", func(it *item.Item, v string, _ *Document) bool {
			for _, address := range strings.FieldsFunc(v, func(r rune) bool { return r == '|' || r == ' ' || r == '\n' }) {
				it.Media = append(it.Media, item.Media{Kind: item.Image, Address: address})
			}
			return true
		}},
		{"imageAlt", "Text alternative", "alt|image alt|alt text|caption", func(it *item.Item, v string, _ *Document) bool {
			for i := range it.Media {
				it.Media[i].Alt = v
			}
			return true
		}},
		{"link", "Link", "link|url|permalink|href|website|page", func(it *item.Item, v string, _ *Document) bool { it.Link = v; return true }},
		{"tags", "Tags", "tags|tag|keywords|categories|category|labels|schlagworte|kategorie", func(it *item.Item, v string, _ *Document) bool {
			for _, tag := range strings.FieldsFunc(v, func(r rune) bool { return r == ',' || r == ';' || r == '|' }) {
				it.Tags = append(it.Tags, strings.TrimSpace(tag))
			}
			return true
		}},
		{"language", "Language", "language|lang|locale|sprache", func(it *item.Item, v string, _ *Document) bool {
			it.Language = item.Language(v)
			return it.Language != ""
		}},
		{"startDate", "Start", "start|starts|start date|start time|startdate|dtstart|beginn", setTime(func(it *item.Item) *item.Time { return &it.Start })},
		{"endDate", "End", "end|ends|end date|end time|enddate|dtend|ende", setTime(func(it *item.Item) *item.Time { return &it.End })},
		{"venue", "Venue", "venue|location|place|where|ort", func(it *item.Item, v string, _ *Document) bool { it.Location.Name = v; return true }},
		{"venueAddress", "Address of the venue", "address|venue address|street|adresse|anschrift", func(it *item.Item, v string, _ *Document) bool { it.Location.Address = v; return true }},
		{"eventStatus", "Status", "status|event status|eventstatus", func(it *item.Item, v string, _ *Document) bool {
			it.Status = statusOf(v)
			return it.Status != ""
		}},
		{"importance", "Importance", "importance|priority|level|severity|wichtigkeit", func(it *item.Item, v string, _ *Document) bool {
			it.Importance = importanceOf(v)
			return it.Importance != ""
		}},
		{"expires", "Expires", "expires|expiry|valid until|until|expiration|gültig bis", setTime(func(it *item.Item) *item.Time { return &it.Expires })},
		{"reply", "Owner's reply", "reply|response|answer|owner reply|antwort", func(it *item.Item, v string, _ *Document) bool { it.Reply.Text = v; return true }},
	}
}

func setText(it *item.Item, v string, d *Document) bool {
	if strings.Contains(v, "</") || strings.Contains(v, "<br") || strings.Contains(v, "<p>") {
		setHTML(it, v, d.Address)
	} else {
		it.Text = v
	}
	return true
}

func setTime(of func(it *item.Item) *item.Time) func(it *item.Item, v string, d *Document) bool {
	return func(it *item.Item, v string, d *Document) bool {
		at, err := item.ParseTime(v, d.Zone)
		*of(it) = at
		return err == nil
	}
}

// setRating reads "4", "4,5", "4/5", "80 %", "★★★★☆" and "4 out of 5".
func setRating(it *item.Item, v string, _ *Document) bool {
	r, ok := ratingOf(v)
	if r.Best == 0 {
		r.Best = it.Rating.Best
	}
	if ok {
		it.Rating = r
	}
	return ok
}

var ratingParts = regexp.MustCompile(`^\s*(\d+(?:[.,]\d+)?)\s*(%|(?:/|of|out of|von|sur|de|из)\s*(\d+(?:[.,]\d+)?))?\s*(?:stars?|sterne?|★)?\s*$`)

func ratingOf(v string) (r item.Rating, ok bool) {
	if full := strings.Count(v, "★"); full > 0 && !strings.ContainsAny(v, "0123456789") {
		best := full + strings.Count(v, "☆")
		return item.Rating{Value: float64(full), Best: float64(max(best, 5))}, true
	}
	part := ratingParts.FindStringSubmatch(strings.ToLower(v))
	if part == nil {
		return r, false
	}
	r.Value, _ = number(part[1])
	switch {
	case part[2] == "%":
		r.Best = 100
	case part[3] != "":
		r.Best, _ = number(part[3])
	}
	return r, true
}

// number reads "4.5" and "4,5".
func number(text string) (float64, bool) {
	text = strings.ReplaceAll(strings.TrimSpace(text), ",", ".")
	n, err := strconv.ParseFloat(text, 64)
	return n, err == nil && n-n == 0
}

// statusOf understands the statuses of iCalendar and schema.org, and what people write.
func statusOf(v string) string {
	v = strings.TrimSpace(item.Fold(v[strings.LastIndexByte(v, '/')+1:]))
	switch {
	case strings.Contains(v, "cancel") || strings.Contains(v, "abgesagt") || strings.Contains(v, "postponed"):
		return item.Cancelled
	case strings.Contains(v, "sold") || strings.Contains(v, "ausverkauft"):
		return item.SoldOut
	case v == "confirmed" || v == "scheduled" || v == "eventscheduled" || v == "eventrescheduled" || v == "eventmovedonline" || v == "tentative":
		return item.Confirmed
	}
	return ""
}

// importanceOf understands words and the numbers 1 (high) to 9 (low) of iCalendar's PRIORITY.
func importanceOf(v string) string {
	v = strings.TrimSpace(item.Fold(v))
	if n, ok := number(v); ok {
		switch {
		case n >= 1 && n <= 4:
			return item.Urgent
		case n == 5 || n == 0:
			return item.Normal
		}
		return item.Low
	}
	switch v {
	case "urgent", "high", "critical", "severe", "important", "alert", "hoch", "dringend", "wichtig":
		return item.Urgent
	case "normal", "medium", "moderate", "mittel":
		return item.Normal
	case "low", "minor", "info", "niedrig":
		return item.Low
	}
	return ""
}

// guess maps fields to the columns or keys that have their usual names.
func guess(columns []string) map[string]string {
	mapping := map[string]string{}
	for _, f := range Fields {
		for _, column := range columns {
			if taken(mapping, column) {
				continue
			}
			if f.is(column) {
				mapping[f.Name] = column
				break
			}
		}
	}
	return mapping
}

func taken(mapping map[string]string, column string) bool {
	for _, has := range mapping {
		if has == column {
			return true
		}
	}
	return false
}

// is reports whether a column or key has a usual name of the field.
func (f Field) is(column string) bool {
	name := item.Fold(split(column))
	if name == item.Fold(f.Label) || name == item.Fold(split(f.Name)) {
		return true
	}
	for usual := range strings.SplitSeq(f.names, "|") {
		if name == item.Fold(usual) {
			return true
		}
	}
	return false
}

var camel = regexp.MustCompile(`([a-z])([A-Z])`)

// split separates the words of "datePublished".
func split(name string) string { return camel.ReplaceAllString(name, "$1 $2") }

// fill makes an item from values by field.
func fill(d *Document, f *Found, kind string, value func(field string) string) (it item.Item) {
	it.Kind = kind
	for _, field := range Fields {
		v := strings.TrimSpace(value(field.Name))
		if v != "" && !field.set(&it, v, d) {
			f.repair("“%s” is not a value for %s, so it was left out.", item.Line(v, 40), strings.ToLower(field.Label))
		}
	}
	if it.Kind == "" {
		switch {
		case it.Rating != (item.Rating{}):
			it.Kind = item.Review
		case !it.Start.IsZero():
			it.Kind = item.Date
		case it.Importance != "" || !it.Expires.IsZero():
			it.Kind = item.Notice
		case !it.At.IsZero():
			it.Kind = item.Post
		default:
			it.Kind = item.Card
		}
	}
	return it
}

// empty reports whether an item shows nothing.
func empty(it *item.Item) bool {
	return strings.TrimSpace(it.Title+it.Text+it.Author.Name) == "" && len(it.Media) == 0 && it.Rating == (item.Rating{})
}
