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

// layers, from the inside out: a package may use those before it and none beside or after it. setting ← view ← widget ← render ← app ← doors ← cmd.
var layers = [][]string{
	{"internal/fault", "internal/signal"},
	{"internal/jsondoc"},
	{"internal/message"},
	{"internal/setting"},
	{"internal/view"},
	{"internal/widget"},
	{"internal/merge", "internal/compare"},
	{"internal/cue"},
	{"internal/render", "internal/host", "internal/intake"},
	{"internal/flat", "internal/onpage", "internal/diagnose"},
	{"internal/app"},
	{"internal/store", "internal/shelf", "internal/fetch", "internal/wire"},
	{"internal/client"},
	{"internal/public", "internal/manage"},
}

// core packages know neither HTTP nor SQL, nor anything that runs them.
var core = []string{"internal/fault", "internal/signal", "internal/jsondoc", "internal/message", "internal/setting", "internal/view", "internal/widget", "internal/cue", "internal/render", "internal/host", "internal/flat", "internal/onpage", "internal/diagnose", "internal/intake", "internal/merge", "internal/compare", "internal/app"}

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
	all, direct := list(t, "Deps"), list(t, "Imports")
	rank := map[string]int{}
	for i, layer := range layers {
		for _, p := range layer {
			rank[p] = i
		}
	}
	for p, deps := range all {
		mine, ranked := rank[p]
		for _, d := range deps {
			own, ok := strings.CutPrefix(d, "glasspocket/")
			if !ok {
				continue
			}
			if theirs, known := rank[own]; ranked && known {
				assert.Less(t, theirs, mine, "%s uses %s", p, own)
			}
			if ranked {
				assert.False(t, strings.HasPrefix(own, "cmd/") || own == "internal/bundle" || own == "demo" || own == "console", "%s uses %s", p, own)
			}
		}
		if slices.Contains(core, p) {
			for _, f := range foreign {
				assert.False(t, slices.Contains(direct[p], f), "%s imports %s", p, f)
			}
		}
	}
	assert.Contains(t, all, "internal/app")
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
