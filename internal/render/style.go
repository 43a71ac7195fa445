package render

import (
	"regexp"
	"slices"
	"strings"

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
	return prune(r.Built.Style, fixed)
}

// grouping are the at-rules whose content is rules like those around them.
var grouping = regexp.MustCompile(`^@(media|container|supports|layer)\b`)

// prune expects minified CSS from the builder: no comments, no nesting.
func prune(css string, fixed map[string][]string) string {
	var out strings.Builder
	for css != "" {
		end := scan(css, "{;}")
		if end == len(css) || css[end] != '{' { // a statement, or something that is not a rule
			end = min(end+1, len(css))
			out.WriteString(css[:end])
			css = css[end:]
			continue
		}
		prelude := css[:end]
		close := end + 1 + blockEnd(css[end+1:])
		block := css[end+1 : close]
		css = css[min(close+1, len(css)):]
		switch {
		case grouping.MatchString(prelude):
			if block = prune(block, fixed); block == "" {
				continue
			}
		case !strings.HasPrefix(prelude, "@"):
			if prelude = possible(prelude, fixed); prelude == "" {
				continue
			}
		}
		out.WriteString(prelude + "{" + block + "}")
	}
	return out.String()
}

var attribute = regexp.MustCompile(`\[([a-z-]+)="?([^"\]]*)"?\]`)

// possible keeps the selectors of a list that can match. It ignores what is in parentheses, which
// can mean the opposite, as in :not().
func possible(list string, fixed map[string][]string) string {
	var kept []string
	for list != "" {
		end := scan(list, ",")
		selector := list[:end]
		list = list[min(end+1, len(list)):]
		can := true
		for rest := selector; rest != ""; {
			at := scan(rest, "[")
			if at == len(rest) {
				break
			}
			if m := attribute.FindStringSubmatchIndex(rest[at:]); m != nil && m[0] == 0 {
				want, known := fixed[rest[at+m[2]:at+m[3]]]
				can = can && (!known || slices.Contains(want, rest[at+m[4]:at+m[5]]))
			}
			rest = rest[at+1+scan(rest[at+1:], "]"):]
		}
		if can {
			kept = append(kept, selector)
		}
	}
	return strings.Join(kept, ",")
}

// scan finds the first of stops outside strings and parentheses, or the end.
func scan(s, stops string) int {
	depth := 0
	for i := 0; i < len(s); i++ {
		switch c := s[i]; {
		case c == '\\':
			i++
		case c == '"' || c == '\'':
			for i++; i < len(s) && s[i] != c; i++ {
				if s[i] == '\\' {
					i++
				}
			}
		case c == '(':
			depth++
		case c == ')':
			depth--
		case depth == 0 && strings.IndexByte(stops, c) >= 0:
			return i
		}
	}
	return len(s)
}

// blockEnd returns the end of the block in which s starts.
func blockEnd(s string) int {
	for i, depth := 0, 0; i < len(s); i++ {
		i += scan(s[i:], "{}")
		switch {
		case i >= len(s):
		case s[i] == '{':
			depth++
		case depth == 0:
			return i
		default:
			depth--
		}
	}
	return len(s)
}
