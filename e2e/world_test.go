// Package e2e tests the built programs as their users meet them: the service on loopback
// through its client and HTTP, console and loader in a headless Chromium.
package e2e

import (
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// One demo and one Chromium serve all tests of this package; what a test changes, it
// changes in pockets of its own.
var (
	demo     *service.Demo
	api      *client.Client
	chromium *browser.Browser
)

func TestMain(m *testing.M) {
	os.Exit(func() int {
		var err error
		if demo, err = service.StartDemo(""); err == nil {
			defer demo.Stop()
			api = demo.Client()
			if chromium, err = browser.StartShell(); err == nil {
				defer chromium.Close()
				return m.Run()
			}
		}
		fmt.Fprintln(os.Stderr, err)
		return 1
	}())
}

// newPocket makes a published countdown for one test.
func newPocket(t *testing.T, key, target string, settings map[string]any) {
	t.Helper()
	ctx := t.Context()
	_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "countdown", Starter: "harbour", Title: "Test " + key})
	require.NoError(t, err)
	if settings == nil {
		settings = map[string]any{"heading": "Heading of " + key}
	}
	settings["target"] = target
	set(t, key, settings)
	publish(t, key)
}

// pocketIn is a countdown to be made in a language.
func pocketIn(key, lang string) wire.NewPocket {
	return wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "countdown", Starter: "harbour", Language: lang}
}

func set(t *testing.T, key string, settings map[string]any) {
	t.Helper()
	draft, err := api.Draft(t.Context(), key)
	require.NoError(t, err)
	_, err = api.ChangeDraft(t.Context(), key, draft.Revision, raw(settings))
	require.NoError(t, err)
}

func publish(t *testing.T, key string) wire.Publication {
	t.Helper()
	p, err := api.Publish(t.Context(), key, wire.Publish{})
	require.NoError(t, err)
	return p
}

// page serves one host page on an origin of its own and opens it.
func page(t *testing.T, html string, headers ...string) *browser.Page {
	t.Helper()
	at := site(t, map[string]string{"/": html}, headers...)
	p := lent(t)
	require.NoError(t, p.Go(at+"/"))
	return p
}

// said waits for n errors in a page's console, which come a moment after what caused them.
func said(t *testing.T, p *browser.Page, n int) []string {
	t.Helper()
	require.Eventually(t, func() bool { return len(p.Errors()) >= n }, browser.Patience, 5*time.Millisecond, "the console says %v", p.Errors())
	require.Len(t, p.Errors(), n)
	return p.Errors()
}

var idle = make(chan *browser.Page, 8)

// lent gives a tab for a host page on an origin of its own, and takes it back when the test
// is over: a new tab costs more than most of what is looked at in it.
func lent(t *testing.T) (p *browser.Page) {
	t.Helper()
	select {
	case p = <-idle:
	default:
		var err error
		p, err = chromium.Open(1280, 800)
		require.NoError(t, err)
	}
	t.Cleanup(func() {
		if t.Failed() || p.Leave(1280, 800) != nil {
			p.Close()
			return
		}
		select {
		case idle <- p:
		default:
			p.Close()
		}
	})
	return p
}

// whole is a tab of a Chromium as people have it.
func whole(t *testing.T) *browser.Page {
	t.Helper()
	b, err := browser.Start()
	require.NoError(t, err)
	t.Cleanup(b.Close)
	p, err := b.Open(1280, 800)
	require.NoError(t, err)
	return p
}

func tab(t *testing.T) *browser.Page {
	t.Helper()
	p, err := chromium.Open(1280, 800)
	require.NoError(t, err)
	t.Cleanup(p.Close)
	return p
}

func eval[T any](t *testing.T, p *browser.Page, expression string) T {
	t.Helper()
	v, err := browser.Eval[T](p, expression)
	require.NoError(t, err)
	return v
}

func wirePublish(revision int, heights []widget.Height) wire.Publish {
	return wire.Publish{Revision: revision, Heights: heights}
}
