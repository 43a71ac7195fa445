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
