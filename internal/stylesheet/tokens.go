// Package stylesheet splits CSS into the tokens of CSS Syntax Module Level 3, with their places.
package stylesheet

import (
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// Token is a token of a stylesheet. At is the offset of its text, in bytes.
type Token struct {
	Kind css.TokenType
	Text string
	At   int
}

// Tokens returns all tokens of a stylesheet, including space and comments. Together, their texts are
// the stylesheet.
func Tokens(src string) (list []Token) {
	lexer := css.NewLexer(parse.NewInputString(src))
	for at := 0; ; {
		kind, text := lexer.Next()
		if kind == css.ErrorToken {
			return list
		}
		list = append(list, Token{kind, string(text), at})
		at += len(text)
	}
}

// Opens reports whether a token opens a bracket, and Closes whether it closes one.
func (t Token) Opens() bool {
	switch t.Kind {
	case css.FunctionToken, css.LeftParenthesisToken, css.LeftBracketToken, css.LeftBraceToken:
		return true
	}
	return false
}

// Closes is the counterpart of Opens.
func (t Token) Closes() bool {
	switch t.Kind {
	case css.RightParenthesisToken, css.RightBracketToken, css.RightBraceToken:
		return true
	}
	return false
}

// Address returns the address in a url(…) token, without quotes; "" for any other token.
func (t Token) Address() string {
	if t.Kind != css.URLToken {
		return ""
	}
	inner := strings.TrimSpace(strings.TrimSuffix(t.Text[len("url("):], ")"))
	return strings.TrimSpace(strings.Trim(inner, `"'`))
}

// Masked returns a stylesheet with spaces instead of its comments and strings, except in addresses.
// The result has the same length and the same line breaks.
func Masked(src []byte) []byte {
	out := append([]byte(nil), src...)
	for _, t := range Tokens(string(src)) {
		switch t.Kind {
		case css.CommentToken, css.StringToken, css.BadStringToken:
			for i := range t.Text {
				if out[t.At+i] != '\n' {
					out[t.At+i] = ' '
				}
			}
		}
	}
	return out
}
