package host

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"glasspocket/internal/widget"
)

// A title that means something to a host's templates goes through them unread, in every delivery and
// whatever the place takes.
func TestBracesAreWrittenSafely(t *testing.T) {
	s := Subject{Base: "https://pockets.example", Key: "tide", Title: "{{ 7*7 }} {% now %}", Heights: []widget.Height{{Height: 90}},
		Pinned: &Pinned{Address: "https://pockets.example/a/0/tide.js", Integrity: "sha384-0"}, Fields: []Field{{}}, Mail: []Row{{Kind: "words", Words: "{{ mail }}"}}}
	for i := range 2 * len(Kinds) {
		as := Kinds[i/2]
		r := usual(as)
		if i%2 == 0 { // the others do not know that there is a template
			r.Braces = []string{"{{", "{%"}
		}
		for _, delivery := range Deliveries {
			if delivery == Component { // a file of a program, which no template reads
				continue
			}
			snippet, _ := Write(s, Ask{Delivery: delivery, Content: r, Script: r, Placing: Placing{Words: "{{ words }}"}})
			for _, p := range snippet.Parts {
				assert.False(t, strings.Contains(p.Text, "{{") || strings.Contains(p.Text, "{%"), "%s as %s: %s", delivery, as, p.Text)
			}
		}
	}
}
