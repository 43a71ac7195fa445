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
	TextDefault = 200  // if the schema gives no maxLength
	TextLargest = 5000 // the largest maxLength
)

// linkSchemes are the URL schemes that a customer's link can have.
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
			fmt.Sprintf("maxLength must be between 1 and %d, and not less than minLength.", TextLargest), "Change maxLength or minLength."))
	}
	if p := v.TextOf("pattern"); p != "" {
		re, err := regexp.Compile(p)
		if err != nil {
			faults = append(faults, v.Get("pattern").Fault(fault.SchemaUnusable, s.Key,
				"This pattern cannot be used: "+strings.TrimPrefix(err.Error(), "error parsing regexp: ")+".",
				"Use only what ECMAScript and RE2 have in common: no look-around and no back-references."))
		}
		s.Pattern, s.pattern = p, re
	}
	if f := v.Get("format"); f != nil {
		s.Format = f.Text
		if f.Text != "uri" {
			faults = append(faults, f.Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("A text setting cannot have the format %q.", f.Text), "The only format is \"uri\", for links."))
		}
	}
	return faults
}

// Unshowable finds a character that HTML cannot contain or would change: control characters,
// noncharacters, and the replacement character (WHATWG HTML, "Preprocessing the input stream").
func Unshowable(t string) (rune, bool) {
	for _, r := range t {
		if !Shows(r) {
			return r, true
		}
	}
	return 0, false
}

// Shows reports whether a page can contain a character; see Unshowable.
func Shows(r rune) bool {
	return (r >= ' ' || r == '\n' || r == '\t') && (r < 0x7f || r > 0x9f) && r != utf8.RuneError && (r < 0xfdd0 || r > 0xfdef) && r&0xfffe != 0xfffe
}

func (text) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "text", `Put it in double quotes.`)
	}
	t := strings.ReplaceAll(v.Text, "\r\n", "\n")
	if r, bad := Unshowable(t); bad {
		return nil, one(fault.ValueCharacter, fmt.Sprintf("%q contains the character U+%04X, which is not allowed on a page.", s.Key, r), "Delete the character, or type the text again instead of pasting it.")
	}
	if s.Control != "lines" && strings.ContainsRune(t, '\n') {
		return nil, one(fault.ValueCharacter, fmt.Sprintf("%q must be a single line; this value has line breaks.", s.Key), "Delete the line breaks.")
	}
	if n := utf8.RuneCountInString(t); n > s.MaxLength || n < s.MinLength {
		return nil, one(fault.ValueLength, fmt.Sprintf("%q has %d characters; %d to %d are allowed.", s.Key, n, s.MinLength, s.MaxLength), "Shorten or lengthen the text.")
	}
	if s.Format == "uri" && t != "" {
		if why := badLink(t); why != "" {
			return nil, one(fault.ValueLink, fmt.Sprintf("%q is not a usable link: %s.", s.Key, why), "Write a complete address that starts with https://, http://, mailto: or tel:.")
		}
	}
	if s.pattern != nil && !s.pattern.MatchString(t) {
		return nil, one(fault.ValuePattern, fmt.Sprintf("%q does not match the pattern %s.", s.Key, s.Pattern), "Change the text to match the pattern.")
	}
	return t, nil
}

// badLink returns why a text is not a link that every browser opens as written, or "".
func badLink(t string) string {
	for _, r := range t {
		if unicode.IsSpace(r) || unicode.Is(unicode.Cf, r) || strings.ContainsRune("<>\"\\^`{|}", r) {
			return fmt.Sprintf("it contains the character U+%04X, which must be percent-encoded", r)
		}
	}
	u, err := url.Parse(t)
	switch {
	case err != nil:
		return "it cannot be read as an address"
	case !slices.Contains(linkSchemes, u.Scheme):
		return "it does not start with one of the four schemes"
	case !strings.HasPrefix(u.Scheme, "http"):
		if u.Opaque == "" {
			return "there is nothing after the scheme"
		}
		return ""
	case u.Hostname() == "":
		return "it has no host"
	case u.User != nil:
		return "it has a user name before the host, which readers could mistake for the host"
	}
	if port, err := strconv.Atoi(u.Port()); u.Port() != "" && (err != nil || port > 65535) {
		return "its port is out of range"
	}
	host := u.Hostname()
	if ip, err := netip.ParseAddr(host); err != nil || ip.Zone() != "" {
		if _, err := idna.Lookup.ToASCII(host); err != nil {
			return "its host is not a valid name"
		}
	}
	return ""
}

func (text) note() Note {
	return Note{"One line of text, or several with the control `lines`. `maxLength` is 200 by default and at most 5000; `pattern` uses RE2; `\"format\": \"uri\"` is a link (http, https, mailto, tel).", `"The kiln opens again"`}
}

func (text) inPage(s *Setting, p *InPage) {
	most := float64(s.MaxLength)
	p.Most = &most
}

func (text) allows(s *Setting) string {
	switch {
	case s.Format == "uri":
		return "an address"
	case s.Pattern != "":
		return "a text that matches " + s.Pattern
	}
	return s.allowsCharacters()
}

func (t text) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }

func (text) longer(s *Setting, v string) string { return s.longerText(v) }

func (text) names() {}

// IsLink reports whether a text is a link that every browser opens as written; see badLink.
func IsLink(t string) bool { return t != "" && badLink(t) == "" }
