package public

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/asset"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
)

// asset serves /a/DIGEST/NAME: the script of a release, or one form of an asset.
func (d *door) asset(c fiber.Ctx) error {
	digest, name := c.Params("digest"), c.Params("name")
	if strings.HasPrefix(name, "mount") && strings.HasSuffix(name, ".js") {
		return d.module(c, digest)
	}
	if key, ok := strings.CutSuffix(name, ".js"); ok {
		return d.sealed(c, digest, key)
	}
	kind := asset.TypeOf(name)
	if kind == "" {
		return fiber.ErrNotFound
	}
	at, err := d.Delivery.AssetFile(c, digest, name)
	if err != nil {
		return err
	}
	file, err := d.files.open(c, at)
	if errors.Is(err, errCrowded) {
		c.Set("Retry-After", "5")
		return d.problem(c, fiber.StatusServiceUnavailable, "too-many-files", "Too many large files are being downloaded at the moment.", "Try again in a few seconds.")
	}
	if err != nil {
		return err
	}
	size := file.Len()
	for _, fixed := range fixedHeaders {
		c.Response().Header.SetCanonical(fixed[0], fixed[1])
	}
	c.Set("Cache-Control", forever)
	c.Set("Content-Type", kind)
	// Opened on its own, an SVG is a document, and must not run scripts either.
	c.Set("Content-Security-Policy", "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:")
	c.Set("Accept-Ranges", "bytes")
	if from, to, ok := piece(c.Get("Range"), size); ok {
		c.Set("Content-Range", fmt.Sprintf("bytes %d-%d/%d", from, to, size))
		file.only(from, to)
		c.Status(fiber.StatusPartialContent)
	}
	return c.SendStream(file, file.Len()) // which closes it
}

// sealed serves a publication as a script that never changes.
func (d *door) sealed(c fiber.Ctx, digest, key string) error {
	script, err := d.Delivery.SealedScript(c, digest, key)
	if errors.Is(err, problem.ErrNotFound) {
		return fiber.ErrNotFound
	} else if err != nil {
		return err
	}
	e := render.Stored(script)
	return d.send(c, &e, javascript, forever)
}

// piece reads a Range field (RFC 9110, section 14.2) with a single range, which audio players send.
// For anything else, the whole file is served.
func piece(field string, size int) (from, to int, ok bool) {
	text, found := strings.CutPrefix(field, "bytes=")
	a, b, dash := strings.Cut(text, "-")
	if !found || !dash || strings.Contains(text, ",") {
		return 0, 0, false
	}
	from, err := strconv.Atoi(a)
	if to = size - 1; b != "" && a != "" {
		n, wrong := strconv.Atoi(b)
		if wrong != nil {
			return 0, 0, false
		}
		to = min(n, to)
	}
	if a == "" { // the last b bytes
		n, wrong := strconv.Atoi(b)
		from, err = max(0, size-n), wrong
	}
	return from, to, err == nil && from >= 0 && from <= to
}

// module serves a release's script. The script has had several names, since the name contains a
// digest of the kit's parts. It is compressed once for all of them.
func (d *door) module(c fiber.Ctx, digest string) error {
	if e, ok := d.modules.GetIfPresent(digest); ok {
		return d.send(c, e, javascript, forever)
	}
	d.encoding.Lock() // concurrent requests wait for one result instead of each making it
	defer d.encoding.Unlock()
	if e, ok := d.modules.GetIfPresent(digest); ok {
		return d.send(c, e, javascript, forever)
	}
	script, err := d.Delivery.Module(c, digest)
	if err != nil {
		return err
	}
	e := render.EncodeBest(script)
	d.modules.Set(strings.Clone(digest), &e)
	return d.send(c, &e, javascript, forever)
}
