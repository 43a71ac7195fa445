package main

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"strings"
	"time"

	"glasspocket/e2e/browser"
	"glasspocket/internal/bundle"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
	"glasspocket/widgets"
)

// fifty is a folder with fifty settings of ten types, a view that shows them all, a
// stylesheet and a script.
func fifty(title string) widget.Files {
	kinds := []struct{ schema, glass, shows string }{
		{`"type": "string", "default": "Words"`, `"type": "text"`, `<p>{{.settings.%s}}</p>`},
		{`"type": "number", "minimum": 0, "maximum": 90, "default": 12`, `"type": "number", "control": "slider", "unit": "px", "look": true`, ``},
		{`"type": "string", "default": "#17233a"`, `"type": "colour", "look": true`, ``},
		{`"type": "boolean", "default": true`, `"type": "switch"`, `{{if .settings.%s}}<i></i>{{end}}`},
		{`"type": "string", "enum": ["row", "stack"], "default": "row"`, `"type": "choice", "options": {"row": {"en": "Row"}, "stack": {"en": "Stack"}}`, `{{if eq .settings.%s "row"}}<b></b>{{end}}`},
		{`"type": "object", "default": {}`, `"type": "link"`, `<a {{linkTo .settings.%s}}>x</a>`},
		{`"type": "object", "default": {"stops": [{"colour": "#0b6b63", "at": 0}, {"colour": "#17233a", "at": 100}]}`, `"type": "gradient", "look": true`, ``},
		{`"type": "object", "default": {"top": 8}`, `"type": "spacing", "look": true, "small": true`, ``},
		{`"type": "string", "default": "2027-03-01"`, `"type": "date"`, `<time>{{date .settings.%s "long"}}</time>`},
		{`"type": "string", "contentMediaType": "text/html", "default": "<p>Hello</p>"`, `"type": "richText"`, `<div>{{.settings.%s}}</div>`},
	}
	var properties, view, style []string
	for i := range 50 {
		k, key := kinds[i%len(kinds)], fmt.Sprintf("setting%c%c", 'A'+i/26, 'a'+i%26)
		properties = append(properties, fmt.Sprintf(`%q: {%s, "glass": {%s, "label": {"en": "Label", "de": "Schild"}}}`, key, k.schema, k.glass))
		if k.shows == "" {
			style = append(style, fmt.Sprintf(".a%d { color: var(--%s); margin: var(--%[2]s) }", i, setting.Kebab(key)))
		} else {
			view = append(view, fmt.Sprintf(k.shows, key))
		}
	}
	return widget.Files{
		"widget.json":      fmt.Appendf(nil, `{"format": 1, "name": "fifty", "title": {"en": %q}, "languages": ["en", "de"]}`, title),
		"settings.json":    []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {` + strings.Join(properties, ",\n") + `}}`),
		"view.html":        []byte(`<section class="a1">` + strings.Join(view, "\n") + `</section>`),
		"style.css":        []byte(strings.Join(style, "\n")),
		"mount.ts":         []byte("export default function mount({ root }: { root: HTMLElement }) {\n  root.querySelector('.a1')!.addEventListener('click', () => {});\n}\n"),
		"messages/en.json": []byte(`{}`), "messages/de.json": []byte(`{}`),
		"starters/a.json": []byte(`{"title": {"en": "A"}, "settings": {"settingAa": "Other words", "settingAb": 20}}`),
	}
}

// formatGroup measures what a widget's author waits for, and what reviews cost a visitor.
func formatGroup(b *bench) error {
	ctx, c := context.Background(), b.demo.Client()
	var checks, releases []float64
	for i := range 60 {
		files := fifty(fmt.Sprintf("Fifty %d", i))
		begin := time.Now()
		if r, faults := widget.Read(files, bundle.Builder{}); r == nil || len(r.Warnings) > 0 {
			return fmt.Errorf("the folder is not sound: %v", faults)
		}
		checks = append(checks, milliseconds(begin))
		begin = time.Now()
		if _, err := c.Release(ctx, "fifty", files); err != nil {
			return err
		}
		releases = append(releases, milliseconds(begin))
	}
	b.report(figure{"check-50-settings-median", median(checks), 50, false, false, "ms"})
	b.report(figure{"release-50-settings-median", median(releases), 300, false, false, "ms"})

	folder, err := widgets.Folder("reviews")
	if err != nil {
		return err
	}
	files, _, err := widget.Collect(folder)
	if err != nil {
		return err
	}
	r, faults := widget.Read(files, bundle.Builder{})
	if r == nil {
		return faults
	}
	now := time.Now()
	values, _ := r.Sample(now)
	reviews := values["reviews"].([]any)
	for i := 0; len(reviews) < 12; i++ {
		again := maps.Clone(reviews[i].(map[string]any))
		again["id"] = fmt.Sprint("more", i)
		reviews = append(reviews, again)
	}
	full, faults := r.Schema.Complete(setting.Values{"reviews": reviews, "title": values["title"], "shown": 12.0})
	if len(faults) > 0 {
		return faults
	}
	var renderings []float64
	for range 2000 {
		begin := time.Now()
		if _, faults := r.Show(full, "en", now, setting.World{Base: b.demo.Public}); len(faults) > 0 {
			return faults
		}
		renderings = append(renderings, milliseconds(begin))
	}
	b.report(figure{"rendering-12-reviews-median", median(renderings), 0.5, false, false, "ms3"})

	const key = "bench-reviews"
	if _, err := c.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "reviews", Starter: "shelf"}); err != nil {
		return err
	}
	list, _ := json.Marshal(reviews)
	draft, err := c.ChangeDraft(ctx, key, 1, map[string]json.RawMessage{"reviews": list, "shown": json.RawMessage("12")})
	if err != nil {
		return err
	}
	if _, err := c.Publish(ctx, key, wire.Publish{Revision: draft.Revision}); err != nil {
		return err
	}
	script, _, err := fetch(b.demo.Public+"/s/"+key+".js", "br")
	if err != nil {
		return err
	}
	b.report(figure{"reviews-12-cold-brotli", float64(len(script)), 14 << 10, false, true, "B"})
	p, err := b.browser.Open(1280, 800)
	if err != nil {
		return err
	}
	defer p.Close()
	if err := p.Go(b.demo.Sites + "/nowhere"); err != nil {
		return err
	}
	requests, err := browser.Eval[float64](p, `(async () => { const d = document.createElement("div"); d.dataset.glassPocket = "`+key+`"; const s = document.createElement("script"); s.src = "`+b.demo.Public+`/s/`+key+`.js"; document.body.append(d, s);
		while ((d.shadowRoot?.querySelectorAll(".review").length ?? 0) < 12) await new Promise(requestAnimationFrame);
		return performance.getEntriesByType("resource").filter(e => e.name.startsWith("`+b.demo.Public+`") && e.initiatorType != "img").length })()`)
	if err != nil {
		return err
	}
	b.report(figure{"reviews-12-requests-besides-photos", requests, 1, false, true, ""})

	for _, name := range widgets.Names {
		folder, err := widgets.Folder(name)
		if err != nil {
			return err
		}
		files, _, err := widget.Collect(folder)
		if err != nil {
			return err
		}
		r, faults := widget.Read(files, bundle.Builder{})
		if r == nil {
			return faults
		}
		b.report(figure{"script-" + name + "-brotli", float64(bundle.Builder{}.Weight(r.Built.Mount)), widget.ScriptMost, false, true, "B"})
	}
	return nil
}

func milliseconds(since time.Time) float64 { return float64(time.Since(since).Nanoseconds()) / 1e6 }
