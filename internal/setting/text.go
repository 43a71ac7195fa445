package setting

import (
	"fmt"
	"net/netip"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/net/idna"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Limits of a text, in characters.
const (
	TextDefault = 200  // when the schema gives no maxLength
	TextLargest = 5000 // the largest maxLength
)

// linkSchemes are the ones a customer's link may have.
var linkSchemes = []string{"https", "http", "mailto", "tel"}

type text struct{}

func (text) jsonTypes() []string { return []string{"string"} }
func (text) controls() []string  { return []string{"line", "lines"} }
func (text) keys() []string      { return []string{"minLength", "maxLength", "pattern", "format"} }
func (text) view(s *Setting, v any, _ World) any {
	if t, _ := v.(string); s.Format == "uri" {
		return shape.Link(t) // checked: http(s), mailto or tel
	}
	return v
}
func (text) glass() []string { return []string{"facts"} }
func (text) shape(s *Setting) *shape.Type {
	if s.Format == "uri" {
		return shape.Address
	}
	return shape.Text
}

func (text) read(s *Setting, v *jsondoc.Value) fault.List {
	var faults fault.List
	s.MinLength, s.MaxLength = 0, TextDefault
	if f := v.Get("glass").Get("facts"); f != nil {
		s.Facts = f.Bool
	}
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

// Unshowable finds a character that HTML cannot carry or changes on the way: controls,
// what is no character, and what stands for something that could not be read (WHATWG
// HTML, "Preprocessing the input stream").
func Unshowable(t string) (rune, bool) {
	for _, r := range t {
		if r < ' ' && r != '\n' && r != '\t' || r >= 0x7f && r <= 0x9f || r == utf8.RuneError || r >= 0xfdd0 && r <= 0xfdef || r&0xfffe == 0xfffe {
			return r, true
		}
	}
	return 0, false
}

func (text) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a text", `Put it in double quotes.`)
	}
	t := strings.ReplaceAll(v.Text, "\r\n", "\n")
	if r, bad := Unshowable(t); bad {
		return nil, one(fault.ValueCharacter, fmt.Sprintf("%q holds the character U+%04X, which no page can carry.", s.Key, r), "Remove it, or type the text again instead of pasting it.")
	}
	if s.Control != "lines" && strings.ContainsRune(t, '\n') {
		return nil, one(fault.ValueCharacter, fmt.Sprintf("%q is a single line, and the value has several.", s.Key), "Remove the line breaks.")
	}
	if n := utf8.RuneCountInString(t); n > s.MaxLength || n < s.MinLength {
		return nil, one(fault.ValueLength, fmt.Sprintf("%q has %d characters; %d to %d are allowed.", s.Key, n, s.MinLength, s.MaxLength), "Shorten or lengthen the text.")
	}
	if s.Format == "uri" && t != "" {
		if why := badLink(t); why != "" {
			return nil, one(fault.ValueLink, fmt.Sprintf("%q is not a link that can be used here: %s.", s.Key, why), "Write a whole address that begins with https://, http://, mailto: or tel:.")
		}
	}
	if s.pattern != nil && !s.pattern.MatchString(t) {
		return nil, one(fault.ValuePattern, fmt.Sprintf("%q does not match the pattern %s.", s.Key, s.Pattern), "Change the text so that it does.")
	}
	return t, nil
}

// badLink tells why a text is no link that every browser opens as it reads.
func badLink(t string) string {
	for _, r := range t {
		if unicode.IsSpace(r) || unicode.Is(unicode.Cf, r) || strings.ContainsRune("<>\"\\^`{|}", r) {
			return fmt.Sprintf("it holds the character U+%04X, which has to be written in percent form", r)
		}
	}
	u, err := url.Parse(t)
	switch {
	case err != nil:
		return "it cannot be read as an address"
	case !slices.Contains(linkSchemes, u.Scheme):
		return "it begins with none of the four schemes"
	case !strings.HasPrefix(u.Scheme, "http"):
		if u.Opaque == "" {
			return "nothing stands behind the scheme"
		}
		return ""
	case u.Hostname() == "":
		return "it names no host"
	case u.User != nil:
		return "it holds a name before the host, which readers take for the host"
	}
	if port, err := strconv.Atoi(u.Port()); u.Port() != "" && (err != nil || port > 65535) {
		return "its port is out of range"
	}
	host := u.Hostname()
	if ip, err := netip.ParseAddr(host); err != nil || ip.Zone() != "" {
		if _, err := idna.Lookup.ToASCII(host); err != nil {
			return "its host is no name"
		}
	}
	return ""
}
