package intake

import (
	"regexp"
	"slices"
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/js"
)

// In a page, scripts run separately: one that throws does not stop the others, but all share a
// scope. In the mount function, each is a part that runs separately, and what others use of it is
// declared around it.

// part is a script of the page, rewritten.
type part struct {
	name     string
	line     int
	code     string
	declares []string // names at its top level; nil if it cannot be parsed
	sound    bool     // it can be parsed
	awaits   bool     // it has await at its top level
	whole    bool     // a library
}

// declared returns the names that a script declares at its top level.
func declared(code string) (names []string, ok bool) {
	ast, err := js.Parse(parse.NewInputString(code), js.Options{})
	if err != nil {
		return nil, false
	}
	for _, v := range ast.BlockStmt.Scope.Declared {
		// The browser defines these, and a page cannot redeclare them.
		if name := string(v.Data); !slices.Contains([]string{"window", "document", "location", "top"}, name) {
			names = append(names, name)
		}
	}
	return names, true
}

var identifier = regexp.MustCompile(`[A-Za-z_$][\w$]*`)

// uses returns those of names that occur in a text.
func uses(text string, names []string) bool {
	return slices.ContainsFunc(identifier.FindAllString(text, -1), func(word string) bool { return slices.Contains(names, word) })
}

// together joins the scripts of a page. handlers is the code from attributes, which uses what the
// scripts declare.
func together(parts []part, handlers string) (code string, helper bool) {
	var b strings.Builder
	for i, p := range parts {
		b.WriteString("  // From " + p.name + ", line " + itoa(p.line) + ".\n")
		others := handlers
		for j, other := range parts {
			if j != i {
				others += "\n" + other.code
			}
		}
		text := strings.TrimSpace(p.code)
		switch {
		case !p.sound, p.awaits, len(parts) == 1 && !p.whole:
			b.WriteString(indented(text) + "\n")
			if !strings.HasSuffix(text, ";") {
				b.WriteString("  ;\n") // so that the next one is not parsed as its continuation
			}
		case !uses(others, p.declares):
			helper = true
			b.WriteString("  part(function () {\n" + indented(indented(text)) + "\n  });\n")
		default:
			helper = true
			around, inside := parted(text, p.declares)
			if around != "" {
				b.WriteString(indented(around) + "\n")
			}
			b.WriteString("  part(() => {\n" + indented(indented(inside)) + "\n  });\n")
		}
		b.WriteString("\n")
	}
	return b.String(), helper
}

// operators precede a function or class that is an expression, not a declaration.
var operators = map[string]bool{"=": true, "(": true, ",": true, ":": true, "?": true, "&&": true, "||": true, "??": true, "!": true, "~": true, "+": true, "-": true, "*": true, "/": true, "=>": true, "[": true, "return": true, "typeof": true, "new": true, "void": true, "delete": true, "in": true, "of": true, "default": true, "export": true}

// parted moves a script's declarations out of it: functions unchanged, variables without their
// values, which are assigned inside.
func parted(code string, names []string) (around, inside string) {
	tokens, _ := jsTokens(code, 1)
	w := wordsOf(tokens)
	was := w.texts() // replacements do not change brackets
	before := func(i int) string {
		if i == 0 {
			return ""
		}
		return was[i-1]
	}
	put := func(i int, text string) { w.all[w.real[i]].text = text }
	var functions strings.Builder
	var variables []string
	depth := 0
	for i := 0; i < len(w.real); i++ {
		word := was[i]
		if word == "{" && opensFunction(was, i) {
			if i = w.closing(i); i < 0 {
				break
			}
			continue
		}
		switch word {
		case "{", "(", "[":
			depth++
		case "}", ")", "]":
			depth--
		}
		if depth != 0 {
			// A var in a block belongs to the whole script.
			if word == "var" && slices.Contains(names, w.text(i+1)) {
				put(i, "")
			}
			continue
		}
		if operators[before(i)] || before(i) == "." {
			continue
		}
		at := i
		if word == "async" && w.text(i+1) == "function" {
			at++
		}
		switch {
		case w.text(at) == "function" && identifier.MatchString(w.text(at+1)) || w.text(at) == "function" && w.text(at+1) == "*":
			open := at
			for open < len(w.real) && w.text(open) != "(" {
				open++
			}
			closing := w.closing(open)
			if closing < 0 || w.text(closing+1) != "{" {
				continue
			}
			end := w.closing(closing + 1)
			if end < 0 {
				continue
			}
			functions.WriteString(joined(w.all[w.real[i]:w.real[end]+1]) + "\n")
			for j := w.real[i]; j <= w.real[end]; j++ {
				w.all[j].text = ""
			}
			i = end
		case word == "var" || word == "let" || word == "const":
			if next := w.text(i + 1); next == "{" || next == "[" {
				// Names from a destructuring pattern are assigned together.
				end := w.closing(i + 1)
				if end < 0 {
					continue
				}
				for stop := end; stop < len(w.real); stop++ {
					if w.text(stop) == ";" || stop == len(w.real)-1 {
						put(i, ";(")
						if w.text(stop) == ";" {
							put(stop, ");")
						} else {
							put(stop, w.text(stop)+");")
						}
						break
					}
				}
			} else {
				put(i, ";")
			}
		case word == "class" && identifier.MatchString(w.text(i+1)):
			put(i, ";"+w.text(i+1)+" = class")
			if open := slices.Index(was[i:], "{"); open >= 0 {
				if end := w.closing(i + open); end >= 0 {
					put(end, "};")
				}
			}
		}
	}
	taken := functions.String()
	for _, name := range names {
		if !regexp.MustCompile(`function\s*\*?\s*` + regexp.QuoteMeta(name) + `\s*\(`).MatchString(taken) {
			variables = append(variables, name)
		}
	}
	if len(variables) > 0 {
		around = "var " + strings.Join(variables, ", ") + ";\n" // without let, because another script can declare one again
	}
	return strings.TrimSpace(around + taken), strings.TrimSpace(joined(w.all))
}

// opensFunction reports whether the brace at a word opens a function body, whose declarations are
// local.
func opensFunction(was []string, i int) bool {
	if i == 0 || was[i-1] == "=>" {
		return i > 0
	}
	depth := 0
	for j := i - 1; was[i-1] == ")" && j > 0; j-- {
		switch was[j] {
		case ")":
			depth++
		case "(":
			if depth--; depth == 0 {
				return !slices.Contains([]string{"if", "for", "while", "switch", "with", "catch", "await"}, was[j-1])
			}
		}
	}
	return false
}

const partHelper = `  // Runs one of the page's scripts. If it fails, the others still run.
  const part = (run) => {
    try {
      run.call(window);
    } catch (error) {
      reportError(error);
    }
  };
`
