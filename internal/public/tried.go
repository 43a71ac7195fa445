package public

import (
	"net/netip"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// tried answers with somebody's page that a snippet was put into, for a frame of the console.
// It is a page of nobody: in a sandbox without an origin, so that nothing in it can reach what
// else the service serves, under the page's own content policy.
func (d *door) tried(c fiber.Ctx) error {
	page := d.Modules.TriedPage(c.Params("token"))
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
		fence += ", " + page.Policy // two policies, both of which must allow
	}
	c.Set("Content-Security-Policy", fence)
	return c.SendString(page.Live)
}

// framed tells whether the answer goes into a frame; frame-ancestors then lets only the console
// have it. Opened by itself, somebody's page with scripts would stand under the operator's name.
// Browsers that this product supports send Sec-Fetch-Dest, except over plain HTTP to other machines.
func (d *door) framed(c fiber.Ctx) bool {
	dest := c.Get("Sec-Fetch-Dest")
	return dest == "iframe" || dest == "" && d.plain
}

// plainly tells whether browsers reach an address over HTTP on another machine.
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
