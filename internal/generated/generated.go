// Package generated compares files in the repository with the code that generates them. Only tests
// use it. With the flag -update, a test writes its files instead.
package generated

import (
	"flag"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write the generated files")

// File fails t unless the file at path has the content want. remedy is the command that writes it.
func File(t testing.TB, path, want, remedy string) {
	t.Helper()
	if *update {
		require.NoError(t, os.WriteFile(path, []byte(want), 0o644))
	}
	have, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, want, string(have), "%s is out of date: run %s", path, remedy)
}

// Part is like File for the part of a file between from and to. If to is "", the part extends to the
// end of the file. Both marks must exist.
func Part(t testing.TB, path, from, to, want, remedy string) {
	t.Helper()
	have, err := os.ReadFile(path)
	require.NoError(t, err)
	before, rest, found := strings.Cut(string(have), from)
	require.True(t, found, "%s has no mark %q", path, from)
	after := ""
	if to != "" {
		_, after, found = strings.Cut(rest, to)
		require.True(t, found, "%s has no mark %q", path, to)
	}
	File(t, path, before+from+want+to+after, remedy)
}
