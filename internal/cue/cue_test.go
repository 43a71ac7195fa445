package cue

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The same cases hold for the page's script, see e2e.
func TestShows(t *testing.T) {
	text, err := os.ReadFile("testdata/addresses.json")
	require.NoError(t, err)
	var cases []struct {
		Cues
		Sites, Shows, Hides []string
	}
	require.NoError(t, json.Unmarshal(text, &cases))
	require.NotEmpty(t, cases)
	for _, c := range cases {
		cleaned, faults := c.Clean()
		require.Empty(t, faults)
		assert.Equal(t, len(c.Only)+len(c.Not), len(cleaned.Only)+len(cleaned.Not))
		for _, a := range c.Shows {
			assert.True(t, cleaned.Shows(a, c.Sites), "%+v shows at %s", c.Cues, a)
		}
		for _, a := range c.Hides {
			assert.False(t, cleaned.Shows(a, c.Sites), "%+v hides at %s", c.Cues, a)
		}
	}
}

func TestClean(t *testing.T) {
	for _, c := range []struct{ given, kept, wrong string }{
		{" /events/* ", "/events/*", ""},
		{"https://Isles.Example/News?x=1#y", "isles.example/News", ""},
		{"https://isles.example", "isles.example/", ""},
		{"isles.example", "isles.example/*", ""},
		{"/küste/*", "/k%C3%BCste/*", ""},
		{"#/events", "#/events", ""},
		{"", "", ""},
		{"events", "", "is not a path"},
		{"/two words", "", "contains a space"},
		{"isl es.example/", "", "is not an address"},
		{"/" + strings.Repeat("a", 300), "", "more than 200"},
	} {
		cleaned, faults := Cues{Only: []string{c.given}}.Clean()
		if c.wrong != "" {
			require.Len(t, faults, 1, c.given)
			assert.Contains(t, faults[0].What, c.wrong)
			assert.Equal(t, "only/0", faults[0].Field)
			continue
		}
		require.Empty(t, faults, c.given)
		assert.Equal(t, c.kept, strings.Join(cleaned.Only, " "), c.given)
	}
	_, faults := Cues{Not: make([]string, 51)}.Clean()
	assert.Len(t, faults, 1)
}

func FuzzClean(f *testing.F) {
	f.Add("/events/*", "https://isles.example/events")
	f.Add("isles.example:80/**", "//")
	f.Fuzz(func(t *testing.T, rule, address string) {
		c, faults := Cues{Only: []string{rule}}.Clean()
		if len(faults) == 0 {
			c.Shows(address, nil) // never panics
			again, faults := c.Clean()
			assert.Empty(t, faults)
			assert.Equal(t, c, again, "what is kept stays as it is")
		}
	})
}
