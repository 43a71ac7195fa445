package view

import (
	"bytes"
	"fmt"
	"html/template"
	"strconv"
	"strings"
	"sync"
	"text/template/parse"

	"glasspocket/internal/shape"
)

// An escaper writes a value as html/template escapes it in one context. A value without any
// character that would change is written as it is. All others go through html/template, in a small
// template with the same context, so that none of the escaping rules are ours.
type escaper struct {
	around   [2]string // the small template, without its action
	keeps    letters   // of a text in this context
	keepsURL letters   // of a link in this context
	markup   bool      // trusted markup is not escaped
	bare     bool      // trusted attributes are not escaped
	empty    bool      // an empty text stays empty

	once  sync.Once
	small *template.Template
}

// letters marks the bytes that need no escaping.
type letters [256]bool

func (l *letters) all(s string) bool {
	for i := 0; i < len(s); i++ {
		if !l[s[i]] {
			return false
		}
	}
	return true
}

// but marks all bytes except these.
func but(other string) (l letters) {
	for i := range l {
		l[i] = strings.IndexByte(other, byte(i)) < 0
	}
	return l
}

// only marks letters, digits and these.
func only(others string) (l letters) {
	for i := range l {
		b := byte(i)
		l[i] = b >= '0' && b <= '9' || b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' || strings.IndexByte(others, b) >= 0
	}
	return l
}

// quotedLetters are escaped in text and in quoted attributes (html/template, html.go).
const quotedLetters = "\x00\"&'+<>"

// escaperTable is indexed by the functions that html/template appends to an action (escape.go,
// funcMap).
var escaperTable = map[string]*escaper{
	"_html_template_htmlescaper":    {around: [2]string{"", ""}, keeps: but(quotedLetters), markup: true, empty: true},
	"_html_template_rcdataescaper":  {around: [2]string{"<textarea>", "</textarea>"}, keeps: but(quotedLetters), empty: true},
	"_html_template_attrescaper":    {around: [2]string{`<p title="`, `">`}, keeps: but(quotedLetters), empty: true},
	"_html_template_nospaceescaper": {around: [2]string{`<p title=`, `>`}, keeps: only("-_.")},
	"_html_template_urlfilter _html_template_urlnormalizer _html_template_attrescaper": {
		around: [2]string{`<a href="`, `">`}, keeps: only("-._~/"), keepsURL: only("-._~/:?=#,;!*@"), empty: true},
	"_html_template_urlnormalizer _html_template_attrescaper": {
		around: [2]string{`<a href="/`, `">`}, keeps: only("-._~/"), keepsURL: only("-._~/:?=#,;!*@"), empty: true},
	"_html_template_urlescaper _html_template_attrescaper": {
		around: [2]string{`<a href="/?q=`, `">`}, keeps: only("-._~"), empty: true},
	"_html_template_htmlnamefilter": {around: [2]string{`<p `, `>`}, bare: true},
}

// escaperOf returns the escaper that is equivalent to these commands, or nil.
func escaperOf(commands []*parse.CommandNode) *escaper {
	var names []string
	for _, c := range commands {
		id, ok := c.Args[0].(*parse.IdentifierNode)
		if !ok || len(c.Args) > 1 {
			return nil
		}
		names = append(names, id.Ident)
	}
	return escaperTable[strings.Join(names, " ")]
}

func (e *escaper) write(w *writer, value any) error {
	switch v := value.(type) {
	case string:
		if e.keeps.all(v) && (v != "" || e.empty) {
			return w.writeText(v)
		}
	case int:
		if !e.bare {
			return w.writeText(strconv.Itoa(v))
		}
	case float64:
		if !e.bare && v == float64(int32(v)) && v != 0 && v < 1e6 && v > -1e6 { // without exponent and -0
			return w.writeText(strconv.Itoa(int(v)))
		}
	case template.HTML:
		if e.markup {
			return w.writeText(string(v))
		}
	case shape.Markup:
		if e.markup {
			return w.writeText(string(v))
		}
		value = template.HTML(v)
	case template.HTMLAttr:
		if e.bare {
			return w.writeText(string(v))
		}
	case shape.Link:
		if v != "" && e.keepsURL.all(string(v)) {
			return w.writeText(string(v))
		}
		value = template.URL(v)
	case bool:
	default:
		return errLeft
	}
	return e.through(w, value)
}

// through escapes a value with html/template.
func (e *escaper) through(w *writer, value any) error {
	e.once.Do(func() {
		e.small = template.Must(template.New("").Parse(e.around[0] + "{{.}}" + e.around[1]))
	})
	var b bytes.Buffer
	if err := e.small.Execute(&b, value); err != nil {
		return errLeft
	}
	written, ok := strings.CutPrefix(b.String(), e.around[0])
	written, ok2 := strings.CutSuffix(written, e.around[1])
	if !ok || !ok2 {
		return fmt.Errorf("%w: %q", errLeft, b.String())
	}
	return w.writeText(written)
}
