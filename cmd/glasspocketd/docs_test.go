package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// docs/running.md lists every flag of serve with its environment variable and default, and
// none that there is not.
func TestConfigurationIsDocumented(t *testing.T) {
	text, err := os.ReadFile(filepath.Join("..", "..", "docs", "running.md"))
	require.NoError(t, err)
	rows := map[string][]string{}
	for _, row := range regexp.MustCompile(`(?m)^\| `+"`-([a-z-]+)`"+` \|(.*)\|$`).FindAllStringSubmatch(string(text), -1) {
		rows[row[1]] = strings.Split(row[2], "|")
	}
	env := regexp.MustCompile(`\((GLASSPOCKET_[A-Z_]+)\)`)
	serveFlags(&config{}).VisitAll(func(f *flag.Flag) {
		row := rows[f.Name]
		if !assert.NotNil(t, row, "-%s is not in docs/running.md", f.Name) {
			return
		}
		want := ""
		if m := env.FindStringSubmatch(f.Usage); m != nil {
			want = "`" + m[1] + "`"
		}
		assert.Equal(t, want, strings.TrimSpace(row[0]), f.Name)
		if f.DefValue != "" {
			assert.Equal(t, "`"+f.DefValue+"`", strings.TrimSpace(row[1]), f.Name)
		}
		delete(rows, f.Name)
	})
	assert.Empty(t, rows)
}

func TestNetworks(t *testing.T) {
	list, err := networks("10.0.0.0/8, ::1 192.0.2.7")
	require.NoError(t, err)
	assert.Equal(t, "[10.0.0.0/8 ::1/128 192.0.2.7/32]", fmt.Sprint(list))
	_, err = networks("10.0.0.0/99")
	assert.ErrorContains(t, err, "is not a network")
}

func TestApart(t *testing.T) {
	for _, c := range []struct {
		public, manage string
		refused        bool
	}{
		{"https://pockets.lantern.example", "https://console.lantern.example", true},
		{"https://pockets.example", "https://console.example", false},
		{"https://a.lantern.example", "https://b.quay.example", false},
		{"http://127.0.0.1:7441", "http://127.0.0.1:7440", false},
		{"http://localhost:7441", "http://localhost:7440", false},
	} {
		assert.Equal(t, c.refused, apart(c.public, c.manage, false) != nil, c)
		assert.NoError(t, apart(c.public, c.manage, true))
	}
}
