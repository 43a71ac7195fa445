package item

import (
	"strings"
	"unicode"

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
	var b strings.Builder
	b.Grow(len(text) + 2)
	b.WriteByte(' ')
	space := true
	word := func(r rune) {
		b.WriteRune(r)
		space = false
	}
	gap := func() {
		if !space {
			b.WriteByte(' ')
			space = true
		}
	}
	for i := 0; i < len(text); i++ {
		switch c := text[i]; {
		case c >= 0x80:
			foldRest(text[i:], word, gap)
			i = len(text)
		case c >= 'a' && c <= 'z' || c >= '0' && c <= '9':
			b.WriteByte(c)
			space = false
		case c >= 'A' && c <= 'Z':
			b.WriteByte(c + 'a' - 'A')
			space = false
		case c == '\'': // "don't" is one word
		default:
			gap()
		}
	}
	gap()
	return b.String()
}

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
