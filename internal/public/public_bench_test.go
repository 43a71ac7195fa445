package public

import (
	"context"
	"log/slog"
	"strings"
	"testing"
	"time"

	"github.com/valyala/fasthttp"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/meter"
	"glasspocket/internal/render"
	"glasspocket/internal/shelf"
	"glasspocket/internal/signal"
)

// BenchmarkHotScript is what our own code costs for a script that is in memory, without a
// network.
func BenchmarkHotScript(b *testing.B) {
	e := render.Encode([]byte(strings.Repeat("glass pocket ", 1000)))
	sh := shelf.New(func(context.Context, string, render.Part) (*delivery.Served, error) {
		return &delivery.Served{Publication: 1, Document: &e}, nil
	}, signal.New(), shelf.Bytes)
	site, err := render.NewSite("https://pockets.example", "", "", func([]string) (string, error) { return "", nil })
	if err != nil {
		b.Fatal(err)
	}
	f := New(Options{Shelf: sh, Site: site, Now: time.Now, Meter: &meter.Meter{}, Log: slog.Default()})
	h := f.Handler()
	var ctx fasthttp.RequestCtx
	ctx.Request.SetRequestURI("/s/demo-countdown.js")
	ctx.Request.Header.SetHost("127.0.0.1:7441")
	ctx.Request.Header.Set("Accept-Encoding", "br")
	b.ReportAllocs()
	for b.Loop() {
		ctx.Response.Reset()
		h(&ctx)
	}
	if ctx.Response.StatusCode() != 200 {
		b.Fatal(ctx.Response.StatusCode())
	}
}
