package widget

import "strings"

// HasWord tells whether text holds word, and not only within a longer one.
func HasWord(text, word string) bool {
	for at := 0; ; {
		i := strings.Index(text[at:], word)
		if i < 0 {
			return false
		}
		begin, end := at+i, at+i+len(word)
		if (begin == 0 || !wordByte(word[0]) || !wordByte(text[begin-1])) && (end == len(text) || !wordByte(text[end])) {
			return true
		}
		at = begin + 1
	}
}

func wordByte(c byte) bool {
	return c == '_' || '0' <= c && c <= '9' || 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z'
}
