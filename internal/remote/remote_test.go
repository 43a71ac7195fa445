package remote

import (
	"bytes"
	"log/slog"
	"net"
	"net/http/httptest"
	"net/netip"
	"net/url"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"
)

func request(from string, lines ...string) (fiber.Ctx, func()) {
	f := fiber.New()
	ctx := &fasthttp.RequestCtx{}
	ctx.Init(&fasthttp.Request{}, &net.TCPAddr{IP: net.ParseIP(from), Port: 4000}, nil)
	for _, line := range lines {
		name, value, _ := strings.Cut(line, ": ")
		ctx.Request.Header.Add(name, value)
	}
	c := f.AcquireCtx(ctx)
	return c, func() { f.ReleaseCtx(c) }
}

func TestAddress(t *testing.T) {
	proxies := Proxies{netip.MustParsePrefix("10.0.0.0/8"), netip.MustParsePrefix("127.0.0.0/8")}
	for _, c := range []struct {
		from  string
		lines []string
		is    string
	}{
		{"203.0.113.7", []string{"198.51.100.1"}, "203.0.113.7"}, // not a proxy
		{"10.0.0.1", nil, "10.0.0.1"},
		{"10.0.0.1", []string{"203.0.113.9"}, "203.0.113.9"},
		{"10.0.0.1", []string{"1.1.1.1, 203.0.113.9"}, "203.0.113.9"}, // the client wrote the first
		{"10.0.0.1", []string{"1.1.1.1", "203.0.113.9"}, "203.0.113.9"},
		{"10.0.0.1", []string{"1.1.1.1", "203.0.113.9, 10.0.0.2"}, "203.0.113.9"},
		{"127.0.0.1", []string{"1.1.1.1", "203.0.113.9", "10.0.0.2"}, "203.0.113.9"},
		{"10.0.0.1", []string{"1.1.1.1", "nonsense"}, "10.0.0.1"},
		{"10.0.0.1", []string{"::ffff:203.0.113.9"}, "203.0.113.9"},
	} {
		var lines []string
		for _, l := range c.lines {
			lines = append(lines, "X-Forwarded-For: "+l)
		}
		ctx, done := request(c.from, lines...)
		assert.Equal(t, c.is, proxies.Address(ctx).String(), "%s %q", c.from, c.lines)
		done()
	}
}

// A panic is answered, and logged with the place that it came from.
func TestPanics(t *testing.T) {
	var log bytes.Buffer
	f := fiber.New()
	f.Use(recover.New(Panics(slog.New(slog.NewTextHandler(&log, nil)), "public")))
	f.Get("/", func(fiber.Ctx) error { var none *url.URL; _ = none.Host; return nil })
	res, err := f.Test(httptest.NewRequest("GET", "/", nil))
	require.NoError(t, err)
	assert.Equal(t, 500, res.StatusCode)
	assert.Contains(t, log.String(), "nil pointer")
	assert.Contains(t, log.String(), "remote_test.go")
}

func TestCompressed(t *testing.T) {
	for _, c := range []struct {
		lines []string
		is    bool
	}{
		{nil, false}, {[]string{"identity"}, false}, {[]string{""}, false},
		{[]string{"br"}, true}, {[]string{"GZIP"}, true}, {[]string{"identity, br"}, true}, {[]string{"identity", "zstd"}, true},
	} {
		var lines []string
		for _, l := range c.lines {
			lines = append(lines, "Content-Encoding: "+l)
		}
		ctx, done := request("203.0.113.7", lines...)
		assert.False(t, Compressed(ctx), "%q without a body", c.lines)
		ctx.Request().SetBodyString("body")
		assert.Equal(t, c.is, Compressed(ctx), "%q", c.lines)
		done()
	}
}
