package public

import (
	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/meter"
	"glasspocket/internal/remote"
	"glasspocket/internal/render"
)

type asking struct {
	*remote.Limits
	route *meter.Route
}

// given serves /s/KEY.json?NAME=VALUE&…, which no cache stores.
func (d *door) given(c fiber.Ctx) error {
	key, query := c.Params("file"), c.RequestCtx().URI().QueryString()
	key = key[:len(key)-len(".json")]
	if len(query) > delivery.GivenBytesMost {
		return d.problem(c, fiber.StatusBadRequest, "query-too-long", "The values that the page sets exceed 512 bytes.", "Set fewer or shorter values, or make a separate pocket for this page.")
	}
	if !d.asking.Allow(remote.Network(d.Proxies.Address(c))) {
		c.Set("Retry-After", "1")
		return d.problem(c, fiber.StatusTooManyRequests, "asked-too-often", "Your network requests too many pockets with page settings.", "Try again in a second.")
	}
	var given []delivery.Given
	c.RequestCtx().QueryArgs().All()(func(name, value []byte) bool {
		given = append(given, delivery.Given{Name: string(name), Value: string(value)})
		return true
	})
	answer, err := func() (*render.Encoded, error) {
		defer d.asking.Turn()()
		return d.Delivery.ServeGiven(c, key, given)
	}()
	if err != nil {
		return err
	}
	if answer == nil {
		served, err := d.Shelf.Get(c, key, render.JSON)
		if err != nil {
			return err
		}
		return d.nothing(c, key, render.JSON, served.Withheld)
	}
	return d.send(c, answer, jsonType, "no-store")
}

// askedOf reports whether a request for a payload has overrides.
func askedOf(c fiber.Ctx) bool { return len(c.RequestCtx().URI().QueryString()) > 0 }
