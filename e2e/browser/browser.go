// Package browser drives a headless Chromium, for tests, measurements and screenshots.
package browser

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"os"
	"os/exec"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

// Patience bounds every wait. It is far above what anything takes, so that a slow machine
// does not fail a test.
const Patience = time.Minute

// Browser is one running Chromium with a profile of its own.
type Browser struct {
	ctx   context.Context
	close []func()
}

// Start starts Chromium as people have it.
func Start() (*Browser, error) { return start([]string{"chromium", "chromium-browser"}) }

// StartShell starts Chromium's headless shell: the same engine at half the cost, without what
// is around it, such as the cache of pages to go back to. Where there is none it is Chromium.
func StartShell() (*Browser, error) {
	// Frames without an origin have a process of their own, as in the whole browser.
	return start([]string{"chromium-headless-shell", "chromium", "chromium-browser"}, "site-per-process", "in-process-gpu", "disable-features=SpareRendererForSitePerProcess")
}

func start(names []string, flags ...string) (*Browser, error) {
	var path string
	for _, name := range names {
		if p, err := exec.LookPath(name); err == nil {
			path = p
			break
		}
	}
	if path == "" {
		return nil, errors.New("there is no chromium on this machine: run e2e/tools.sh")
	}
	profile, err := os.MkdirTemp("", "glass-pocket-browser-")
	if err != nil {
		return nil, err
	}
	options := []chromedp.ExecAllocatorOption{chromedp.ExecPath(path), chromedp.Headless, chromedp.NoSandbox, chromedp.DisableGPU, chromedp.NoFirstRun, chromedp.NoDefaultBrowserCheck,
		chromedp.UserDataDir(profile), chromedp.WindowSize(1280, 800), chromedp.WSURLReadTimeout(60 * time.Second)}
	for _, flag := range []string{"disable-quic", "disable-background-networking", "disable-component-update", "disable-sync", "hide-scrollbars", "disable-extensions", "disable-default-apps"} {
		options = append(options, chromedp.Flag(flag, true))
	}
	for _, flag := range flags {
		options = append(options, chromedp.Flag(flag, true))
	}
	allocator, stopAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, stop := chromedp.NewContext(allocator)
	b := &Browser{ctx: ctx, close: []func(){stop, stopAllocator, func() { os.RemoveAll(profile) }}}
	if err := chromedp.Do(ctx); err != nil {
		b.Close()
		return nil, err
	}
	return b, nil
}

// Close ends Chromium.
func (b *Browser) Close() {
	for _, f := range b.close {
		f()
	}
}

// Page is a tab with cookies, cache and storage of its own.
type Page struct {
	Ctx    context.Context
	Close  func()
	mu     sync.Mutex
	errors []string
	before []page.ScriptIdentifier
}

// Open opens a tab of the given size in CSS pixels.
func (b *Browser) Open(width, height int) (*Page, error) {
	ctx, closeTab := chromedp.NewContext(b.ctx, chromedp.WithNewBrowserContext())
	p := &Page{Ctx: ctx, Close: closeTab}
	late := time.AfterFunc(Patience, closeTab) // a browser that hangs fails a test, not the whole run
	defer late.Stop()
	if err := chromedp.Do(ctx, chromedp.EmulateViewport(int64(width), int64(height))); err != nil {
		closeTab()
		return nil, err
	}
	go func() {
		for m, err := range chromedp.Console(ctx) {
			if err != nil {
				return
			}
			if m.IsException() || m.Type == "error" {
				p.mu.Lock()
				p.errors = append(p.errors, m.String())
				p.mu.Unlock()
			}
		}
	}()
	return p, nil
}

// Leave makes a tab as it was when it was opened, for the next page on an origin of its own:
// nothing stored or cached, no size, medium or script of the page before, no errors. What
// was set by other means stays.
func (p *Page) Leave(width, height int) error {
	if _, err := Eval[any](p, `try { localStorage.clear(); sessionStorage.clear() } catch {} 0`); err != nil {
		return err
	}
	ctx, cancel := p.patient()
	defer cancel()
	for _, id := range p.before {
		if _, err := chromedp.Call(ctx, page.RemoveScriptToEvaluateOnNewDocument, page.RemoveScriptToEvaluateOnNewDocumentParams{Identifier: id}); err != nil {
			return err
		}
	}
	p.before = nil
	if err := p.Emulate("", nil); err != nil {
		return err
	}
	if err := p.Do(chromedp.EmulateViewport(int64(width), int64(height)), chromedp.Navigate("about:blank")); err != nil {
		return err
	}
	// Pages that could be gone back to; what is kept on disk; what is kept in memory.
	_, err := chromedp.Call(ctx, page.ResetNavigationHistory, cdp.Empty{})
	for _, disabled := range []bool{true, false} {
		if err == nil {
			_, err = chromedp.Call(ctx, network.SetCacheDisabled, network.SetCacheDisabledParams{CacheDisabled: disabled})
		}
	}
	if err == nil {
		_, err = chromedp.Call(ctx, network.ClearBrowserCache, cdp.Empty{})
	}
	if err != nil {
		return err
	}
	// What the page before still had to say comes before this.
	if _, err := Eval[any](p, `console.error("left"); 0`); err != nil {
		return err
	}
	for !slices.Contains(p.Errors(), "error: left") {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(time.Millisecond):
		}
	}
	p.mu.Lock()
	p.errors = nil
	p.mu.Unlock()
	return nil
}

// Errors are the console's errors so far.
func (p *Page) Errors() []string {
	p.mu.Lock()
	defer p.mu.Unlock()
	return append([]string{}, p.errors...)
}

func (p *Page) patient() (context.Context, context.CancelFunc) {
	return context.WithTimeout(p.Ctx, Patience)
}

// Do runs steps with patience.
func (p *Page) Do(steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := p.patient()
	defer cancel()
	return chromedp.Do(ctx, steps...)
}

// Go opens an address and waits until it has loaded.
func (p *Page) Go(address string) error { return p.Do(chromedp.Navigate(address)) }

// Wait waits until a JavaScript expression is true.
func (p *Page) Wait(expression string) error { return WaitIn(p.Ctx, expression) }

// WaitIn waits until a JavaScript expression is true in a page or a frame. As long as it throws
// it is not: what it looks at may not be there yet. It goes on through a navigation.
func WaitIn(where context.Context, expression string) error {
	ctx, cancel := context.WithTimeout(where, Patience)
	defer cancel()
	poll := chromedp.Poll[bool]("(() => { try { return !!("+expression+") } catch { return false } })()", chromedp.WithPollingTimeout(0))
	_, err := chromedp.Run(ctx, poll)
	for err != nil && strings.Contains(err.Error(), "navigated or closed") && ctx.Err() == nil {
		_, err = chromedp.Run(ctx, poll)
	}
	if err == nil {
		return nil
	}
	last, cancel := context.WithTimeout(where, time.Second)
	defer cancel()
	is, _ := chromedp.Run(last, chromedp.Evaluate[string]("(() => { try { return String("+expression+") } catch (e) { return String(e) } })()"))
	return fmt.Errorf("waiting for %s, which is %q: %w", expression, is, err)
}

// Eval evaluates an expression, awaiting a promise.
func Eval[T any](p *Page, expression string) (T, error) {
	ctx, cancel := p.patient()
	defer cancel()
	v, err := chromedp.Run(ctx, chromedp.Evaluate[T](expression, chromedp.EvalAwaitPromise))
	if err != nil {
		err = fmt.Errorf("evaluating %.200s: %w", expression, err)
	}
	return v, err
}

// Media sets what prefers-color-scheme and prefers-reduced-motion answer.
func (p *Page) Media(scheme, motion string) error {
	return p.Emulate("", map[string]string{"prefers-color-scheme": scheme, "prefers-reduced-motion": motion})
}

// Before has a script run in every document that is opened from now on, before its own.
func (p *Page) Before(script string) error {
	ctx, cancel := p.patient()
	defer cancel()
	added, err := chromedp.Call(ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: script})
	if err == nil {
		p.before = append(p.before, added.Identifier)
	}
	return err
}

// Emulate sets the medium ("print", "" for the screen) and what media features answer.
func (p *Page) Emulate(medium string, features map[string]string) error {
	ctx, cancel := p.patient()
	defer cancel()
	params := emulation.SetEmulatedMediaParams{Media: medium}
	for name, value := range features {
		params.Features = append(params.Features, &emulation.MediaFeature{Name: name, Value: value})
	}
	_, err := chromedp.Call(ctx, emulation.SetEmulatedMedia, params)
	return err
}

// Clip is a screenshot of a part of the page, in CSS pixels.
func (p *Page) Clip(x, y, width, height float64) (image.Image, error) {
	ctx, cancel := p.patient()
	defer cancel()
	taken, err := chromedp.Call(ctx, page.CaptureScreenshot, page.CaptureScreenshotParams{Format: "png", OptimizeForSpeed: new(true), Clip: &page.Viewport{X: x, Y: y, Width: width, Height: height, Scale: 1}})
	if err != nil {
		return nil, err
	}
	return png.Decode(bytes.NewReader(taken.Data))
}

// Type puts text where the cursor stands, at once, as pasting does.
func (p *Page) Type(text string) error {
	ctx, cancel := p.patient()
	defer cancel()
	_, err := chromedp.Call(ctx, input.InsertText, input.InsertTextParams{Text: text})
	return err
}

// Shot takes a screenshot of the viewport.
func (p *Page) Shot(file string) error {
	ctx, cancel := p.patient()
	defer cancel()
	png, err := chromedp.Run(ctx, chromedp.CaptureScreenshot())
	if err != nil {
		return err
	}
	return os.WriteFile(file, png, 0o644)
}
