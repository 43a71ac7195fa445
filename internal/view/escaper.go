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

// An escaper writes a value as html/template escapes it at one kind of place. What has no
// letter that is changed there is written as it is; all else goes through html/template
// itself, by a small template with such a place, so that no rule of escaping is ours.
type escaper struct {
	around   [2]string // the small template, without its action
	keeps    letters   // of a text, at this place
	keepsURL letters   // of a link, at this place
	markup   bool      // trusted markup stays
	bare     bool      // trusted attributes stay
	empty    bool      // an empty text stays empty

	once  sync.Once
	small *template.Template
}

// letters tells which bytes stay as they are.
type letters [256]bool

func (l *letters) all(s string) bool {
	for i := 0; i < len(s); i++ {
		if !l[s[i]] {
			return false
		}
	}
	return true
}

// but has every byte except those.
func but(other string) (l letters) {
	for i := range l {
		l[i] = strings.IndexByte(other, byte(i)) < 0
	}
	return l
}

// only has letters, digits and these.
func only(others string) (l letters) {
	for i := range l {
		b := byte(i)
		l[i] = b >= '0' && b <= '9' || b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' || strings.IndexByte(others, b) >= 0
	}
	return l
}

// quotedLetters change in text and in quoted attributes (html/template, html.go).
const quotedLetters = "\x00\"&'+<>"

// escaperTable is by what html/template puts behind an action (escape.go, funcMap).
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

// escaperOf finds what escapes as these commands do; nil when there is none.
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
		if !e.bare && v == float64(int32(v)) && v != 0 && v < 1e6 && v > -1e6 { // no exponent, no -0
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

// through escapes by html/template.
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
