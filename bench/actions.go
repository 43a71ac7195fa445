package main

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/jobs"
	"glasspocket/internal/wire"
)

// actionsGroup counts the actions of ten everyday jobs, each with the mouse, and measures how long
// it takes from choosing a host to the copied snippet, without the request that publishes.
func actionsGroup(b *bench) error {
	w := jobs.World{API: b.demo.Client(), Manage: b.demo.Manage, Skerry: b.demo.Skerry, Name: b.demo.Name, Password: b.demo.Password, Browser: b.browser}
	for _, j := range jobs.All {
		a, err := j.Run(w.For(j.Name+"-bench"), 1280, 800, false)
		if err != nil {
			return fmt.Errorf("job %s: %w", j.Name, err)
		}
		b.report(figure{"actions-" + strings.ToLower(j.Name), float64(a.Actions), float64(j.Budget), false, true, ""})
	}
	p, err := b.signedIn()
	if err != nil {
		return err
	}
	defer p.Close()
	if err := p.Before(`{ for (const name of ["write", "writeText"]) Clipboard.prototype[name] = async function () { window.copiedAt = performance.now() } }`); err != nil {
		return err
	}
	var beyond []float64
	for i := range 15 {
		key := fmt.Sprintf("bench-flow-%d", i)
		made, err := w.API.MakePocket(context.Background(), wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "countdown", Starter: "harbour"})
		if err != nil {
			return err
		}
		if _, err := w.API.ChangeDraft(context.Background(), key, made.Revision, map[string]json.RawMessage{"target": json.RawMessage(`"2098-01-01T00:00[UTC]"`)}); err != nil {
			return err
		}
		if err := p.Go(b.demo.Manage + "/pockets/" + key); err != nil {
			return err
		}
		host := `[...document.querySelectorAll("[data-part=publish] li button")].find(b => b.innerText.startsWith("Plain HTML"))`
		// As when somebody scrolls there and reads the list.
		if err := p.Wait(`document.querySelector("iframe").dataset.drawn > 0 && ` + host + ` && (` + host + `.scrollIntoView({ block: "center" }), document.readyState == "complete")`); err != nil {
			return err
		}
		if _, err := browser.Eval[any](p, `new Promise(done => setTimeout(done, 1000)).then(() => 0)`); err != nil {
			return err
		}
		ms, err := browser.Eval[float64](p, `new Promise(done => { const from = performance.now(); `+host+`.click(); const look = () => { const publish = performance.getEntriesByType("resource").find(e => e.name.endsWith("/publications") && e.startTime > from); if (window.copiedAt && publish) done(copiedAt - from - publish.duration); else setTimeout(look, 5) }; look() })`)
		if err != nil {
			return err
		}
		beyond = append(beyond, ms)
	}
	b.report(figure{"publish-for-beyond-publish-median", median(beyond), 150, false, false, "ms"})
	return nil
}
