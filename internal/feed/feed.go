// Package feed reads content from external sources: feeds, calendars, pages with structured data,
// social profiles, tables, JSON and folders of Markdown. There is one file and one row in Readers
// for each form. Differences between readers end at the item: everything that they return is an
// item.Item.
//
// Readers get bytes and return items. They make no requests themselves; a reader that needs further
// documents asks Document.Get for them.
package feed

import (
	"cmp"
	"context"
	"fmt"
	"net/url"
	"path"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/item"
)

// Document is a response of a source, or a file that somebody uploaded.
type Document struct {
	Address string   // after redirects; "" for a file
	Name    string   // of a file, with its extension
	Kind    string   // media type as stated, with parameters; "" if unknown
	Links   []string // Link header fields (RFC 8288)
	Body    []byte
	Now     time.Time
	Zone    string // IANA name of the time zone for times without one
	// Get requests another document of the source. It is nil if the reader may not ask for more.
	Get func(ctx context.Context, address, accept string) (*Document, error)

	text *decoded // once it was decoded
	base *url.URL // of Address, once it was parsed
}

// Found is what a reader finds in a document.
type Found struct {
	Title    string      // name of the source, of a business or of a profile
	Place    string      // where the business is, for people
	Credit   item.Credit // whom to credit for an item that does not say; zero for Title and Link
	Link     string      // its page for people
	Icon     string      // address of its image
	Language string
	Items    []item.Item
	// Window says that the source lists its newest items only, so that older ones have not been
	// deleted there. Otherwise the items are all that there are.
	Window bool
	// Rolling says that the same document gives other items later, as a calendar with recurring
	// dates does. Such a document is read again from time to time, even if it has not changed.
	Rolling bool
	Every   time.Duration // how often the source asks to be fetched at most; 0 if it does not say
	Hub     string        // address of its WebSub hub, "" for none
	Topic   string        // the address to subscribe to at the hub
	Rated   Rated         // a rating that the source states for the whole
	// Repairs say what was wrong and how it was read anyway. Skipped says what was left out.
	Repairs, Skipped []string
}

// Rated is the summary of ratings that a page states, as in schema.org's AggregateRating.
type Rated struct {
	Value float64 `json:"value,omitempty"`
	Best  float64 `json:"best,omitempty"`
	Count int     `json:"count,omitempty"`
}

// repair adds a sentence, once.
func (f *Found) repair(format string, a ...any) {
	if text := fmt.Sprintf(format, a...); !slices.Contains(f.Repairs, text) && len(f.Repairs) < notesMost {
		f.Repairs = append(f.Repairs, text)
	}
}

func (f *Found) skip(format string, a ...any) {
	if text := fmt.Sprintf(format, a...); !slices.Contains(f.Skipped, text) && len(f.Skipped) < notesMost {
		f.Skipped = append(f.Skipped, text)
	}
}

// notesMost is how many sentences of each kind are kept.
const notesMost = 20

// Options are a customer's choices about how a source is read. Each reader takes those that apply.
type Options struct {
	Kind    string            `json:"kind,omitempty"`    // of the items; "" lets the reader decide
	Mapping map[string]string `json:"mapping,omitempty"` // by field of an item: a column, or a JSON Pointer (RFC 6901)
	Replies bool              `json:"replies,omitempty"` // a profile's replies, too
	Boosts  bool              `json:"boosts,omitempty"`  // and what it passes on of others
	Part    string            `json:"part,omitempty"`    // of a profile: PartPosts or PartLikes; of a page: a name of Parts
}

// Reader reads one form.
type Reader struct {
	Name  string   // in the API: "rss"
	Title string   // for people: "RSS or Atom feed"
	Files []string // extensions of files
	// is reports whether a document has the form, from its start and its media type.
	is   func(d *Document) bool
	read func(ctx context.Context, d *Document, o Options) (*Found, error)
}

// Readers lists all readers. The first whose form a document has reads it.
var Readers []Reader

func init() { // in init, because functions in the rows refer to the table
	Readers = []Reader{
		{"rss", "RSS or Atom feed", []string{".rss", ".atom", ".xml"}, isXMLFeed, readXMLFeed},
		{"ical", "Calendar (iCalendar)", []string{".ics", ".ical"}, isCalendar, readCalendar},
		{"jsonfeed", "JSON Feed", nil, isJSONFeed, readJSONFeed},
		{"activity", "Social profile or collection (ActivityStreams)", nil, isActivity, readActivity},
		{"page", "Web page with structured data (schema.org)", []string{".html", ".htm"}, isPage, readPage},
		{"markdown", "Folder of Markdown files (ZIP)", []string{".zip", ".md"}, isMarkdown, readMarkdown},
		{"json", "JSON", []string{".json"}, isJSON, readJSON},
		{"table", "Table (CSV or TSV)", []string{".csv", ".tsv", ".txt"}, isTable, readTable},
	}
}

// Named returns the reader with a name, or nil.
func Named(name string) *Reader {
	for i := range Readers {
		if Readers[i].Name == name {
			return &Readers[i]
		}
	}
	return nil
}

// Of returns the reader for a document, or nil.
func Of(d *Document) *Reader {
	for i := range Readers {
		if Readers[i].is(d) {
			return &Readers[i]
		}
	}
	return nil
}

// ItemsMost is how many items of one document are read.
const ItemsMost = item.KeptMost

// Read reads a document. The error is an *Error. A panic in a library is an error, too, because
// documents are hostile.
func (r *Reader) Read(ctx context.Context, d *Document, o Options) (f *Found, err error) {
	defer func() {
		if v := recover(); v != nil {
			f, err = nil, &Error{What: fmt.Sprintf("%s cannot be read: %v.", d.named(), v), Hint: "Report this source to the operator."}
		}
	}()
	if len(d.Body) == 0 {
		return nil, &Error{What: d.named() + " is empty.", Hint: "Check the address."}
	}
	f, err = r.read(ctx, d, o)
	if err != nil {
		return nil, err
	}
	if len(f.Items) > ItemsMost {
		f.skip("Only the first %d of %d items were read.", ItemsMost, len(f.Items))
		f.Items = f.Items[:ItemsMost]
	}
	if t := d.text; t != nil && t.repair != "" {
		f.repair("%s", t.repair)
	}
	for _, header := range d.Links {
		f.headerLink(d, header)
	}
	f.Title = item.Line(f.Title, 120)
	credit := cmp.Or(f.Credit, item.Credit{Name: f.Title, Link: d.absolute(f.Link)})
	for i := range f.Items {
		it := &f.Items[i]
		finish(it, f, d, o)
		it.Publisher = cmp.Or(it.Publisher, credit)
	}
	return f, nil
}

// finish gives an item what all readers have in common.
func finish(it *item.Item, f *Found, d *Document, o Options) {
	if o.Kind != "" {
		it.Kind = o.Kind
	}
	it.Title, it.Author.Name = item.Line(it.Title, 500), item.Line(it.Author.Name, 300)
	it.Link, it.Author.Link = d.absolute(it.Link), d.absolute(it.Author.Link)
	it.Author.Image, it.Location.Link, it.InReplyTo = d.absolute(it.Author.Image), d.absolute(it.Location.Link), d.absolute(it.InReplyTo)
	media := it.Media[:0]
	for _, m := range it.Media {
		m.Address, m.Poster = d.absolute(m.Address), d.absolute(m.Poster)
		known := slices.ContainsFunc(media, func(has item.Media) bool { return has.Address == m.Address })
		if m.Address != "" && !known && len(media) < mediaMost {
			media = append(media, m)
		}
	}
	it.Media = media
	if it.Language = item.Language(it.Language); it.Language == "" {
		if it.Language = item.Detect(it.Title + "\n" + it.Text); it.Language == "" {
			it.Language = item.Language(f.Language)
		}
	}
	if it.Title == it.Text && it.Content == "" { // titles that programs make from the text
		it.Title = ""
	}
	scale(&it.Rating, f)
}

const mediaMost = 8

// scale brings a rating to a scale that begins at 0 or 1, and guesses a missing one.
func scale(r *item.Rating, f *Found) {
	if *r == (item.Rating{}) {
		return
	}
	if r.Worst > 1 && r.Best > r.Worst { // as in 10 to 50
		r.Value, r.Best = r.Value-r.Worst, r.Best-r.Worst
	}
	r.Worst = 0
	switch {
	case r.Value < 0:
		*r = item.Rating{}
	case r.Best > 0 && r.Value <= r.Best:
	default:
		stated := r.Best
		switch {
		case r.Value <= 5:
			r.Best = 5
		case r.Value <= 10:
			r.Best = 10
		case r.Value <= 100:
			r.Best = 100
		default:
			*r = item.Rating{}
			return
		}
		if stated > 0 {
			f.repair("A rating of %v is above its scale of %v; it was read as one of %v.", r.Value, stated, r.Best)
		} else if r.Best != 5 { // schema.org's default is 5
			f.repair("Ratings without a scale were read as ratings of %v.", r.Best)
		}
	}
	if r.Best > 100 {
		r.Value, r.Best = r.Value*100/r.Best, 100
	}
}

// Error says why a document cannot be read.
type Error struct{ What, Hint string }

func (e *Error) Error() string { return e.What }

// named names a document in a sentence.
func (d *Document) named() string {
	if d.Name != "" {
		return d.Name
	}
	return "The response"
}

// extension returns the extension of the file or the address, in lower case.
func (d *Document) extension() string {
	name := d.Name
	if name == "" {
		name, _, _ = strings.Cut(d.Address, "?")
	}
	return strings.ToLower(path.Ext(name))
}
