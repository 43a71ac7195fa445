package host

import (
	"html"
	"strings"
)

// element is a piece of a snippet. Snippets consist of elements, not text, so that the same piece
// can be written for HTML, for XML, or for a template language.
type element struct {
	name     string // "" for text, "!" for a comment
	text     string
	with     []attribute
	children []element
	lines    bool // each child on its own line
}

type attribute struct{ name, value string } // value on: present without one

const on = "\x00"

func el(name string, with []attribute, children ...element) element {
	return element{name: name, with: with, children: children}
}

func text(s string) element { return element{text: s} }

// attributes takes names and values alternately, and skips empty ones.
func attributes(pairs ...string) (list []attribute) {
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i+1] != "" {
			list = append(list, attribute{pairs[i], pairs[i+1]})
		}
	}
	return list
}

var void = map[string]bool{"img": true, "input": true, "br": true}

// writer writes elements for one place.
type writer struct {
	b      strings.Builder
	xml    bool
	braces string // characters with a meaning in the place's templates
}

func (w *writer) element(e element) {
	switch e.name {
	case "":
		w.escaped(e.text)
		return
	case "!":
		w.b.WriteString("<!-- " + e.text + " -->")
		return
	}
	w.b.WriteString("<" + e.name)
	for _, a := range e.with {
		switch {
		case a.value != on:
			w.b.WriteString(" " + a.name + `="`)
			w.escaped(a.value)
			w.b.WriteByte('"')
		case w.xml: // XML has no attributes without a value (XML 1.0, section 3.1)
			w.b.WriteString(" " + a.name + `="` + a.name + `"`)
		default:
			w.b.WriteString(" " + a.name)
		}
	}
	if void[e.name] {
		if w.xml {
			w.b.WriteByte('/')
		}
		w.b.WriteByte('>')
		return
	}
	w.b.WriteByte('>')
	w.all(e.children, e.lines, "  ")
	w.b.WriteString("</" + e.name + ">")
}

func (w *writer) all(list []element, lines bool, indent string) {
	for i, e := range list {
		if lines && (i > 0 || indent != "") {
			w.b.WriteString("\n" + indent)
		}
		w.element(e)
	}
	if lines && indent != "" {
		w.b.WriteByte('\n')
	}
}

// anyTemplate writes what starts an expression in most template languages as references. It is for
// places about which nothing is known, because they can be templates.
var anyTemplate = strings.NewReplacer("{{", "&#123;&#123;", "{%", "&#123;%", "{#", "&#123;#")

// escaped writes text or a value. Characters with a meaning in a template language become
// references (HTML, section 13.1.4), which browsers decode and templates do not.
func (w *writer) escaped(s string) {
	s = html.EscapeString(s)
	if w.braces == "" {
		w.b.WriteString(anyTemplate.Replace(s))
		return
	}
	for _, r := range s {
		if strings.ContainsRune(w.braces, r) {
			w.b.WriteString("&#" + itoa(int(r)) + ";")
		} else {
			w.b.WriteRune(r)
		}
	}
}
