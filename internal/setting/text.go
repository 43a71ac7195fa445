package setting

import (
	"fmt"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Limits of a text, in characters.
const (
	TextDefault = 200  // when the schema gives no maxLength
	TextLargest = 5000 // the largest maxLength
)

// linkSchemes are the ones a customer's link may have.
var linkSchemes = []string{"https", "http", "mailto", "tel"}

type text struct{}

func (text) jsonTypes() []string        { return []string{"string"} }
func (text) controls() []string         { return []string{"line", "lines"} }
func (text) keys() []string             { return []string{"minLength", "maxLength", "pattern", "format"} }
func (text) view(_ *Setting, v any) any { return v }

func (text) read(s *Setting, v *jsondoc.Value) fault.List {
	var faults fault.List
	s.MinLength, s.MaxLength = 0, TextDefault
	s.MinLength = int(numberAt(v, "minLength", 0))
	s.MaxLength = int(numberAt(v, "maxLength", TextDefault))
	if s.MaxLength > TextLargest || s.MaxLength < 1 || s.MinLength > s.MaxLength {
		faults = append(faults, at(v, "maxLength").Fault(fault.SchemaUnusable, s.Key,
			fmt.Sprintf("maxLength must be from 1 to %d and not below minLength.", TextLargest), "Change maxLength or minLength."))
	}
	if p := v.TextOf("pattern"); p != "" {
		re, err := regexp.Compile(p)
		if err != nil {
			faults = append(faults, v.Get("pattern").Fault(fault.SchemaUnusable, s.Key,
				"This pattern cannot be used: "+strings.TrimPrefix(err.Error(), "error parsing regexp: ")+".",
				"Keep to what ECMAScript and RE2 both know: no look-around, no back-references."))
		}
		s.Pattern, s.pattern = p, re
	}
	if f := v.Get("format"); f != nil {
		s.Format = f.Text
		if f.Text != "uri" {
			faults = append(faults, f.Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("A text setting cannot have the format %q.", f.Text), "The one format is \"uri\", for links."))
		}
	}
	return faults
}

func (text) check(s *Setting, v *jsondoc.Value) (any, *problem) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a text", `Put it in double quotes.`)
	}
	t := strings.ReplaceAll(v.Text, "\r\n", "\n")
	for _, r := range t {
		if r < ' ' && r != '\n' && r != '\t' || r == 0x7f || r == utf8.RuneError || r >= 0xfdd0 && r <= 0xfdef || r&0xfffe == 0xfffe {
			return nil, &problem{fault.ValueCharacter, fmt.Sprintf("%q holds the character U+%04X, which no page can carry.", s.Key, r), "Remove it, or type the text again instead of pasting it."}
		}
	}
	if s.Control != "lines" && strings.ContainsRune(t, '\n') {
		return nil, &problem{fault.ValueCharacter, fmt.Sprintf("%q is a single line, and the value has several.", s.Key), "Remove the line breaks."}
	}
	if n := utf8.RuneCountInString(t); n > s.MaxLength || n < s.MinLength {
		return nil, &problem{fault.ValueLength, fmt.Sprintf("%q has %d characters; %d to %d are allowed.", s.Key, n, s.MinLength, s.MaxLength), "Shorten or lengthen the text."}
	}
	if s.Format == "uri" && t != "" {
		if u, err := url.Parse(t); err != nil || !slices.Contains(linkSchemes, u.Scheme) || (strings.HasPrefix(u.Scheme, "http") && u.Host == "") {
			return nil, &problem{fault.ValueLink, fmt.Sprintf("%q is not a link that can be used here.", s.Key), "Write a whole address that begins with https://, http://, mailto: or tel:."}
		}
	}
	if s.pattern != nil && !s.pattern.MatchString(t) {
		return nil, &problem{fault.ValuePattern, fmt.Sprintf("%q does not match the pattern %s.", s.Key, s.Pattern), "Change the text so that it does."}
	}
	return t, nil
}
