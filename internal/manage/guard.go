package manage

import (
	"mime"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
	"glasspocket/internal/remote"
)

// guard refuses requests for another host (DNS rebinding), and unsafe ones that a browser sent from
// another origin. Cookies are shared between ports, so the session cookie alone does not prove
// where a request comes from.
func (d *door) guard(c fiber.Ctx) error {
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	if !slices.Contains(d.Hosts, strings.ToLower(string(c.Request().Host()))) {
		return &problem.Error{Kind: problem.Forbidden, Code: "host-unknown", What: "This service does not answer to the host name in the request.", Hint: "Use the service's own address, or start it with -manage-url."}
	}
	if remote.Compressed(c) {
		c.Set(fiber.HeaderAcceptEncoding, "identity") // RFC 9110, section 15.5.16
		return &httpError{fiber.StatusUnsupportedMediaType, "body-compressed", "The request's body is compressed.", "Send it without Content-Encoding."}
	}
	switch c.Method() {
	case fiber.MethodGet, fiber.MethodHead, fiber.MethodOptions:
		return c.Next()
	}
	if bearer(c) == "" && !d.sameOrigin(c) {
		return &problem.Error{Kind: problem.Forbidden, Code: "other-origin", What: "The request came from another origin.", Hint: "Use the console at its own address, or send a token."}
	}
	if len(c.BodyRaw()) > 0 {
		kind, _, _ := mime.ParseMediaType(c.Get("Content-Type"))
		if kind != "application/json" && kind != "application/merge-patch+json" {
			return &httpError{fiber.StatusUnsupportedMediaType, "body-not-json", "The request's body is not JSON.", "Send it with the content type application/json."}
		}
	}
	return c.Next()
}

func (d *door) sameOrigin(c fiber.Ctx) bool {
	if site := c.Get("Sec-Fetch-Site"); site != "" {
		return site == "same-origin"
	}
	scheme := "http://"
	if d.Secure {
		scheme = "https://"
	}
	return c.Get("Origin") == scheme+string(c.Request().Host())
}

func bearer(c fiber.Ctx) string { return bearerIn(c.Get("Authorization")) }

// bearerIn reads the token of an Authorization field (RFC 6750, section 2.1).
func bearerIn(field string) string {
	scheme, token, ok := strings.Cut(field, " ")
	if !ok || !strings.EqualFold(scheme, "bearer") {
		return ""
	}
	return strings.TrimSpace(token)
}

// cookie returns the session cookie's name. Under TLS its prefix binds it to this very host.
func (d *door) cookie() string {
	if d.Secure {
		return "__Host-glass-session"
	}
	return "glass-session"
}

func (d *door) setCookie(c fiber.Ctx, secret string) {
	k := &fiber.Cookie{Name: d.cookie(), Value: secret, Path: "/", HTTPOnly: true, Secure: d.Secure, SameSite: fiber.CookieSameSiteStrictMode, Expires: time.Now().Add(user.SessionLasts)}
	if secret == "" {
		k.Expires = time.Unix(1, 0)
	}
	c.Cookie(k)
}

// scope returns the scope of a request. A token takes precedence over a cookie.
func (d *door) scope(c fiber.Ctx) (access.Scope, error) {
	if token := bearer(c); token != "" {
		return d.App.Users.ByToken(c, token)
	}
	if secret := c.Cookies(d.cookie()); secret != "" {
		// When the console starts, this is its only request: then the secret may change.
		scope, turned, err := d.App.Users.Session(c, secret, c.Method() == fiber.MethodGet && c.Path() == "/api/v1/session")
		if turned != "" {
			d.setCookie(c, turned)
		}
		return scope, err
	}
	// If the gallery is open, somebody without an account may have a guest pocket.
	if open, _ := d.App.Guests.Open(); open {
		if secret := c.Cookies(d.guestCookie()); secret != "" {
			if scope, err := d.App.Guests.Scope(c, secret); err == nil {
				return scope, nil
			}
		}
		return access.Scope{Role: access.Guest, CustomerID: customer.NobodysCustomer, Name: "guest", Client: "console"}, nil
	}
	return access.Scope{}, &problem.Error{Kind: problem.Unauthenticated, Code: "not-signed-in", What: "You are not signed in.", Hint: "Sign in, or send a token as “Authorization: Bearer …”."}
}
