package e2e

import (
	"bufio"
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// The verbs in an order in which the examples of each find what they need.
var inOrder = strings.Fields(`whoami list read set diff publish restore snippet steps try handover seal case cues starter
	duplicate export import move bulk unpublish cancel run audit brand change invite make upload
	connect map items filter refresh hide pin correct
	start check types pack unpack release roll send fetch watch explain host
	remember signin password revoke delete withdraw withhold`)

// Every example in a verb's help works on the demo, as it is printed.
func TestExamples(t *testing.T) {
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Stop()
	work := t.TempDir()
	for name, text := range map[string]string{
		"board.html":    `<!doctype html><title>Board</title><style>#board{color:#123}</style><main id="board"><h2>Low water</h2><p>At seven.</p></main>`,
		"page.html":     `<!doctype html><title>Isles</title><main><h1>Isles</h1><p>One.</p><p>Two.</p><p>Three.</p><p>Four.</p></main>`,
		"bowl.svg":      `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><circle r="4"/></svg>`,
		"mug.svg":       `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="5" height="5"/></svg>`,
		"password-file": d.Password + "\n",
	} {
		require.NoError(t, os.WriteFile(filepath.Join(work, name), []byte(text), 0o600))
	}
	require.NoError(t, os.CopyFS(filepath.Join(work, "widgets", "countdown"), os.DirFS(filepath.Join(service.Root(), "widgets", "countdown"))))
	sh := func(line, stdin string) *exec.Cmd {
		c := exec.Command("sh", "-c", strings.NewReplacer("http://127.0.0.1:7440", d.Manage, "http://127.0.0.1:7442", d.Sites, "http://127.0.0.1:7443", d.Voices, "http://127.0.0.1:7445", d.Harbour, "127.0.0.1:7450", "127.0.0.1:0").Replace(line))
		c.Dir, c.Stdin = work, strings.NewReader(stdin)
		c.Env = []string{"PATH=" + filepath.Dir(service.Binary("glasspocket")) + ":" + os.Getenv("PATH"), "GLASSPOCKET_SERVER=" + d.Manage, "GLASSPOCKET_TOKEN=" + d.Token, "GLASSPOCKET_CONFIG=" + filepath.Join(work, "config.json"), "TZ=UTC"}
		return c
	}
	editor := func() {
		_, err := d.Client().MakeUser(context.Background(), wire.NewUser{Name: "mirre@kelp.example", Role: "customer-editor", Customer: "kelp-and-kiln", Password: "seven quiet kilns"})
		require.NoError(t, err)
	}
	before := map[string]func(){ // conditions of the examples
		"revoke": func() {
			for n := range 3 {
				_, err := d.Client().MakeToken(context.Background(), wire.NewToken{Name: fmt.Sprint("t", n), Days: 1})
				require.NoError(t, err)
			}
		},
		"password": editor,
		"delete":   editor,
	}
	typed := map[string]string{"signin": d.Password + "\n", "password": d.Password + "\nfour slow ferries\nfour slow ferries\n"}

	help, err := sh("glasspocket -h", "").Output()
	require.NoError(t, err)
	var listed []string
	for _, m := range regexp.MustCompile(`(?m)^  ([a-z]+) +[A-Z]`).FindAllStringSubmatch(string(help), -1) {
		listed = append(listed, m[1])
	}
	assert.ElementsMatch(t, listed, inOrder, "the examples of every verb are run")
	for _, verb := range inOrder {
		if before[verb] != nil {
			before[verb]()
		}
		help, err := sh("glasspocket "+verb+" -h", "").Output()
		require.NoError(t, err, verb)
		_, examples, _ := strings.Cut(string(help), "Examples:\n")
		examples, _, _ = strings.Cut(examples, "\n\n")
		lines := strings.Split(strings.ReplaceAll(examples, " \\\n", " "), "\n")
		require.Len(t, lines, 2, verb)
		for _, line := range lines {
			require.Contains(t, line, "glasspocket "+verb, "an example")
			if verb == "watch" {
				interrupted(t, sh(line, ""))
				continue
			}
			out, err := sh(line, typed[verb]).CombinedOutput()
			assert.NoError(t, err, "%s\n%s", line, out)
		}
	}
	audit, err := d.Client().Audit(context.Background(), client.AuditQuery{Limit: 200})
	require.NoError(t, err)
	require.Greater(t, len(audit.Entries), 100)
	for _, e := range audit.Entries {
		assert.NotEqual(t, strings.TrimSpace(e.Did+" "+e.Kind+" "+e.Of), e.Sentence, "the audit has words for everything that the verbs did")
	}
}

// interrupted starts the worktop of a folder, waits for its address, and stops it as Ctrl+C does.
func interrupted(t *testing.T, c *exec.Cmd) {
	c.Args[2] = "exec " + strings.TrimSpace(c.Args[2])
	out, err := c.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, c.Start())
	open := false
	for s := bufio.NewScanner(out); s.Scan(); {
		if strings.Contains(s.Text(), "http://127.0.0.1:") {
			open = true
			require.NoError(t, c.Process.Signal(syscall.SIGINT))
		}
	}
	assert.NoError(t, c.Wait())
	assert.True(t, open, "%s prints its address", c.Args[2])
}
