package public

import (
	"github.com/gofiber/fiber/v3"
)

// tried answers with somebody's page that a snippet was put into, for a frame of the console.
// It is a page of nobody: in a sandbox without an origin, so that nothing in it can reach what
// else the service serves, under the page's own content policy.
func (d *door) tried(c fiber.Ctx) error {
	page := d.Modules.TriedPage(c.Params("token"))
	c.Set("Cache-Control", "no-store")
	c.Set("Referrer-Policy", "no-referrer")
	c.Set("X-Robots-Tag", "noindex")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Content-Type", htmlType)
	if page == nil {
		c.Set("Content-Security-Policy", "sandbox; default-src 'none'; style-src 'unsafe-inline'")
		return c.Status(fiber.StatusNotFound).SendString(nothingTried)
	}
	if c.Query("still") != "" {
		c.Set("Content-Security-Policy", "sandbox allow-popups; script-src 'none'")
		return c.SendString(page.Still)
	}
	fence := "sandbox allow-scripts allow-popups allow-forms"
	if page.Policy != "" {
		fence += ", " + page.Policy // two policies, both of which must allow
	}
	c.Set("Content-Security-Policy", fence)
	return c.SendString(page.Live)
}

const nothingTried = `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>Nothing here</title>
<style>body{margin:0;padding:24px;font:15px/1.5 system-ui,sans-serif;color:#44546a;background:#f6f8f7}</style>
<p>The page that was tried is kept for half an hour. Try it again.</p></html>
`
