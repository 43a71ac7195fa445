// Package icon has our icons: line drawings on a grid of 24 units, in the colour of the text.
package icon

import (
	_ "embed"
	"encoding/json"
	"slices"
)

//go:embed icons.json
var source []byte

// paths are SVG path data by name, to be stroked.
var paths, names = func() (map[string]string, []string) {
	var m map[string]string
	if err := json.Unmarshal(source, &m); err != nil {
		panic(err)
	}
	list := make([]string, 0, len(m))
	for n := range m {
		list = append(list, n)
	}
	slices.Sort(list)
	return m, list
}()

// Names lists the icons in alphabetical order.
func Names() []string { return slices.Clone(names) }

// Path returns an icon's SVG path data, or "" if there is no such icon.
func Path(name string) string { return paths[name] }

// SVG returns an icon as an element that has the size of the text around it (class "icon") and that
// screen readers ignore.
func SVG(name string) string {
	if paths[name] == "" {
		return ""
	}
	return `<svg class="icon" viewBox="0 0 24 24" width="24" height="24" fill="none" stroke="currentColor" stroke-width="1.75" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true" focusable="false"><path d="` + paths[name] + `"/></svg>`
}
