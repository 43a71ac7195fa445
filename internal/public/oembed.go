package public

import (
	"fmt"
	"html"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
)

// The default size of an embedded pocket, in CSS pixels.
const (
	embedWidth  = 640
	embedHeight = 320
)

// oembed serves GET /oembed?url=BASE/p/KEY for hosts that show previews of links (oEmbed 1.0): a
// frame with the pocket's page.
func (d *door) oembed(c fiber.Ctx) error {
	if format := c.Query("format"); format != "" && format != "json" {
		// The status follows oEmbed 1.0, section 2.3.4.
		return d.problem(c, fiber.StatusNotImplemented, "no-such-format", "The requested format is not available.", "Leave format out, or use format=json.")
	}
	address, err := url.Parse(c.Query("url"))
	if err != nil {
		return fiber.ErrNotFound
	}
	key, ok := strings.CutPrefix(address.Scheme+"://"+address.Host+address.Path, d.Site.Base+"/p/")
	if !ok || !delivery.IsKey(key) {
		return d.problem(c, fiber.StatusNotFound, "no-such-page", "This address is not a pocket's page.", "Use url="+d.Site.Base+"/p/KEY.")
	}
	about, err := d.Delivery.AboutPage(c, key)
	if err != nil {
		return err
	}
	if about == nil {
		return d.problem(c, fiber.StatusNotFound, "not-published", "Nothing is published under “"+key+"”.", "Check the key, or publish the pocket.")
	}
	size := func(name string, usual int) int {
		if n, err := strconv.Atoi(c.Query(name)); err == nil && n > 0 {
			return min(n, usual)
		}
		return usual
	}
	answer := fiber.Map{"version": "1.0", "type": "link", "title": about.Title, "provider_name": "Glass Pocket", "provider_url": d.Site.Base, "cache_age": delivery.VisitorsKeep}
	if about.Frames { // pop-ups and widgets that wrap the page's content cannot be framed
		width := size("maxwidth", embedWidth)
		height := about.Height(width)
		if height == 0 {
			height = embedHeight
		}
		height = size("maxheight", height)
		answer["type"], answer["width"], answer["height"] = "rich", width, height
		answer["html"] = fmt.Sprintf(`<iframe src="%s/p/%s" title="%s" width="%d" height="%d" style="border:0;max-width:100%%" loading="lazy"></iframe>`, d.Site.Base, key, html.EscapeString(about.Title), width, height)
	}
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("Cache-Control", briefly)
	return c.JSON(answer)
}
