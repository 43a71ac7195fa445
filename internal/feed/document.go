package feed

import (
	"bytes"
	"mime"
	"net/url"
	"regexp"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/htmlindex"
	"golang.org/x/text/encoding/unicode"
)

// decoded is a document's text in UTF-8, and what was wrong with its encoding.
type decoded struct {
	text   string
	repair string
}

var (
	xmlEncoding = regexp.MustCompile(`^\s*<\?xml[^>]{0,200}?encoding\s*=\s*["']([A-Za-z0-9_.:-]+)["']`)
	metaCharset = regexp.MustCompile(`(?i)<meta[^>]{0,200}charset\s*=\s*["']?\s*([a-z0-9_-]+)`)
)

// Text returns the document's text in UTF-8, without a byte order mark. A byte order mark decides
// on the encoding, then the header field, then what the document says itself (RFC 7303, section 3;
// HTML, section 13.2.3). A label that the bytes contradict is ignored.
func (d *Document) Text() string {
	if d.text == nil {
		d.text = decode(d.Body, d.Kind)
	}
	return d.text.text
}

// bytes returns Text as bytes, those of the document if they are the same. Do not change them.
func (d *Document) bytes() []byte {
	text := d.Text()
	if len(text) == len(d.Body) && d.text.repair == "" && utf8.Valid(d.Body) {
		return d.Body
	}
	return []byte(text)
}

func decode(body []byte, field string) *decoded {
	if text, ok := bytes.CutPrefix(body, []byte("\xef\xbb\xbf")); ok {
		return &decoded{text: strings.ToValidUTF8(string(text), "\uFFFD")}
	}
	name := ""
	if _, parameters, err := mime.ParseMediaType(field); err == nil {
		name = parameters["charset"]
	}
	head := body[:min(len(body), 1024)]
	switch {
	case bytes.HasPrefix(body, []byte("\xff\xfe")):
		return decodedWith(body, unicode.UTF16(unicode.LittleEndian, unicode.UseBOM), "")
	case bytes.HasPrefix(body, []byte("\xfe\xff")):
		return decodedWith(body, unicode.UTF16(unicode.BigEndian, unicode.UseBOM), "")
	case bytes.HasPrefix(body, []byte("<\x00?\x00")):
		return decodedWith(body, unicode.UTF16(unicode.LittleEndian, unicode.IgnoreBOM), "")
	case bytes.HasPrefix(body, []byte("\x00<\x00?")):
		return decodedWith(body, unicode.UTF16(unicode.BigEndian, unicode.IgnoreBOM), "")
	case name == "":
		if m := xmlEncoding.FindSubmatch(head); m != nil {
			name = string(m[1])
		} else if m := metaCharset.FindSubmatch(head); m != nil {
			name = string(m[1])
		}
	}
	if valid := utf8.Valid(body); valid {
		repair := ""
		if name = strings.ToLower(name); name != "" && name != "utf-8" && name != "utf8" && name != "us-ascii" && name != "ascii" && !ascii(body) {
			repair = "The encoding is stated as " + name + ", but it is UTF-8."
		}
		return &decoded{text: string(body), repair: repair}
	}
	if e, err := htmlindex.Get(name); err == nil && !isUTF8(e) {
		return decodedWith(body, e, "")
	}
	repair := "The encoding is not stated; it was read as windows-1252."
	if name != "" {
		repair = "The encoding is stated as " + name + ", but the bytes are not; it was read as windows-1252."
	}
	return decodedWith(body, charmap.Windows1252, repair)
}

func decodedWith(body []byte, e encoding.Encoding, repair string) *decoded {
	text, err := e.NewDecoder().Bytes(body)
	if err != nil {
		text = body
	}
	return &decoded{text: strings.ToValidUTF8(string(text), "\uFFFD"), repair: repair}
}

func isUTF8(e encoding.Encoding) bool {
	name, err := htmlindex.Name(e)
	return err == nil && name == "utf-8"
}

func ascii(body []byte) bool {
	for _, b := range body {
		if b >= 0x80 {
			return false
		}
	}
	return true
}

// head returns the start of the text, without spaces, for recognising forms.
func (d *Document) head() string {
	if bytes.HasPrefix(d.Body, []byte("PK\x03\x04")) { // not a text
		return ""
	}
	text := d.Text()
	return strings.TrimLeft(text[:min(len(text), 4096)], " \t\r\n\ufeff")
}

// media returns the media type without parameters, in lower case.
func (d *Document) media() string {
	kind, _, _ := strings.Cut(d.Kind, ";")
	return strings.ToLower(strings.TrimSpace(kind))
}

// absolute resolves an address against the document's. It returns "" for one that a page must not
// link to.
func (d *Document) absolute(address string) string {
	if d.base == nil {
		d.base = based(d.Address)
	}
	return resolveFrom(d.base, address)
}

// based parses the address of a document. Without one, only absolute addresses resolve.
func based(address string) *url.URL {
	u, err := url.Parse(address)
	if err != nil {
		return &url.URL{}
	}
	return u
}

func resolve(base, address string) string { return resolveFrom(based(base), address) }

func resolveFrom(base *url.URL, address string) string {
	address = strings.TrimSpace(address)
	if address == "" {
		return ""
	}
	u, err := url.Parse(strings.ReplaceAll(address, " ", "%20"))
	if err != nil {
		return ""
	}
	if u = base.ResolveReference(u); u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.User != nil {
		return ""
	}
	return u.String()
}
