// Package header reads the HTTP fields that both listeners use: entity tags and accepted codings.
package header

import (
	"bytes"
	"strconv"
	"strings"
)

// Tags is an If-Match or If-None-Match field (RFC 9110, sections 13.1.1 and 13.1.2).
type Tags struct {
	Any  bool     // the field is "*"
	List []string // as sent: W/"…" or "…"
}

// ReadTags reads all lines of a field as one list (RFC 9110, section 5.3). It ignores what is not
// an entity tag.
func ReadTags(lines [][]byte) (t Tags) {
	for _, line := range lines {
		rest := strings.TrimSpace(string(line))
		if rest == "*" {
			t.Any = true
			continue
		}
		for rest != "" {
			rest = strings.TrimLeft(rest, " \t,")
			opaque := strings.TrimPrefix(rest, "W/")
			if !strings.HasPrefix(opaque, `"`) {
				_, rest, _ = strings.Cut(rest, ",")
				continue
			}
			n := strings.IndexByte(opaque[1:], '"')
			if n < 0 {
				break
			}
			size := len(rest) - len(opaque) + n + 2
			t.List = append(t.List, rest[:size])
			rest = rest[size:]
		}
	}
	return t
}

// Has compares weakly (RFC 9110, section 8.8.3.2): a tag matches whether or not either is weak.
func (t Tags) Has(tag string) bool {
	for _, each := range t.List {
		if strings.TrimPrefix(each, "W/") == strings.TrimPrefix(tag, "W/") {
			return true
		}
	}
	return t.Any
}

// Strong returns the strong tags without their quotes. If-Match compares strongly, so a weak tag
// never matches.
func (t Tags) Strong() (list []string) {
	for _, each := range t.List {
		if !strings.HasPrefix(each, "W/") {
			list = append(list, strings.Trim(each, `"`))
		}
	}
	return list
}

var (
	brotli, gzip = []byte("br"), []byte("gzip")
	quality      = []byte(";")
	anything     = []byte("*")
)

// Fields are the fields of a request.
type Fields interface {
	Peek(name string) []byte
	PeekAll(name string) [][]byte
}

// CodingOf applies Coding to a request. A single plain line that allows brotli, as nearly every
// browser sends, needs no further reading, because no other coding could be better.
func CodingOf(f Fields) string {
	first := f.Peek("Accept-Encoding")
	if len(first) == 0 {
		return ""
	}
	if bytes.Equal(first, brotli) || !bytes.Contains(first, quality) && !bytes.Contains(first, anything) && listed(first, brotli) {
		return "br"
	}
	return Coding(f.PeekAll("Accept-Encoding"))
}

// Coding selects the coding that the client prefers from all lines of Accept-Encoding (RFC 9110,
// section 12.5.3): "br", "gzip", or "" for none. If several are equally good, it selects the
// smallest.
func Coding(lines [][]byte) string {
	if len(lines) == 0 {
		return ""
	}
	if len(lines) == 1 && !bytes.Contains(lines[0], quality) && !bytes.Contains(lines[0], anything) {
		switch line := lines[0]; { // what browsers send, many times a second
		case listed(line, brotli):
			return "br"
		case listed(line, gzip):
			return "gzip"
		}
		return ""
	}
	weights := map[string]float64{}
	for _, line := range lines {
		for part := range strings.SplitSeq(string(line), ",") {
			name, parameters, _ := strings.Cut(part, ";")
			q := 1.0
			for parameter := range strings.SplitSeq(parameters, ";") {
				if key, value, ok := strings.Cut(parameter, "="); ok && strings.EqualFold(strings.TrimSpace(key), "q") {
					var err error
					if q, err = strconv.ParseFloat(strings.TrimSpace(value), 64); err != nil || q < 0 || q > 1 {
						q = 0
					}
				}
			}
			weights[strings.ToLower(strings.TrimSpace(name))] = q
		}
	}
	weight := func(coding string) (q float64, named bool) {
		if q, named = weights[coding]; named {
			return q, true
		}
		q, named = weights["*"]
		return q, named
	}
	best, most := "", 0.0
	if q, named := weights["identity"]; named {
		most = q // identity counts only if the client gives it a weight
	}
	for _, coding := range []string{"gzip", "br"} {
		if q, _ := weight(coding); q > 0 && q >= most {
			best, most = coding, q
		}
	}
	return best
}

// listed reports whether a list without parameters contains name.
func listed(line, name []byte) bool {
	for len(line) > 0 {
		part, rest, _ := bytes.Cut(line, []byte(","))
		if bytes.EqualFold(bytes.TrimSpace(part), name) {
			return true
		}
		line = rest
	}
	return false
}
