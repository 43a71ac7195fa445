package render

import (
	"net/url"
	"strconv"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/view"
)

// PageOf says which page of a pocket's list is requested, and of which publication and release: that
// of the visitor's other pages, so that all pages fit together.
type PageOf struct {
	List        string // key of the setting
	From        int    // how many items the visitor has
	After       string // ID of the last one; "" for a list in the settings
	Publication int
	Release     string // start of the digest, as in Payload
}

// Query returns the page's query in an address: sorted, so that a page has one address.
func (p PageOf) Query() string {
	q := url.Values{"list": {p.List}, "from": {strconv.Itoa(p.From)}, "of": {strconv.Itoa(p.Publication) + "-" + p.Release}}
	if p.After != "" {
		q.Set("after", p.After)
	}
	return q.Encode()
}

// ReadPageOf reads a query. ok is false if it is not a page's.
func ReadPageOf(q func(name string) string) (p PageOf, ok bool) {
	publication, release, _ := strings.Cut(q("of"), "-")
	from, err := strconv.Atoi(q("from"))
	number, err2 := strconv.Atoi(publication)
	p = PageOf{List: q("list"), From: from, After: q("after"), Publication: number, Release: release}
	return p, err == nil && err2 == nil && from >= 0 && p.List != "" && len(release) == releaseLength && len(p.After) <= 64
}

// releaseLength is how much of a release's digest identifies it in payloads and addresses.
const releaseLength = 12

// pages returns the function that makes the addresses of a subject's pages; nil in a preview.
func (site *Site) pages(s Subject) func(key string, from int, after string) string {
	if s.Publication == 0 {
		return nil
	}
	return func(key string, from int, after string) string {
		if from == 0 {
			return site.Base + "/p/" + s.Key
		}
		return site.Base + "/p/" + s.Key + "?" + PageOf{key, from, after, s.Publication, s.Release.Digest[:releaseLength]}.Query()
	}
}

// Fragment is the response to "show more": the next items of a list, for a page that shows those
// before.
type Fragment struct {
	Markup string `json:"markup"`
	Style  string `json:"style"` // rules for single elements of Markup
	Next   string `json:"next"`  // address of the next page; "" at the end
	Left   int    `json:"left"`  // items after these
}

// Fragment renders a page of a list. The markup is what the view shows within data-items, so that it
// is the same as in a rendering with all items.
func (site *Site) Fragment(s Subject, key string) (Encoded, fault.List) {
	if s.Sight == nil {
		s = site.See(s)
	}
	s.Sight.Prefix = "p" + strconv.Itoa(s.Sight.Page(key).From)
	shown, faults := s.Release.ShowSight(s.Sight, s.Language, s.Now)
	if len(faults) > 0 {
		return Encoded{}, faults
	}
	inner, _ := view.Within(shown.Markup, key)
	page := s.Sight.Page(key)
	f := Fragment{Markup: inner, Style: shown.Style, Next: page.Next, Left: page.Total - page.To}
	return Encode(encode(f)), nil
}

// Standalone renders a page of a list as a document, for visitors without scripts.
func (site *Site) Standalone(s Subject) (Encoded, fault.List) {
	p, faults := site.show(s)
	if len(faults) > 0 {
		return Encoded{}, faults
	}
	return Encode(site.page(site.whole(p, s.Release), s.Title, false)), nil
}
