package nesting

import (
	"github.com/tdewolff/parse/v2/css"

	"glasspocket/internal/stylesheet"
)

// Style reports whether the brackets of a stylesheet are nested more than StyleMost deep, and
// where. A closing bracket that does not match the innermost one closes nothing: CSS ignores it
// (CSS Syntax 3, section 5.4.7).
func Style(src []byte) (offset int, deep bool) {
	var open []byte
	bracket := func(c byte) (deep bool) {
		switch c {
		case '(', '[', '{':
			open = append(open, c)
		case ')', ']', '}':
			if n := len(open); n > 0 && open[n-1] == map[byte]byte{')': '(', ']': '[', '}': '{'}[c] {
				open = open[:n-1]
			}
		}
		return len(open) > StyleMost
	}
	for _, t := range stylesheet.Tokens(string(src)) {
		from := len(t.Text)
		switch {
		case t.Kind == css.BadURLToken:
			from = 0 // other parsers may see brackets in it
		case t.Opens(), t.Closes():
			from = len(t.Text) - 1
		}
		for i := from; i < len(t.Text); i++ {
			if bracket(t.Text[i]) {
				return t.At + i, true
			}
		}
	}
	return 0, false
}
