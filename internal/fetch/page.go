package fetch

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"time"
)

// Limits of one page.
const (
	PageMost = 5 << 20 // bytes, decompressed
	Patience = 12 * time.Second
)

// Page is a fetched page.
type Page struct {
	Address string // after redirects
	HTML    string // UTF-8
	Policy  string // all Content-Security-Policy fields, joined by commas
}

// Page fetches one page.
func (f *Fetcher) Page(ctx context.Context, address string) (*Page, error) {
	res, err := f.Do(ctx, Request{Address: address, For: "previews a widget on this page", Accept: []string{"text/html", "application/xhtml+xml"}, Most: PageMost, Patience: Patience})
	var failed *Error
	if errors.As(err, &failed) {
		return nil, ofPage(failed)
	}
	if err != nil {
		return nil, err
	}
	text, err := decoded(res.Body, res.Header.Get("Content-Type"))
	if err != nil {
		return nil, &Error{Reason: WrongKind, Address: res.Address, What: "The page has an unsupported character encoding.", Hint: "Paste its HTML instead."}
	}
	page := &Page{Address: res.Address, HTML: text, Policy: strings.Join(res.Header.Values("Content-Security-Policy"), ", ")}
	at, err := url.Parse(res.Address)
	if err != nil {
		return nil, err
	}
	asked, err := Read(address)
	if err != nil {
		return nil, err
	}
	if asksToSignIn(at, asked, page.HTML) {
		return nil, signIn(res.Address)
	}
	return page, nil
}

// ofPage says what to do about an error when somebody wants to try a page.
func ofPage(e *Error) *Error {
	switch e.Reason {
	case Refused:
		if e.Status == http.StatusUnauthorized || e.Status == http.StatusForbidden || e.Status == http.StatusProxyAuthRequired {
			return signIn(e.Address)
		}
		e.Hint = "Open the page in a browser to check the address."
	case WrongKind:
		e.What, e.Hint = "This address is not a page. "+e.What, "Enter the address of a page."
	case TooLarge:
		e.What, e.Hint = fmt.Sprintf("The page has more than %d MB.", PageMost>>20), "Paste only the HTML around the place for the widget."
	case Inside:
		e.Hint = "Enter the public address of the page, or paste its HTML."
	case Late:
		e.Hint = "Try again later, or paste its HTML."
	}
	return e
}

func signIn(at string) *Error {
	return &Error{Reason: SignIn, Address: at, What: "This page requires a sign-in, so the service cannot fetch it.", Hint: "Open it in your browser, copy its source, and paste the source."}
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
