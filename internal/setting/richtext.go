package setting

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"github.com/microcosm-cc/bluemonday"
	"golang.org/x/net/html"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// RichLargest is the longest HTML of a rich text, in characters.
const RichLargest = 20_000

// RichTags are the elements that rich text can have. Other elements are removed, and their text
// stays.
var RichTags = []string{"p", "br", "strong", "em", "s", "code", "blockquote", "ul", "ol", "li", "h3", "h4", "a"}

var richPolicy = func() *bluemonday.Policy {
	p := bluemonday.NewPolicy()
	p.AllowElements(RichTags...)
	p.AllowAttrs("href").OnElements("a")
	p.AllowURLSchemes(linkSchemes...)
	p.RequireParseableURLs(true)
	p.AllowRelativeURLs(false)
	p.RequireNoFollowOnLinks(true)
	p.RequireNoReferrerOnLinks(false)
	return p
}()

// richText is sanitised HTML: the sanitised form is the value.
type richText struct{}

func (richText) jsonTypes() []string        { return []string{"string"} }
func (richText) controls() []string         { return []string{"rich"} }
func (richText) keys() []string             { return []string{"maxLength", "contentMediaType"} }
func (richText) glass() []string            { return nil }
func (richText) shape(*Setting) *shape.Type { return shape.HTML }

func (richText) view(_ *Setting, v any, _ World) any {
	t, _ := v.(string)
	return shape.Markup(t)
}

func (richText) read(s *Setting, v *jsondoc.Value) (faults fault.List) {
	s.MaxLength = int(numberAt(v, "maxLength", 5000))
	if s.MaxLength < 1 || s.MaxLength > RichLargest {
		faults = append(faults, at(v, "maxLength").Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("\"maxLength\" must be between 1 and %d.", RichLargest), "Change \"maxLength\"."))
	}
	if m := v.Get("contentMediaType"); m != nil && m.Text != "text/html" {
		faults = append(faults, m.Fault(fault.SchemaUnusable, s.Key, "The content of rich text must be HTML.", `Write "contentMediaType": "text/html".`))
	}
	return faults
}

func (richText) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "rich text", "Put it in double quotes.")
	}
	if r, bad := Unshowable(v.Text); bad {
		return nil, one(fault.ValueCharacter, fmt.Sprintf("%q contains the character U+%04X, which is not allowed on a page.", s.Key, r), "Delete the character, or type the text again instead of pasting it.")
	}
	if n := utf8.RuneCountInString(v.Text); n > s.MaxLength {
		return nil, one(fault.ValueLength, fmt.Sprintf("%q has %d characters, including markup; the limit is %d.", s.Key, n, s.MaxLength), "Shorten the text.")
	}
	return SafeHTML(v.Text), nil
}

// SafeHTML removes everything from HTML that rich text cannot have.
func SafeHTML(source string) string { return richPolicy.Sanitize(spoken.Replace(source)) }

// spoken replaces elements that only have a look by those with a meaning (HTML, "The b element").
// Browsers insert the former when somebody presses Bold.
var spoken = strings.NewReplacer("<b>", "<strong>", "</b>", "</strong>", "<i>", "<em>", "</i>", "</em>", "<strike>", "<s>", "</strike>", "</s>", "<div>", "<p>", "</div>", "</p>")

func (richText) note() Note {
	return Note{"Sanitised HTML: p, br, strong, em, s, code, blockquote, ul, ol, li, h3, h4 and links stay. Other elements are removed, but their text stays.", `"<p>Tea and <strong>kiln</strong></p>"`}
}

func (richText) words(_ *Setting, v any, _ string) string {
	text, _ := v.(string)
	return clip.Text(plainText(text), wordsMost)
}

// plainText returns the text of rich text, with a space between blocks.
func plainText(rich string) string {
	var b strings.Builder
	z := html.NewTokenizer(strings.NewReader(rich))
	for {
		switch z.Next() {
		case html.ErrorToken:
			return strings.Join(strings.Fields(b.String()), " ")
		case html.TextToken:
			b.Write(z.Text())
		default:
			name, _ := z.TagName()
			if s := string(name); s == "p" || s == "li" || s == "br" || s == "ul" || s == "ol" {
				b.WriteByte(' ')
			}
		}
	}
}

func (richText) allows(s *Setting) string { return s.allowsCharacters() }

func (richText) longer(s *Setting, v string) string {
	if long := "<p>" + longWord + "</p>"; len(long) <= s.MaxLength {
		return long
	}
	return v
}

func (richText) names() {}
