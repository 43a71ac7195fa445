package nesting

import "strings"

// Style reports whether the brackets of a stylesheet are nested more than StyleMost deep, and
// where. A closing bracket that does not match the innermost one closes nothing: CSS ignores it
// (CSS Syntax 3, section 5.4.7).
func Style(src []byte) (offset int, deep bool) {
	var open []byte
	text := string(src)
	for at := 0; at < len(text); at++ {
		switch c := text[at]; c {
		case '\\':
			at++
		case '/':
			if strings.HasPrefix(text[at:], "/*") {
				end := strings.Index(text[at+2:], "*/")
				if end < 0 {
					return 0, false
				}
				at += end + 3
			}
		case '"', '\'':
			for at++; at < len(text) && text[at] != c && text[at] != '\n'; at++ {
				if text[at] == '\\' {
					at++
				}
			}
		case '(', '[', '{':
			if open = append(open, c); len(open) > StyleMost {
				return at, true
			}
		case ')', ']', '}':
			if n := len(open); n > 0 && open[n-1] == map[byte]byte{')': '(', ']': '[', '}': '{'}[c] {
				open = open[:n-1]
			}
		}
	}
	return 0, false
}
