package intake

import (
	"fmt"
	"glasspocket/internal/tree"
	"path"
	"regexp"
	"strings"

	"golang.org/x/net/html"
)

// scriptTypes are the types of scripts that browsers run (WHATWG HTML, "prepare the script
// element").
var scriptTypes = regexp.MustCompile(`(?i)^(|module|(text|application)/(x-)?(java|ecma)script)$`)

// gather removes styles and scripts from the whole page, in order.
func (m *maker) gather(doc *html.Node) {
	var gone []*html.Node
	scripts, styles := 0, 0 // inline ones; for styles, also those of other files
	tree.Each(doc, func(n *html.Node) {
		line := lineOf(n)
		switch {
		case n.Data == "style" && n.Namespace == "":
			styles++
			gone = append(gone, n)
			m.styles = append(m.styles, source{text: tree.Text(n), line: line, name: fmt.Sprintf("the page's style %d", styles), media: tree.Get(n, "media")})
		case n.Data == "link" && strings.Contains(strings.ToLower(tree.Get(n, "rel")), "stylesheet"):
			gone = append(gone, n)
			address := m.addressOf(tree.Get(n, "href"), "")
			switch state, c := m.remote(address, "style", line); {
			case state == "copied":
				styles++
				m.styles = append(m.styles, source{text: textFile(c.Bytes), line: 1, name: address, media: tree.Get(n, "media"), dir: folderOf(address)})
			case m.Beside != nil && relative(address):
				m.hand(line, fmt.Sprintf("The stylesheet %s was not found.", address), "Put it next to the page, or name the site's folder with -root.")
			default:
				m.hand(line, fmt.Sprintf("The stylesheet %s was left out.", address), "Add a copy of it. A widget's stylesheet cannot load another one.")
			}
		case n.Data == "script" && n.Namespace == "":
			gone = append(gone, n)
			kind := strings.TrimSpace(tree.Get(n, "type"))
			if !scriptTypes.MatchString(kind) {
				m.hand(line, fmt.Sprintf("A script of the type %q was left out, because browsers do not run it.", kind), "If it contains data that the widget needs, put the data into a setting or the view.")
				return
			}
			if tree.Has(n, "src") {
				m.outside(n, line)
				return
			}
			scripts++
			m.scripts = append(m.scripts, source{text: tree.Text(n), line: line, name: fmt.Sprintf("the page's script %d", scripts), module: strings.EqualFold(kind, "module")})
		}
	})
	for _, n := range gone {
		n.Parent.RemoveChild(n)
	}
	if styles > 0 {
		m.done(0, "%s of the page moved to style.css.", counted(styles, "style"))
	}
}

// textFile returns a file's text without a byte order mark.
func textFile(bytes []byte) string {
	text := strings.ReplaceAll(string(bytes), "\r\n", "\n")
	return strings.ToValidUTF8(strings.TrimPrefix(text, "\uFEFF"), "\uFFFD")
}

// folderOf returns the folder of a file by its address.
func folderOf(address string) string {
	at, _, _ := strings.Cut(address, "?")
	if dir := path.Dir(at); dir != "." {
		return dir
	}
	return ""
}

// library matches scripts that support several module systems, which are usually third-party
// libraries.
var library = regexp.MustCompile(`typeof\s+(?:exports|module|define)\b|\bdefine\.amd\b`)

// outside handles a script that the page loads.
func (m *maker) outside(n *html.Node, line int) {
	address := m.addressOf(tree.Get(n, "src"), "")
	module := strings.EqualFold(strings.TrimSpace(tree.Get(n, "type")), "module")
	kind := "script"
	if module {
		kind = "module"
	}
	switch state, c := m.remote(address, kind, line); {
	case state == "copied" && c.Path == "":
		text := textFile(c.Bytes)
		m.scripts = append(m.scripts, source{text: text, line: 1, name: address, whole: library.MatchString(text)})
	case state == "copied":
		m.scripts = append(m.scripts, source{text: "", line: line, name: c.Path, module: true})
		m.hand(line, fmt.Sprintf("%s is in the folder as %s and is imported.", address, c.Path), "If the library creates a global variable, import it by name. Check its exports.")
	case state == "kept":
		m.scripts = append(m.scripts, source{text: address, line: line, name: ""})
		m.hand(line, fmt.Sprintf("%s is loaded from its own server, once per page.", address), "A page with a strict content policy blocks it. A copy in the folder always works.")
	case m.Beside != nil && relative(address):
		m.hand(line, fmt.Sprintf("The script %s was not found.", address), "Put it next to the page, or name the site's folder with -root.")
	default:
		m.hand(line, fmt.Sprintf("The script %s was left out.", address), "Add a copy of it, or load it from its server.")
	}
}

func places(n int) string {
	if n == 1 {
		return "one place"
	}
	return fmt.Sprintf("%d places", n)
}

func counted(n int, noun string) string {
	if n == 1 {
		return "One " + noun
	}
	return fmt.Sprintf("%d %ss", n, noun)
}
