package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/folder"
	"glasspocket/internal/wire"
)

// A page with its stylesheet, scripts, image and font beside it becomes a widget that works as
// the page did, though one of its scripts fails.
func TestImportWithItsFiles(t *testing.T) {
	t.Parallel()
	site := t.TempDir()
	font, err := os.ReadFile(filepath.Join(service.Root(), "e2e", "testdata", "tide.woff2"))
	require.NoError(t, err)
	for name, text := range map[string]string{
		"tides/board.html": `<!doctype html><html lang="en"><head><title>Imported board</title><link rel="stylesheet" href="../css/site.css"></head><body>
<div class="panel"><p id="out">none</p><p id="bar">bar</p><img class="pic" src="boat.svg" alt="A boat"><button onclick="more(2)">More</button></div>
<script src="/js/lib.js"></script><script src="broken.js"></script>
<script>let total = 0; function more(n) { total += n; document.getElementById("out").textContent = Lib.say(total) }</script>
<script>(function () { document.querySelector("body .panel").dataset.ready = "yes" })()</script>
<script>window.onscroll = function () { document.getElementById("bar").textContent = Math.round(document.documentElement.scrollTop) }</script></body></html>`,
		"tides/broken.js": "nowhere.to.be.found()",
		"tides/boat.svg":  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30 20"><rect width="30" height="20" fill="teal"/></svg>`,
		"css/site.css":    "html { font-size: 62.5%; } body { font-size: 1.8rem; } .panel { width: 20rem; font-family: Tide, serif; *zoom: 1; } @font-face { font-family: Tide; src: url(tide.woff2) format(\"woff2\"); }",
		"js/lib.js":       `(function (root, make) { if (typeof module === "object" && module.exports) { require("some-package"); module.exports = make(); } else root.Lib = make(); })(this, function () { return { say: (n) => "say " + n } })`,
	} {
		at := filepath.Join(site, name)
		require.NoError(t, os.MkdirAll(filepath.Dir(at), 0o755))
		require.NoError(t, os.WriteFile(at, []byte(text), 0o644))
	}
	require.NoError(t, os.WriteFile(filepath.Join(site, "css", "tide.woff2"), font, 0o644))
	run := func(code int, args ...string) string {
		t.Helper()
		c := exec.Command(service.Binary("glasspocket"), args...)
		c.Dir = site
		out, err := c.CombinedOutput()
		if code == 0 {
			require.NoError(t, err, string(out))
		} else {
			require.Error(t, err, string(out))
		}
		return string(out)
	}
	assert.Contains(t, run(1, "start", "imported", "-page", "tides/board.html", "-root", "css"), "is not in the folder css")
	says := run(0, "start", "imported", "-page", "tides/board.html", "-root", ".")
	assert.Contains(t, says, "5 scripts moved to mount.js")
	assert.NotContains(t, says, "was not found")
	assert.Contains(t, run(0, "check", "imported"), "has no faults", "a branch that no browser takes is no fault")

	files, faults, err := folder.Read(filepath.Join(site, "imported"))
	require.NoError(t, err)
	require.Empty(t, faults)
	_, err = api.Release(t.Context(), "imported", files)
	require.NoError(t, err)
	_, err = api.MakePocket(t.Context(), wire.NewPocket{Key: "imported", Customer: plain, Widget: "imported", Title: "Imported"})
	require.NoError(t, err)
	publish(t, "imported")
	// On a page without a doctype too, and twice.
	p := page(t, `<p style="height:3000px">x</p>`+pointsAt("imported", "imported"))
	shows(t, p, 2)
	at := `document.querySelectorAll("[data-glass-pocket]")[1].shadowRoot`
	require.NoError(t, p.Wait(at+`.querySelector(".panel").dataset.ready == "yes"`), "what came after the one that failed has run: %v", p.Errors())
	eval[any](t, p, at+`.querySelector("button").click(); 0`)
	assert.Equal(t, "say 2", eval[string](t, p, at+`.querySelector("#out").textContent`))
	eval[any](t, p, `scrollTo(0, 240); 0`)
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[data-glass-pocket]")].every(e => e.shadowRoot.querySelector("#bar").textContent == "240")`), "both copies move")
	assert.Equal(t, "200px 18px", eval[string](t, p, `(s => s.width + " " + s.fontSize)(getComputedStyle(`+at+`.querySelector(".panel")))`))
	assert.Equal(t, 1, eval[int](t, p, at+`.querySelectorAll("img.pic").length`))
	require.NoError(t, p.Wait(`[...document.fonts].length > 0`), "its font is offered")
	assert.Len(t, p.Errors(), 2, "each copy's broken script is reported, and nothing else: %v", p.Errors())
}
