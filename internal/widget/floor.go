package widget

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// Engine is the oldest version of a browser engine that we support.
type Engine struct{ Name, Version string }

// Floor lists the oldest supported browsers: the last Chrome for Windows 7 and 8, the Firefox ESR
// for those systems and old Macs, and the first Safari with constructable stylesheets. Scripts and
// stylesheets are built for them, including the console's (console/vite.config.ts).
var Floor = []Engine{{"chrome", "109"}, {"firefox", "115"}, {"safari", "16.4"}}

// newer is a CSS feature that some supported browser lacks and whose absence matters: browsers skip
// an unknown property, but lose a rule with an unknown selector or a declaration with an unknown
// function.
type newer struct {
	find *regexp.Regexp
	name string
	from string // the first versions that support it
}

var newerThanFloor = struct{ selectors, values []newer }{
	selectors: []newer{
		{regexp.MustCompile(`:has\(`), ":has()", "Firefox 121"},
		{regexp.MustCompile(`:dir\(`), ":dir()", "Chrome 120"},
		{regexp.MustCompile(`:user-(?:in)?valid\b`), ":user-valid", "Chrome 119"},
		{regexp.MustCompile(`:(?:popover-)?open\b`), ":open and :popover-open", "Chrome 114 and Firefox 125"},
		{regexp.MustCompile(`:state\(`), ":state()", "Chrome 125"},
		{regexp.MustCompile(`@scope\b`), "@scope", "Chrome 118"},
		{regexp.MustCompile(`@container[^{]*\bstyle\(`), "a style query", "Chrome 111"},
	},
	values: []newer{
		{regexp.MustCompile(`\bcolor-mix\(`), "color-mix()", "Chrome 111"},
		{regexp.MustCompile(`\blight-dark\(`), "light-dark()", "Chrome 123"},
		{regexp.MustCompile(`\b(?:rgb|hsl|hwb|lab|lch|oklab|oklch|color)\(\s*from\b`), "a relative colour", "Chrome 119"},
		{regexp.MustCompile(`\b(?:ok)?(?:lab|lch)\([^)]*var\(`), "a lab() or lch() colour", "Chrome 111"},
		{regexp.MustCompile(`\blinear\(`), "linear()", "Chrome 113"},
		{regexp.MustCompile(`\b(?:round|mod|rem|abs|sign|sin|cos|tan|pow|sqrt|hypot)\(`), "this math function", "Chrome 111 or later"},
		{regexp.MustCompile(`\bsubgrid\b`), "subgrid", "Chrome 117"},
		{regexp.MustCompile(`\b(?:anchor|anchor-size|calc-size|sibling-index|if)\(`), "this function", "Chrome 125 or later"},
	},
}

type newerFound struct {
	at        int // offset
	what, fix string
}

func floorText() string {
	var names []string
	for _, e := range Floor {
		names = append(names, strings.ToUpper(e.Name[:1])+e.Name[1:]+" "+e.Version)
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

func (n newer) says() string {
	return fmt.Sprintf("Browsers support %s since %s, but widgets must work since %s.", n.name, n.from, floorText())
}

func newerSelectors(prelude string) (found []newerFound) {
	for _, n := range newerThanFloor.selectors {
		if at := n.find.FindStringIndex(prelude); at != nil {
			found = append(found, newerFound{at[0], n.says(), "Add a rule without it, and put this rule into @supports selector(…)."})
		}
	}
	return found
}

// newerValues checks a declaration; before are those ahead of it in the same block. An earlier
// declaration of the same property is a fallback, unless this one contains var(): then it is found
// invalid only at computed-value time, and the fallback is lost (CSS Custom Properties 1, section
// 3.1).
func newerValues(declaration string, before []string) (found []newerFound) {
	property, value, ok := strings.Cut(declaration, ":")
	property = strings.TrimSpace(property)
	if !ok || property == "" {
		return nil
	}
	fallback := !strings.Contains(value, "var(") && slices.ContainsFunc(before, func(other string) bool {
		name, _, _ := strings.Cut(other, ":")
		return strings.TrimSpace(name) == property
	})
	for _, n := range newerThanFloor.values {
		if at := n.find.FindStringIndex(value); at != nil && !fallback {
			fix := "First declare the same property without it."
			if strings.Contains(value, "var(") {
				fix = "Declare the property without it, and put this declaration into @supports. Because of var(), a browser would drop both."
			}
			found = append(found, newerFound{strings.Index(declaration, ":") + 1 + at[0], n.says(), fix})
		}
	}
	return found
}
