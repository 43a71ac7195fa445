package manage

import (
	"context"
	"slices"
	"strings"
	"time"

	"github.com/valyala/fasthttp"

	"glasspocket/internal/app/access"
)

// StrangersMost is the largest body of a request by somebody who is not signed in. Bodies are kept
// in memory until they are complete, so strangers must not send large ones.
const StrangersMost = 64 << 10

// bodyLimit decides how large a body may be, before any of it is read.
func (d *door) bodyLimit(h *fasthttp.RequestHeader) (c fasthttp.RequestConfig) {
	if n := h.ContentLength(); n >= 0 && n <= StrangersMost { // a chunked body has no length
		return c
	}
	c.MaxRequestBodySize = StrangersMost
	if !slices.Contains(d.Hosts, strings.ToLower(string(h.Host()))) {
		return c
	}
	ctx, done := context.WithTimeout(context.Background(), 10*time.Second)
	defer done()
	token, session, begun := bearerIn(string(h.Peek("Authorization"))), string(h.Cookie(d.cookie())), string(h.Cookie(d.guestCookie()))
	var err error
	switch {
	case token != "":
		_, err = d.App.Users.ByToken(ctx, token)
	case session != "":
		_, _, err = d.App.Users.Session(ctx, session, false)
	case begun != "":
		if _, err = d.App.Guests.Scope(ctx, begun); err == nil {
			c.MaxRequestBodySize = SettingsMost
		}
		return c
	default:
		return c
	}
	if err == nil {
		c.MaxRequestBodySize = BodyMost
	}
	return c
}

// tooLargeFor refuses a body by its size. The message for somebody who is not signed in says so.
func (d *door) tooLargeFor(scope access.Scope, err error) error {
	switch {
	case err != nil:
		return err
	case scope.Role == access.Guest && scope.Key == "":
		return access.AccountNeeded()
	case scope.Role == access.Guest:
		return tooLarge(SettingsMost)
	}
	return tooLarge(BodyMost)
}
