package main

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/chromedp/chromedp"

	"glasspocket/e2e/browser"
)

// consoleGroup measures from a setting's change in the console to the preview's next frame.
// Console and preview are two processes of one browser and share the machine's clock.
func consoleGroup(b *bench) error {
	p, preview, err := b.screen("/pockets/demo-night", `document.querySelector("iframe")?.dataset.drawn > 0`, "/preview")
	if err != nil {
		return err
	}
	defer p.Close()
	// The preview watches for the value that will be set, then for a frame; then the change.
	measure := func(field, value, seen string) (float64, error) {
		if _, err := browser.Eval[int](preview, `window.seen = new Promise(done => { const stage = document.getElementById("stage"); const look = () => { const root = stage.shadowRoot; if (root && (`+seen+`)) requestAnimationFrame(() => { const c = new MessageChannel(); c.port1.onmessage = () => done(performance.timeOrigin + performance.now()); c.port2.postMessage(0) }); else setTimeout(look, 1) }; look() }), 1`); err != nil {
			return 0, err
		}
		begin, err := browser.Eval[float64](p, fmt.Sprintf(`(() => { const e = document.querySelector(%q); e.value = %q; const at = performance.timeOrigin + performance.now(); e.dispatchEvent(new Event("input", {bubbles: true})); return at })()`, field, value))
		if err != nil {
			return 0, err
		}
		at, err := browser.Eval[float64](preview, "window.seen")
		return at - begin, err
	}
	var content, style []float64
	for i := range 31 {
		v, err := measure("#setting-heading", fmt.Sprintf("Heading %d", i), fmt.Sprintf(`root.querySelector(".heading")?.textContent == "Heading %d"`, i))
		if err != nil {
			return err
		}
		content = append(content, v)
	}
	if err := p.Wait(`document.querySelector("#setting-accent")`); err != nil {
		return err
	}
	for i := range 31 {
		colour := fmt.Sprintf("#%06x", 0x102030+i)
		v, err := measure("#setting-accent", colour, fmt.Sprintf(`root.querySelector(".pocket")?.style.getPropertyValue("--accent") == %q`, colour))
		if err != nil {
			return err
		}
		style = append(style, v)
	}
	b.report(figure{"preview-content-median", median(content), 60, false, false, "ms"})
	b.report(figure{"preview-style-median", median(style), 16, false, false, "ms"})
	// Leave when the draft is saved, so that nothing is under way when the service stops.
	ctx, cancel := context.WithTimeout(p.Ctx, 10*time.Second)
	defer cancel()
	_, err = chromedp.Run(ctx, chromedp.Poll[bool](`[...document.querySelectorAll("header [role=status]")].some(e => e.innerText == "Draft saved")`))
	return err
}

// signedIn opens a page with a session for the console.
func (b *bench) signedIn() (*browser.Page, error) {
	p, err := b.browser.Open(1280, 800)
	if err != nil {
		return nil, err
	}
	if err = p.Go(b.demo.Manage + "/healthz"); err == nil {
		_, err = browser.Eval[int](p, fmt.Sprintf(`fetch("/api/v1/session", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({name: %q, password: %q})}).then(r => r.status)`, b.demo.Name, b.demo.Password))
	}
	if err != nil {
		p.Close()
	}
	return p, err
}

// screen opens a page of the console, signed in, waits for drawn, and finds its
// preview frame by its address on the public side. Closing the page closes both.
func (b *bench) screen(path, drawn, frame string) (p, preview *browser.Page, err error) {
	if p, err = b.signedIn(); err != nil {
		return nil, nil, err
	}
	opened := p // because returning an error sets p to nil
	defer func() {
		if err != nil {
			opened.Close()
		}
	}()
	if err = p.Go(b.demo.Manage + path); err != nil {
		return nil, nil, err
	}
	if err = p.Wait(drawn); err != nil {
		return nil, nil, err
	}
	infos, err := chromedp.Targets(p.Ctx)
	if err != nil {
		return nil, nil, err
	}
	for _, info := range infos {
		if info.Type == "iframe" && info.URL == b.demo.Public+frame {
			ctx, _ := chromedp.NewContext(p.Ctx, chromedp.WithTargetID(info.TargetID)) // ends with the page's
			// The first call binds the tab to its context; one with a time-out would end it.
			if err = chromedp.Do(ctx); err != nil {
				return nil, nil, err
			}
			return p, &browser.Page{Ctx: ctx}, nil
		}
	}
	return nil, nil, errors.New("there is no preview frame")
}
