package public

import (
	"context"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/maypok86/otter/v2"

	"glasspocket/internal/app"
	"glasspocket/internal/remote"
)

// A picture is drawn at most once in so long, however many open the mail.
const picturesFor = 10 * time.Second

const picturesKept = 500

type pictures struct {
	drawn *otter.Cache[string, []byte]
}

func newPictures() pictures {
	return pictures{otter.Must(&otter.Options[string, []byte]{MaximumSize: picturesKept, ExpiryCalculator: otter.ExpiryWriting[string, []byte](picturesFor)})}
}

// picture answers /p/KEY.png: the pocket as it is now, for mails.
func (d *door) picture(c fiber.Ctx, key string) error {
	if !app.IsKey(key) {
		return fiber.ErrNotFound
	}
	png, kept := d.pictures.drawn.GetIfPresent(key)
	if !kept {
		if !d.asking.Allow(remote.Network(d.Proxies.Address(c))) {
			c.Set("Retry-After", "1")
			return d.problem(c, fiber.StatusTooManyRequests, "asked-too-often", "Your network requests too many images.", "Try again in a second.")
		}
		var err error
		png, err = d.pictures.drawn.Get(c, key, otter.LoaderFunc[string, []byte](func(ctx context.Context, key string) ([]byte, error) {
			defer d.asking.Turn()()
			return d.Modules.Picture(ctx, key)
		}))
		if err != nil {
			return err
		}
	}
	if png == nil {
		return d.problem(c, fiber.StatusNotFound, "no-picture", "There is no image of “"+key+"”.", "Check the key, or publish the pocket. Some scripts cannot be drawn; the text next to the image says the same.")
	}
	c.Set("Content-Type", "image/png")
	c.Set("Content-Length", strconv.Itoa(len(png)))
	// Mail programs keep pictures as long as they are let.
	c.Set("Cache-Control", "no-cache, max-age=0")
	c.Set("Cross-Origin-Resource-Policy", "cross-origin")
	c.Set("X-Content-Type-Options", "nosniff")
	return c.Send(png)
}
