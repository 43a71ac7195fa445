package header

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func lines(text ...string) (all [][]byte) {
	for _, l := range text {
		all = append(all, []byte(l))
	}
	return all
}

func TestTags(t *testing.T) {
	for _, c := range []struct {
		lines  []string
		list   []string
		any    bool
		strong []string
	}{
		{nil, nil, false, nil},
		{[]string{`"7"`}, []string{`"7"`}, false, []string{"7"}},
		{[]string{`W/"7"`}, []string{`W/"7"`}, false, nil},
		{[]string{`"a,b", W/"c"`, `"d"`}, []string{`"a,b"`, `W/"c"`, `"d"`}, false, []string{"a,b", "d"}},
		{[]string{` * `}, nil, true, nil},
		{[]string{`7, "8`}, nil, false, nil},
		{[]string{`,,"1" "2"`}, []string{`"1"`, `"2"`}, false, []string{"1", "2"}},
	} {
		got := ReadTags(lines(c.lines...))
		assert.Equal(t, Tags{Any: c.any, List: c.list}, got, "%q", c.lines)
		assert.Equal(t, c.strong, got.Strong(), "%q", c.lines)
	}
	both := ReadTags(lines(`"x"`, `W/"abc"`))
	assert.True(t, both.Has(`"abc"`))
	assert.True(t, both.Has(`W/"x"`))
	assert.False(t, both.Has(`W/"ab"`))
	assert.True(t, ReadTags(lines("*")).Has(`"x"`))
}

func TestCoding(t *testing.T) {
	for _, c := range []struct {
		want  string
		lines []string
	}{
		{"", nil},
		{"", []string{""}},
		{"br", []string{"gzip, deflate, br, zstd"}},
		{"gzip", []string{"GZIP"}},
		{"", []string{"brotli"}},
		{"gzip", []string{"br;q=0.5, gzip"}},
		{"br", []string{"br;q=0.5, gzip;q=0.5"}},
		{"gzip", []string{"br;q=0, gzip;q=0.1"}},
		{"", []string{"br;q=0, gzip;q=0.000"}},
		{"br", []string{"*"}},
		{"gzip", []string{"br;q=0, *;q=0.5"}},
		{"", []string{"identity, br;q=0.5"}},
		{"br", []string{"identity;q=0, *;q=0.1"}},
		{"br", []string{"gzip", "br"}},
		{"gzip", []string{"br; Q=0.1 , gzip ; q=0.2"}},
		{"", []string{"br;q=high"}},
	} {
		assert.Equal(t, c.want, Coding(lines(c.lines...)), "%q", c.lines)
	}
}

// Neither reader may panic or loop on any field.
func FuzzFields(f *testing.F) {
	f.Add(`W/"a", "b`, `br;q=0.1;q, *`)
	f.Fuzz(func(t *testing.T, tags, codings string) {
		for _, tag := range ReadTags(lines(tags)).List {
			assert.True(t, ReadTags(lines(tag)).Has(tag))
		}
		assert.Contains(t, []string{"", "br", "gzip"}, Coding(lines(codings)))
	})
}
