package render

import (
	"slices"
	"strings"

	"github.com/tdewolff/parse/v2/css"

	"glasspocket/internal/stylesheet"
	"glasspocket/internal/widget"
)

// onlyWhatApplies removes rules from a built stylesheet that require another value of a look
// attribute than the pocket has. With several layouts, this is most of the sheet. Only the pocket's
// root has such an attribute, unless the view or the script use its name too.
func onlyWhatApplies(r *widget.Release, p Payload) string {
	fixed := map[string][]string{}
	for name, value := range p.Look.Attributes {
		if strings.Contains(string(r.Files[widget.ViewFile]), name) || strings.Contains(r.Built.Mount, name) {
			continue
		}
		fixed[name] = []string{value}
		if p.Small != nil {
			fixed[name] = append(fixed[name], p.Small.Attributes[name])
		}
	}
	return prune(stylesheet.Tokens(r.Built.Style), fixed)
}

// grouping are the at-rules whose content is rules like those around them.
var grouping = []string{"@media", "@container", "@supports", "@layer"}

// prune expects minified CSS from the builder: no comments, no nesting.
func prune(list []stylesheet.Token, fixed map[string][]string) string {
	var out strings.Builder
	for len(list) > 0 {
		end := until(list, css.LeftBraceToken, css.SemicolonToken, css.RightBraceToken)
		if end == len(list) || list[end].Kind != css.LeftBraceToken { // a statement, or something that is not a rule
			end = min(end+1, len(list))
			out.WriteString(text(list[:end]))
			list = list[end:]
			continue
		}
		prelude, rest := list[:end], list[end+1:]
		end = until(rest, css.RightBraceToken)
		block := rest[:end]
		list = rest[min(end+1, len(rest)):]
		head, body := text(prelude), text(block)
		switch {
		case len(prelude) > 0 && slices.Contains(grouping, prelude[0].Text):
			if body = prune(block, fixed); body == "" {
				continue
			}
		case len(prelude) > 0 && prelude[0].Kind != css.AtKeywordToken:
			if head = possible(prelude, fixed); head == "" {
				continue
			}
		}
		out.WriteString(head + "{" + body + "}")
	}
	return out.String()
}

// possible keeps the selectors of a list that can match. It ignores what is in parentheses, which
// can mean the opposite, as in :not().
func possible(list []stylesheet.Token, fixed map[string][]string) string {
	var kept []string
	for len(list) > 0 {
		end := until(list, css.CommaToken)
		selector := list[:end]
		list = list[min(end+1, len(list)):]
		can := true
		for rest := selector; can; {
			at := until(rest, css.LeftBracketToken)
			if at == len(rest) {
				break
			}
			rest = rest[at+1:]
			if name, value, ok := equal(rest); ok {
				want, known := fixed[name]
				can = !known || slices.Contains(want, value)
			}
			rest = rest[min(until(rest, css.RightBracketToken)+1, len(rest)):]
		}
		if can {
			kept = append(kept, text(selector))
		}
	}
	return strings.Join(kept, ",")
}

// equal reads what follows the bracket of an attribute selector for one value.
func equal(list []stylesheet.Token) (name, value string, ok bool) {
	if len(list) < 4 || list[0].Kind != css.IdentToken || list[1].Text != "=" || list[2].Kind != css.IdentToken && list[2].Kind != css.StringToken || list[3].Kind != css.RightBracketToken {
		return "", "", false
	}
	return list[0].Text, strings.Trim(list[2].Text, `"'`), true
}

// until returns the index of the first token of a kind outside brackets, or the length.
func until(list []stylesheet.Token, kinds ...css.TokenType) int {
	depth := 0
	for i, t := range list {
		switch {
		case depth == 0 && slices.Contains(kinds, t.Kind):
			return i
		case t.Opens():
			depth++
		case t.Closes():
			depth--
		}
	}
	return len(list)
}

func text(list []stylesheet.Token) string {
	var out strings.Builder
	for _, t := range list {
		out.WriteString(t.Text)
	}
	return out.String()
}
