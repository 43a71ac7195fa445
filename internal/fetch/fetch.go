// Package fetch makes all requests to other servers. It connects to public addresses only, and
// checks them when it connects and again at every redirect, so that no name, redirect or DNS change
// leads into a private network. Time, size, redirects, and the requests to each host are limited.
package fetch

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"maps"
	"mime"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// RedirectsMost is how many redirects a request follows.
const RedirectsMost = 5

// Fetcher makes requests. It is safe for concurrent use.
type Fetcher struct {
	client  *http.Client
	hosts   *hosts
	allowed Allowed
}

// New returns a Fetcher for public addresses and those in allowed.
func New(allowed Allowed) *Fetcher {
	dialer := &net.Dialer{Timeout: 5 * time.Second, ControlContext: func(_ context.Context, _, address string, _ syscall.RawConn) error {
		at, err := netip.ParseAddrPort(address)
		if err != nil {
			return err
		}
		if allowed.Reaches(at) {
			return nil
		}
		return &Error{Reason: Inside}
	}}
	return &Fetcher{hosts: newHosts(), allowed: allowed, client: &http.Client{
		Transport: &http.Transport{DialContext: dialer.DialContext, Proxy: nil, TLSHandshakeTimeout: 5 * time.Second, ResponseHeaderTimeout: 10 * time.Second,
			MaxResponseHeaderBytes: 64 << 10, MaxIdleConns: 64, MaxIdleConnsPerHost: hostAtOnce, IdleConnTimeout: 10 * time.Second},
		CheckRedirect: func(r *http.Request, before []*http.Request) error {
			if before[0].Method != http.MethodGet && before[0].Method != http.MethodHead {
				return http.ErrUseLastResponse // another server would get what was sent
			}
			if len(before) > RedirectsMost {
				return &Error{Reason: TooFar, Address: r.URL.String()}
			}
			if r.URL.Scheme != "http" && r.URL.Scheme != "https" {
				return &Error{Reason: BadAddress, Address: r.URL.String()}
			}
			r.Header.Del("Referer")
			if p, ok := r.Context().Value(privateKey{}).(*private); ok {
				return p.follow(r, before)
			}
			return nil
		},
	}}
}

// Read reads an address as people write it. Without a scheme it is https.
func Read(address string) (*url.URL, error) {
	address = strings.TrimSpace(address)
	if address != "" && !strings.Contains(address, "://") {
		address = "https://" + address
	}
	u, err := url.Parse(address)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.User != nil || len(address) > 2000 {
		return nil, &Error{Reason: BadAddress, Address: address, What: "This is not the address of a page.", Hint: "Copy the address from the browser, as in https://kelp.example/workshops."}
	}
	u.Fragment = ""
	return u, nil
}

// Request is a request to another server.
type Request struct {
	Method  string // "" for GET
	Address string // see Read
	For     string // what it is for, as a part of User-Agent
	Header  map[string]string
	Body    []byte
	Accept  []string // media types that the response may have; none for any
	// From the last response, for a conditional request (RFC 9110, section 13).
	ETag, LastModified string
	Most               int64 // bytes of the response, decompressed
	Patience           time.Duration
	// Private names the header fields that must not go to another host. If Stays is set, the
	// address itself must not.
	Private []string
	Stays   bool
}

// Response is the response to a Request, after redirects.
type Response struct {
	Address            string
	Status             int // below 400
	Header             http.Header
	Kind               string // media type without parameters, "" if the server does not say
	Body               []byte
	ETag, LastModified string
	Unchanged          bool   // 304: the content is that of the last response
	Moved              string // the new address, if all redirects were permanent
}

// Do makes a request. It waits for its turn if there are many to the host. The error is an *Error,
// also for a response with a status from 400 on.
func (f *Fetcher) Do(ctx context.Context, ask Request) (*Response, error) {
	u, err := Read(ask.Address)
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, ask.Patience)
	defer cancel()
	done, err := f.turn(ctx, u)
	if err != nil {
		return nil, &Error{Reason: Busy, Address: u.String(), What: fmt.Sprintf("There are too many requests to %s at the moment.", u.Host), Hint: "Try again later."}
	}
	defer done()
	p := &private{fields: ask.Private, stays: ask.Stays}
	r, err := http.NewRequestWithContext(context.WithValue(ctx, privateKey{}, p), ask.Method, u.String(), bytes.NewReader(ask.Body))
	if err != nil {
		return nil, &Error{Reason: BadAddress, Address: u.String(), What: "This is not the address of a page.", Hint: "Copy the address from the browser."}
	}
	for name, value := range maps.All(ask.Header) {
		r.Header.Set(name, value)
	}
	r.Header.Set("User-Agent", "GlassPocket/1 ("+ask.For+")")
	if len(ask.Accept) > 0 {
		r.Header.Set("Accept", strings.Join(ask.Accept, ","))
	}
	if ask.ETag != "" {
		r.Header.Set("If-None-Match", ask.ETag)
	}
	if ask.LastModified != "" {
		r.Header.Set("If-Modified-Since", ask.LastModified)
	}
	res, err := f.client.Do(r)
	if err != nil {
		return nil, explained(u, ask.Patience, err)
	}
	defer res.Body.Close()
	out := &Response{Address: res.Request.URL.String(), Status: res.StatusCode, Header: res.Header, ETag: res.Header.Get("ETag"), LastModified: res.Header.Get("Last-Modified"), Unchanged: res.StatusCode == http.StatusNotModified, Moved: p.moved}
	if res.StatusCode >= 400 || res.StatusCode >= 300 && !out.Unchanged {
		return nil, &Error{Reason: Refused, Address: out.Address, Status: res.StatusCode, What: fmt.Sprintf("%s answered %s.", res.Request.URL.Host, res.Status), Hint: "Open the address in a browser to check it.", After: retryAfter(res.Header.Get("Retry-After"), time.Now())}
	}
	if out.Unchanged {
		return out, nil
	}
	field := res.Header.Get("Content-Type")
	out.Kind, _, err = mime.ParseMediaType(field)
	if len(ask.Accept) > 0 && field != "" && (err != nil || !slices.Contains(ask.Accept, out.Kind)) {
		return nil, &Error{Reason: WrongKind, Address: out.Address, Status: res.StatusCode, What: fmt.Sprintf("The response is %s, not %s.", field, strings.Join(ask.Accept, " or ")), Hint: "Check the address."}
	}
	if out.Body, err = io.ReadAll(io.LimitReader(res.Body, ask.Most+1)); err != nil {
		return nil, explained(u, ask.Patience, err)
	}
	if int64(len(out.Body)) > ask.Most {
		return nil, &Error{Reason: TooLarge, Address: out.Address, Status: res.StatusCode, What: fmt.Sprintf("The response has more than %d MB.", ask.Most>>20), Hint: "Use a smaller one."}
	}
	return out, nil
}

// turn waits for the turn of a request to a host. Addresses that the operator has allowed are the
// operator's own: they have no limit per second, but they do get only a few requests at once.
func (f *Fetcher) turn(ctx context.Context, u *url.URL) (done func(), err error) {
	if at, err := netip.ParseAddrPort(u.Host); err == nil && f.allowed.has(at) {
		return f.hosts.turn(ctx, u.Host, true)
	}
	return f.hosts.turn(ctx, u.Hostname(), false)
}

// waitMost is the longest wait that a server can ask for.
const waitMost = 24 * time.Hour

// retryAfter reads the field Retry-After: seconds, or a date (RFC 9110, section 10.2.3).
func retryAfter(field string, now time.Time) time.Duration {
	if n, err := strconv.Atoi(field); err == nil {
		return min(max(0, time.Duration(n)*time.Second), waitMost)
	}
	if at, err := http.ParseTime(field); err == nil {
		return min(max(0, at.Sub(now)), waitMost)
	}
	return 0
}
