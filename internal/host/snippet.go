package host

import (
	"strings"
	"unicode/utf8"

	"glasspocket/internal/widget"
)

// Snippet is what to paste, in one or more places.
type Snippet struct {
	Delivery Delivery `json:"delivery"`
	About    string   `json:"about"` // a description, a sentence
	Parts    []Part   `json:"parts"`
}

// Part is the exact text for one place.
type Part struct {
	Role  string `json:"role"`           // one of Roles
	Where string `json:"where"`          // where it goes, in words
	Text  string `json:"text"`           // the text to paste
	File  string `json:"file,omitempty"` // name of the file for it
	// Rich is the same for editors that insert formatted content from the clipboard and would show
	// code as text: a link to the widget, or an email's table. It is "" if neither helps.
	Rich string `json:"rich,omitempty"`
}

// Roles are the kinds of parts: the content where the widget shows; a script that the site needs
// once; an address; a source file; directives for a content policy.
var Roles = []string{"content", "script", "address", "file", "policy"}

// Subject is the pocket that a snippet is for.
type Subject struct {
	Base    string // public address
	Key     string
	Title   string
	Heights []widget.Height // empty reserves nothing
	Floats  bool            // it is above the page and takes no space
	Wraps   bool            // content within the mount point shows in the widget
	OfPage  bool            // it depends on the page around it, and shows nothing on its own page
	Limited bool            // it shows on its customer's sites only
	Chooses bool            // it shows at certain addresses of the site only
	Pinned  *Pinned         // for the sealed delivery
	Mail    []Row           // for an email
	Fields  []Field         // for a plain form; nil if there is none
	Facts   []Fact          // what the page can state about its visitor
}

// Pinned is a sealed publication.
type Pinned struct {
	Address   string `json:"address"`   // of its script
	Integrity string `json:"integrity"` // of the script, for Subresource Integrity
	Policy    string `json:"policy"`    // the strictest content policy under which it shows
}

// Ask describes what to write.
type Ask struct {
	Delivery Delivery
	Placing  Placing
	Content  Rules // of the place for the widget; the zero Rules let everything through
	Script   Rules // of the place for the site's scripts; the zero Rules mean that there is none
	Head     bool  // the place is the head of the page, where nothing shows
	Fits     bool  // a script of the site may set the size of a frame
}

// Fits reports whether a widget can be delivered in this way: a widget above the page does not work
// in a frame, and a frame cannot contain content of the page.
func (s Subject) Fits(delivery Delivery) bool {
	switch delivery {
	case Frame, Screen, Email:
		return !s.Floats && !s.Wraps
	case PlainForm:
		return s.Fields != nil
	case Link:
		return !s.OfPage
	case Sealed:
		return s.Pinned != nil
	}
	return true
}

// Unfit explains in a sentence why a delivery does not fit.
func (s Subject) Unfit(delivery Delivery) string {
	switch {
	case delivery == PlainForm:
		return "This widget has no fields for visitors to fill in."
	case delivery == Link:
		return "This widget shows only content of the page around it, so its own page would be empty."
	case s.Floats:
		return "This widget floats over the page, which is not possible with the delivery " + delivery.plain() + "."
	}
	return "This widget shows the page's own content, which the delivery " + delivery.plain() + " does not have."
}

// plain returns the delivery's name for use in a sentence.
func (f Delivery) plain() string { return strings.ReplaceAll(string(f), "-", " ") }

var writers = map[Delivery]func(Subject, Ask) []Part{
	Script: script, Split: split, Component: component, Sealed: sealed, Frame: frame, Screen: screen, PlainForm: plainForm, Email: email, Link: link,
}

// Write writes a snippet. It returns false if there is no such delivery.
func Write(s Subject, a Ask) (Snippet, bool) {
	about, ok := a.Delivery.About()
	if !ok {
		return Snippet{}, false
	}
	if a.Content.As == "" {
		a.Content = usual("markup")
	}
	if a.Script.As == "" {
		a.Script = usual("markup")
	}
	write := writers[a.Delivery]
	parts := write(s, a)
	if most := a.Content.Most; most > 0 && utf8.RuneCountInString(parts[0].Text) > most {
		// If the place limits the length, drop the reserved space first, then the fallback.
		s.Heights = nil
		if parts = write(s, a); utf8.RuneCountInString(parts[0].Text) > most && a.Placing.Fallback == "" {
			a.Placing.Fallback = "nothing"
			parts = write(s, a)
		}
	}
	for i := range parts {
		parts[i].Rich = s.rich(a, parts[i])
	}
	return Snippet{a.Delivery, about.What, parts}, true
}

// page returns the address of the pocket's page, with a query that describes its layout.
func (s Subject) page(query ...string) string {
	address := s.Base + "/p/" + s.Key
	join := "?"
	for i := 0; i+1 < len(query); i += 2 {
		if query[i+1] != "" {
			address += join + query[i] + "=" + query[i+1]
			join = "&"
		}
	}
	return address
}

// part writes elements for one place. Where frameworks or templates read the text first, characters
// with a meaning to them are escaped.
func part(role, where string, r Rules, lines bool, list ...element) Part {
	w := writer{xml: r.XML, braces: strings.Join(r.Braces, "")}
	for i, e := range list {
		if i > 0 && lines {
			w.b.WriteByte('\n')
		}
		w.element(e)
	}
	return Part{Role: role, Where: where, Text: w.b.String()}
}

// tag returns a script element with an address of the service.
func tag(address string, more ...string) element {
	return el("script", append(attributes("async", on, "src", address), attributes(more...)...))
}
