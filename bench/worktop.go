package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"sync"
	"time"

	"glasspocket/e2e/browser"
	"glasspocket/internal/app"
	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/bundle"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
	"glasspocket/internal/store"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
	"glasspocket/widgets"
)

// worktopGroup measures from an editor's input event in the worktop to the preview's next
// frame, with a widget of middling size and with the largest that we ship, and how many pockets
// a dry run renders in a second.
func worktopGroup(b *bench) error {
	for _, name := range []string{"countdown", "reviews"} {
		if err := typing(b, name); err != nil {
			return err
		}
	}
	return dryRuns(b)
}

func typing(b *bench, name string) error {
	ctx, c, draft := context.Background(), b.demo.Client(), "bench-"+name
	begun, err := c.StartWidgetDraft(ctx, draft, wire.NewWidgetDraft{From: name})
	if err != nil {
		return err
	}
	// A separate first line, which the measurement retypes.
	var first []wire.DraftFile
	for _, f := range begun.Files {
		switch f.Path {
		case widget.StyleFile, widget.ViewFile:
			first = append(first, wire.DraftFile{Path: f.Path, Text: map[string]string{widget.StyleFile: "/* */\n", widget.ViewFile: "<!-- -->\n"}[f.Path] + f.Text, Was: f.Digest})
		}
	}
	if _, err := c.ChangeWidgetDraft(ctx, draft, first); err != nil {
		return err
	}
	p, preview, err := b.screen("/worktop/"+draft, `document.querySelector("section[aria-label=Messages]")?.innerText.includes("There are no faults")`, "/worktop")
	if err != nil {
		return err
	}
	defer p.Close()
	if _, err := browser.Eval[int](p, `[...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Files")).click(), 1`); err != nil {
		return err
	}
	// One file's editor at a time; what is typed is a comment's or a text's last letters.
	open := func(path string) error {
		if _, err := browser.Eval[int](p, fmt.Sprintf(`[...document.querySelectorAll("nav[aria-label=Files] button")].find(b => b.innerText.startsWith(%q)).click(), 1`, path)); err != nil {
			return err
		}
		return p.Wait(fmt.Sprintf(`document.querySelector(".cm-content")?.getAttribute("aria-label").startsWith(%q)`, path))
	}
	// measure retypes a line of the file, and waits until root shows the result.
	// Typing begins at another point of a frame each time, as it does by hand.
	measure := func(line, i int, text, seen string) (float64, error) {
		// Each frame looks once, before it paints; the first that finds it is the one that shows it.
		if _, err := browser.Eval[int](preview, `window.seen = new Promise(done => { const look = () => { const root = document.querySelector(".stage")?.shadowRoot; if (root && (`+seen+`)) { const c = new MessageChannel(); c.port1.onmessage = () => done(performance.timeOrigin + performance.now()); c.port2.postMessage(0) } else requestAnimationFrame(look) }; requestAnimationFrame(look) }), 1`); err != nil {
			return 0, err
		}
		begin, err := browser.Eval[float64](p, fmt.Sprintf(`(async () => { const line = document.querySelectorAll(".cm-content .cm-line")[%d]; const range = document.createRange(); range.selectNodeContents(line); getSelection().removeAllRanges(); getSelection().addRange(range); document.querySelector(".cm-content").focus(); let at; document.addEventListener("input", () => (at = performance.timeOrigin + performance.now()), {capture: true, once: true}); await new Promise(done => setTimeout(done, %d)); document.execCommand("insertText", false, %q); return at })()`, line, i%17, text))
		if err != nil {
			return 0, err
		}
		at, err := browser.Eval[float64](preview, "window.seen")
		return at - begin, err
	}
	series := func(path string, line int, text, seen func(i int) string) (list []float64, err error) {
		if err := open(path); err != nil {
			return nil, err
		}
		for i := range 31 {
			v, err := measure(line, i, text(i), seen(i))
			if err != nil {
				return nil, err
			}
			if i > 0 { // the first makes room for it
				list = append(list, v)
			}
		}
		return list, nil
	}
	style, err := series("style.css", 0, func(i int) string { return fmt.Sprintf(".pocket { color: rgb(%d 0 60); }", i) },
		func(i int) string {
			return fmt.Sprintf(`getComputedStyle(root.querySelector(".pocket")).color == "rgb(%d, 0, 60)"`, i)
		})
	if err != nil {
		return err
	}
	view, err := series("view.html", 0, func(i int) string { return fmt.Sprintf("<p class=\"bench\">%d</p>", i) },
		func(i int) string { return fmt.Sprintf(`root.querySelector(".bench")?.textContent == "%d"`, i) })
	if err != nil {
		return err
	}
	b.report(figure{"worktop-style-" + name + "-median", median(style), 16, false, false, "ms"})
	b.report(figure{"worktop-view-" + name + "-median", median(view), 60, false, false, "ms"})
	return p.Wait(`[...document.querySelectorAll("header [role=status]")].some(e => e.innerText == "Draft saved")`)
}

// dryRuns renders many followers with a release that changes each, in a service of its own.
func dryRuns(b *bench) error {
	const pockets = 2000
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "glass-pocket-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	s, err := store.Open(ctx, dir)
	if err != nil {
		return err
	}
	defer s.Close()
	tables, err := app.StoreIn(ctx, s)
	if err != nil {
		return err
	}
	site, err := render.NewSite(b.demo.Public, "/*loader*/", "", bundle.Kit)
	if err != nil {
		return err
	}
	a := app.New(app.Options{Store: tables, Signals: signal.New(), Site: site, Builder: bundle.Builder{}, Trier: bundle.Builder{}})
	working, stop := context.WithCancel(ctx)
	ended := make(chan bool)
	go func() { a.Work.Run(working); close(ended) }()
	defer func() { stop(); <-ended }()
	who := access.Scope{Role: access.OperatorAdmin, Name: "bench"}
	if _, err := a.Customers.Add(ctx, who, "bench", "Bench"); err != nil {
		return err
	}
	for _, name := range []string{"countdown", "reviews"} {
		folder, err := widgets.Folder(name)
		if err != nil {
			return err
		}
		files, _, err := widget.Collect(folder)
		if err != nil {
			return err
		}
		if _, _, _, err := a.Rollouts.Release(ctx, who, name, rollout.NewRelease{Files: files}); err != nil {
			return err
		}
		w, err := a.Releases.Widget(ctx, who, name)
		if err != nil {
			return err
		}
		sample, _ := w.Release.Sample(time.Now())
		settings, err := json.Marshal(sample)
		if err != nil {
			return err
		}
		yes := true
		errs := make(chan error, 64)
		var all sync.WaitGroup
		for i := range 64 {
			all.Go(func() {
				for n := i; n < pockets; n += 64 {
					p, err := a.Pockets.Add(ctx, who, pocket.NewPocket{CustomerID: "bench", Widget: name})
					if err == nil {
						_, err = a.Pockets.SaveDraft(ctx, who, p.Key, 1, settings, false)
					}
					if err == nil {
						_, err = a.Publishing.Publish(ctx, who, p.Key, publish.Draft{Follow: &yes})
					}
					if err != nil {
						errs <- err
						return
					}
				}
			})
		}
		all.Wait()
		select {
		case err := <-errs:
			return err
		default:
		}
		next := widget.Files{}
		for path, text := range files {
			next[path] = text
		}
		next[widget.ViewFile] = append(append([]byte{}, files[widget.ViewFile]...), "<p class=\"next\"></p>\n"...)
		var rates []float64
		for range 3 {
			d, err := a.Rollouts.Start(ctx, who, name, next)
			if err != nil {
				return err
			}
			began := time.Now() // reading and building the files comes once, however many follow
			for p := (rollout.Progress{}); !p.Finished; time.Sleep(time.Millisecond) {
				if p, err = a.Rollouts.Progress(ctx, who, name, d.ID, 0, 0); err != nil {
					return err
				}
				if p.Finished && p.Counts[rollout.Altered] != pockets {
					return fmt.Errorf("the dry run of %s found %v", name, p.Counts)
				}
			}
			rates = append(rates, pockets/time.Since(began).Seconds())
		}
		b.report(figure{"dry-run-" + name + "-pockets-a-second", median(rates), 2000, true, false, ""})
	}
	return nil
}
