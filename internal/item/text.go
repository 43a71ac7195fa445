package item

import (
	"html"
	"strings"
	"unicode"

	"golang.org/x/net/html/atom"

	nethtml "golang.org/x/net/html"

	"glasspocket/internal/clip"
	"glasspocket/internal/setting"
)

// SetHTML sets the text of an item from HTML of a source: as plain text, and as safe HTML if it has
// more than paragraphs. Addresses in it must be absolute; relative ones are removed.
func (it *Item) SetHTML(source string) {
	it.Text = Plain(source)
	it.Content = ""
	if safe := strings.TrimSpace(showable(setting.SafeHTML(source))); marked(safe) && len(safe) <= setting.RichLargest {
		it.Content = safe
	}
}

// showable removes the characters that a page must not contain.
func showable(text string) string {
	if _, bad := setting.Unshowable(text); !bad {
		return text
	}
	return strings.Map(func(r rune) rune {
		if setting.Shows(r) {
			return r
		}
		return -1
	}, text)
}

// marked reports whether HTML has more than paragraphs and line breaks.
func marked(safe string) bool {
	for _, tag := range []string{"<a ", "<strong>", "<em>", "<ul>", "<ol>", "<blockquote>", "<h3>", "<h4>", "<code>", "<s>"} {
		if strings.Contains(safe, tag) {
			return true
		}
	}
	return false
}

// Plain returns the text of HTML, with line breaks between blocks. Scripts, styles, frames and
// comments are not text.
func Plain(source string) string {
	if !strings.ContainsAny(source, "<&") {
		return tidy(source)
	}
	var b strings.Builder
	skipped := 0
	z := nethtml.NewTokenizer(strings.NewReader(source))
	for {
		switch z.Next() {
		case nethtml.ErrorToken:
			return tidy(b.String())
		case nethtml.TextToken:
			if skipped == 0 {
				b.Write(z.Text())
			}
		case nethtml.StartTagToken:
			name, _ := z.TagName()
			switch a := atom.Lookup(name); {
			case hidden[a]:
				skipped++
			case blocks[a] > 0 && skipped == 0:
				b.WriteString("\n\n"[:blocks[a]])
			}
		case nethtml.SelfClosingTagToken:
			if name, _ := z.TagName(); atom.Lookup(name) == atom.Br && skipped == 0 {
				b.WriteByte('\n')
			}
		case nethtml.EndTagToken:
			name, _ := z.TagName()
			switch a := atom.Lookup(name); {
			case hidden[a] && skipped > 0:
				skipped--
			case blocks[a] == 2 && skipped == 0:
				b.WriteString("\n\n")
			}
		}
	}
}

// blocks has the number of line breaks before elements that begin a new line.
var blocks = map[atom.Atom]int{atom.Br: 1, atom.Li: 1, atom.Tr: 1, atom.Div: 1, atom.P: 2, atom.Ul: 2, atom.Ol: 2, atom.Blockquote: 2, atom.Pre: 2, atom.H1: 2, atom.H2: 2, atom.H3: 2, atom.H4: 2, atom.H5: 2, atom.H6: 2, atom.Table: 2}

var hidden = map[atom.Atom]bool{atom.Script: true, atom.Style: true, atom.Iframe: true, atom.Object: true, atom.Template: true, atom.Noscript: true, atom.Svg: true, atom.Math: true, atom.Title: true}

// tidy removes the spaces that HTML ignores, empty lines beyond one, and characters that pages must
// not show.
func tidy(text string) string {
	var b strings.Builder
	b.Grow(len(text))
	newlines, space, begun := 0, false, false
	for _, r := range strings.ToValidUTF8(text, "\uFFFD") {
		switch {
		case r == '\n' || r == '\u2028' || r == '\u2029':
			newlines++
		case unicode.IsSpace(r) && r != '\u00a0':
			space = true
		case setting.Shows(r):
			if begun {
				if newlines > 0 {
					b.WriteString("\n\n"[:min(newlines, 2)])
				} else if space {
					b.WriteByte(' ')
				}
			}
			b.WriteRune(r)
			newlines, space, begun = 0, false, true
		}
	}
	return b.String()
}

// Line returns text as a single line. Titles and names in feeds often contain HTML, or HTML that was
// escaped twice.
func Line(text string, most int) string {
	if isLine(text) {
		return clip.Text(text, most)
	}
	if strings.ContainsAny(text, "<&") {
		text = Plain(html.UnescapeString(text))
	}
	return clip.Text(strings.Join(strings.Fields(tidy(text)), " "), most)
}

// isLine reports whether a text is a line in ASCII already, as most titles are.
func isLine(text string) bool {
	before := byte(' ')
	for i := range len(text) {
		c := text[i]
		if c < ' ' || c > '~' || c == '<' || c == '&' || c == ' ' && before == ' ' {
			return false
		}
		before = c
	}
	return before != ' ' || text == ""
}
