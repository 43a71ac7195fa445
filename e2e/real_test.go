package e2e

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/app/install"
	"glasspocket/internal/host"
)

// hosted serves a folder on an origin of its own.
func hosted(t *testing.T, dir string) string {
	t.Helper()
	site := httptest.NewServer(http.FileServer(http.Dir(dir)))
	t.Cleanup(site.Close)
	return site.URL
}

func run(t *testing.T, dir, name string, args ...string) {
	t.Helper()
	c := exec.Command(name, args...)
	c.Dir = dir
	out, err := c.CombinedOutput()
	require.NoError(t, err, "%s %v: %s", name, args, out)
}

func file(t *testing.T, name, text string) {
	t.Helper()
	require.NoError(t, os.MkdirAll(filepath.Dir(name), 0o755))
	require.NoError(t, os.WriteFile(name, []byte(text), 0o644))
}

// guideFor is the guide for a wish, with a form or the best.
func guideFor(t *testing.T, key string, in install.Install) host.Guide {
	t.Helper()
	out, err := api.Guide(t.Context(), key, in)
	require.NoError(t, err)
	require.NotNil(t, out.Guide)
	return *out.Guide
}

// text is what of a guide is pasted in a role.
func text(t *testing.T, g host.Guide, role string) string {
	t.Helper()
	for _, p := range g.Parts {
		if p.Role == role {
			return p.Text
		}
	}
	t.Fatalf("%s of %s has no part %q", g.Offer.Delivery, g.Host, role)
	return ""
}

// watched is a tab that notes what is to be known of scripts and frames.
func watched(t *testing.T) *browser.Page {
	t.Helper()
	p := tab(t)
	require.NoError(t, p.Before(watching))
	return p
}

// anywhere says what is to be seen of a pocket, wherever on the page.
func anywhere(t *testing.T, p *browser.Page, key string) string { return look(t, p, key, "", true) }

// Hugo itself, by the steps of its profile: a shortcode, a bare link in Markdown, what becomes
// of HTML there, and the layout.
func TestHugo(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	script := guideFor(t, "demo-countdown", install.Install{Host: "hugo", Where: "new"})
	require.Equal(t, host.Script, script.Offer.Delivery)
	link := guideFor(t, "demo-countdown", install.Install{Host: "hugo", Where: "existing"})
	require.Equal(t, host.Link, link.Offer.Delivery)
	split := guideFor(t, "demo-countdown", install.Install{Host: "hugo", Where: "new", Delivery: host.Split})
	popup := guideFor(t, "demo-popup", install.Install{Host: "hugo"})
	require.Equal(t, "site", popup.Where, "what lies over the page is for the whole site")

	file(t, dir+"/config.toml", "baseURL = \"/\"\ntitle = \"Northbeck\"\ndisableKinds = [\"taxonomy\", \"term\", \"RSS\", \"sitemap\"]\n")
	file(t, dir+"/layouts/_default/single.html", "{{ define \"main\" }}<main>{{ .Content }}</main>{{ end }}")
	file(t, dir+"/layouts/index.html", "{{ define \"main\" }}<main>{{ .Content }}</main>{{ end }}")
	base := "<!doctype html><html><body>{{ block \"main\" . }}{{ end }}{{ with .Params.split }}SPLIT{{ end }}{{ with .Params.popup }}POPUP{{ end }}</body></html>"
	file(t, dir+"/layouts/_default/baseof.html", strings.NewReplacer("SPLIT", text(t, split, "script"), "POPUP", text(t, popup, "content")).Replace(base))
	file(t, dir+"/layouts/shortcodes/pocket.html", text(t, script, "content"))
	file(t, dir+"/layouts/shortcodes/point.html", text(t, split, "content"))
	file(t, dir+"/content/_index.md", "Home\n")
	file(t, dir+"/content/short.md", "---\ntitle: Short\n---\nWords.\n\n{{< pocket >}}\n\nMore.\n")
	file(t, dir+"/content/point.md", "---\ntitle: Point\nsplit: true\n---\n{{< point >}}\n")
	file(t, dir+"/content/link.md", "---\ntitle: Link\n---\nWords.\n\n"+text(t, link, "content")+"\n")
	file(t, dir+"/content/html.md", "---\ntitle: HTML\n---\nWords.\n\n"+text(t, script, "content")+"\n")
	file(t, dir+"/content/over.md", "---\ntitle: Over\npopup: true\n---\nWords.\n")
	run(t, dir, "hugo", "--quiet")
	site := hosted(t, dir+"/public")
	p := watched(t)
	for _, c := range []struct{ page, key, shows string }{{"short", "demo-countdown", "widget"}, {"point", "demo-countdown", "widget"}, {"link", "demo-countdown", "link"}, {"html", "demo-countdown", "nothing"}, {"over", "demo-popup", "widget"}} {
		require.NoError(t, p.Go(site+"/"+c.page+"/"))
		assert.Equal(t, c.shows, anywhere(t, p, c.key), c.page)
	}
}

// ikiwiki itself: it scrubs scripts, attributes and frames from pages, and what its profile says
// gets through all the same.
func TestIkiwiki(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	split := guideFor(t, "demo-countdown", install.Install{Host: "ikiwiki", Where: "new"})
	require.Equal(t, host.Split, split.Offer.Delivery)
	for _, form := range []host.Delivery{host.Script, host.Frame, host.Link} {
		file(t, fmt.Sprintf("%s/src/%s.mdwn", dir, form), "Words.\n\n"+text(t, guideFor(t, "demo-countdown", install.Install{Host: "ikiwiki", Where: "new", Delivery: form}), "content")+"\n")
	}
	file(t, dir+"/src/split.mdwn", "Words.\n\n"+text(t, split, "content")+"\n\nMore.\n")
	file(t, dir+"/src/index.mdwn", "Home\n")
	template, err := os.ReadFile("/usr/share/ikiwiki/templates/page.tmpl")
	require.NoError(t, err)
	build := func() string {
		run(t, dir, "ikiwiki", "--rebuild", "--templatedir", dir+"/templates", "--url", "http://wiki.example", "--plugin", "htmlscrubber", dir+"/src", dir+"/out")
		return hosted(t, dir+"/out")
	}
	file(t, dir+"/templates/page.tmpl", string(template))
	p := watched(t)
	site := build()
	see := func(site, page string) string {
		require.NoError(t, p.Go(site+"/"+page+"/"))
		return anywhere(t, p, "demo-countdown")
	}
	predicted := func(form host.Delivery) string {
		return guideFor(t, "demo-countdown", install.Install{Host: "ikiwiki", Where: "new", Delivery: form}).Offer.Outcome.Shows
	}
	for _, form := range []host.Delivery{host.Script, host.Frame, host.Link} {
		assert.Equal(t, predicted(form), see(site, string(form)), form)
	}
	assert.Equal(t, "link", see(site, "split"), "as long as the template has no script")
	file(t, dir+"/templates/page.tmpl", strings.Replace(string(template), "</body>", text(t, split, "script")+"\n</body>", 1))
	site = build()
	assert.Equal(t, "widget", see(site, "split"))
	popup := guideFor(t, "demo-popup", install.Install{Host: "ikiwiki", Where: "site"})
	file(t, dir+"/templates/page.tmpl", strings.Replace(string(template), "</body>", text(t, popup, "content")+"\n</body>", 1))
	site = build()
	require.NoError(t, p.Go(site+"/"))
	assert.Equal(t, "widget", anywhere(t, p, "demo-popup"))
}

// The printed components, built by Vite into programs: each shows, twice on a page, and comes
// and goes with the pages of its program.
func TestComponents(t *testing.T) {
	for _, framework := range host.Frameworks {
		t.Run(framework, func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			g := guideFor(t, "demo-countdown", install.Install{Host: "program", Where: "new", Placing: host.Placing{Framework: framework, Width: "480px", Align: "center", Background: "#fff7e6"}})
			require.Equal(t, host.Component, g.Offer.Delivery)
			file(t, filepath.Join(dir, g.Parts[0].File), g.Parts[0].Text)
			run(t, service.Root()+"/e2e/apps", "node", "build.mjs", framework, filepath.Join(dir, g.Parts[0].File), dir+"/out")
			p := watched(t)
			require.NoError(t, p.Go(hosted(t, dir+"/out")+"/"))
			two := `[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.shadowRoot?.querySelector(".digits") && e.getBoundingClientRect().width == 480).length == 2`
			require.NoError(t, p.Wait(two), "console: %v", p.Errors())
			assert.Equal(t, "rgb(255, 247, 230)", eval[string](t, p, `getComputedStyle(document.querySelector("[data-glass-pocket]").parentElement).backgroundColor`))
			eval[any](t, p, `document.getElementById("ferry").click(); 0`)
			require.NoError(t, p.Wait(`glassPocket.live.size == 0 && document.querySelector("h1").textContent == "The ferry"`))
			eval[any](t, p, `document.getElementById("kiln").click(); 0`)
			require.NoError(t, p.Wait(two))
			assert.Empty(t, p.Errors())
			assert.Equal(t, 1, eval[int](t, p, `document.querySelectorAll("script[src$='/loader.js']").length`))
		})
	}
}
