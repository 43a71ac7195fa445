package fetch

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/feed"
)

// Limits of a document of a source, and of an image.
const (
	DocumentMost     = 20 << 20
	DocumentPatience = 25 * time.Second
	ImageMost        = 12 << 20
)

// Ask implements feed.Web.
func (f *Fetcher) Ask(ctx context.Context, a feed.Ask) (*feed.Answer, error) {
	ask := Request{Address: a.Address, For: "reads content for a website", ETag: a.ETag, LastModified: a.LastModified, Most: DocumentMost, Patience: DocumentPatience, Header: map[string]string{}}
	if a.Image {
		ask.For, ask.Most = "shows an image on a website", ImageMost
	}
	if a.Accept != "" {
		ask.Header["Accept"] = a.Accept
	}
	switch a.Secret.In {
	case feed.Bearer:
		ask.Header["Authorization"], ask.Private = "Bearer "+a.Secret.Value, []string{"Authorization"}
	case feed.InField:
		ask.Header[a.Secret.Name], ask.Private = a.Secret.Value, []string{a.Secret.Name}
	case feed.InQuery:
		u, err := Read(a.Address)
		if err != nil {
			return nil, failure(err, a)
		}
		q := u.Query()
		q.Set(a.Secret.Name, a.Secret.Value)
		u.RawQuery = q.Encode()
		ask.Address, ask.Stays = u.String(), true
	}
	res, err := f.Do(ctx, ask)
	if err != nil {
		return nil, failure(err, a)
	}
	out := &feed.Answer{Document: feed.Document{Address: without(res.Address, a.Secret), Kind: res.Header.Get("Content-Type"), Links: res.Header.Values("Link"), Body: res.Body},
		Status: res.Status, ETag: res.ETag, LastModified: res.LastModified, Unchanged: res.Unchanged, Fresh: freshFor(res.Header)}
	if res.Moved != "" {
		out.Moved = without(res.Moved, a.Secret)
	}
	return out, nil
}

// Post implements feed.Web.
func (f *Fetcher) Post(ctx context.Context, address string, form url.Values) error {
	_, err := f.Do(ctx, Request{Method: http.MethodPost, Address: address, For: "subscribes to a feed", Header: map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, Body: []byte(form.Encode()), Most: 64 << 10, Patience: 15 * time.Second})
	if err != nil {
		return failure(err, feed.Ask{Address: address})
	}
	return nil
}

// without removes a secret from an address, which is stored and shown.
func without(address string, s feed.Secret) string {
	if s.In != feed.InQuery {
		return address
	}
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	q := u.Query()
	q.Del(s.Name)
	u.RawQuery = q.Encode()
	return u.String()
}

func failure(err error, a feed.Ask) error {
	var own *Error
	if !errors.As(err, &own) {
		return &feed.Failure{What: err.Error(), Hint: "Try again later."}
	}
	out := &feed.Failure{Status: own.Status, What: own.What, Hint: own.Hint, After: own.After, Busy: own.Reason == Busy}
	host := a.Address
	if u, err := url.Parse(own.Address); err == nil && u.Host != "" {
		host = u.Host
	}
	switch {
	case own.Status == http.StatusGone:
		out.Gone, out.What, out.Hint = true, host+" says that this content has been removed permanently (410 Gone).", "Connect another source, or refresh if it has come back."
	case own.Status == http.StatusUnauthorized, own.Status == http.StatusForbidden:
		out.Token = true
		out.What, out.Hint = fmt.Sprintf("%s does not allow access (%d).", host, own.Status), "Enter a token, or make the content public there."
		if a.Secret.In != "" {
			out.Hint = "The token may have expired. Enter a new one."
		}
	case own.Status == http.StatusTooManyRequests:
		out.What, out.Hint = host+" limits the number of requests (429).", "The service waits as long as the source asks."
	case own.Status == http.StatusNotFound:
		out.What, out.Hint = host+" has nothing at this address (404).", "Check the address. The source may have moved."
	case own.Status >= 500:
		out.What, out.Hint = fmt.Sprintf("%s has a problem of its own (%d).", host, own.Status), "The service tries again by itself."
	case own.Reason == TooLarge:
		out.What, out.Hint = fmt.Sprintf("The response of %s has more than %d MB.", host, DocumentMost>>20), "Use a smaller feed."
		if a.Image {
			out.What = fmt.Sprintf("The image has more than %d MB.", ImageMost>>20)
		}
	}
	if a.Secret.In == feed.InQuery { // a message must not contain it
		out.What = strings.ReplaceAll(out.What, url.QueryEscape(a.Secret.Value), "…")
	}
	return out
}

// freshFor returns how long a response stays current (RFC 9111, section 4.2), or 0.
func freshFor(h http.Header) time.Duration {
	for field := range strings.SplitSeq(h.Get("Cache-Control"), ",") {
		name, value, _ := strings.Cut(strings.TrimSpace(strings.ToLower(field)), "=")
		if seconds, err := strconv.Atoi(strings.Trim(value, `"`)); name == "max-age" && err == nil && seconds > 0 {
			age, _ := strconv.Atoi(h.Get("Age"))
			return min(max(0, time.Duration(seconds-age)*time.Second), waitMost)
		}
		if name == "no-cache" || name == "no-store" {
			return 0
		}
	}
	if at, err := http.ParseTime(h.Get("Expires")); err == nil {
		now, err := http.ParseTime(h.Get("Date"))
		if err != nil {
			now = time.Now()
		}
		return min(max(0, at.Sub(now)), waitMost)
	}
	return 0
}

// private is the part of a Request that its redirects need.
type private struct {
	fields []string // fields with a secret
	stays  bool     // the address has a secret, so the request must stay at its host
	moved  string   // the new address, while all redirects are permanent
}

type privateKey struct{}

// follow decides on a redirect: a secret does not go to another host.
func (p *private) follow(r *http.Request, before []*http.Request) error {
	first := before[0].URL
	if r.URL.Host != first.Host || r.URL.Scheme != first.Scheme && r.URL.Scheme != "https" {
		if p.stays {
			return &Error{Reason: Elsewhere, Address: r.URL.Host}
		}
		for _, name := range p.fields {
			r.Header.Del(name)
		}
	}
	if status := r.Response.StatusCode; status != http.StatusMovedPermanently && status != http.StatusPermanentRedirect || len(before) > 1 && p.moved == "" {
		p.moved = ""
	} else {
		p.moved = r.URL.String()
	}
	return nil
}
