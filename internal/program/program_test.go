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
	assert.Contains(t, b.String(), "  -wait time\n      how long")
	assert.Contains(t, b.String(), "a place (default here)")
	for _, text := range []string{b.String(), Command(`glasspocket make pocket -customer kelp-and-kiln -widget countdown -starter harbour -title "The kiln opens again"`, "  "), Command("glasspocket set demo-countdown accent=brand:accent # what the customer's brand has by that name", "  ")} {
		for line := range strings.Lines(text) {
			assert.LessOrEqual(t, len([]rune(strings.TrimRight(line, "\n"))), Columns, line)
		}
	}
	assert.Equal(t, "a 'b  c' \\\n    "+strings.Repeat("d", 75), Command("a 'b  c' "+strings.Repeat("d", 75), ""))
	assert.NotEmpty(t, Version())
	assert.Contains(t, Describe("glasspocket"), "glasspocket "+Version())
}
