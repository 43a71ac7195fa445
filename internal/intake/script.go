package intake

import (
	"encoding/base64"
	"fmt"
	"mime"
	"path"
	"regexp"
	"strconv"
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/js"
)

func dataURL(c Copy) string {
	kind := mime.TypeByExtension(path.Ext(c.Path))
	if !strings.HasPrefix(kind, "image/") {
		return ""
	}
	return "data:" + kind + ";base64," + base64.StdEncoding.EncodeToString(c.Bytes)
}

// jsTokens reads a script. ok is false if it cannot be read to its end.
func jsTokens(text string, line int) (list []token, ok bool) {
	l := js.NewLexer(parse.NewInputString(text))
	last := js.ErrorToken
	for {
		kind, raw := l.Next()
		if kind == js.DivToken || kind == js.DivEqToken {
			// After a value a slash is a division; in other places it starts a regular expression.
			value := last == js.IdentifierToken || last == js.CloseParenToken || last == js.CloseBracketToken || last == js.CloseBraceToken || last == js.StringToken ||
				last == js.TemplateToken || last == js.TemplateEndToken || last == js.RegExpToken || last == js.ThisToken || last&js.NumericToken != 0 && last < js.PunctuatorToken && last >= js.NumericToken
			if !value {
				kind, raw = l.RegExp()
			}
		}
		if kind == js.ErrorToken {
			return list, l.Err() == nil || l.Err().Error() == "EOF"
		}
		list = append(list, token{int(kind), string(raw), line})
		line += strings.Count(string(raw), "\n")
		if kind != js.WhitespaceToken && kind != js.LineTerminatorToken && kind != js.CommentToken && kind != js.CommentLineTerminatorToken {
			last = kind
		}
	}
}

// needs are what the mount function must provide.
type needs struct{ signal, byID, every, load, async bool }

// script writes mount.js; "" if the page has no script.
func (m *maker) script() string {
	if len(m.scripts) == 0 && len(m.events) == 0 {
		return ""
	}
	var imports, body strings.Builder
	var need needs
	var list []part
	for _, s := range m.scripts {
		switch {
		case s.text == "" && s.module && strings.HasSuffix(s.name, ".js"):
			fmt.Fprintf(&imports, "import %q;\n", "./"+s.name)
			continue
		case s.name == "":
			need.load, need.async = true, true
			fmt.Fprintf(&body, "  await load(%s);\n", strconv.Quote(s.text))
			continue
		case strings.TrimSpace(s.text) == "":
			continue
		}
		p := part{name: s.name, line: s.line, code: s.text, whole: s.whole}
		was := need.async
		if need.async = false; !s.whole {
			p.code = m.rewritten(s, &need)
		}
		p.awaits, need.async = need.async, need.async || was
		p.declares, p.sound = declared(p.code)
		list = append(list, p)
	}
	handlers := ""
	for _, e := range m.events {
		handlers += e.code + "\n"
	}
	code, helper := together(list, handlers)
	body.WriteString(code)
	if len(list) > 0 {
		order := ""
		if len(list) > 1 {
			order = ", in the order of the page"
		}
		m.done(0, "%s moved to mount.js%s.", counted(len(list), "script"), order)
	}
	body.WriteString(m.listeners(&need))
	var b strings.Builder
	b.WriteString(imports.String())
	if imports.Len() > 0 {
		b.WriteString("\n")
	}
	b.WriteString("// Called once for each copy of the widget on a page. Lookups start at root.\n")
	takes := "{ root }"
	if need.signal || need.every {
		takes = "{ root, signal }"
	}
	async := ""
	if need.async {
		async = "async "
	}
	fmt.Fprintf(&b, "export default %sfunction mount(%s) {\n", async, takes)
	if need.byID {
		b.WriteString("  const byId = (id) => root.querySelector(\"#\" + CSS.escape(id));\n")
	}
	if need.every {
		b.WriteString("  // Ends when the widget is removed.\n  const every = (...given) => {\n    const timer = setInterval(...given);\n    signal.addEventListener(\"abort\", () => clearInterval(timer));\n    return timer;\n  };\n")
	}
	if helper {
		b.WriteString(partHelper)
	}
	if need.byID || need.every || helper {
		b.WriteString("\n")
	}
	b.WriteString(strings.TrimRight(body.String(), "\n") + "\n}\n")
	if need.load {
		b.WriteString("\n// Loads a script from another server, once per page.\nfunction load(address) {\n  return new Promise((resolve, reject) => {\n    const script = document.createElement(\"script\");\n    script.src = address;\n    script.onload = resolve;\n    script.onerror = () => reject(new Error(address + \" could not be loaded\"));\n    document.head.append(script);\n  });\n}\n")
	}
	return b.String()
}

// listeners writes the handlers from attributes.
func (m *maker) listeners(need *needs) string {
	if len(m.events) == 0 {
		return ""
	}
	var b strings.Builder
	b.WriteString("  // Handlers from attributes of the page's elements.\n")
	for _, e := range m.events {
		code := strings.TrimSpace(m.rewritten(source{text: e.code, line: e.line}, need))
		if e.mark == 0 && e.name == "load" {
			fmt.Fprintf(&b, "  %s;\n", strings.TrimRight(code, ";"))
			continue
		}
		at := "root"
		if e.mark > 0 {
			at = fmt.Sprintf("root.querySelector('[data-does=\"%d\"]')", e.mark)
		}
		if strings.Contains(code, "return") {
			fmt.Fprintf(&b, "  %s.addEventListener(%q, function (event) {\n    const answer = (() => { %s })();\n    if (answer === false) event.preventDefault();\n  });\n", at, e.name, code)
		} else {
			fmt.Fprintf(&b, "  %s.addEventListener(%q, function (event) {\n    %s;\n  });\n", at, e.name, strings.TrimRight(code, "; "))
		}
	}
	m.done(0, "%s from attributes moved to mount.js.", counted(len(m.events), "handler"))
	return b.String()
}

func indented(text string) string {
	var b strings.Builder
	for _, line := range strings.Split(strings.Trim(text, "\n"), "\n") {
		if strings.TrimSpace(line) != "" {
			b.WriteString("  " + line)
		}
		b.WriteString("\n")
	}
	return strings.TrimRight(b.String(), "\n")
}

// words are a script's tokens without white space and comments.
type words struct {
	all  []token
	real []int // indexes of the meaningful tokens
}

func wordsOf(tokens []token) words {
	w := words{all: tokens}
	for i, t := range tokens {
		switch js.TokenType(t.kind) {
		case js.WhitespaceToken, js.LineTerminatorToken, js.CommentToken, js.CommentLineTerminatorToken:
		default:
			w.real = append(w.real, i)
		}
	}
	return w
}

func (w words) texts() (list []string) {
	for i := range w.real {
		list = append(list, w.text(i))
	}
	return list
}

func (w words) text(i int) string {
	if i < 0 || i >= len(w.real) {
		return ""
	}
	return w.all[w.real[i]].text
}

func (w words) are(i int, texts ...string) bool {
	for j, t := range texts {
		if w.text(i+j) != t {
			return false
		}
	}
	return true
}

// closing returns the word that closes the bracket at word i.
func (w words) closing(i int) int {
	depth := 0
	for ; i < len(w.real); i++ {
		switch w.text(i) {
		case "(", "[", "{":
			depth++
		case ")", "]", "}":
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return -1
}

// commas counts the commas between the brackets of a call.
func (w words) commas(from, to int) (n int) {
	depth := 0
	for i := from + 1; i < to; i++ {
		switch w.text(i) {
		case "(", "[", "{":
			depth++
		case ")", "]", "}":
			depth--
		case ",":
			if depth == 0 {
				n++
			}
		}
	}
	return n
}

var (
	plainText = regexp.MustCompile(`^["']([\w -]+)["']$`)
	ready     = map[string]bool{"DOMContentLoaded": true, "load": true}
)

// rewritten returns a script that searches from the widget's root, and whose listeners and timers
// end with the widget.
func (m *maker) rewritten(s source, need *needs) string {
	tokens, ok := jsTokens(s.text, s.line)
	if !ok {
		m.hand(s.line, "A script could not be parsed completely and is unchanged.", "Correct it in mount.js, with the help of the check.")
		return s.text
	}
	w := wordsOf(tokens)
	put := func(i int, text string) { w.all[w.real[i]].text = text }
	line := func(i int) int { return w.all[w.real[i]].line }
	lookups, said, depth := 0, map[string]bool{}, 0
	once := func(i int, what, fix string) {
		if !said[what] {
			said[what] = true
			m.hand(line(i), what, fix)
		}
	}
	for i := range w.real {
		word := w.text(i)
		switch word {
		case "{", "(", "[":
			depth++
		case "}", ")", "]":
			depth--
		case "await":
			need.async = need.async || depth == 0
		}
		before := w.text(i - 1)
		free := before != "." && before != "?."
		switch {
		case !free:
		case strings.HasPrefix(word, "document") && w.handles(i) == 6 && w.text(i+2) == "body":
			once(i, "The script takes "+w.text(i+4)+" of the whole page.", "Use root.addEventListener(…) for events in the widget, or window.addEventListener(…, { signal }).")
		case w.are(i, "document", ".", "getElementById", "("):
			lookups++
			if id := plainText.FindStringSubmatch(w.text(i + 4)); id != nil && w.text(i+5) == ")" {
				sign := "#"
				if m.ids[id[1]] {
					sign = "."
				}
				put(i, "root")
				put(i+2, "querySelector")
				put(i+4, strconv.Quote(sign+id[1]))
			} else {
				need.byID = true
				put(i, "byId")
				put(i+1, "")
				put(i+2, "")
			}
		case w.of(i, aboutPage): // it searches for the page's own elements, which stay in the page
		case w.of(i, pageRoots):
			lookups++
			text := "root"
			if strings.HasSuffix(w.text(i+2), "All") || strings.HasPrefix(w.text(i+2), "getElements") {
				text = "[root]"
			}
			put(i, text)
			for j := i + 1; j <= i+5; j++ {
				put(j, "")
			}
		case w.are(i, "document", ".", "documentElement", ".") && scrolls[w.text(i+4)], w.are(i, "document", ".", "body", ".") && scrolls[w.text(i+4)]:
			// Which of the two scrolls depends on the doctype.
			put(i+2, "scrollingElement")
		case w.are(i, "document", ".", "documentElement", ".") && roots[w.text(i+4)]:
			lookups++
			put(i, "root")
			put(i+1, "")
			put(i+2, "")
		case w.are(i, "document", ".", "querySelector"), w.are(i, "document", ".", "querySelectorAll"), w.are(i, "document", ".", "getElementsByClassName"), w.are(i, "document", ".", "getElementsByTagName"):
			lookups++
			put(i, "root")
			if at := w.text(i + 4); strings.HasPrefix(w.text(i+2), "query") && ofPage.MatchString(at) {
				put(i+4, ofPage.ReplaceAllString(at, "$1"))
			}
			if at := w.text(i + 4); len(m.ids) > 0 && strings.ContainsAny(at, "#") {
				put(i+4, idsIn.ReplaceAllStringFunc(at, func(id string) string {
					if m.ids[id[1:]] {
						return "." + id[1:]
					}
					return id
				}))
			}
		case w.are(i, "document", ".", "body"):
			lookups++
			put(i, "root")
			put(i+1, "")
			put(i+2, "")
			once(i, "The script now changes the widget's root instead of the page's body.", "Check that this is intended.")
		case w.are(i, "document", ".", "addEventListener", "("), w.are(i, "window", ".", "addEventListener", "("), w.are(i, "addEventListener", "("):
			open := i + 3
			if word == "addEventListener" {
				open = i + 1
			}
			end := w.closing(open)
			name := strings.Trim(w.text(open+1), `"'`)
			switch {
			case end < 0:
			case ready[name] && w.text(open+2) == "," && w.commas(open, end) == 1:
				// The widget exists when its script runs, so it need not wait.
				for j := i; j <= open+2; j++ {
					put(j, "")
				}
				put(open, "(")
				put(end, ")()")
				m.done(line(i), "The script no longer waits for %s, because it runs when the widget is ready.", name)
			case w.commas(open, end) == 1:
				need.signal = true
				put(end, ", { signal })")
				m.done(line(i), "The listener for %s is removed together with the widget.", name)
			default:
				once(i, "A listener on the page stays after the widget is removed.", "Add signal to its options: { …, signal }.")
			}
		case w.are(i, "window", ".", "onload", "="), w.are(i, "document", ".", "onload", "="), w.are(i, "onload", "="):
			at := i + 4
			if word == "onload" {
				at = i + 2
			}
			end := m.functionEnd(w, at)
			if end < 0 {
				once(i, "The script waits for the page in an unknown way.", "Call the waiting function at the end of the mount function.")
				break
			}
			for j := i; j < at; j++ {
				put(j, "")
			}
			put(at, "("+w.text(at))
			put(end, w.text(end)+")()")
			m.done(line(i), "The script no longer waits for load, because it runs when the widget is ready.")
		case w.handles(i) > 0:
			at := i + w.handles(i)
			name := strings.TrimPrefix(w.text(at-2), "on")
			end := m.functionEnd(w, at)
			if end < 0 && identifier.MatchString(w.text(at)) && (w.text(at+1) == ";" || w.text(at+1) == "" || w.all[w.real[at]].line < w.all[w.real[at+1]].line) {
				end = at // a function by its name
			}
			if end < 0 {
				once(i, fmt.Sprintf("The script sets %s of the whole page. If there are two copies, only the last one works.", w.text(at-2)), fmt.Sprintf("Use addEventListener(%q, …, { signal }).", name))
				break
			}
			need.signal = true
			target := "window"
			if word == "document" {
				target = "document"
			}
			for j := i; j < at; j++ {
				put(j, "")
			}
			put(at, fmt.Sprintf("%s.addEventListener(%q, %s", target, name, w.text(at)))
			put(end, w.text(end)+", { signal })")
			m.done(line(i), "The handler for %s is now a listener that is removed together with the widget.", name)
		case w.are(i, "setInterval", "("):
			need.every = true
			put(i, "every")
		case w.are(i, "window", ".", "setInterval", "("):
			need.every = true
			put(i, "")
			put(i+1, "")
			put(i+2, "every")
		case word == "import" && w.text(i+1) != "(" && depth == 0, word == "export" && depth == 0:
			once(i, fmt.Sprintf("A mount function cannot contain %q here.", word), "Move it to the start of mount.js.")
		case w.are(i, "document", ".", "write"), w.are(i, "document", ".", "writeln"):
			once(i, "The script writes to the page while it loads.", "Put that content into the view.")
		case w.are(i, "document", ".", "cookie"), word == "localStorage", word == "sessionStorage":
			once(i, fmt.Sprintf("The script stores data in %s.", strings.Join([]string{word, w.text(i + 1), w.text(i + 2)}[:map[bool]int{true: 3, false: 1}[word == "document"]], "")), "Use memory, which the mount function receives. It respects the visitor's consent and expires.")
		case word == "$" && w.text(i+1) == "(", word == "jQuery" && w.text(i+1) == "(":
			once(i, fmt.Sprintf("The script uses the library %s, which searches the whole page.", word), "Pass root to search in, as in $(\".card\", root), or do not use the library.")
		case w.are(i, "document", ".", "currentScript"):
			once(i, "The script looks for its own element, which no longer exists.", "Start at root.")
		case word == "alert", word == "confirm", word == "prompt":
			if w.text(i+1) == "(" {
				once(i, word+"() blocks the whole page.", "Show the message in the widget.")
			}
		case (word == "window" || word == "globalThis" || word == "self") && w.text(i+1) == "." && w.text(i+3) == "=" && !strings.HasPrefix(w.text(i+2), "on"):
			once(i, fmt.Sprintf("The script creates the global variable %s.", w.text(i+2)), "Use a variable in the mount function. Two copies on a page would share the global variable.")
		}
	}
	if lookups > 0 {
		m.done(s.line, "The script now searches the widget instead of the page in %s.", places(lookups))
	}
	return joined(w.all)
}

// Elements of the page that scripts search for: those that the widget's root replaces, and those
// that stay in the page.
var (
	pageRoots = map[string]bool{"body": true, "html": true}
	aboutPage = map[string]bool{"head": true, "script": true, "link": true, "meta": true, "title": true, "style": true}
	scrolls   = map[string]bool{"scrollTop": true, "scrollLeft": true, "scrollHeight": true, "scrollWidth": true}
	roots     = map[string]bool{"classList": true, "className": true, "dataset": true, "style": true, "setAttribute": true, "getAttribute": true, "removeAttribute": true, "hasAttribute": true, "toggleAttribute": true}
)

// ofPage matches the part of a quoted selector that concerns the page, before the widget's own
// parts.
var ofPage = regexp.MustCompile("(?i)^([\"'`])(?:html\\s*>?\\s*)?body\\s*>?\\s+")

// of reports whether word i starts a search in the document for one of these elements.
func (w words) of(i int, elements map[string]bool) bool {
	if !w.are(i, "document", ".") || w.text(i+3) != "(" || w.text(i+5) != ")" {
		return false
	}
	switch w.text(i + 2) {
	case "querySelector", "querySelectorAll", "getElementsByTagName":
		name, _, _ := strings.Cut(strings.ToLower(strings.Trim(w.text(i+4), `"'`+"`")), "[")
		return elements[name]
	}
	return false
}

var handlerForm = regexp.MustCompile(`^on(scroll|resize|key(down|up|press)|click|mouse\w+|pointer\w+|touch\w+|wheel|hashchange|popstate|message|focus|blur|visibilitychange)$`)

// handles returns the number of words up to the value of an assignment to a page-wide handler at
// word i; 0 for anything else.
func (w words) handles(i int) int {
	switch w.text(i) {
	case "window", "document", "self", "globalThis":
		if w.text(i+1) == "." && handlerForm.MatchString(w.text(i+2)) && w.text(i+3) == "=" {
			return 4
		}
		if w.are(i, "document", ".", "body", ".") && handlerForm.MatchString(w.text(i+4)) && w.text(i+5) == "=" {
			return 6
		}
	default:
		if handlerForm.MatchString(w.text(i)) && w.text(i+1) == "=" {
			return 2
		}
	}
	return 0
}

// functionEnd returns the last word of a function at word i; -1 if there is none.
func (m *maker) functionEnd(w words, i int) int {
	j := i
	if w.text(j) == "async" {
		j++
	}
	if w.text(j) == "function" {
		for ; j < len(w.real) && w.text(j) != "("; j++ {
		}
		if j = w.closing(j); j < 0 || w.text(j+1) != "{" {
			return -1
		}
		return w.closing(j + 1)
	}
	if w.text(j) == "(" {
		if j = w.closing(j); j < 0 || !w.are(j+1, "=>", "{") {
			return -1
		}
		return w.closing(j + 2)
	}
	return -1
}
