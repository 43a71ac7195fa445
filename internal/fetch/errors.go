package fetch

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"net"
	"net/url"
	"strings"
	"time"
)

// Reason is why a request failed.
type Reason string

// The reasons.
const (
	BadAddress Reason = "address-faulty"     // it is not a web address
	Inside     Reason = "address-inside"     // it leads into a private network
	Unreached  Reason = "not-reached"        // nobody answers there
	Untrusted  Reason = "certificate-faulty" // nobody can tell who answers there
	Late       Reason = "too-late"           // it took too long
	TooLarge   Reason = "page-too-large"
	TooFar     Reason = "too-many-redirects"
	WrongKind  Reason = "no-page"         // it has another media type
	Refused    Reason = "page-refused"    // the server answers with an error
	Busy       Reason = "host-busy"       // there are too many requests to the host
	SignIn     Reason = "needs-sign-in"   // it is for signed-in users only
	Elsewhere  Reason = "moved-elsewhere" // it redirects to another host, which must not get the secret
)

// Error says why, in a sentence.
type Error struct {
	Reason  Reason
	Address string // where it happened
	What    string
	Hint    string
	Status  int           // of the response, 0 without one
	After   time.Duration // the server asks to wait this long; 0 if it does not
}

func (e *Error) Error() string { return e.What }

// explained describes an error in a sentence.
func explained(u *url.URL, patience time.Duration, err error) error {
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
			return &Error{Reason: Inside, Address: at, What: what, Hint: "Enter a public address."}
		case Elsewhere:
			return &Error{Reason: Elsewhere, Address: at, What: fmt.Sprintf("%s redirects to %s, which must not get the token.", u.Host, own.Address), Hint: "Enter the new address, with a token for it."}
		case TooFar:
			return &Error{Reason: TooFar, Address: at, What: fmt.Sprintf("Too many redirects (more than %d).", RedirectsMost), Hint: "Open the page in a browser, and copy the address that it shows then."}
		}
		return &Error{Reason: own.Reason, Address: own.Address, What: "The page redirects to an address that is not a web page.", Hint: "Open the page in a browser, and copy the address that it shows then."}
	}
	var slow net.Error
	if errors.Is(err, context.DeadlineExceeded) || errors.As(err, &slow) && slow.Timeout() {
		return &Error{Reason: Late, Address: at, What: fmt.Sprintf("%s did not answer within %d seconds.", u.Host, int(patience.Seconds())), Hint: "Try again later."}
	}
	var certificate *tls.CertificateVerificationError
	if errors.As(err, &certificate) {
		host := u.Host
		if end, err := url.Parse(at); err == nil {
			host = end.Host
		}
		return &Error{Reason: Untrusted, Address: at, What: fmt.Sprintf("The certificate of %s is not valid: %s.", host, strings.TrimPrefix(certificate.Err.Error(), "x509: ")), Hint: "The operator of that server has to renew it."}
	}
	if end, err := url.Parse(at); err == nil && end.Host != u.Host {
		return &Error{Reason: Unreached, Address: at, What: fmt.Sprintf("The page redirects to %s, which does not answer.", at), Hint: "Open the page in a browser, and copy the address that it shows then."}
	}
	return &Error{Reason: Unreached, Address: at, What: fmt.Sprintf("%s does not answer.", u.Host), Hint: "Check the address, and check that the page is online."}
}
