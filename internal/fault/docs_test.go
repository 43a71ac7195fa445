package fault

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/generated"
)

// docs/faults.md is the catalogue; “go test ./internal/fault -update” writes it.
func TestFaultsPage(t *testing.T) {
	var b strings.Builder
	b.WriteString("# Faults\n\nEvery fault that a widget folder or a settings file can have. The meaning of a code never changes.\n\n<!-- Generated from internal/fault/catalogue.go by “go test ./internal/fault -update”. -->\n\n| code | fault | why | example |\n|---|---|---|---|\n")
	cell := strings.NewReplacer("|", "\\|", "\n", " ", "<", "&lt;").Replace
	for _, e := range Catalogue {
		fmt.Fprintf(&b, "| `%s` | %s | %s | %s |\n", e.Code, cell(e.Title), cell(e.Why), cell(e.Example))
	}
	generated.File(t, filepath.Join("..", "..", "docs", "faults.md"), b.String(), "go test ./internal/fault -update")
}

// The catalogue has every declared code exactly once.
func TestCatalogueIsWhole(t *testing.T) {
	source, err := os.ReadFile("catalogue.go")
	require.NoError(t, err)
	declared := map[string]bool{}
	for line := range strings.Lines(string(source)) {
		if words := strings.Fields(line); len(words) == 4 && words[1] == "Code" {
			declared[strings.Trim(words[3], `"`)] = true
		}
	}
	seen := map[Code]bool{}
	for _, e := range Catalogue {
		assert.False(t, seen[e.Code], "%s is listed twice", e.Code)
		assert.True(t, declared[string(e.Code)], "%s is not declared", e.Code)
		assert.NotEmpty(t, e.Title+e.Why+e.Example)
		seen[e.Code] = true
	}
	assert.Equal(t, len(declared), len(seen))
}

func TestNearest(t *testing.T) {
	assert.Equal(t, "accent", Nearest("acent", []string{"accent", "ascent-long", "ink"}))
	assert.Equal(t, "", Nearest("zzz", []string{"accent"}))
	assert.Equal(t, "Use one of: a, b.", DidYouMean("zzzz", []string{"a", "b"}))
}
