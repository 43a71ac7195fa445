package main

import (
	"context"
	"fmt"
	"time"

	"glasspocket/e2e/browser"
)

// galleryGroup measures from opening the gallery until every starter is alive in the page, its
// script running, and those in sight are painted: the console's first load and all widgets'
// scripts included. Those out of sight are laid out after that, while nothing else is done; that
// they are before anybody has scrolled to them is measured too.
func galleryGroup(b *bench) error {
	found, err := b.demo.Client().Gallery(context.Background())
	if err != nil {
		return err
	}
	starters := 0
	for _, w := range found.Widgets {
		starters += max(1, len(w.Starters))
	}
	var times, laidOut []float64
	for range 7 {
		p, err := b.signedIn()
		if err != nil {
			return err
		}
		if err := p.Go(b.demo.Manage + "/gallery"); err != nil {
			return err
		}
		// From the navigation's own beginning to the frame after the last one was told of.
		until := func(told string) (float64, error) {
			return browser.Eval[float64](p, fmt.Sprintf(`new Promise(done => { const look = () => document.querySelector("iframe")?.dataset.%s == %d ? requestAnimationFrame(() => done(performance.now())) : setTimeout(look, 2); look() })`, told, starters))
		}
		live, err := until("drawn")
		if err != nil {
			return err
		}
		all, err := until("laidOut")
		p.Close()
		if err != nil {
			return err
		}
		times, laidOut = append(times, live), append(laidOut, all)
		time.Sleep(100 * time.Millisecond) // the page before is gone
	}
	b.report(figure{"gallery-starters", float64(starters), 40, true, false, ""})
	b.report(figure{"gallery-all-live", median(times), 1000, false, false, "ms"})
	b.report(figure{"gallery-all-laid-out", median(laidOut), 2000, false, false, "ms"})
	return nil
}
