// Command shots takes the screenshots in docs/screenshots from the demo's data.
package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

// shot is one screenshot: its address, the condition to wait for, and the colour scheme.
type shot struct {
	file, address, wait, scheme string
	do                          string // JavaScript to run first
	before                      func() error
}

// pictured waits until the images of the posts are fetched. A browser that comes earlier keeps the
// script without them for a minute.
func pictured(address string) error {
	for until := time.Now().Add(time.Minute); time.Now().Before(until); time.Sleep(100 * time.Millisecond) {
		res, err := http.Get(address)
		if err != nil {
			return err
		}
		text, err := io.ReadAll(res.Body)
		res.Body.Close()
		if err != nil {
			return err
		}
		if strings.Count(string(text), "data-photo ") > 0 {
			return nil
		}
	}
	return fmt.Errorf("the posts have no images after a minute")
}

func run() error {
	d, err := service.StartDemo("")
	if err != nil {
		return err
	}
	defer d.Stop()
	if err := pictured(d.Public + "/s/demo-feed.json"); err != nil {
		return err
	}
	b, err := browser.Start()
	if err != nil {
		return err
	}
	defer b.Close()
	folder := filepath.Join(service.Root(), "docs", "screenshots")
	if len(os.Args) > 1 {
		folder = os.Args[1]
	}
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return err
	}
	p, err := b.Open(1280, 800)
	if err != nil {
		return err
	}
	defer p.Close()
	signIn := fmt.Sprintf(`fetch("/api/v1/session",{method:"POST",headers:{"Content-Type":"application/json"},body:JSON.stringify({name:%q,password:%q})}).then(r=>r.status)`, d.Name, d.Password)
	drawn := `document.querySelector("iframe")?.dataset.drawn > 0`
	mounted := func(sel string) string {
		return `document.querySelector('` + sel + `')?.shadowRoot?.querySelector('.digits')`
	}
	there := func(key, sel string) string {
		return `document.querySelector("[data-glass-pocket=` + key + `]")?.shadowRoot?.querySelector("` + sel + `")`
	}
	if err := p.Before(`window.scrolled = (key, above = 120) => (scrollTo(0, document.querySelector("[data-glass-pocket=" + key + "]").getBoundingClientRect().top + scrollY - above), true)`); err != nil {
		return err
	}
	if err := p.Go(d.Manage + "/healthz"); err != nil {
		return err
	}
	if _, err := browser.Eval[int](p, signIn); err != nil {
		return err
	}
	worktop := func() error { return onWorktop(d.Client()) }
	change := func() error { return changeMore(d.Client()) }
	for _, s := range []shot{
		{"host-page.png", d.Sites + "/kelp-and-kiln", mounted("[data-glass-pocket]"), "light", "", nil},
		{"feed.png", d.Sites + "/kelp-and-kiln", there("demo-feed", ".post") + ` && scrolled("demo-feed")`, "light", "", nil},
		{"dates.png", d.Sites + "/teasel-hall", there("demo-dates", ".date") + ` && scrolled("demo-dates")`, "light", "", nil},
		{"reviews.png", d.Sites + "/kelp-and-kiln", there("demo-reviews", ".review") + ` && scrolled("demo-reviews")`, "light", "", nil},
		{"cards.png", d.Sites + "/", there("demo-cards", "img") + ` && scrolled("demo-cards", 560)`, "light", "", nil},
		{"popup.png", d.Sites + "/hask-orchard", there("demo-popup", "dialog") + ` && document.querySelector("[data-glass-open]").click() !== 0`, "light", "", nil},
		{"why.png", d.Sites + "/kelp-and-kiln#glass-pocket-why", `document.documentElement.lastElementChild.shadowRoot?.querySelectorAll("article").length == 4`, "light", "", nil},
		{"pockets.png", d.Manage + "/", `document.querySelector("tbody tr") && document.querySelector("aside iframe")?.dataset.drawn > 8`, "light", "", nil},
		{"editor.png", d.Manage + "/pockets/demo-countdown", drawn, "light", "", nil},
		{"sources.png", d.Manage + "/pockets/demo-reviews", drawn + ` && (!document.querySelector("[id$=rule-rating]") ? ([...document.querySelectorAll("[aria-label='Sources of Reviews'] button")].find(b => b.innerText == "Rules")?.click(), false) : (document.querySelector("[data-path=reviews]").scrollIntoView(), document.querySelectorAll("[aria-label='Sources of Reviews'] [data-item]").length > 4))`, "light", "", nil},
		{"cases.png", d.Manage + "/pockets/demo-countdown", drawn + ` && (document.querySelectorAll("section[aria-label=Preview] li iframe").length > 4 ? [...document.querySelectorAll("section[aria-label=Preview] li iframe")].every(f => f.dataset.drawn > 0) : ([...document.querySelectorAll("button")].find(b => b.innerText == "Side by side")?.click(), false))`, "light", "", nil},
		{"install.png", d.Manage + "/pockets/demo-countdown", `document.querySelector("main iframe")?.dataset.shows == "widget" || (document.querySelectorAll("[role=tab]")[1]?.click(), [...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Rich text"))?.click(), false)`, "light", "", nil},
		{"publish.png", d.Manage + "/pockets/demo-countdown", drawn + ` && (document.querySelector("[data-part=publish] dl") || ([...document.querySelectorAll("nav[aria-label^=Parts] button")].find(b => b.innerText == "Publish")?.click(), false))`, "dark", "", change},
		{"brand.png", d.Manage + "/customers/kelp-and-kiln", `document.querySelector("main fieldset button")`, "light", "", nil},
		{"gallery.png", d.Manage + "/gallery", `document.querySelector("iframe")?.dataset.drawn > 11`, "light", "", nil},
		{"worktop.png", d.Manage + "/worktop/countdown", `document.querySelector("section[aria-label=Messages]")?.innerText.includes("There are no faults") && (document.querySelector("nav[aria-label='Parents']") || ([...document.querySelectorAll("main li button")].find(e => e.innerText.startsWith(".heading"))?.click(), false))`, "light", "", worktop},
		{"release.png", d.Manage + "/worktop/countdown", `document.querySelector("[role=dialog]") ? [...document.querySelectorAll("[role=dialog] button")].some(e => e.innerText == "Look") && document.querySelectorAll("[role=dialog] iframe").length > 1 : (document.querySelector("section[aria-label=Messages]")?.innerText.includes("There are no faults") && [...document.querySelectorAll("header button")].find(e => e.innerText == "Release").click(), false)`, "light", "", nil},
	} {
		if err := p.Media(s.scheme, "reduce"); err != nil {
			return err
		}
		if s.before != nil {
			if err := s.before(); err != nil {
				return err
			}
		}
		if s.do != "" {
			if _, err := browser.Eval[int](p, s.do); err != nil {
				return err
			}
		}
		if err := p.Go(s.address); err != nil {
			return err
		}
		if err := p.Wait(s.wait); err != nil {
			return err
		}
		if _, err := browser.Eval[bool](p, `new Promise(r => setTimeout(() => requestAnimationFrame(() => requestAnimationFrame(() => r(true))), 300))`); err != nil {
			return err
		}
		if err := p.Shot(filepath.Join(folder, s.file)); err != nil {
			return err
		}
		for _, e := range p.Errors() {
			fmt.Println(s.file, "console:", e)
		}
	}
	return nil
}

// onWorktop puts the countdown on the worktop, with a change to look at and a pocket that
// follows.
func onWorktop(c *client.Client) error {
	ctx, follow := context.Background(), true
	if _, err := c.Publish(ctx, "demo-countdown", wire.Publish{Follow: &follow}); err != nil {
		return err
	}
	draft, err := c.StartWidgetDraft(ctx, "countdown", wire.NewWidgetDraft{})
	if err != nil {
		return err
	}
	for _, f := range draft.Files {
		if f.Path == "style.css" {
			_, err = c.ChangeWidgetDraft(ctx, "countdown", []wire.DraftFile{{Path: f.Path, Was: f.Digest, Text: strings.Replace(f.Text, "border-radius: var(--radius)", "border-radius: calc(2 * var(--radius))", 1)}})
		}
	}
	return err
}

// changeMore makes a difference to look at before it is published.
func changeMore(c *client.Client) error {
	draft, err := c.Draft(context.Background(), "demo-countdown")
	if err == nil {
		_, err = c.ChangeDraft(context.Background(), "demo-countdown", draft.Revision, map[string]json.RawMessage{
			"heading": json.RawMessage(`"The kiln opens at dusk"`), "accent": json.RawMessage(`{"brand": "accent"}`), "layout": json.RawMessage(`"dials"`),
		})
	}
	return err
}
