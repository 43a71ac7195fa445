package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/host"
)

// Every step of docs/widget-guide.md, as it stands there: files are written, commands run,
// and what they print is what the guide says that they print. At the end the widget stands
// twice in a page and works.
func TestWidgetGuide(t *testing.T) {
	text, err := os.ReadFile(filepath.Join(service.Root(), "docs", "widget-guide.md"))
	require.NoError(t, err)
	dir := t.TempDir()
	blocks := regexp.MustCompile("(?ms)^```(\\w+) ?([^\n]*)\n(.*?)^```$").FindAllStringSubmatch(string(text), -1)
	require.Greater(t, len(blocks), 15)
	printed, commands := "", 0
	for _, b := range blocks {
		kind, about, body := b[1], b[2], b[3]
		switch kind {
		case "sh":
			printed = ""
			want := 0
			if about == "exit=3" {
				want = 3
			}
			for line := range strings.Lines(body) {
				line = strings.TrimSpace(line)
				require.True(t, strings.HasPrefix(line, "glasspocket "), line)
				c := exec.Command("sh", "-c", service.Binary("glasspocket")+strings.TrimPrefix(line, "glasspocket"))
				c.Dir = dir
				c.Env = []string{"GLASSPOCKET_SERVER=" + demo.Manage, "GLASSPOCKET_TOKEN=" + demo.Token, "GLASSPOCKET_CONFIG=" + filepath.Join(dir, "none.json"), "PATH=" + os.Getenv("PATH")}
				out, _ := c.CombinedOutput()
				require.Equal(t, want, c.ProcessState.ExitCode(), "%s: %s", line, out)
				printed += string(out)
				commands++
			}
		case "text":
			rest := printed
			for line := range strings.Lines(body) {
				line = strings.TrimRight(line, "\n")
				i := strings.Index(rest, line)
				require.GreaterOrEqual(t, i, 0, "the guide says %q; printed was:\n%s", line, printed)
				rest = rest[i:]
			}
		case "sed":
			part := strings.Split(strings.TrimSpace(body), "/")
			file := filepath.Join(dir, about)
			old, err := os.ReadFile(file)
			require.NoError(t, err)
			require.Contains(t, string(old), part[1])
			require.NoError(t, os.WriteFile(file, []byte(strings.ReplaceAll(string(old), part[1], part[2])), 0o644))
		default:
			require.NotEmpty(t, about, "a block that is neither a file nor a command: %s", body)
			file := filepath.Join(dir, about)
			require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
			require.NoError(t, os.WriteFile(file, []byte(body), 0o644))
		}
	}
	assert.GreaterOrEqual(t, commands, 9)
	paste := strings.Join(snippet(t, "guide-tide", host.Script), "")
	p := page(t, `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>x</title></head><body>`+paste+strings.Replace(paste, "<div ", `<div data-set-title="Springtide" `, 1)+`</body></html>`)
	shows(t, p, 2)
	at := func(i string) string {
		return `document.querySelectorAll("[data-glass-pocket]")[` + i + `].shadowRoot`
	}
	assert.Equal(t, "High water today|16:05 at the landing", eval[string](t, p, at("0")+`.querySelector(".title").textContent + "|" + `+at("0")+`.querySelector(".time").textContent`))
	assert.Equal(t, "Springtide", eval[string](t, p, at("1")+`.querySelector(".title").textContent`))
	eval[any](t, p, at("1")+`.querySelector(".more").click(); 0`)
	assert.Equal(t, "true|Less|false|More", eval[string](t, p, `[1, 0].map(i => { const r = document.querySelectorAll("[data-glass-pocket]")[i].shadowRoot; return !r.querySelector(".note").hidden + "|" + r.querySelector(".more").textContent }).join("|")`))
	assert.Empty(t, p.Errors())
	assert.Empty(t, axe(t, p))
}
