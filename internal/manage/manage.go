// Package manage is the listener for operators, developers and customers: the API under /api/v1,
// and the console, which uses it.
package manage

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"math"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"

	"glasspocket/internal/app"
	"glasspocket/internal/app/access"
	"glasspocket/internal/meter"
	"glasspocket/internal/problem"
	"glasspocket/internal/remote"
	"glasspocket/internal/wire"
)

// BodyMost is the largest request body, in bytes: a whole widget folder in base64, with some room.
const BodyMost = 28 << 20

// SettingsMost is the largest body of a request with a pocket's settings or less, in bytes.
const SettingsMost = 1 << 20

// Options are the parts of the listener. All are required.
type Options struct {
	App     *app.App
	Console fs.FS    // the built console
	Hosts   []string // accepted Host values, with port
	Secure  bool     // the console's address is https
	Proxies remote.Proxies
	Meter   *meter.Meter
	Metrics func() ([]byte, error)      // in the Prometheus text format
	Ready   func(context.Context) error // why the service should receive no requests at present
	// Connections is how many may be open at once; one more receives 503. 0 is fasthttp's own
	// limit.
	Connections int
	Log         *slog.Logger
}

type door struct {
	Options
	openapi []byte
	guests  *remote.Limits
	other   *meter.Route
}

// New returns the manage listener's Fiber app.
func New(o Options) *fiber.App {
	d := &door{Options: o, guests: remote.NewLimits(), other: o.Meter.Route("manage", "other")}
	d.openapi = d.document()
	f := fiber.New(fiber.Config{
		AppName: "Glass Pocket", Immutable: true, Concurrency: o.Connections, ReadBufferSize: 16 << 10, BodyLimit: BodyMost,
		ReadTimeout: 30 * time.Second, WriteTimeout: 30 * time.Second, IdleTimeout: 75 * time.Second,
		ErrorHandler: d.failed,
	})
	f.Server().HeaderReceived = d.bodyLimit
	f.Use(requestIDs, requestid.New(), d.logged, recover.New(remote.Panics(o.Log, "manage")), d.guard)
	f.Get("/healthz", func(c fiber.Ctx) error { return c.SendString("ok\n") })
	f.Get("/readyz", func(c fiber.Ctx) error {
		if err := o.Ready(c); err != nil {
			return c.Status(fiber.StatusServiceUnavailable).SendString(err.Error() + "\n")
		}
		return c.SendString("ready\n")
	})
	f.Get("/metrics", d.metrics)
	f.Get("/api/v1/openapi.json", func(c fiber.Ctx) error {
		c.Set("Content-Type", "application/json")
		return c.Send(d.openapi)
	})
	f.Get("/api/v1/hosts/:name/images/:file", d.hostImage)
	methods := map[string][]string{}
	for _, r := range d.routes() {
		takes := []string{r.method}
		if r.method == fiber.MethodGet {
			takes = append(takes, fiber.MethodHead)
		}
		f.Add(takes, "/api/v1"+r.path, d.handler(r))
		methods[r.path] = append(methods[r.path], takes...)
	}
	for path, takes := range methods {
		f.All("/api/v1"+path, func(c fiber.Ctx) error {
			c.Set("Allow", strings.Join(takes, ", "))
			return fiber.ErrMethodNotAllowed
		})
	}
	f.Use("/api/", func(fiber.Ctx) error { return fiber.ErrNotFound })
	f.Get("/*", d.console())
	return f
}

// requestIDMost is the longest request ID of a proxy in front, in characters.
const requestIDMost = 64

// requestIDs drops a request ID that is too long or unsuitable for a log, so that another one is
// generated.
func requestIDs(c fiber.Ctx) error {
	id := c.Get(fiber.HeaderXRequestID)
	if len(id) > requestIDMost || strings.ContainsFunc(id, func(r rune) bool {
		return !(r >= '0' && r <= '9' || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || strings.ContainsRune("._-", r))
	}) {
		c.Request().Header.Del(fiber.HeaderXRequestID)
	}
	return c.Next()
}

// measured is the key under which a handler records the route of a request.
const measured = "route"

func (d *door) logged(c fiber.Ctx) error {
	start := time.Now()
	err := c.Next()
	if err != nil {
		err = d.failed(c, err)
	}
	route, ok := c.Locals(measured).(*meter.Route)
	if !ok {
		route = d.other
	}
	status, took := c.Response().StatusCode(), time.Since(start)
	route.Observe(status, took)
	level := slog.LevelDebug
	if c.Method() == fiber.MethodPost && c.Path() == "/api/v1/session" && status >= 400 {
		level = slog.LevelWarn // so that attempts to guess passwords are noticed
	}
	d.Log.Log(c, level, "request", "request", requestid.FromContext(c), "side", "manage", "method", c.Method(), "path", c.Path(), "status", status, "took", took, "from", remote.Network(d.Proxies.Address(c)).String())
	return err
}

// metrics requires a token of the operator's, also on this machine: behind a local proxy,
// everybody's requests come from here.
func (d *door) metrics(c fiber.Ctx) error {
	scope, err := d.scope(c)
	if err != nil {
		return err
	}
	if scope.Role == access.Guest {
		return access.AccountNeeded()
	}
	if !scope.Operator() {
		return &problem.Error{Kind: problem.Forbidden, Code: "role-may-not", What: "Only the operator can read the metrics.", Hint: "Use a token with the role operator-admin or developer."}
	}
	text, err := d.Metrics()
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/plain; version=0.0.4; charset=utf-8")
	c.Set("Cache-Control", "no-store")
	return c.Send(text)
}

// statusOf has the status of each kind of error.
var statusOf = map[problem.Kind]int{
	problem.Invalid: 422, problem.Unauthenticated: 401, problem.Forbidden: 403, problem.NotFound: 404,
	problem.Conflict: 409, problem.Precondition: 412, problem.TooMany: 429, problem.Unavailable: 503,
}

// failed converts every error to problem details.
func (d *door) failed(c fiber.Ctx, err error) error {
	p := wire.Problem{Type: "about:blank", Request: requestid.FromContext(c)}
	var refused *problem.Error
	var own *httpError
	var http *fiber.Error
	switch {
	case errors.As(err, &refused):
		p.Status, p.Code, p.Detail, p.Hint, p.Field, p.Faults = statusOf[refused.Kind], refused.Code, refused.What, refused.Hint, refused.Field, refused.Faults
		if refused.Wait > 0 {
			c.Set("Retry-After", strconv.Itoa(int(math.Ceil(refused.Wait.Seconds()))))
		}
	case errors.As(err, &own):
		p.Status, p.Code, p.Detail, p.Hint = own.status, own.code, own.what, own.hint
	case errors.As(err, &http):
		p.Status = http.Code
		p.Code, p.Detail, p.Hint = remote.Malformed(http.Code)
		switch http.Code {
		case fiber.StatusNotFound:
			p.Code, p.Detail, p.Hint = "no-such-address", "There is nothing at this address.", "See /api/v1/openapi.json for the addresses."
		case fiber.StatusMethodNotAllowed:
			p.Code, p.Detail, p.Hint = "method-not-allowed", "This address does not accept this method.", "The Allow field lists those that it accepts."
		case fiber.StatusRequestEntityTooLarge:
			scope, err := d.scope(c)
			return d.failed(c, d.tooLargeFor(scope, err))
		}
	case errors.Is(err, context.DeadlineExceeded):
		p.Status, p.Code, p.Detail, p.Hint = 503, "unavailable", "The service did not answer in time.", "Try again in a moment."
	default:
		d.Log.Error("request failed", "request", p.Request, "side", "manage", "method", c.Method(), "path", c.Path(), "error", err)
		p.Status, p.Code, p.Detail, p.Hint = 500, "internal", "Something went wrong inside the service.", "Search the log for the request's ID."
	}
	p.Title = fiber.NewError(p.Status).Message
	c.Set("Cache-Control", "no-store")
	if p.Status == fiber.StatusUnauthorized {
		c.Set("WWW-Authenticate", `Bearer realm="Glass Pocket"`) // RFC 9110, section 15.5.2
	}
	return c.Status(p.Status).JSON(p, "application/problem+json")
}
