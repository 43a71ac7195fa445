package public

import (
	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/remote"
	"glasspocket/internal/render"
)

// calendar serves /p/KEY.ics, the pocket's dates, and /p/KEY.ics?item=ID, one of them (RFC 5545).
func (d *door) calendar(c fiber.Ctx, key string) error {
	if !delivery.IsKey(key) {
		return fiber.ErrNotFound
	}
	if !d.asking.Allow(remote.Network(d.Proxies.Address(c))) {
		return d.tooOften(c, errTooOften)
	}
	file, err := d.Delivery.Calendar(c, key, c.Query("item"))
	if err != nil {
		return err
	}
	if file == nil {
		served, err := d.Shelf.Get(c, key, render.Page)
		if err != nil {
			return err
		}
		return d.nothing(c, key, render.Page, served.Withheld)
	}
	c.Set("Content-Type", "text/calendar; charset=utf-8")
	c.Set("Content-Disposition", `attachment; filename="`+key+`.ics"`)
	c.Set("Cache-Control", briefly)
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("X-Content-Type-Options", "nosniff")
	return c.Send(file)
}
