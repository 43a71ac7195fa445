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

// pageReaders are words of scripts that read how far a page is scrolled.
var pageReaders = []string{"reading", "scrollY", "pageYOffset", "scrollTop", "scrollHeight"}

// ReadsPage tells whether the mount module reads how far the page is scrolled: a preview needs
// something to scroll then.
func (r *Release) ReadsPage() bool {
	for _, word := range pageReaders {
		if HasWord(r.Built.Mount, word) {
			return true
		}
	}
	return false
}
