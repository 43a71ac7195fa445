package public

import (
	"net/netip"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// tried serves somebody's page with a snippet in it, for a frame of the console. It is sandboxed
// without an origin, so that nothing in it can access what else the service serves, and has the
// page's own content policy.
func (d *door) tried(c fiber.Ctx) error {
	page := d.Delivery.TriedPage(c.Params("token"))
	if !d.framed(c) {
		page = nil
	}
	ancestors := "frame-ancestors " + strings.Join(d.Console, " ")
	c.Set("Cache-Control", "no-store")
	c.Set("Referrer-Policy", "no-referrer")
	c.Set("X-Robots-Tag", "noindex")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Content-Type", htmlType)
	if page == nil {
		c.Set("Content-Security-Policy", "sandbox; default-src 'none'; style-src 'unsafe-inline'; "+ancestors)
		return c.Status(fiber.StatusNotFound).SendString(nothingTried)
	}
	if c.Query("still") != "" {
		c.Set("Content-Security-Policy", "sandbox allow-popups; script-src 'none'; "+ancestors)
		return c.SendString(page.Still)
	}
	fence := "sandbox allow-scripts allow-popups; form-action 'none'; " + ancestors
	if page.Policy != "" {
		fence += ", " + page.Policy // two policies, both of which must allow a request
	}
	c.Set("Content-Security-Policy", fence)
	return c.SendString(page.Live)
}

// framed reports whether the response goes into a frame; frame-ancestors then restricts it to the
// console. Opened on its own, somebody's page with scripts would appear at the operator's address.
// Supported browsers send Sec-Fetch-Dest, except over plain HTTP to other machines.
func (d *door) framed(c fiber.Ctx) bool {
	dest := c.Get("Sec-Fetch-Dest")
	return dest == "iframe" || dest == "" && d.plain
}

// plainly reports whether browsers reach an address over HTTP on another machine.
func plainly(base string) bool {
	u, err := url.Parse(base)
	if err != nil || u.Scheme != "http" {
		return false
	}
	at, err := netip.ParseAddr(u.Hostname())
	return u.Hostname() != "localhost" && !(err == nil && at.IsLoopback())
}

const nothingTried = `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>Nothing here</title>
<style>body{margin:0;padding:24px;font:15px/1.5 system-ui,sans-serif;color:#4d5d74;background:#f6f8f7}</style>
<p>Pages on trial are kept for half an hour and open only in the console. Try the page again there.</p></html>
`
