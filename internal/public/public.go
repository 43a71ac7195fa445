// Package public is the listener for visitors: scripts, payloads, pages and assets. It reads only
// from memory and from the interfaces below, never from the database itself.
package public

import (
	"context"
	"crypto/rand"
	"log/slog"
	"maps"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/utils/v2"
	"github.com/maypok86/otter/v2"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/header"
	"glasspocket/internal/meter"
	"glasspocket/internal/problem"
	"glasspocket/internal/remote"
	"glasspocket/internal/render"
	"glasspocket/loader"
)

// Shelf returns what visitors receive under a key.
type Shelf interface {
	Get(ctx context.Context, key string, part render.Part) (*delivery.Served, error)
}

// Delivery makes and finds everything else that visitors receive. It gets and returns plain values,
// so that the pockets can be on another machine. It is implemented by delivery.Delivery.
type Delivery interface {
	Module(ctx context.Context, digest string) ([]byte, error) // the script of a release
	AssetFile(ctx context.Context, digest, name string) (file string, err error)
	FileBytes(ctx context.Context, file string) ([]byte, error)
	SealedScript(ctx context.Context, digest, key string) ([]byte, error) // brotli
	Image(ctx context.Context, key string) ([]byte, error)                // PNG
	TriedPage(token string) *delivery.TriedPage
	AboutPage(ctx context.Context, key string) (*delivery.About, error)
	Ages(ctx context.Context, key string) ([]delivery.Age, error)
	Calendar(ctx context.Context, key, id string) ([]byte, error)
	More(ctx context.Context, key string, of render.PageOf, whole bool, moderate func() error) (*render.Encoded, error)
	ServeGiven(ctx context.Context, key string, given []delivery.Given) (*render.Encoded, error)
}

// Options are the parts of the listener. All are required.
type Options struct {
	Shelf    Shelf
	Delivery Delivery
	Push     Push
	Proxies  remote.Proxies
	Site     *render.Site
	Shell    Shell
	ReportTo string            // the operator's mailto: or web address for reports; "" for none
	Console  []string          // the console's origins, which may show tried pages in a frame
	Later    map[string]string // modules that the loader loads when it needs them, by name
	Beside   map[string]string // scripts that pages use instead of the loader or in addition to it, by name
	Now      func() time.Time
	Meter    *meter.Meter
	// Connections is how many may be open at once; one more receives 503. 0 is fasthttp's own
	// limit.
	Connections int
	Log         *slog.Logger
}

// Shell has the scripts of the previews' blank pages: Script for a pocket, Worktop for a widget
// under development, Gallery for many starters.
type Shell struct{ Script, Worktop, Gallery string }

// Cache-Control values. Every visitor receives a publication within a minute. If the service cannot
// respond, visitors keep what they have for a week.
var briefly = "max-age=" + strconv.Itoa(delivery.VisitorsKeep) + ", stale-if-error=604800"

const forever = "public, max-age=31536000, immutable"

const (
	javascript = "text/javascript; charset=utf-8"
	jsonType   = "application/json"
	htmlType   = "text/html; charset=utf-8"
)

// modulesKept is how many compressed scripts of releases stay in memory.
const modulesKept = 500

// gzipsBytes limits the documents in gzip that are kept.
const gzipsBytes = 16 << 20

type door struct {
	Options
	pageFence, shellFence string
	script, payload       *meter.Route
	asking                asking
	plain                 bool // see framed
	images                images
	modules               *otter.Cache[string, *render.Encoded] // by the digest of a release
	gzips                 *otter.Cache[string, []byte]          // by the ETag of a document
	encoding              sync.Mutex
	files                 *files
}

// New returns the public listener's Fiber app.
func New(o Options) *fiber.App {
	d := &door{Options: o}
	d.pageFence = "sandbox allow-scripts allow-popups allow-popups-to-escape-sandbox allow-top-navigation-by-user-activation; default-src 'none'; script-src " + o.Site.Base +
		"; style-src 'unsafe-inline'; img-src data: " + o.Site.Base + "; media-src " + o.Site.Base + "; font-src " + o.Site.Base + "; connect-src " + o.Site.Base + "; form-action 'none'"
	d.shellFence = "sandbox allow-scripts; default-src 'none'; script-src " + o.Site.Base + "; style-src 'unsafe-inline'; img-src data: " + o.Site.Base + "; media-src " + o.Site.Base + "; font-src " + o.Site.Base + "; connect-src " + o.Site.Base + "; form-action 'none'; base-uri 'none'"
	other := o.Meter.Route("public", "other")
	f := fiber.New(fiber.Config{
		AppName: "Glass Pocket", Immutable: true, Concurrency: o.Connections, ReadBufferSize: 16 << 10, BodyLimit: 64 << 10,
		ReadTimeout: 15 * time.Second, WriteTimeout: 30 * time.Second, IdleTimeout: 75 * time.Second,
		DisableHeadAutoRegister: false, ErrorHandler: func(c fiber.Ctx, err error) error { // for requests without a route
			return d.count(other, c, func(fiber.Ctx) error { return err })
		},
	})
	f.Use(recover.New(remote.Panics(o.Log, "public")), func(c fiber.Ctx) error {
		if remote.Compressed(c) {
			return d.count(other, c, func(c fiber.Ctx) error {
				c.Set(fiber.HeaderAcceptEncoding, "identity") // RFC 9110, section 15.5.16
				return d.problem(c, fiber.StatusUnsupportedMediaType, "body-compressed", "The request's body is compressed.", "Send it without Content-Encoding.")
			})
		}
		if c.Method() == fiber.MethodOptions { // valid for any address; only a GET tells what is there
			return d.count(other, c, preflight)
		}
		return c.Next()
	})
	get := func(path, route string, h fiber.Handler) { f.Get(path, d.counted(o.Meter.Route("public", route), h)) }
	fixed := func(path string, plain []byte, kind string, more ...func(fiber.Ctx)) {
		e := render.OnRequest(plain)
		get(path, path, func(c fiber.Ctx) error {
			for _, set := range more {
				set(c)
			}
			return d.send(c, e(), kind, briefly)
		})
	}
	fenced := func(fence string) func(fiber.Ctx) {
		return func(c fiber.Ctx) { c.Set("Content-Security-Policy", fence) }
	}
	d.script, d.payload = o.Meter.Route("public", "/s/KEY.js"), o.Meter.Route("public", "/s/KEY.json")
	d.files = newFiles(func(ctx context.Context, digest string) ([]byte, error) { return o.Delivery.FileBytes(ctx, digest) })
	d.images, d.plain = newImages(), plainly(o.Site.Base)
	d.modules = otter.Must(&otter.Options[string, *render.Encoded]{MaximumSize: modulesKept})
	d.gzips = otter.Must(&otter.Options[string, []byte]{MaximumWeight: gzipsBytes, Weigher: func(_ string, b []byte) uint32 { return uint32(len(b)) + 128 }})
	d.asking = asking{remote.NewLimits(), o.Meter.Route("public", "/s/KEY.json?")}
	f.Get("/s/:file", d.pocket)
	get("/p/:key", "/p/KEY", d.page)
	get("/more/:key", "/more/KEY", d.more)
	fixed("/loader.js", o.Site.Loader(), javascript)
	scripts := maps.Clone(o.Later)
	maps.Copy(scripts, o.Beside)
	for name, code := range scripts {
		fixed("/"+name+".js", []byte(code), javascript)
	}
	pushes := o.Meter.Route("public", pushPath+"TOKEN")
	f.Get(pushPath+":token", d.counted(pushes, d.confirmPush))
	f.Post(pushPath+":token", d.counted(pushes, d.receivePush))
	roomForPushes(f.Server())
	get("/ages/:key", "/ages/KEY", d.ages)
	get("/t", "/t", d.time)
	get("/report", "/report", d.report)
	get("/oembed", "/oembed", d.oembed)
	get("/tries/:token", "/tries/TOKEN", d.tried)
	get("/a/:digest/:name", "/a/DIGEST/NAME", d.asset)
	fixed("/preview", loader.PreviewPage, htmlType, fenced(d.shellFence))
	fixed("/preview.js", []byte(o.Shell.Script), javascript)
	fixed("/gallery", loader.GalleryPage, htmlType, fenced(d.shellFence))
	fixed("/gallery.js", []byte(o.Shell.Gallery), javascript)
	// The author's files come over the message channel, and run from memory.
	fixed("/worktop", loader.WorktopPage, htmlType, fenced(strings.Replace(d.shellFence, "script-src ", "script-src blob: ", 1)))
	fixed("/worktop.js", []byte(o.Shell.Worktop), javascript)
	f.Get("/healthz", func(c fiber.Ctx) error { return c.SendString("ok\n") })
	return f
}

// preflight answers the request that browsers make before one with custom fields
// (https://fetch.spec.whatwg.org/#cors-preflight-fetch).
func preflight(c fiber.Ctx) error {
	c.Set("Allow", "GET, HEAD, OPTIONS")
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("Access-Control-Allow-Methods", "GET, HEAD, OPTIONS")
	c.Set("Access-Control-Allow-Headers", "*")
	c.Set("Access-Control-Max-Age", "86400")
	return c.SendStatus(fiber.StatusNoContent)
}

func (d *door) counted(r *meter.Route, h fiber.Handler) fiber.Handler {
	return func(c fiber.Ctx) error { return d.count(r, c, h) }
}

// count runs a handler and counts its response. It converts errors to responses, so that they are
// counted as such.
func (d *door) count(r *meter.Route, c fiber.Ctx, h fiber.Handler) error {
	start := time.Now()
	err := h(c)
	if err != nil {
		err = d.failed(c, err)
	}
	r.Observe(c.Response().StatusCode(), time.Since(start))
	return err
}

// pocket is the hot path: /s/KEY.js and /s/KEY.json. It reads the request in place, and copies the
// key only if it is not cached.
func (d *door) pocket(c fiber.Ctx) error {
	start := time.Now()
	path := utils.UnsafeString(c.RequestCtx().Path())
	key, kind, _ := strings.Cut(strings.TrimPrefix(path, "/s/"), ".")
	route, part, contentType := d.script, render.Script, javascript
	if kind == "json" {
		route, part, contentType = d.payload, render.JSON, jsonType
	}
	if kind != "js" && kind != "json" || !delivery.IsKey(key) {
		return d.count(route, c, func(fiber.Ctx) error { return fiber.ErrNotFound })
	}
	if part == render.JSON && askedOf(c) {
		return d.count(d.asking.route, c, d.given)
	}
	served, err := d.Shelf.Get(c, key, part)
	if err != nil || served.Document == nil {
		return d.count(route, c, d.without(key, part, served, err))
	}
	err = d.send(c, served.Document, contentType, briefly)
	route.Observe(c.RequestCtx().Response.StatusCode(), time.Since(start))
	return err
}

// without responds for a key that could not be looked up, or has nothing to show.
func (d *door) without(key string, part render.Part, served *delivery.Served, err error) fiber.Handler {
	return func(c fiber.Ctx) error {
		if err != nil {
			return err
		}
		return d.nothing(c, strings.Clone(key), part, served.Withheld)
	}
}

// nothing responds for a key that has nothing to show.
func (d *door) nothing(c fiber.Ctx, key string, part render.Part, withheld bool) error {
	switch {
	case part == render.Script:
		gone := render.Encode(d.Site.Gone(key, withheld))
		return d.send(c, &gone, javascript, briefly)
	case withheld:
		return d.problem(c, fiber.StatusNotFound, "withheld", "“"+key+"” is withheld by its operator.", "Ask the operator.")
	}
	return d.problem(c, fiber.StatusNotFound, "not-published", "Nothing is published under “"+key+"”.", "Check the key, or publish the pocket.")
}

func (d *door) page(c fiber.Ctx) error {
	// All pockets' pages share an origin, so none of them may install a service worker.
	if c.Get("Service-Worker") != "" {
		return c.SendStatus(fiber.StatusForbidden)
	}
	key := c.Params("key")
	if named, ok := strings.CutSuffix(key, ".png"); ok {
		return d.image(c, named)
	}
	if named, ok := strings.CutSuffix(key, ".ics"); ok {
		return d.calendar(c, named)
	}
	served := &delivery.Served{}
	if delivery.IsKey(key) {
		var err error
		if served, err = d.Shelf.Get(c, key, render.Page); err != nil {
			return err
		}
	}
	fence := d.pageFence
	if served.Ancestors != "" {
		fence += "; frame-ancestors " + served.Ancestors
	}
	c.Set("Content-Security-Policy", fence)
	c.Set("X-Robots-Tag", "noindex")
	if served.Document == nil {
		c.Status(fiber.StatusNotFound).Set("Content-Type", htmlType)
		c.Set("Cache-Control", "max-age=60")
		return c.SendString(nothingHere)
	}
	if of, ok := pageOf(c); ok {
		page, err := d.Delivery.More(c, key, of, true, d.moderate(c))
		if err != nil {
			return d.tooOften(c, err)
		}
		if page != nil {
			return d.send(c, page, htmlType, briefly)
		}
	}
	if at, ok := standing(c); ok {
		return d.stand(c, served.Document, at)
	}
	return d.send(c, served.Document, htmlType, briefly)
}

// screenMost is the largest width and height of a screen, in CSS pixels.
const screenMost = 7680

// standing reads the layout of a page from the query. It ignores invalid values, because a visitor
// could not correct them.
func standing(c fiber.Ctx) (at render.Standing, asked bool) {
	query := c.RequestCtx().QueryArgs()
	if query.Len() == 0 {
		return at, false
	}
	size := func(name string) int {
		n, err := strconv.Atoi(string(query.Peek(name)))
		if err != nil || n < 1 || n > screenMost {
			return 0
		}
		return n
	}
	at = render.Standing{Width: size("w"), Height: size("h")}
	if colour := string(query.Peek("background")); len(colour) == 6 && strings.Trim(colour, "0123456789abcdef") == "" {
		at.Background = colour
	}
	return at, at != render.Standing{}
}

// stand serves a page in that layout, which is made for each request.
func (d *door) stand(c fiber.Ctx, page *render.Encoded, at render.Standing) error {
	for _, fixed := range fixedHeaders {
		c.Response().Header.SetCanonical(fixed[0], fixed[1])
	}
	c.Set("Cache-Control", briefly)
	c.Set("Content-Type", htmlType)
	return c.Send(render.Stand(page.Plain(), at))
}

// time serves the service's clock: milliseconds since 1970, as text, never cached.
func (d *door) time(c fiber.Ctx) error {
	c.Set("Cache-Control", "no-store")
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("Cross-Origin-Resource-Policy", "cross-origin")
	c.Set("Content-Type", "text/plain; charset=utf-8")
	return c.SendString(strconv.FormatInt(d.Now().UnixMilli(), 10))
}

// fixedHeaders are the headers of every document, in canonical form, so that none need a lookup.
// Page owners may measure what a pocket costs (Timing-Allow-Origin).
var fixedHeaders = [][2][]byte{
	{[]byte("Vary"), []byte("Accept-Encoding")},
	{[]byte("Access-Control-Allow-Origin"), []byte("*")},
	{[]byte("Cross-Origin-Resource-Policy"), []byte("cross-origin")},
	{[]byte("Timing-Allow-Origin"), []byte("*")},
	{[]byte("X-Content-Type-Options"), []byte("nosniff")},
}

var (
	etag, cacheControl, contentEncoding = []byte("Etag"), []byte("Cache-Control"), []byte("Content-Encoding")
	br, gz                              = []byte("br"), []byte("gzip")
)

// send responds with the best coding that the client accepts, or with 304.
func (d *door) send(c fiber.Ctx, e *render.Encoded, contentType, cache string) error {
	ctx := c.RequestCtx()
	h := &ctx.Response.Header
	for _, fixed := range fixedHeaders {
		h.SetCanonical(fixed[0], fixed[1])
	}
	h.SetCanonical(etag, utils.UnsafeBytes(e.ETag))
	h.SetCanonical(cacheControl, utils.UnsafeBytes(cache))
	// Peek first: it is cheaper, and most requests do not have this field.
	if first := ctx.Request.Header.Peek(fiber.HeaderIfNoneMatch); len(first) > 0 && header.ReadTags(ctx.Request.Header.PeekAll(fiber.HeaderIfNoneMatch)).Has(e.ETag) {
		return c.SendStatus(fiber.StatusNotModified)
	}
	h.SetContentType(contentType)
	switch header.CodingOf(&ctx.Request.Header) {
	case "br":
		h.SetCanonical(contentEncoding, br)
		ctx.Response.SetBodyRaw(e.Brotli)
	case "gzip":
		h.SetCanonical(contentEncoding, gz)
		ctx.Response.SetBodyRaw(d.gzipped(e))
	default:
		ctx.Response.SetBodyRaw(e.Plain())
	}
	return nil
}

// gzipped returns a document in gzip. The most recent ones are kept, in a small cache of their own:
// hardly anybody requests gzip, and the shelf then holds twice as much.
func (d *door) gzipped(e *render.Encoded) []byte {
	if b, ok := d.gzips.GetIfPresent(e.ETag); ok {
		return b
	}
	b := e.Gzip()
	d.gzips.Set(e.ETag, b)
	return b
}

func (d *door) failed(c fiber.Ctx, err error) error {
	if e, ok := err.(*fiber.Error); ok {
		switch e.Code {
		case fiber.StatusNotFound:
			return d.problem(c, e.Code, "no-such-address", "There is nothing at this address.", "See the addresses in docs/public.md.")
		case fiber.StatusMethodNotAllowed:
			return d.problem(c, e.Code, "method-not-allowed", "This address does not accept this method.", "Use GET or HEAD.")
		}
		code, what, hint := remote.Malformed(e.Code)
		return d.problem(c, e.Code, code, what, hint)
	}
	if e, ok := err.(*problem.Error); ok && e.Kind == problem.Invalid {
		hint := e.Hint
		if len(e.Faults) > 0 {
			hint = e.Faults[0].Fix
		}
		return d.problem(c, fiber.StatusBadRequest, e.Code, e.What, hint)
	}
	if e, ok := err.(*problem.Error); ok && e.Kind == problem.NotFound {
		return d.problem(c, fiber.StatusNotFound, e.Code, e.What, e.Hint)
	}
	id := rand.Text()[:12]
	d.Log.Error("request failed", "request", id, "side", "public", "path", c.Path(), "error", err)
	c.Set("X-Request-Id", id)
	return d.problem(c, fiber.StatusServiceUnavailable, "unavailable", "The service cannot answer now.", "Try again in a moment. Details are in the log under request "+id+".")
}

func (d *door) problem(c fiber.Ctx, status int, code, what, hint string) error {
	c.Set("Access-Control-Allow-Origin", "*")
	c.Set("Cache-Control", "max-age=10")
	if status == fiber.StatusTooManyRequests { // other people must not receive it (RFC 6585, section 4)
		c.Set("Cache-Control", "no-store")
	}
	return c.Status(status).JSON(fiber.Map{"type": "about:blank", "title": fiber.NewError(status).Message, "status": status, "code": code, "detail": what, "hint": hint}, "application/problem+json")
}

const nothingHere = `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>Nothing here</title>
<style>body{margin:0;padding:24px;font:15px/1.5 system-ui,sans-serif;color:#4d5d74;background:#f6f8f7}</style>
<p>Nothing is published at this address.</p></html>
`
