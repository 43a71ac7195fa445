// Package fetch makes all requests to other servers. It connects to public addresses only, and
// checks them when it connects and again at every redirect, so that no name, redirect or DNS change
// leads into a private network. Time, size and redirects are limited.
package fetch

import (
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"strings"
	"syscall"
	"time"
)

// Limits of one page.
const (
	PageMost      = 5 << 20 // bytes, decompressed
	RedirectsMost = 5
	Patience      = 12 * time.Second
)

// Reason is why a page was not fetched.
type Reason string

// The reasons.
const (
	BadAddress Reason = "address-faulty" // it is not a web address
	Inside     Reason = "address-inside" // it leads into a private network
	Unreached  Reason = "not-reached"    // nobody answers there
	Late       Reason = "too-late"       // it took too long
	TooLarge   Reason = "page-too-large"
	TooFar     Reason = "too-many-redirects"
	NoPage     Reason = "no-page"       // it is not HTML
	Refused    Reason = "page-refused"  // the server answers with an error
	SignIn     Reason = "needs-sign-in" // it is for signed-in users only
)

// Error says why, in a sentence.
type Error struct {
	Reason  Reason
	Address string // where it happened
	What    string
	Hint    string
}

func (e *Error) Error() string { return e.What }

// Page is a fetched page.
type Page struct {
	Address string // after redirects
	HTML    string // UTF-8
	Policy  string // all Content-Security-Policy fields, joined by commas
}

// Allowed are private addresses that may be requested anyway: networks ("10.1.0.0/16") or a port of
// an address ("127.0.0.1:7442").
type Allowed struct {
	networks []netip.Prefix
	ports    map[netip.AddrPort]bool
}

// ReadAllowed reads a list of such addresses, separated by commas.
func ReadAllowed(text string) (a Allowed, err error) {
	a.ports = map[netip.AddrPort]bool{}
	for one := range strings.SplitSeq(text, ",") {
		if one = strings.TrimSpace(one); one == "" {
			continue
		}
		if at, err := netip.ParseAddrPort(one); err == nil {
			a.ports[at] = true
		} else if network, err := netip.ParsePrefix(one); err == nil {
			a.networks = append(a.networks, network)
		} else {
			return a, fmt.Errorf("%q is neither a network such as 10.1.0.0/16 nor an address with a port such as 127.0.0.1:7442", one)
		}
	}
	return a, nil
}

func (a Allowed) has(at netip.AddrPort) bool {
	if a.ports[at] {
		return true
	}
	for _, n := range a.networks {
		if n.Contains(at.Addr()) {
			return true
		}
	}
	return false
}

// never are networks without public web pages: the registries' special-purpose addresses (RFC 6890
// and later additions), and those that lead to others (mapped, NAT64, 6to4, Teredo).
var never = func() (list []netip.Prefix) {
	for _, p := range []string{
		"0.0.0.0/8", "10.0.0.0/8", "100.64.0.0/10", "127.0.0.0/8", "169.254.0.0/16", "172.16.0.0/12", "192.0.0.0/24", "192.0.2.0/24", "192.88.99.0/24", "192.168.0.0/16",
		"198.18.0.0/15", "198.51.100.0/24", "203.0.113.0/24", "224.0.0.0/4", "240.0.0.0/4",
		"::/96", "::ffff:0:0/96", "64:ff9b::/96", "64:ff9b:1::/48", "100::/64", "2001::/23", "2001:db8::/32", "2002::/16", "3fff::/20", "5f00::/16", "fc00::/7", "fe80::/10", "fec0::/10", "ff00::/8",
	} {
		list = append(list, netip.MustParsePrefix(p))
	}
	return list
}()

// IsPublic reports whether an address is on the public internet.
func IsPublic(a netip.Addr) bool {
	a = a.Unmap().WithZone("")
	for _, n := range never {
		if n.Contains(a) {
			return false
		}
	}
	return a.IsValid()
}

// Fetcher fetches pages. It is safe for concurrent use.
type Fetcher struct {
	client *http.Client
}

// New returns a Fetcher for public addresses and those in allowed.
func New(allowed Allowed) *Fetcher {
	dialer := &net.Dialer{Timeout: 5 * time.Second, ControlContext: func(_ context.Context, _, address string, _ syscall.RawConn) error {
		at, err := netip.ParseAddrPort(address)
		if err != nil {
			return err
		}
		if at = netip.AddrPortFrom(at.Addr().Unmap().WithZone(""), at.Port()); IsPublic(at.Addr()) || allowed.has(at) {
			return nil
		}
		return &Error{Reason: Inside}
	}}
	return &Fetcher{&http.Client{
		Timeout: Patience,
		Transport: &http.Transport{DialContext: dialer.DialContext, Proxy: nil, TLSHandshakeTimeout: 5 * time.Second, ResponseHeaderTimeout: 10 * time.Second,
			MaxResponseHeaderBytes: 64 << 10, MaxIdleConns: 8, IdleConnTimeout: 10 * time.Second, DisableKeepAlives: true},
		CheckRedirect: func(r *http.Request, before []*http.Request) error {
			if len(before) > RedirectsMost {
				return &Error{Reason: TooFar, Address: r.URL.String()}
			}
			if r.URL.Scheme != "http" && r.URL.Scheme != "https" {
				return &Error{Reason: BadAddress, Address: r.URL.String()}
			}
			r.Header.Del("Referer")
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
		return nil, &Error{BadAddress, address, "This is not the address of a page.", "Copy the address from the browser, as in https://kelp.example/workshops."}
	}
	u.Fragment = ""
	return u, nil
}

// Page fetches one page.
func (f *Fetcher) Page(ctx context.Context, address string) (*Page, error) {
	u, err := Read(address)
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, Patience)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, u.String(), nil)
	if err != nil {
		return nil, &Error{BadAddress, u.String(), "This is not the address of a page.", "Copy the address from the browser."}
	}
	r.Header.Set("User-Agent", "GlassPocket/1 (previews a widget on this page)")
	r.Header.Set("Accept", "text/html,application/xhtml+xml")
	res, err := f.client.Do(r)
	if err != nil {
		return nil, explained(u, err)
	}
	defer res.Body.Close()
	at := res.Request.URL.String()
	switch {
	case res.StatusCode == http.StatusUnauthorized, res.StatusCode == http.StatusForbidden, res.StatusCode == http.StatusProxyAuthRequired:
		return nil, signIn(at)
	case res.StatusCode >= 400:
		return nil, &Error{Refused, at, fmt.Sprintf("The page's server answered %s.", res.Status), "Open the page in a browser to check the address."}
	}
	kind, _, err := mime.ParseMediaType(res.Header.Get("Content-Type"))
	if res.Header.Get("Content-Type") != "" && (err != nil || kind != "text/html" && kind != "application/xhtml+xml") {
		return nil, &Error{NoPage, at, fmt.Sprintf("This address is not a page but %s.", res.Header.Get("Content-Type")), "Enter the address of a page."}
	}
	body, err := io.ReadAll(io.LimitReader(res.Body, PageMost+1))
	if err != nil {
		return nil, explained(u, err)
	}
	if len(body) > PageMost {
		return nil, &Error{TooLarge, at, fmt.Sprintf("The page has more than %d MB.", PageMost>>20), "Paste only the HTML around the place for the widget."}
	}
	text, err := decoded(body, res.Header.Get("Content-Type"))
	if err != nil {
		return nil, &Error{NoPage, at, "The page has an unsupported character encoding.", "Paste its HTML instead."}
	}
	page := &Page{Address: at, HTML: text, Policy: strings.Join(res.Header.Values("Content-Security-Policy"), ", ")}
	if asksToSignIn(res.Request.URL, u, page.HTML) {
		return nil, signIn(at)
	}
	return page, nil
}

func signIn(at string) *Error {
	return &Error{SignIn, at, "This page requires a sign-in, so the service cannot fetch it.", "Open it in your browser, copy its source, and paste the source."}
}

// asksToSignIn reports whether a request ended at a sign-in page: a page with a password field
// whose address says so or is on another site. A password field alone is not enough, because many
// pages have one in their header.
func asksToSignIn(at, asked *url.URL, html string) bool {
	low := strings.ToLower(html)
	if !strings.Contains(low, `type="password"`) && !strings.Contains(low, "type=password") && !strings.Contains(low, "type='password'") {
		return false
	}
	path := strings.ToLower(at.Path + "?" + at.RawQuery)
	for _, word := range []string{"login", "signin", "sign-in", "sign_in", "logon", "auth", "session"} {
		if strings.Contains(path, word) {
			return true
		}
	}
	return strings.TrimPrefix(at.Hostname(), "www.") != strings.TrimPrefix(asked.Hostname(), "www.")
}

// explained describes an error in a sentence.
func explained(u *url.URL, err error) error {
	var own *Error
	at := u.String()
	var failed *url.Error
	if errors.As(err, &failed) {
		at = failed.URL
	}
	if errors.As(err, &own) {
		switch own.Reason {
		case Inside:
			what := "This address is in a private network, so the service does not open it."
			if at != u.String() {
				what = fmt.Sprintf("The page redirects to %s in a private network, so the service does not open it.", at)
			}
			return &Error{Inside, at, what, "Enter the public address of the page, or paste its HTML."}
		case TooFar:
			return &Error{TooFar, at, fmt.Sprintf("Too many redirects (more than %d).", RedirectsMost), "Open the page in a browser, and copy the address that it shows then."}
		}
		return &Error{own.Reason, own.Address, "The page redirects to an address that is not a web page.", "Open the page in a browser, and copy the address that it shows then."}
	}
	var slow net.Error
	if errors.Is(err, context.DeadlineExceeded) || errors.As(err, &slow) && slow.Timeout() {
		return &Error{Late, at, fmt.Sprintf("The page did not load within %d seconds.", Patience/time.Second), "Try again later, or paste its HTML."}
	}
	if end, err := url.Parse(at); err == nil && end.Host != u.Host {
		return &Error{Unreached, at, fmt.Sprintf("The page redirects to %s, which does not answer.", at), "Open the page in a browser, and copy the address that it shows then."}
	}
	return &Error{Unreached, at, fmt.Sprintf("%s does not answer.", u.Host), "Check the address, and check that the page is online."}
}
