package public

import (
	"fmt"
	"html"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
)

// report serves /report?key=KEY: how to report a misleading or harmful page to the operator.
func (d *door) report(c fiber.Ctx) error {
	key := c.Query("key")
	if !delivery.IsKey(key) {
		return d.problem(c, fiber.StatusNotFound, "no-such-page", "This is not the key of a pocket.", "Use the link on the page that you want to report.")
	}
	page := d.Site.Base + "/p/" + key
	how := fmt.Sprintf("Write to the operator of <b>%s</b> and include this address.", html.EscapeString(strings.TrimPrefix(strings.TrimPrefix(d.Site.Base, "https://"), "http://")))
	if d.ReportTo != "" {
		to := d.ReportTo
		if strings.HasPrefix(to, "mailto:") {
			to += "?subject=" + url.PathEscape("Report of "+page)
		}
		how = fmt.Sprintf(`<a href="%s">Write to the operator</a>. Say what is wrong with it, and include this address.`, html.EscapeString(to))
	}
	c.Set("Content-Security-Policy", "sandbox allow-top-navigation-by-user-activation allow-popups; default-src 'none'; style-src 'unsafe-inline'; form-action 'none'; base-uri 'none'; frame-ancestors 'none'")
	c.Set("X-Robots-Tag", "noindex")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", briefly)
	c.Set("Content-Type", htmlType)
	return c.SendString(fmt.Sprintf(reportPage, html.EscapeString(page), how))
}

const reportPage = `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>Report a page</title>
<style>body{margin:0 auto;max-width:36rem;padding:48px 24px;font:16px/1.6 system-ui,sans-serif;color:#17233a;background:#f6f8f7}h1{font-size:22px;line-height:1.3}code{overflow-wrap:anywhere}a{color:#0b6b63}</style>
<h1>Report a page</h1>
<p>You are reporting <code>%s</code>. A customer of this service published it; the operator can take it offline at once.</p>
<p>%s</p></html>
`
