package public

import (
	"context"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
)

// Push takes what WebSub hubs send about sources.
type Push interface {
	ConfirmPush(ctx context.Context, token, mode, topic string, lease int) bool
	ReceivePush(ctx context.Context, token, signature string, body []byte) (known bool)
}

// pushMost is the largest content that a hub can send, in bytes. Nobody else can send that much.
const pushMost = 8 << 20

const pushPath = "/hub/"

// roomForPushes lets hubs send more than others.
func roomForPushes(s *fasthttp.Server) {
	s.HeaderReceived = func(h *fasthttp.RequestHeader) (c fasthttp.RequestConfig) {
		if h.IsPost() && strings.HasPrefix(string(h.RequestURI()), pushPath) {
			c.MaxRequestBodySize = pushMost
		}
		return c
	}
}

// confirmPush answers the verification of a subscription (WebSub, section 5.3).
func (d *door) confirmPush(c fiber.Ctx) error {
	lease, _ := strconv.Atoi(c.Query("hub.lease_seconds"))
	if !d.Push.ConfirmPush(c, c.Params("token"), c.Query("hub.mode"), c.Query("hub.topic"), lease) {
		return fiber.ErrNotFound
	}
	c.Set("Content-Type", "text/plain; charset=utf-8")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	return c.SendString(c.Query("hub.challenge"))
}

// receivePush takes the content of a topic (WebSub, section 7).
func (d *door) receivePush(c fiber.Ctx) error {
	if !d.Push.ReceivePush(c, c.Params("token"), c.Get("X-Hub-Signature"), c.Body()) {
		return c.SendStatus(fiber.StatusGone) // the hub then ends the subscription
	}
	return c.SendStatus(fiber.StatusAccepted)
}
