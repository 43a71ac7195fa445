package jsondoc

import "unicode/utf8"

// Placer finds lines and columns of one text. Offsets that grow cost the text once in all, where
// Place costs it each time.
type Placer struct {
	text             []byte
	at, line, column int
}

// Placing begins at a text's first character.
func Placing(text []byte) *Placer { return &Placer{text: text, line: 1, column: 1} }

// Place does what the function Place does.
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
