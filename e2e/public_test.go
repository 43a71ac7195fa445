package e2e

import (
	"compress/gzip"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What the public door answers, as the contract has it.
func TestPublicAnswers(t *testing.T) {
	const script, json, html = "text/javascript; charset=utf-8", "application/json", "text/html; charset=utf-8"
	_, payload := send(t, "GET", demo.Public+"/s/demo-countdown.json", "")
	module := strings.TrimPrefix(payload[strings.Index(payload, `"module":"`)+10:], demo.Public)
	module = module[:strings.Index(module, `"`)]
	for _, c := range []struct {
		path   string
		status int
		kind   string
		cache  string
		has    string
	}{
		{"/s/demo-countdown.js", 200, script, "max-age=60, stale-if-error=604800", `glassPocket.take({"n":2,"key":"demo-countdown"`},
		{"/s/demo-countdown.json", 200, json, "max-age=60, stale-if-error=604800", `"n":2`},
		{"/p/demo-countdown", 200, html, "max-age=60, stale-if-error=604800", `<template shadowrootmode="open">`},
		{"/loader.js", 200, script, "max-age=60, stale-if-error=604800", "glassPocket.auto()"},
		{module, 200, script, "public, max-age=31536000, immutable", "export default function($mount)"},
		{"/preview", 200, html, "max-age=60, stale-if-error=604800", "preview.js"},
		{"/why.js", 200, script, "max-age=60, stale-if-error=604800", "Pockets on this page"},
		{"/s/not-there.js", 200, script, "max-age=60, stale-if-error=604800", "is not published"},
		{"/s/not-there.json", 404, "application/problem+json", "max-age=10", `"code":"not-published"`},
		{"/p/not-there", 404, html, "max-age=60", "Nothing is published"},
		{"/a/0000/mount.js", 404, "application/problem+json", "max-age=10", `"code":"release-not-found"`},
		{"/s/demo-countdown.css", 404, "application/problem+json", "max-age=10", "no-such-address"},
		{"/s/%3Cscript%3E.js", 404, "application/problem+json", "max-age=10", "no-such-address"},
		{"/s/..%2f..%2fetc.js", 404, "application/problem+json", "max-age=10", "no-such-address"},
		{"/api/v1/pockets", 404, "application/problem+json", "max-age=10", "no-such-address"},
	} {
		t.Run(c.path, func(t *testing.T) {
			res, body := send(t, "GET", demo.Public+c.path, "")
			assert.Equal(t, c.status, res.StatusCode)
			assert.Equal(t, c.kind, res.Header.Get("Content-Type"))
			assert.Equal(t, c.cache, res.Header.Get("Cache-Control"))
			assert.Contains(t, body, c.has)
			if c.status != 200 {
				return
			}
			etag := res.Header.Get("ETag")
			require.NotEmpty(t, etag)
			assert.Equal(t, "Accept-Encoding", res.Header.Get("Vary"))
			assert.Equal(t, "*", res.Header.Get("Access-Control-Allow-Origin"))
			assert.Equal(t, "cross-origin", res.Header.Get("Cross-Origin-Resource-Policy"))

			res, none := send(t, "GET", demo.Public+c.path, "", "If-None-Match", etag)
			assert.Equal(t, 304, res.StatusCode)
			assert.Empty(t, none)
			for coding, reader := range map[string]func(io.Reader) io.Reader{
				"br":   func(r io.Reader) io.Reader { return brotli.NewReader(r) },
				"gzip": func(r io.Reader) io.Reader { z, _ := gzip.NewReader(r); return z },
			} {
				res, squeezed := send(t, "GET", demo.Public+c.path, "", "Accept-Encoding", coding)
				assert.Equal(t, coding, res.Header.Get("Content-Encoding"))
				plain, err := io.ReadAll(reader(strings.NewReader(squeezed)))
				require.NoError(t, err)
				assert.Equal(t, body, string(plain))
			}
			res, _ = send(t, "GET", demo.Public+c.path, "", "Accept-Encoding", "br;q=0, gzip;q=0")
			assert.Empty(t, res.Header.Get("Content-Encoding"))
			res, head := send(t, "HEAD", demo.Public+c.path, "")
			assert.Equal(t, 200, res.StatusCode)
			assert.Empty(t, head)
		})
	}
}

// A pocket's own page cannot act as the origin that it shares with all others.
func TestPageIsFenced(t *testing.T) {
	res, body := send(t, "GET", demo.Public+"/p/demo-countdown", "")
	fence := res.Header.Get("Content-Security-Policy")
	assert.Contains(t, fence, "sandbox allow-scripts")
	assert.NotContains(t, fence, "allow-same-origin")
	assert.Equal(t, "noindex", res.Header.Get("X-Robots-Tag"))
	assert.Contains(t, body, "The kiln opens again")
	// Shared, its link shows its title and image.
	assert.Contains(t, body, `<meta property="og:title" content="The kiln opens again">`)
	assert.Contains(t, body, `<meta property="og:image" content="`+demo.Public+`/p/demo-countdown.png">`)
	// Opened by itself, it can be reported; in a frame or on a screen it says nothing of that.
	p := lent(t)
	require.NoError(t, p.Go(demo.Public+"/p/demo-countdown"))
	require.NoError(t, p.Wait(`document.querySelector("#glass-pocket-report a").checkVisibility()`))
	require.NoError(t, p.Go(eval[string](t, p, `document.querySelector("#glass-pocket-report a").href`)))
	require.NoError(t, p.Wait(`document.querySelector("a")?.href.startsWith("mailto:reports@lantern-quay.example?subject=Report%20of%20")`))
	assert.Contains(t, eval[string](t, p, `document.body.innerText`), demo.Public+"/p/demo-countdown")
	_, screen := send(t, "GET", demo.Public+"/p/demo-countdown?w=800", "")
	assert.NotContains(t, screen, "glass-pocket-report")
	around := page(t, `<iframe src="`+demo.Public+`/p/demo-countdown" style="width:600px;height:400px"></iframe>`)
	inFrame(t, around, "/p/demo-countdown", `document.querySelector("[data-glass-pocket]").shadowRoot && document.getElementById("glass-pocket-report").hidden`)
	res, _ = send(t, "GET", demo.Public+"/report?key=%22%3E", "")
	assert.Equal(t, 404, res.StatusCode)
	res, _ = send(t, "GET", demo.Public+"/p/demo-countdown", "", "Service-Worker", "script")
	assert.Equal(t, http.StatusForbidden, res.StatusCode)
}

// The request right after a publish gets it, however many there are.
func TestPublishIsServedNext(t *testing.T) {
	newPocket(t, "served-next", "2099-01-01T00:00[UTC]", nil)
	for i := range 50 {
		text := "Heading " + strings.Repeat("x", i+1) + "."
		set(t, "served-next", map[string]any{"heading": text})
		publish(t, "served-next")
		_, body := send(t, "GET", demo.Public+"/s/served-next.js", "")
		require.Contains(t, body, text)
	}
}
