package feed

import (
	"context"
	"net/url"
	"time"
)

// Web requests documents from other servers. The error is a *Failure.
type Web interface {
	Ask(ctx context.Context, a Ask) (*Answer, error)
	// Post sends a form. Any status below 300 is a success.
	Post(ctx context.Context, address string, form url.Values) error
}

// Ask is a request for a document.
type Ask struct {
	Address string
	Accept  string // media types
	Secret  Secret
	// Of the last response, for a conditional request (RFC 9110, section 13).
	ETag, LastModified string
	Image              bool // an image, which is smaller than a document
}

// The ways to send a secret.
const (
	Bearer  = "bearer" // Authorization: Bearer (RFC 6750)
	InField = "header" // a header field with a name
	InQuery = "query"  // a parameter of the query with a name
)

// Secret is a token or key that a source requires. It is sent only to the host of the address.
type Secret struct {
	In    string // Bearer, InField or InQuery; "" for none
	Name  string // of the field or the parameter
	Value string
}

// Answer is a response.
type Answer struct {
	Document
	Status             int
	ETag, LastModified string
	Unchanged          bool          // 304
	Fresh              time.Duration // how long the server says that the response stays current; 0 if it does not say
	Moved              string        // the new address, after permanent redirects
}

// Failure says why a document was not received.
type Failure struct {
	Status     int // of the response, 0 without one
	What, Hint string
	After      time.Duration // the server asks to wait this long; 0 if it does not
	Gone       bool          // 410: it will not come back
	Token      bool          // the server wants a token, or another one
	Busy       bool          // the request has not been made, because others to the host wait
}

func (f *Failure) Error() string { return f.What }

// Accepts are the media types of all readers, for a request whose answer may have any form.
const Accepts = "application/rss+xml, application/atom+xml, application/feed+json, text/calendar, application/activity+json;q=0.9, application/xml;q=0.8, text/csv;q=0.8, application/json;q=0.8, text/html;q=0.7, */*;q=0.5"

// Accept returns the media types for a source that this reader reads.
func (r *Reader) Accept() string {
	switch r.Name {
	case "activity":
		return ActivityType
	case "page":
		return "text/html, application/xhtml+xml;q=0.9, */*;q=0.1"
	case "ical":
		return "text/calendar, */*;q=0.5"
	case "json":
		return "application/json, */*;q=0.5"
	case "table":
		return "text/csv, text/tab-separated-values;q=0.9, */*;q=0.5"
	}
	return Accepts
}
