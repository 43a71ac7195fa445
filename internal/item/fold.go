package item

import (
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// letters have no decomposition in Unicode, but people type them without their strokes and ligatures.
var letters = map[rune]string{'ø': "o", 'ł': "l", 'đ': "d", 'ð': "d", 'þ': "th", 'æ': "ae", 'œ': "oe", 'ı': "i", 'ħ': "h", 'ŧ': "t", 'ß': "ss", 'ـ': "", 'ى': "ي", 'ς': "σ"}

// accent reports whether a mark is one that people leave out: diacritics of Latin, Greek and
// Cyrillic, and the vowel marks of Hebrew and Arabic. The marks of other scripts are letters.
func accent(r rune) bool {
	return r >= 0x300 && r <= 0x36f || r >= 0x591 && r <= 0x5c7 || r >= 0x610 && r <= 0x61a || r >= 0x64b && r <= 0x65f || r == 0x670
}

// Fold brings text into the form in which words are compared: without case (Unicode, section
// 3.13), accents and punctuation, and with one space before and after each word.
func Fold(text string) string {
	b := make([]byte, 1, len(text)+2)
	b[0] = ' '
	word := func(r rune) { b = utf8.AppendRune(b, r) }
	gap := func() {
		if b[len(b)-1] != ' ' {
			b = append(b, ' ')
		}
	}
	for i := 0; i < len(text); i++ {
		switch c := text[i]; {
		case c >= utf8.RuneSelf:
			i += foldRun(text[i:], word, gap) - 1
		case c >= 'a' && c <= 'z' || c >= '0' && c <= '9':
			b = append(b, c)
		case c >= 'A' && c <= 'Z':
			b = append(b, c+'a'-'A')
		case c == '\'': // "don't" is one word
		default:
			gap()
		}
	}
	gap()
	return string(b)
}

// foldRun folds the characters at the start of text that are either before latinEnd, which is one,
// or all from there on. It returns their length in bytes.
func foldRun(text string, word func(rune), gap func()) int {
	r, size := utf8.DecodeRuneInString(text)
	if r < latinEnd {
		for _, f := range latin()[r] {
			if f == ' ' {
				gap()
			} else {
				word(f)
			}
		}
		return size
	}
	end := size
	for end < len(text) {
		r, size := utf8.DecodeRuneInString(text[end:])
		if r < latinEnd {
			break
		}
		end += size
	}
	foldRest(text[:end], word, gap)
	return end
}

// latinEnd is the end of the Unicode blocks whose letters most European languages use.
const latinEnd = 0x250

// latin has what foldRest makes of each character before latinEnd, with spaces for gaps: a lookup
// takes a fraction of the time.
var latin = sync.OnceValue(func() *[latinEnd]string {
	var table [latinEnd]string
	for r := rune(utf8.RuneSelf); r < latinEnd; r++ {
		foldRest(string(r), func(f rune) { table[r] += string(f) }, func() { table[r] += " " })
	}
	return &table
})

var caseless = cases.Fold()

func foldRest(text string, word func(rune), gap func()) {
	for _, r := range norm.NFKD.String(caseless.String(text)) {
		switch other, known := letters[r]; {
		case accent(r) || r == '’' || r == '\'' || r == 0xad || r == 0x200d || r == 0x200c:
		case known:
			for _, o := range other {
				word(o)
			}
		case unicode.IsLetter(r) || unicode.IsNumber(r) || unicode.IsMark(r):
			word(r)
		default:
			gap()
		}
	}
}

// unspaced are the scripts that put no spaces between words.
var unspaced = []*unicode.RangeTable{unicode.Han, unicode.Hiragana, unicode.Katakana, unicode.Thai, unicode.Lao, unicode.Khmer, unicode.Myanmar}

// A term is a word or phrase to look for.
type term struct {
	said   string // as it was typed
	folded string
}

// termOf prepares a word or phrase. Its folded form has spaces around it, so that it matches whole
// words, except in scripts without spaces between words.
func termOf(text string) term {
	folded := Fold(text)
	if trimmed := strings.TrimSpace(folded); trimmed != "" {
		if first := []rune(trimmed)[0]; unicode.In(first, unspaced...) {
			folded = trimmed
		}
	}
	return term{strings.TrimSpace(text), folded}
}

// in reports whether the term is in text that Fold returned. An empty term is in no text.
func (t term) in(folded string) bool {
	return len(strings.TrimSpace(t.folded)) > 0 && strings.Contains(folded, t.folded)
}

// Having returns the items that have all words of a text, or their beginnings, in any order.
func Having(items []Item, text string) []Item {
	wanted := strings.Fields(Fold(text))
	if len(wanted) == 0 {
		return items
	}
	var list []Item
next:
	for i := range items {
		it := &items[i]
		folded := Fold(it.Title + "\n" + it.Text + "\n" + it.Author.Name + "\n" + strings.Join(it.Tags, "\n"))
		for _, w := range wanted {
			if !strings.Contains(folded, " "+w) && !(unicode.In([]rune(w)[0], unspaced...) && strings.Contains(folded, w)) {
				continue next
			}
		}
		list = append(list, *it)
	}
	return list
}
