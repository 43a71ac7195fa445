package fetch

import (
	"bytes"
	"errors"
	"mime"
	"regexp"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// encodings are the web's legacy encodings by their names (Encoding Standard, section 4.2). Those
// of East Asian scripts would add 3% to the program's size; people can paste such pages instead.
var encodings = map[string]encoding.Encoding{
	"utf-16le": unicode.UTF16(unicode.LittleEndian, unicode.UseBOM), "utf-16be": unicode.UTF16(unicode.BigEndian, unicode.UseBOM), "utf-16": unicode.UTF16(unicode.LittleEndian, unicode.UseBOM),
	"iso-8859-1": charmap.Windows1252, "latin1": charmap.Windows1252, "us-ascii": charmap.Windows1252, "ascii": charmap.Windows1252, "windows-1252": charmap.Windows1252,
	"iso-8859-2": charmap.ISO8859_2, "iso-8859-3": charmap.ISO8859_3, "iso-8859-4": charmap.ISO8859_4, "iso-8859-5": charmap.ISO8859_5, "iso-8859-6": charmap.ISO8859_6, "iso-8859-7": charmap.ISO8859_7, "iso-8859-8": charmap.ISO8859_8,
	"iso-8859-9": charmap.Windows1254, "iso-8859-10": charmap.ISO8859_10, "iso-8859-13": charmap.ISO8859_13, "iso-8859-14": charmap.ISO8859_14, "iso-8859-15": charmap.ISO8859_15, "iso-8859-16": charmap.ISO8859_16,
	"windows-1250": charmap.Windows1250, "windows-1251": charmap.Windows1251, "windows-1253": charmap.Windows1253, "windows-1254": charmap.Windows1254, "windows-1255": charmap.Windows1255, "windows-1256": charmap.Windows1256, "windows-1257": charmap.Windows1257, "windows-1258": charmap.Windows1258,
	"koi8-r": charmap.KOI8R, "koi8-u": charmap.KOI8U, "macintosh": charmap.Macintosh,
}

var errEncoding = errors.New("unknown encoding")

var metaCharset = regexp.MustCompile(`(?i)<meta[^>]{0,200}charset\s*=\s*["']?\s*([a-z0-9_-]+)`)

// decoded returns a page's bytes as UTF-8. A byte order mark decides, or else the header field, or
// else a meta element within the first kibibyte (HTML, section 13.2.3.2).
func decoded(body []byte, field string) (string, error) {
	name := ""
	if _, parameters, err := mime.ParseMediaType(field); err == nil {
		name = parameters["charset"]
	}
	switch {
	case bytes.HasPrefix(body, []byte("\xef\xbb\xbf")):
		return strings.ToValidUTF8(string(body[3:]), "\uFFFD"), nil
	case bytes.HasPrefix(body, []byte("\xff\xfe")):
		name = "utf-16le"
	case bytes.HasPrefix(body, []byte("\xfe\xff")):
		name = "utf-16be"
	case name == "":
		if m := metaCharset.FindSubmatch(body[:min(len(body), 1024)]); m != nil {
			name = string(m[1])
		}
	}
	name = strings.ToLower(strings.TrimSpace(name))
	if name == "" && !utf8.Valid(body) {
		name = "windows-1252" // the browsers' default
	}
	if name == "" || name == "utf-8" || name == "utf8" {
		return strings.ToValidUTF8(string(body), "\uFFFD"), nil
	}
	e := encodings[name]
	if e == nil {
		return "", errEncoding
	}
	text, err := e.NewDecoder().Bytes(body)
	return string(text), err
}
