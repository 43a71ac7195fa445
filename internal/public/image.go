package public

import (
	"context"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/maypok86/otter/v2"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/remote"
)

// imagesFor is the shortest time between two drawings of an image, however many people open the
// email.
const imagesFor = 10 * time.Second

const imagesKept = 500

type images struct {
	drawn *otter.Cache[string, []byte]
}

func newImages() images {
	return images{otter.Must(&otter.Options[string, []byte]{MaximumSize: imagesKept, ExpiryCalculator: otter.ExpiryWriting[string, []byte](imagesFor)})}
}

// image serves /p/KEY.png: the pocket at the present moment, for emails.
func (d *door) image(c fiber.Ctx, key string) error {
	if !delivery.IsKey(key) {
		return fiber.ErrNotFound
	}
	png, kept := d.images.drawn.GetIfPresent(key)
	if !kept {
		if !d.asking.Allow(remote.Network(d.Proxies.Address(c))) {
			c.Set("Retry-After", "1")
			return d.problem(c, fiber.StatusTooManyRequests, "asked-too-often", "Your network requests too many images.", "Try again in a second.")
		}
		var err error
		png, err = d.images.drawn.Get(c, key, otter.LoaderFunc[string, []byte](func(ctx context.Context, key string) ([]byte, error) {
			defer d.asking.Turn()()
			return d.Delivery.Image(ctx, key)
		}))
		if err != nil {
			return err
		}
	}
	if png == nil {
		return d.problem(c, fiber.StatusNotFound, "no-image", "There is no image of “"+key+"”.", "Check the key, or publish the pocket. Some scripts cannot be drawn; the text next to the image says the same.")
	}
	c.Set("Content-Type", "image/png")
	c.Set("Content-Length", strconv.Itoa(len(png)))
	// Mail programs store images as long as they may.
	c.Set("Cache-Control", "no-cache, max-age=0")
	c.Set("Cross-Origin-Resource-Policy", "cross-origin")
	c.Set("X-Content-Type-Options", "nosniff")
	return c.Send(png)
}
