package item

import (
	"strings"
	"sync"
	"unicode/utf8"

	"github.com/abadojack/whatlanggo"
	"golang.org/x/text/language"
)

// The shortest text whose language is guessed, in characters, and how sure the guess must be.
const (
	guessLeast = 24
	guessSure  = 0.3
)

// Detect guesses the language of a text, as a BCP 47 tag, or returns "".
func Detect(text string) string {
	if utf8.RuneCountInString(text) < guessLeast {
		return ""
	}
	if len(text) > 1200 { // enough, and it bounds the time
		text = strings.ToValidUTF8(text[:1200], "")
	}
	info := whatlanggo.Detect(text)
	if info.Confidence < guessSure {
		return ""
	}
	return Language(info.Lang.Iso6391())
}

// Language brings a language tag into its canonical form, "pt-BR". It returns "" if text is not one.
func Language(text string) string {
	if len(text) == 2 && isSmall(text[0]) && isSmall(text[1]) {
		return twoLetters()[text[0]-'a'][text[1]-'a']
	}
	return canonicalTag(text)
}

func isSmall(c byte) bool { return 'a' <= c && c <= 'z' }

// twoLetters has the canonical forms of all tags of two letters: nearly all texts have such a tag.
var twoLetters = sync.OnceValue(func() *[26][26]string {
	var table [26][26]string
	for a := range table {
		for b := range table[a] {
			table[a][b] = canonicalTag(string([]byte{'a' + byte(a), 'a' + byte(b)}))
		}
	}
	return &table
})

func canonicalTag(text string) string {
	text = strings.ReplaceAll(strings.TrimSpace(text), "_", "-")
	if text == "" || len(text) > 35 {
		return ""
	}
	tag, err := language.Parse(text)
	if err != nil || tag == language.Und {
		return ""
	}
	return tag.String()
}

// speaks reports whether an item in language has is one in language wants: "pt" wants every variety,
// "pt-BR" only that one.
func speaks(has, wants string) bool {
	return strings.EqualFold(has, wants) || len(has) > len(wants) && has[len(wants)] == '-' && strings.EqualFold(has[:len(wants)], wants)
}
