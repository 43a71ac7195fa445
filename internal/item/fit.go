package item

import "fmt"

// Fit tells how many of some items a widget can show that shows these kinds and needs these fields.
// why is the reason for most of the others, or "".
func Fit(items []Item, kinds, needs []string) (shown int, why string) {
	c := &checks{kinds: kinds, needs: needs}
	reasons := map[string]int{}
	for i := range items {
		reason := ""
		for _, r := range widgetRules {
			if r.Name == WrongKind && len(kinds) == 0 {
				continue
			}
			if reason = r.why(c, &items[i]); reason != "" {
				break
			}
		}
		if reason == "" {
			shown++
			continue
		}
		if reasons[reason]++; reasons[reason] > reasons[why] {
			why = reason
		}
	}
	if why == "" {
		return shown, ""
	}
	left := len(items) - shown
	switch {
	case len(items) == 1:
		return shown, "The widget cannot show it. " + why
	case shown == 0:
		return shown, fmt.Sprintf("The widget can show none of the %d items. The first one: %s", len(items), lower(why))
	}
	return shown, fmt.Sprintf("The widget cannot show %d of the %d items. One of them: %s", left, len(items), lower(why))
}

func lower(sentence string) string { return "it" + sentence[2:] } // reasons begin with "It"
