package public

import (
	"context"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/source"
)

// Ages tells how current the items of a published pocket are.
type Ages interface {
	Ages(ctx context.Context, key string) ([]source.Age, error)
}

// ages answers the report that a page's owner asks for.
func (d *door) ages(c fiber.Ctx) error {
	key := c.Params("key")
	if !delivery.IsKey(key) {
		return fiber.ErrNotFound
	}
	list, err := d.Ages.Ages(c, key)
	if err != nil {
		return err
	}
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"sources": append([]source.Age{}, list...)})
}
