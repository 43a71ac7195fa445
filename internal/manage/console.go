package manage

import (
	"io/fs"
	"mime"
	"path"
	"strings"
	"sync"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/header"
	"glasspocket/internal/render"
)

// console serves the built console: files by name, and its page for every other address, since the
// console has its own routes.
func (d *door) console() fiber.Handler {
	type file struct {
		encoded func() render.Encoded
		gzip    func() []byte
		kind    string
	}
	files := map[string]*file{}
	fs.WalkDir(d.Console, ".", func(p string, e fs.DirEntry, err error) error {
		if err == nil && !e.IsDir() {
			if text, err := fs.ReadFile(d.Console, p); err == nil {
				f := &file{encoded: sync.OnceValue(func() render.Encoded { return render.Encode(text) }), kind: mime.TypeByExtension(path.Ext(p))}
				f.gzip = sync.OnceValue(func() []byte { e := f.encoded(); return e.Gzip() })
				files[p] = f
			}
		}
		return nil
	})
	// The preview frame is on the public listener; everything else is ours.
	fence := "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: " + d.App.Base() + "; media-src " + d.App.Base() + "; font-src 'self'; connect-src 'self' " + d.App.Base() + "; frame-src " + d.App.Base() + "; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
	return func(c fiber.Ctx) error {
		name := strings.TrimPrefix(path.Clean(c.Path()), "/")
		f := files[name]
		if f == nil {
			if path.Ext(name) != "" {
				return fiber.ErrNotFound
			}
			if f = files["index.html"]; f == nil {
				return c.Type("html").SendString("<!doctype html><title>Glass Pocket</title><p>This program was built without the console. Run <code>make build</code>.")
			}
		}
		e := f.encoded()
		c.Set("Content-Security-Policy", fence)
		c.Set("ETag", e.ETag)
		c.Set("Vary", "Accept-Encoding")
		if strings.HasPrefix(name, "assets/") {
			c.Set("Cache-Control", "public, max-age=31536000, immutable")
		} else {
			c.Set("Cache-Control", "no-cache")
		}
		if header.ReadTags(c.Request().Header.PeekAll(fiber.HeaderIfNoneMatch)).Has(e.ETag) {
			return c.SendStatus(fiber.StatusNotModified)
		}
		c.Set("Content-Type", f.kind)
		switch coding := header.Coding(c.Request().Header.PeekAll(fiber.HeaderAcceptEncoding)); coding {
		case "br":
			c.Set("Content-Encoding", coding)
			return c.Send(e.Brotli)
		case "gzip":
			c.Set("Content-Encoding", coding)
			return c.Send(f.gzip())
		}
		return c.Send(e.Plain())
	}
}
