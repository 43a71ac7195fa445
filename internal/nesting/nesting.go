// Package nesting measures how deeply source text nests before a recursive parser reads it. Go
// cannot recover from a stack overflow: a parser that recurses too deeply ends the process.
package nesting

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// The limits. Parsers needed at most 10 KB of stack per token in tests, and real code stays far
// below these limits.
const (
	ScriptMost = 10_000 // see Script
	CommasMost = 1_000  // in an expression: esbuild's time grows with the square of their number
	StyleMost  = 100    // levels of brackets
)

// level is an open bracket.
type level struct {
	open    byte // ( [ { or, for the text of a template literal, `, and $ for ${
	around  counts
	control bool // of if (…), for (…), while (…), with (…): a statement follows
}

// counts are the counts of one level.
type counts struct {
	tokens    int // since the start of the statement or list element
	commas    int // those that can be operators, in the statement
	colons    int // in the element: with more colons than question marks, it is a property
	questions int
}

// script is a state while reading a script.
type script struct {
	src    string
	at     int
	levels []level
	base   int // tokens of the enclosing levels, plus one for each level
	counts
	prev    token
	newline bool // before the current token
	forks   int  // the forks that remain
}

type token struct {
	kind    byte   // 0 none, i identifier or keyword, v value, o operator, or a bracket
	text    string // of an identifier or operator
	before  byte   // kind of the token before it
	member  bool   // after a dot
	control bool   // ) of a control statement
	same    bool   // no line break before it
}

// forksMost is the largest number of slashes that are read in both ways; see ambiguous.
const forksMost = 6

// Script reports whether a script nests too deeply, and an offset where it does. It counts the
// levels of brackets and, on each level, the tokens since the start of a statement or list element,
// because any token can be an operator whose operand is the next one.
func Script(src []byte) (offset int, deep bool) {
	s := &script{src: string(src), forks: forksMost, newline: true}
	if strings.HasPrefix(s.src, "#!") {
		s.line()
	}
	return s.run()
}

func (s *script) run() (offset int, deep bool) {
	for s.at < len(s.src) {
		if len(s.levels) > 0 && s.levels[len(s.levels)-1].open == '`' {
			s.template()
		} else if fork := s.token(); fork != nil {
			if at, deep := fork.run(); deep {
				return at, true
			}
		}
		if s.base+s.tokens > ScriptMost || s.commas > CommasMost {
			return min(s.at, len(s.src)), true
		}
	}
	return 0, false
}

func (s *script) push(open byte, control bool) {
	s.levels = append(s.levels, level{open, s.counts, control})
	s.base += s.tokens + 1
	s.counts = counts{}
}

// pop closes a bracket. A bracket that closes nothing is an error, at which parsers stop.
func (s *script) pop(open ...byte) (l level, ok bool) {
	if len(s.levels) == 0 {
		return l, false
	}
	l = s.levels[len(s.levels)-1]
	for _, o := range open {
		if l.open == o {
			s.levels = s.levels[:len(s.levels)-1]
			s.base -= l.around.tokens + 1
			s.counts = l.around
			s.tokens++
			return l, true
		}
	}
	return l, false
}

// template reads the text of a template literal up to its end or the next ${.
func (s *script) template() {
	for s.at < len(s.src) {
		switch c := s.src[s.at]; {
		case c == '\\':
			s.at += 2
		case c == '`':
			s.at++
			s.pop('`')
			s.is(token{kind: 'v'})
			return
		case strings.HasPrefix(s.src[s.at:], "${"):
			s.at += 2
			s.push('$', false)
			s.prev = token{kind: 'o', text: "${"}
			return
		default:
			s.at++
		}
	}
}

// is records the token that was just read.
func (s *script) is(t token) {
	t.before, t.same = s.prev.kind, !s.newline
	s.prev, s.newline = t, false
}

// token reads a token, or the space before one. A fork reads the rest in another way.
func (s *script) token() (fork *script) {
	rest := s.src[s.at:]
	c := rest[0]
	switch {
	case c == '\n' || c == '\r':
		s.newline = true
		s.at++
	case c == ' ' || c == '\t' || c == '\v' || c == '\f':
		s.at++
	case strings.HasPrefix(rest, "//"), strings.HasPrefix(rest, "<!--"), strings.HasPrefix(rest, "-->") && s.newline:
		s.line()
	case strings.HasPrefix(rest, "/*"):
		end := strings.Index(rest[2:], "*/")
		if end < 0 {
			s.at = len(s.src)
			return nil
		}
		s.newline = s.newline || strings.ContainsAny(rest[:end+2], "\n\r\u2028\u2029")
		s.at += end + 4
	case c == '"' || c == '\'':
		s.string(c)
	case c == '`':
		s.at++
		s.tokens++
		s.push('`', false)
	case c == '(' || c == '[' || c == '{':
		s.at++
		s.push(c, c == '(' && s.prev.kind == 'i' && !s.prev.member && controls[s.prev.text])
		s.is(token{kind: c})
	case c == ')' || c == ']' || c == '}':
		s.at++
		s.close(c)
	case c == ';':
		s.at++
		s.counts = counts{}
		s.is(token{kind: 'o', text: ";"})
	case c == ',':
		s.at++
		s.comma()
		s.is(token{kind: 'o', text: ","})
	case c == '/':
		return s.slash()
	case strings.HasPrefix(rest, "++"), strings.HasPrefix(rest, "--"), strings.HasPrefix(rest, "=>"), strings.HasPrefix(rest, "?."):
		s.at += 2
		s.tokens++
		s.is(token{kind: 'o', text: rest[:2]})
	default:
		r, size := utf8.DecodeRuneInString(rest)
		switch {
		case r == '\u2028' || r == '\u2029':
			s.newline = true
			s.at += size
		case r == '\ufeff' || unicode.Is(unicode.Zs, r):
			s.at += size
		case wordy(r):
			s.word()
		default:
			s.at += size
			s.tokens++
			switch c {
			case ':':
				s.colons++
			case '?':
				s.questions++
			}
			s.is(token{kind: 'o', text: rest[:size]})
		}
	}
	return nil
}

// comma ends an element of a list, or the operand of an operator.
func (s *script) comma() {
	list := len(s.levels) > 0 && s.levels[len(s.levels)-1].open == '['
	if !list && s.colons <= s.questions {
		s.commas++
	}
	s.tokens, s.colons, s.questions = 0, 0, 0
}

// line skips to the end of the line.
func (s *script) line() {
	end := strings.IndexAny(s.src[s.at:], "\n\r\u2028\u2029")
	if end < 0 {
		s.at = len(s.src)
		return
	}
	s.at += end
}

func (s *script) string(quote byte) {
	s.at++
	for s.at < len(s.src) {
		switch s.src[s.at] {
		case '\\':
			s.at++
		case '\n', '\r': // an error, at which parsers stop
			s.at--
			fallthrough
		case quote:
			s.at++
			s.tokens++
			s.is(token{kind: 'v'})
			return
		}
		s.at++
	}
}

func (s *script) close(c byte) {
	opens := map[byte][]byte{')': {'('}, ']': {'['}, '}': {'{', '$'}}[c]
	l, ok := s.pop(opens...)
	if ok && l.open == '$' {
		return // back in the text of the template literal
	}
	s.is(token{kind: c, control: l.control})
}

func wordy(r rune) bool {
	return r == '_' || r == '$' || r == '#' || r == '\\' || r == '@' || r >= 0x80 || r >= '0' && r <= '9' || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z'
}

// word reads an identifier, a keyword or a number. If it cannot continue what is before it, it
// starts a statement or an element of a class.
func (s *script) word() {
	start, number := s.at, s.src[s.at] >= '0' && s.src[s.at] <= '9'
	for s.at < len(s.src) {
		r, size := utf8.DecodeRuneInString(s.src[s.at:])
		if !(wordy(r) && r != '\u2028' && r != '\u2029' && r != '\ufeff' && !unicode.Is(unicode.Zs, r)) && !(number && r == '.') {
			break
		}
		s.at += size
	}
	t := token{kind: 'i', text: s.src[start:s.at], member: s.prev.kind == 'o' && (s.prev.text == "." || s.prev.text == "?.")}
	if number {
		t.kind = 'v'
	}
	switch {
	case continues[t.text]:
	case s.prev.kind == '}', s.newline && s.prev.ends():
		s.counts = counts{}
	}
	s.tokens++
	s.is(t)
}

// ends reports whether a statement can end with a token, so that a line break after it ends the
// statement.
func (t token) ends() bool {
	switch t.kind {
	case ']', 'v':
		return true
	case ')':
		return !t.control
	case 'i':
		return t.member || !operates[t.text] && !continues[t.text]
	}
	return t.postfix()
}

// postfix reports whether a token is ++ or -- after its operand.
func (t token) postfix() bool {
	return (t.text == "++" || t.text == "--") && t.same && (t.before == 'i' || t.before == 'v' || t.before == ')' || t.before == ']')
}

func words(list string) map[string]bool {
	set := map[string]bool{}
	for _, w := range strings.Fields(list) {
		set[w] = true
	}
	return set
}

var (
	// controls are the words after whose parentheses a statement follows.
	controls = words("if for while with")
	// continues are the words that continue an expression or a type.
	continues = words("in instanceof of as satisfies extends implements is asserts else catch finally while")
	// operates are the words that need an operand after them.
	operates = words("typeof void delete new throw case do else await yield async keyof infer unique readonly abstract declare type get set static let const var function class extends default export import if for while with switch")
	// regular are the words after which a slash starts a regular expression, not a division.
	regular = words("typeof void delete new return throw case do else in instanceof")
	// unsure are words that are also names in some places.
	unsure = words("await yield of let async as satisfies is")
)

// slash reads a regular expression or a division sign.
func (s *script) slash() (fork *script) {
	switch p := s.prev; {
	case p.kind == 'v' || p.kind == ']' || p.kind == ')' && !p.control:
		s.divide()
	case p.kind == ')':
		s.expression()
	case p.kind == 'i':
		switch {
		case p.member || !regular[p.text] && !unsure[p.text]:
			s.divide()
		case regular[p.text]:
			s.expression()
		default:
			return s.ambiguous()
		}
	case p.kind == '}':
		return s.ambiguous()
	case p.kind == 'o' && (p.text == "++" || p.text == "--"):
		if p.postfix() {
			s.divide()
		} else {
			s.expression()
		}
	case p.kind == 'o' && (p.text == ">" || p.text == "!"): // of types
		return s.ambiguous()
	default:
		s.expression()
	}
	return nil
}

// ambiguous reads a slash that only a parser can interpret: here as the start of a regular
// expression, and in the fork as a division. It returns no fork if both lead to the same result, or
// if there are too many.
func (s *script) ambiguous() (fork *script) {
	whole := s.src[s.at:]
	copied := *s
	s.expression()
	if !strings.ContainsAny(whole[:min(len(whole), s.at-copied.at)], "()[]{}\"'`*") {
		return nil
	}
	if s.forks == 0 {
		s.tokens = ScriptMost + 1 // the depth cannot be determined
		return nil
	}
	s.forks--
	copied.levels = append([]level{}, s.levels...)
	copied.forks = s.forks
	copied.divide()
	return &copied
}

func (s *script) divide() {
	s.at++
	s.tokens++
	s.is(token{kind: 'o', text: "/"})
}

// expression reads a regular expression, which ends at the end of the line at the latest.
func (s *script) expression() {
	class := false
	for s.at++; s.at < len(s.src); s.at++ {
		switch c := s.src[s.at]; {
		case c == '\\':
			s.at++
		case c == '\n' || c == '\r':
			s.tokens++
			s.is(token{kind: 'v'})
			return
		case c == '[':
			class = true
		case c == ']':
			class = false
		case c == '/' && !class:
			s.at++
			s.tokens++
			s.is(token{kind: 'v'})
			return
		}
	}
}
