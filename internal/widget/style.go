package widget

import (
	"fmt"
	"regexp"
	"strings"

	"github.com/tdewolff/parse/v2/css"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/nesting"
	"glasspocket/internal/stylesheet"
)

// fences are what a widget's stylesheet must not contain, and why.
var fences = map[string]struct{ what, fix string }{
	"@import":    {"A widget's stylesheet cannot import another stylesheet.", "Copy the rules into style.css."},
	"@font-face": {"@font-face does nothing inside a shadow root.", "Use the page's font (inherit) or a system font."},
	"@property":  {"@property does nothing inside a shadow root.", "Use a look setting, which becomes a custom property."},
	":root":      {":root is the page, and a widget does not style the page.", "Use .pocket, the widget's own root."},
	"body":       {"html and body are the page, and a widget does not style the page.", "Use .pocket, the widget's own root."},
	"rem":        {"rem depends on the page's root font size, which differs between pages.", "Use em or px."},
	"remote":     {"A stylesheet cannot load from another server.", "Put the image into the folder, or draw it with CSS."},
}

// fenceAt returns the fence at token i and its offset, or "". selects says that the token is part of
// what stands before a block.
func fenceAt(tokens []stylesheet.Token, i int, selects bool) (name string, at int) {
	t := tokens[i]
	text := strings.ToLower(t.Text)
	switch {
	case t.Kind == css.AtKeywordToken && fences[text].what != "":
		return text, t.At
	case t.Kind == css.DimensionToken && dimension.ReplaceAllString(text, "") == "rem":
		return "rem", t.At
	case t.Kind == css.URLToken && remote.MatchString(t.Address()):
		return "remote", t.At
	case t.Kind != css.IdentToken || !selects:
	case text == "root" && i > 0 && tokens[i-1].Kind == css.ColonToken:
		return ":root", tokens[i-1].At
	case (text == "html" || text == "body") && !(i > 0 && tokens[i-1].Kind == css.DelimToken && tokens[i-1].Text == "."):
		return "body", t.At
	}
	return "", 0
}

var (
	dimension = regexp.MustCompile(`^[-+]?[\d.]+`)
	remote    = regexp.MustCompile(`(?i)^(https?:|//)`)
)

// selecting marks the tokens before each block, from the end of what is before them.
func selecting(tokens []stylesheet.Token) []bool {
	marks := make([]bool, len(tokens))
	block := false
	for i := len(tokens) - 1; i >= 0; i-- {
		switch tokens[i].Kind {
		case css.LeftBraceToken:
			block = true
		case css.RightBraceToken, css.SemicolonToken:
			block = false
		default:
			marks[i] = block
		}
	}
	return marks
}

func checkStyle(src []byte) (faults fault.List) {
	places := jsondoc.Placing(src)
	if at, deep := nesting.Style(src); deep {
		line, column := places.Place(at)
		return fault.List{{Line: line, Column: column, Code: fault.TooDeep, What: fmt.Sprintf("Brackets are nested more than %d levels deep.", nesting.StyleMost), Fix: "Close the rules above, or use less nesting."}}
	}
	tokens := stylesheet.Tokens(string(src))
	marks := selecting(tokens)
	for i := range tokens {
		name, at := fenceAt(tokens, i, marks[i])
		if name == "" {
			continue
		}
		line, column := places.Place(at)
		faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.StyleFence, What: fences[name].what, Fix: fences[name].fix})
		if len(faults) == fault.Most {
			break
		}
	}
	return faults
}

// checkNewStyle checks a stylesheet before its release, including checks that were added later and
// must not affect existing releases.
func checkNewStyle(src []byte) fault.List { return append(checkStyle(src), lostAddresses(src)...) }

// lostAddresses reports relative addresses in a stylesheet, which loads no files of the folder.
func lostAddresses(src []byte) (faults fault.List) {
	places := jsondoc.Placing(src)
	for _, t := range stylesheet.Tokens(string(src)) {
		address := t.Address()
		if address == "" || address[0] == '#' || schemeForm.MatchString(address) {
			continue // none, a part of the page, data, or another server, which is a separate fault
		}
		line, column := places.Place(t.At)
		faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.AddressLost, What: fmt.Sprintf("Visitors' browsers would look for %q next to the page that shows the widget.", address),
			Fix: "Show the image with an image setting in the view, write it as a data: address, or draw it with CSS."})
		if len(faults) == fault.Most {
			break
		}
	}
	return faults
}

var schemeForm = regexp.MustCompile(`(?i)^([a-z][a-z0-9+.-]*:|//)`)

// blank returns spaces of the same length, with the same line breaks.
func blank(m []byte) []byte {
	out := make([]byte, len(m))
	for i, c := range m {
		out[i] = ' '
		if c == '\n' {
			out[i] = c
		}
	}
	return out
}
