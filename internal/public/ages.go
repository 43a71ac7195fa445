package public

import (
	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
)

// ages answers the report that a page's owner asks for.
func (d *door) ages(c fiber.Ctx) error {
	key := c.Params("key")
	if !delivery.IsKey(key) {
		return fiber.ErrNotFound
	}
	list, err := d.Delivery.Ages(c, key)
	if err != nil {
		return err
	}
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"sources": append([]delivery.Age{}, list...)})
}
