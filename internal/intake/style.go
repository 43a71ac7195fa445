package intake

import (
	"fmt"
	"glasspocket/internal/clip"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// style writes style.css: the page's stylesheets in order. What would affect more than the widget
// is repaired or left out. used is text that can contain names from rules.
func (m *maker) style(used string) string {
	var b strings.Builder
	for _, s := range m.styles {
		m.fontsIn(s)
	}
	for _, s := range m.styles {
		text := m.rules(s, used)
		if strings.TrimSpace(text) == "" {
			continue
		}
		if len(m.styles) > 1 {
			fmt.Fprintf(&b, "/* From %s, line %d. */\n", s.name, s.line)
		}
		if media := strings.TrimSpace(s.media); media != "" && media != "all" && media != "screen" {
			text = "@media " + media + " {\n" + strings.TrimSpace(text) + "\n}"
		}
		b.WriteString(strings.TrimSpace(text) + "\n\n")
	}
	if len(m.inline) > 0 {
		var inline strings.Builder
		for i, d := range m.inline {
			fmt.Fprintf(&inline, ".p%d { %s; }\n", i+1, d)
		}
		m.done(0, "%s from style attributes moved to style.css as the classes p1, p2 and so on.", counted(len(m.inline), "set"))
		b.WriteString(m.rules(source{text: inline.String()}, used))
	}
	if len(m.old) > 0 {
		m.done(0, "Rules that a widget does not need were left out: %s.", strings.Join(m.old, ", "))
	}
	return strings.TrimSpace(b.String()) + "\n"
}

// token is a piece of a stylesheet or script.
type token struct {
	kind int
	text string
	line int
}

func cssTokens(text string, line int) (list []token) {
	l := css.NewLexer(parse.NewInputString(text))
	for {
		kind, raw := l.Next()
		if kind == css.ErrorToken {
			return list
		}
		list = append(list, token{int(kind), string(raw), line})
		line += strings.Count(string(raw), "\n")
	}
}

// left are at-rules that a widget's stylesheet cannot have, and what to do instead; "" if they are
// not needed.
var left = map[string]string{
	"@import": "Copy its rules into style.css.", "@charset": "", "@namespace": "", "@property": "Use a look setting, which becomes a custom property.",
	"@font-face": "Make a font setting and put the font into assets/, or use a system font.", "@page": "", "@viewport": "", "@-ms-viewport": "",
}

// drop records a rule that is not needed. A single note reports all of them.
func (m *maker) drop(name string) {
	if !slices.Contains(m.old, name) {
		m.old = append(m.old, name)
	}
}

var rootRule = regexp.MustCompile(`(?is)(?:^|[},;/])\s*(?:html|:root)\s*\{([^{}]*)\}`)
var sizeIn = regexp.MustCompile(`(?i)(?:^|[;{\s])font(?:-size)?\s*:\s*(?:[a-z]+\s+)*([\d.]+)(%|px|em|rem)`)

// rootSize returns the font size of the page's root in CSS pixels, the unit of rem: as set by its
// stylesheets for all screens, or 16.
func (m *maker) rootSize() float64 {
	size := 16.0
	for _, s := range m.styles {
		for _, rule := range rootRule.FindAllStringSubmatch(s.text, -1) {
			for _, d := range sizeIn.FindAllStringSubmatch(rule[1], -1) {
				if n, err := strconv.ParseFloat(d[1], 64); err == nil && n > 0 {
					size = map[string]float64{"%": n * 0.16, "px": n, "em": n * 16, "rem": n * 16}[strings.ToLower(d[2])]
				}
			}
		}
	}
	if size != 16 {
		m.done(0, "The page's root font size is %s px, so 1rem became %[1]s px.", strconv.FormatFloat(size, 'f', -1, 64))
	}
	return size
}

// imported returns the rules of an imported stylesheet next to this one; false if it is missing.
func (m *maker) imported(prelude []token, s source, used string) (string, bool) {
	if s.depth > 8 {
		return "", false
	}
	address, rest := "", ""
	for i, t := range prelude {
		kind := css.TokenType(t.kind)
		switch {
		case address == "" && kind == css.StringToken:
			address = strings.Trim(t.text, `"'`)
		case address == "" && kind == css.URLToken:
			address = strings.Trim(strings.TrimSuffix(t.text[4:], ")"), ` "'`)
		default:
			continue
		}
		rest = strings.Trim(joined(prelude[i+1:]), " )")
		break
	}
	address = m.addressOf(address, s.dir)
	if !relative(address) {
		return "", false
	}
	state, c := m.remote(address, "style", prelude[0].line)
	if state != "copied" {
		return "", false
	}
	of := source{text: textFile(c.Bytes), line: 1, name: address, dir: folderOf(address), depth: s.depth + 1}
	m.fontsIn(of)
	text := m.rules(of, used)
	if rest != "" {
		text = "@media " + rest + " {\n" + text + "\n}"
	}
	return text + "\n", true
}

// rules visits a stylesheet block by block.
func (m *maker) rules(s source, used string) string {
	tokens := cssTokens(s.text, s.line)
	var b strings.Builder
	unused, inRoot := 0, false
	var walk func(i int, inRule bool) int
	// walk writes tokens from i to the end of the enclosing block.
	walk = func(i int, inRule bool) int {
		for i < len(tokens) {
			t := tokens[i]
			switch css.TokenType(t.kind) {
			case css.RightBraceToken:
				return i
			case css.WhitespaceToken, css.CommentToken, css.SemicolonToken, css.CDOToken, css.CDCToken:
				if t.text != "<!--" && t.text != "-->" {
					b.WriteString(t.text)
				}
				i++
				continue
			}
			// A prelude, up to its block, or a declaration.
			end, block := i, false
			depth := 0
			for ; end < len(tokens); end++ {
				switch css.TokenType(tokens[end].kind) {
				case css.LeftParenthesisToken, css.FunctionToken, css.LeftBracketToken:
					depth++
				case css.RightParenthesisToken, css.RightBracketToken:
					depth--
				case css.LeftBraceToken:
					block = depth <= 0
				case css.SemicolonToken, css.RightBraceToken:
					if depth <= 0 {
						goto found
					}
				}
				if block {
					break
				}
			}
		found:
			prelude := tokens[i:end]
			switch {
			case !block:
				name := strings.ToLower(t.text)
				fix, gone := left[name]
				if star := t.text == "*" && len(prelude) > 1; star || strings.Contains(strings.ToLower(joined(prelude)), "progid:") {
					m.drop(strings.TrimSpace(strings.SplitN(joined(prelude), ":", 2)[0]))
					gone, fix = true, "-"
				}
				if text, ok := "", name == "@import"; ok {
					if text, ok = m.imported(prelude, s, used); ok {
						b.WriteString(text)
						gone, fix = true, "-"
					}
				}
				if gone {
					switch fix {
					case "":
						m.drop(name)
					case "-": // done
					default:
						m.hand(t.line, fmt.Sprintf("%s was left out of the stylesheet.", name), fix)
					}
					if end < len(tokens) && css.TokenType(tokens[end].kind) == css.SemicolonToken {
						end++
					}
				} else {
					b.WriteString(m.declaration(prelude, s.dir, inRoot))
				}
				i = end
			case css.TokenType(t.kind) == css.AtKeywordToken:
				name := strings.ToLower(t.text)
				closing := closes(tokens, end)
				switch fix, gone := left[name]; {
				case gone && name == "@font-face": // see fontsIn
				case gone && fix == "":
					m.drop(name)
				case gone:
					m.hand(t.line, fmt.Sprintf("%s was left out of the stylesheet.", name), fix)
				case strings.HasSuffix(name, "keyframes"):
					for _, each := range tokens[i:min(closing+1, len(tokens))] {
						b.WriteString(m.units(each))
					}
				default:
					begin := b.Len()
					for _, each := range prelude {
						b.WriteString(m.units(each))
					}
					b.WriteString("{")
					mark := b.Len()
					walk(end+1, inRule)
					if inside := b.String()[mark:]; strings.TrimSpace(inside) == "" {
						kept := b.String()[:begin]
						b.Reset()
						b.WriteString(kept)
					} else {
						b.WriteString("}")
					}
				}
				i = closing + 1
			default:
				closing := closes(tokens, end)
				selector := joined(prelude)
				if !inRule {
					if selector = m.selectors(selector, t.line, used); selector == "" {
						unused++
						i = closing + 1
						continue
					}
				}
				b.WriteString(selector)
				b.WriteString("{")
				was := inRoot
				inRoot = inRoot || onRoot.MatchString(strings.TrimSpace(joined(prelude)))
				walk(end+1, true)
				inRoot = was
				b.WriteString("}")
				i = closing + 1
			}
		}
		return i
	}
	for i := 0; i < len(tokens); i++ { // an extra closing brace ends nothing
		i = walk(i, false)
	}
	if unused > 0 {
		m.done(s.line, "%s that match nothing in the widget were left out.", strings.Replace(counted(unused, "rule"), "One rule", "1 rule", 1))
	}
	return tidy.ReplaceAllString(b.String(), "\n\n")
}

// closes returns the index of the brace that closes the block at i.
func closes(tokens []token, i int) int {
	depth := 0
	for ; i < len(tokens); i++ {
		switch css.TokenType(tokens[i].kind) {
		case css.LeftBraceToken:
			depth++
		case css.RightBraceToken:
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return len(tokens)
}

func joined(tokens []token) string {
	var b strings.Builder
	for _, t := range tokens {
		b.WriteString(t.text)
	}
	return b.String()
}

var dimension = regexp.MustCompile(`(?i)^([-+]?[\d.]+)rem$`)

// units writes a token, with lengths relative to the page's root in pixels.
func (m *maker) units(t token) string {
	if css.TokenType(t.kind) == css.DimensionToken && !m.leaves(RepairUnits) {
		if d := dimension.FindStringSubmatch(t.text); d != nil {
			if n, err := strconv.ParseFloat(d[1], 64); err == nil {
				return pixels(n * m.rem)
			}
		}
	}
	return t.text
}

func pixels(n float64) string {
	return strconv.FormatFloat(math.Round(n*1000)/1000, 'f', -1, 64) + "px"
}

// onRoot matches rules for the page itself, whose font size does not depend on an element in it.
var onRoot = regexp.MustCompile(`(?i)^(html|:root|body|html\s*,\s*body)$`)

// declaration writes a declaration of a stylesheet in dir. root says that its rule is for the page
// itself: font sizes become pixels.
func (m *maker) declaration(tokens []token, dir string, root bool) string {
	var b strings.Builder
	property := ""
	if len(tokens) > 0 {
		property = strings.ToLower(tokens[0].text)
	}
	for i, t := range tokens {
		kind := css.TokenType(t.kind)
		if root && property == "font-size" {
			if n, ok := strings.CutSuffix(t.text, "%"); ok && kind == css.PercentageToken {
				if of, err := strconv.ParseFloat(n, 64); err == nil {
					b.WriteString(pixels(of / 100 * m.rootOf(of)))
					continue
				}
			}
			if n, ok := strings.CutSuffix(strings.ToLower(t.text), "em"); ok && kind == css.DimensionToken && !strings.HasSuffix(n, "r") {
				if of, err := strconv.ParseFloat(n, 64); err == nil {
					b.WriteString(pixels(of * m.rem))
					continue
				}
			}
		}
		if family := m.familyOf(property, t); family != "" {
			b.WriteString(family)
			continue
		}
		if kind == css.URLToken || kind == css.FunctionToken && strings.EqualFold(t.text, "url(") && i+1 < len(tokens) {
			address := strings.Trim(strings.TrimSuffix(strings.TrimSpace(strings.TrimPrefix(strings.TrimPrefix(t.text, "url("), "URL(")), ")"), ` "'`)
			if kind == css.FunctionToken {
				address = strings.Trim(tokens[i+1].text, `"'`)
			}
			if replaced := m.imageOf(m.addressOf(address, dir), t.line); replaced != "" {
				b.WriteString(replaced)
				if kind == css.FunctionToken { // its name and its bracket
					rest := tokens[i+1:]
					for j, r := range rest {
						if css.TokenType(r.kind) == css.RightParenthesisToken {
							b.WriteString(m.declaration(rest[j+1:], dir, false))
							return b.String()
						}
					}
				}
				continue
			}
		}
		b.WriteString(m.units(t))
	}
	return b.String()
}

// dataMost is the largest image that is embedded in a stylesheet, in bytes.
const dataMost = 24 << 10

// imageOf returns the replacement for an image in a stylesheet; "" to leave it unchanged.
func (m *maker) imageOf(address string, line int) string {
	if strings.HasPrefix(address, "data:") || strings.HasPrefix(address, "#") || address == "" {
		return ""
	}
	state, c := m.remote(address, "image", line)
	if state == "copied" && len(c.Bytes) <= dataMost {
		if data := dataURL(c); data != "" {
			m.done(line, "The image %s is now part of style.css.", clip.Input(strings.TrimSpace(address)))
			return `url("` + data + `")`
		}
	}
	m.hand(line, fmt.Sprintf("The stylesheet used the image %s, but a widget's stylesheet cannot load files.", clip.Input(strings.TrimSpace(address))), fmt.Sprintf("Add a copy of at most %d KB, show it with an image setting in the view, or draw it with CSS.", dataMost>>10))
	return "none"
}

// rootOf converts a percentage in a rule for the page: the root's refers to 16 px, and those of
// others to the root's, which is m.rem.
func (m *maker) rootOf(percent float64) float64 {
	if math.Abs(percent*0.16-m.rem) < 0.001 {
		return 16
	}
	return m.rem
}
