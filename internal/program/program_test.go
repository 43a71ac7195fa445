package program

import (
	"bytes"
	"flag"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestHelpFits(t *testing.T) {
	f := flag.NewFlagSet("x", flag.ContinueOnError)
	f.Duration("wait", 0, "how long to wait "+strings.Repeat("and wait ", 20)+"for `time`")
	f.String("where", "here", "a place")
	var b bytes.Buffer
	Options(&b, f)
	f.String("a-name-that-is-too-long-for-it", "", "last")
	Options(&b, f, "where")
	assert.Contains(t, b.String(), "  -wait time     how long to wait and")
	assert.Contains(t, b.String(), "\n                 and wait")
	assert.Contains(t, b.String(), "  -where string  a place (default here)\n")
	assert.Contains(t, b.String(), "  -a-name-that-is-too-long-for-it string\n              last\n  -wait time  how long", "a long name has a line of its own, and one left out takes no room")
	for _, text := range []string{b.String(), Command(`glasspocket make pocket -customer kelp-and-kiln -widget countdown -starter harbour -title "The kiln opens again"`, "  "), Command("glasspocket set demo-countdown accent=brand:accent # what the customer's brand has by that name", "  ")} {
		for line := range strings.Lines(text) {
			assert.LessOrEqual(t, len([]rune(strings.TrimRight(line, "\n"))), Columns, line)
		}
	}
	assert.Equal(t, "a 'b  c' \\\n    "+strings.Repeat("d", 75), Command("a 'b  c' "+strings.Repeat("d", 75), ""))
	assert.NotEmpty(t, Version())
	assert.Contains(t, Describe("glasspocket"), "glasspocket "+Version())
}

func TestTable(t *testing.T) {
	rows := [][]string{{"demo-countdown", "Die Öffnung des Ofens", "published"}, {"x", strings.Repeat("long ", 30), "changed"}}
	var b bytes.Buffer
	Table(&b, []string{"POCKET", "TITLE", "STATE"}, rows, 60)
	lines := strings.Split(strings.TrimRight(b.String(), "\n"), "\n")
	assert.Equal(t, "POCKET           TITLE                             STATE", lines[0])
	assert.Equal(t, "demo-countdown   Die Öffnung des Ofens             published", lines[1])
	assert.Equal(t, "x                long long long long long long…    changed", lines[2])
	for _, line := range lines {
		assert.LessOrEqual(t, len([]rune(line)), 60)
	}
	b.Reset()
	Table(&b, []string{"POCKET", "TITLE", "STATE"}, rows, 0)
	assert.Contains(t, b.String(), strings.Repeat("long ", 30)+"  ", "whole where it is not a terminal")
	b.Reset()
	Table(&b, []string{"A", "B"}, [][]string{{strings.Repeat("a", 30), strings.Repeat("b", 30)}}, 5)
	assert.Equal(t, "A          B\naaaaaaa…   bbbbbbb…\n", b.String(), "a column stays wide enough to be recognised")
}
