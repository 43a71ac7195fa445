package host

import "strings"

func link(s Subject, a Ask) []Part {
	switch a.Content.As {
	case "address", "text":
		return []Part{{Role: "address", Where: "in the address field", Text: s.page()}}
	}
	words := s.words(a.Placing)
	if a.Content.As == "markdown" {
		return []Part{{Role: "content", Where: "in the content", Text: "[" + markdown(words) + "](" + s.page() + ")"}}
	}
	return []Part{part("content", "in the content", a.Content, true, el("a", attributes("href", s.page()), text(words)))}
}

// markdown escapes words so that none of their characters have a meaning (CommonMark, section 2.4).
func markdown(words string) string {
	var b strings.Builder
	for _, r := range words {
		if strings.ContainsRune("\\`*_{}[]<>()#+-.!|&:", r) {
			b.WriteByte('\\')
		}
		b.WriteRune(r)
	}
	return b.String()
}

// rich returns what a visual editor inserts instead of a part: see Part.Rich.
func (s Subject) rich(a Ask, p Part) string {
	switch {
	case p.Role != "content":
		return ""
	case a.Delivery == Email:
		return p.Text
	case s.Floats, s.Wraps:
		return ""
	}
	return part("", "", usual("markup"), false, el("a", attributes("data-glass-pocket", s.Key, "href", s.page()), text(s.words(a.Placing)))).Text
}
