package jsondoc

import "unicode/utf8"

// Placer finds lines and columns in one text. For growing offsets it reads the text once in total,
// whereas Place reads it each time.
type Placer struct {
	text             []byte
	at, line, column int
}

// Placing returns a Placer at the start of a text.
func Placing(text []byte) *Placer { return &Placer{text: text, line: 1, column: 1} }

// Place does the same as the function Place.
func (p *Placer) Place(offset int) (line, column int) {
	offset = min(max(offset, 0), len(p.text))
	if offset < p.at {
		*p = *Placing(p.text)
	}
	for p.at < offset {
		r, size := rune(p.text[p.at]), 1
		if r >= utf8.RuneSelf {
			_, size = utf8.DecodeRune(p.text[p.at:])
		}
		if p.at += size; r == '\n' {
			p.line, p.column = p.line+1, 1
		} else {
			p.column++
		}
	}
	return p.line, p.column
}
