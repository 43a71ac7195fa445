package intake

import (
	"regexp"
	"slices"
	"strings"
)

var (
	pageSelector = regexp.MustCompile(`(?i)(^|[\s>+~,(])(:root|html|body)\b`)
	pocketTwice  = regexp.MustCompile(`\.pocket(\s*[\s>]\s*\.pocket)+`)
	bareSelector = regexp.MustCompile(`^(\*|[a-zA-Z][a-zA-Z0-9]*)(\s*[>+~ ]\s*(\*|[a-zA-Z][a-zA-Z0-9]*))*(::?[a-zA-Z-]+)*$`)
	namesIn      = regexp.MustCompile(`[.#]([\w-]+)`)
	idsIn        = regexp.MustCompile(`#([\w-]+)`)
	notParts     = regexp.MustCompile(`:(not|is|where|has)\([^()]*\)`)
)

// selectors repairs a selector list; "" if it cannot match anything in the widget.
func (m *maker) selectors(list string, line int, used string) string {
	var keep []string
	space := list[len(strings.TrimRight(list, " \t\n")):]
	for _, s := range splitSelectors(list) {
		before := s
		s = strings.TrimSpace(s)
		if !m.leaves(RepairUnused) && !m.couldHit(s, used) {
			continue
		}
		if len(m.ids) > 0 {
			s = idsIn.ReplaceAllStringFunc(s, func(id string) string {
				if m.ids[id[1:]] {
					return "." + id[1:]
				}
				return id
			})
		}
		if !m.leaves(RepairSelectors) {
			was := s
			s = pageSelector.ReplaceAllString(s, "$1.pocket")
			s = pocketTwice.ReplaceAllString(s, ".pocket")
			if was != s && !strings.HasPrefix(was, "html") {
				m.done(line, "%s now styles the widget's root instead of the page.", was)
			}
			if bareSelector.MatchString(s) {
				s = "." + m.Name + " " + s
			}
		}
		lead := before[:len(before)-len(strings.TrimLeft(before, " \t\n"))]
		if len(keep) == 0 {
			lead = ""
		}
		if !slices.ContainsFunc(keep, func(k string) bool { return strings.TrimSpace(k) == s }) {
			keep = append(keep, lead+s)
		}
	}
	if len(keep) == 0 {
		return ""
	}
	return strings.Join(keep, ",") + space
}

// couldHit reports whether all classes and ids of a selector occur somewhere.
func (m *maker) couldHit(selector, used string) bool {
	for _, name := range namesIn.FindAllStringSubmatch(notParts.ReplaceAllString(selector, ""), -1) {
		if !strings.Contains(used, name[1]) {
			return false
		}
	}
	return true
}

func splitSelectors(list string) (parts []string) {
	depth, last := 0, 0
	for i, c := range list {
		switch c {
		case '(', '[':
			depth++
		case ')', ']':
			depth--
		case ',':
			if depth == 0 {
				parts = append(parts, list[last:i])
				last = i + 1
			}
		}
	}
	return append(parts, list[last:])
}
