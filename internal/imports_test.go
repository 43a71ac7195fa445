// Package internal_test holds what concerns all packages at once.
package internal_test

import (
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// layers, from the inside out: a package may use those in earlier layers, and none beside or after
// it. Every package of the module is in the list; see docs/architecture.md.
var layers = []layer{
	{"leaves, which know nothing of ours", "internal/fault internal/signal internal/slots internal/paging internal/merge internal/stylesheet internal/tree internal/clip internal/digest internal/shape internal/icon internal/header internal/heap internal/processors internal/meter internal/remote internal/program internal/generated internal/vault loader widgets console demo/lab demo/standin e2e/browser"},
	{"what settings and views stand on", "internal/jsondoc internal/nesting internal/asset internal/cue internal/diagnose"},
	{"texts", "internal/message"},
	{"settings and views", "internal/setting internal/view"},
	{"items", "internal/item"},
	{"widgets, errors of use cases, readers of sources", "internal/widget internal/problem internal/content internal/feed"},
	{"renderings, hosts, comparisons, background work", "internal/work internal/compare internal/host internal/intake internal/render"},
	{"what depends on hosts", "hosts internal/flat internal/onpage"},
	{"adapters of files, esbuild, SQLite and HTTP", "internal/bundle internal/folder internal/store internal/fetch"},
	{"use cases, in their order", "internal/app/access"},
	{"", "internal/app/audit internal/app/release"},
	{"", "internal/app/task"},
	{"", "internal/app/user internal/app/workshop"},
	{"", "internal/app/customer"},
	{"", "internal/app/source"},
	{"", "internal/app/delivery"},
	{"", "internal/app/pocket"},
	{"", "internal/app/publish internal/app/portable internal/app/guest internal/app/rollout internal/app/install"},
	{"", "internal/app/bulk"},
	{"their tables", "internal/content/contentsql internal/work/worksql"},
	{"", "internal/app/audit/auditsql"},
	{"", "internal/app/user/usersql internal/app/release/releasesql internal/app/workshop/workshopsql internal/app/task/tasksql"},
	{"", "internal/app/pocket/pocketsql internal/app/delivery/deliverysql internal/app/bulk/bulksql internal/app/install/installsql"},
	{"", "internal/app/customer/customersql internal/app/rollout/rolloutsql internal/app/publish/publishsql internal/app/source/sourcesql"},
	{"", "internal/app/guest/guestsql"},
	{"all use cases together", "internal/app"},
	{"what goes over the wire", "internal/wire internal/shelf"},
	{"the client", "internal/client internal/local"},
	{"listeners", "internal/public internal/manage"},
	{"programs", "demo cmd/glasspocket"},
	{"", "cmd/glasspocketd e2e/service e2e/jobs"},
	{"tests of the whole", "e2e/engine e2e/hostile e2e/eternal e2e/shots e2e bench internal"},
}

type layer struct{ about, packages string }

// core packages know neither HTTP nor SQL, nor anything that runs them: everything up to the use
// cases, except the adapters and what serves listeners.
func core() (list []string) {
	for _, l := range layers {
		if l.about == "their tables" {
			break
		}
		if !strings.HasPrefix(l.about, "adapters") {
			list = append(list, strings.Fields(l.packages)...)
		}
	}
	return slices.DeleteFunc(list, func(p string) bool {
		return slices.Contains([]string{"internal/header", "internal/meter", "internal/remote", "internal/heap", "demo/lab", "demo/standin", "e2e/browser"}, p)
	})
}

// foreign are packages that core must not import. What a library of ours brings along is
// another matter: brotli carries a helper for net/http that nobody here calls.
var foreign = []string{"net/http", "net", "database/sql", "github.com/gofiber/fiber/v3", "github.com/valyala/fasthttp", "github.com/jmoiron/sqlx", "modernc.org/sqlite", "github.com/evanw/esbuild/pkg/api", "os/exec", "log/slog"}

// list asks the go command about our packages, by the path below the module.
func list(t *testing.T, field string) map[string][]string {
	out, err := exec.Command("go", "list", "-deps", "-f", `{{.ImportPath}} {{join .`+field+` " "}}`, "glasspocket/...").CombinedOutput()
	require.NoError(t, err, string(out))
	all := map[string][]string{}
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		if path, ok := strings.CutPrefix(words[0], "glasspocket/"); ok {
			all[path] = words[1:]
		}
	}
	return all
}

func TestImportsPointInwards(t *testing.T) {
	direct := list(t, "Imports")
	rank := map[string]int{}
	for i, l := range layers {
		for _, p := range strings.Fields(l.packages) {
			rank[p] = i
		}
	}
	within := core()
	for p, imports := range direct {
		mine, listed := rank[p]
		assert.True(t, listed, "%s is in no layer: add it to the list above, and to docs/architecture.md", p)
		for _, d := range imports {
			own, ours := strings.CutPrefix(d, "glasspocket/")
			switch {
			case !ours && slices.Contains(within, p):
				assert.NotContains(t, foreign, d, "%s imports %s", p, d)
			case ours:
				assert.Less(t, rank[own], mine, "%s uses %s", p, own)
			}
			if strings.HasSuffix(own, "sql") && ours {
				assert.True(t, p == "internal/app" || strings.HasSuffix(p, "sql"), "%s uses the tables of %s", p, own)
			}
			if p == "internal/public" && strings.HasPrefix(own, "internal/app") {
				assert.Equal(t, "internal/app/delivery", own, "visitors need nothing else of the use cases")
			}
		}
	}
	for p := range rank {
		assert.Contains(t, direct, p, "a layer lists a package that does not exist")
	}
}

// Only view may use html/template: whoever else did could make trusted markup.
func TestOnlyViewUsesTemplates(t *testing.T) {
	users := []string{}
	for p, imports := range list(t, "Imports") {
		if slices.Contains(imports, "html/template") {
			users = append(users, p)
		}
	}
	assert.Equal(t, []string{"internal/view"}, users)
}
