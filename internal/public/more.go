package public

import (
	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/remote"
	"glasspocket/internal/render"
)

// pageOf reads which page of a list a request is for.
func pageOf(c fiber.Ctx) (render.PageOf, bool) {
	args := c.RequestCtx().QueryArgs()
	return render.ReadPageOf(func(name string) string { return string(args.Peek(name)) })
}

// moderate limits how many pages of lists one network can have rendered. Those in memory are free.
func (d *door) moderate(c fiber.Ctx) func() error {
	return func() error {
		if !d.asking.Allow(remote.Network(d.Proxies.Address(c))) {
			return errTooOften
		}
		return nil
	}
}

var errTooOften = fiber.NewError(fiber.StatusTooManyRequests)

// more serves /more/KEY?…: the next items of a list, as a fragment.
func (d *door) more(c fiber.Ctx) error {
	key := c.Params("key")
	of, ok := pageOf(c)
	if !ok || !delivery.IsKey(key) {
		return fiber.ErrNotFound
	}
	served, err := d.Shelf.Get(c, key, render.JSON)
	if err != nil {
		return err
	}
	if served.Document == nil {
		return d.nothing(c, key, render.JSON, served.Withheld)
	}
	fragment, err := d.Delivery.More(c, key, of, false, d.moderate(c))
	if err != nil {
		return d.tooOften(c, err)
	}
	if fragment == nil {
		return d.nothing(c, key, render.JSON, false)
	}
	return d.send(c, fragment, jsonType, briefly)
}

// tooOften responds to a network that had too many pages rendered.
func (d *door) tooOften(c fiber.Ctx, err error) error {
	if err != errTooOften { //nolint:errorlint // it is that very value
		return err
	}
	c.Set("Retry-After", "1")
	return d.problem(c, fiber.StatusTooManyRequests, "asked-too-often", "Your network requests too many pages of lists.", "Try again in a second.")
}
