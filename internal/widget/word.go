package widget

import (
	"slices"
	"strings"
)

// HasWord reports whether text contains word as a whole word.
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

// pageReaders are words in scripts that read the scroll position of the page by themselves.
var pageReaders = []string{"scrollY", "pageYOffset", "scrollTop", "scrollHeight"}

// ReadsPage reports whether the script reads how far the page is scrolled. Its preview then needs
// something to scroll.
func (r *Release) ReadsPage() bool {
	return r.Can(Reading) || slices.ContainsFunc(pageReaders, func(word string) bool { return HasWord(r.Built.Mount, word) })
}
