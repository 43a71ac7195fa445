package setting

import (
	"fmt"
	"maps"
	"slices"
	"strings"
)

// cssRow describes how values of one setting type are written in CSS.
type cssRow struct {
	As    string            // "property" or "attribute"
	Write string            // a template: {value}, {unit}, {each}, or {NAME} for a part of the value
	By    string            // the part of a value that selects one of Cases, which replaces Write
	Cases map[string]string // templates by the value of By
	Names map[string]string // replacements for values, by the value
	Each  *struct {
		Of    string // the part that is a list; "" for the value itself
		Write string
		Join  string
	}
}

// cssTable has the CSS of each setting type.
var cssTable = map[string]cssRow{}

// CSSTable returns the CSS of all setting types as one JSON object. It is data, because browsers
// apply the same table: the console's preview does, and overrides by the page.
func CSSTable() string {
	var rows []string
	for _, name := range slices.Sorted(maps.Keys(types)) {
		if of, ok := types[name].(styled); ok {
			rows = append(rows, fmt.Sprintf("  %q: %s", name, of.css()))
		}
	}
	return "{\n" + strings.Join(rows, ",\n") + "\n}\n"
}

// Look is what the look settings add to a pocket's root element.
type Look struct {
	Properties map[string]string `json:"properties"`      // CSS properties, mostly custom ones: "--corner-radius": "12px"
	Attributes map[string]string `json:"attributes"`      // data attributes, "data-layout": "row"
	Small      map[string]string `json:"small,omitempty"` // Properties on small screens, where they differ
	Fonts      []Face            `json:"fonts,omitempty"` // uploaded fonts in Properties
}

// Face is an uploaded font.
type Face struct {
	Family  string `json:"family"`
	Address string `json:"address"`
}

// SmallScreen is the media query for small screens.
const SmallScreen = "(max-width:600px)"

// Look returns the CSS of every setting that has "look".
func (s *Schema) Look(values Values, w World) Look {
	l := Look{Properties: map[string]string{}, Attributes: map[string]string{}}
	for _, set := range s.Settings {
		if v, ok := values[set.Key]; ok && set.Look && v != nil {
			set.write(v, w, &l, l.Properties)
		}
	}
	small, _ := values[SmallKey].(map[string]any)
	for _, set := range s.Settings {
		if v, ok := small[set.Key]; ok && set.IsProperty() && set.Small && v != nil {
			if l.Small == nil {
				l.Small = map[string]string{}
			}
			set.write(v, w, &l, l.Small)
		}
	}
	return l
}

// IsProperty reports whether the setting becomes a custom property. Its value for small screens is
// then a rule of the stylesheet.
func (s *Setting) IsProperty() bool { return s.Look && cssTable[s.Type].As == "property" }

// write adds the CSS of a value to properties, or to l's attributes.
func (s *Setting) write(value any, w World, l *Look, properties map[string]string) {
	name, row := Kebab(s.Key), cssTable[s.Type]
	if s.Inherit != "" && value == Inherited {
		// With the custom property set to "initial", the declarations that use it are invalid, so
		// that the property inherits from the page.
		properties["--"+name], properties[s.Inherit] = "initial", Inherited
		return
	}
	if of, ok := types[s.Type].(writer); ok {
		if css, face, ok := of.write(value, w); ok {
			properties["--"+name] = css
			if face != nil {
				l.Fonts = append(l.Fonts, *face)
			}
			return
		}
	}
	written := row.css(value, s.Unit)
	if row.As == "property" {
		properties["--"+name] = written
	} else {
		l.Attributes["data-"+name] = written
	}
}

func (row cssRow) css(value any, unit string) string {
	if t, ok := value.(string); ok && row.Names[t] != "" {
		return row.Names[t]
	}
	template := row.Write
	parts, _ := value.(map[string]any)
	if row.By != "" {
		template = row.Cases[fmt.Sprint(parts[row.By])]
	}
	if template == "{value}" {
		return plainly(value)
	}
	var b strings.Builder
	for {
		before, after, _ := strings.Cut(template, "{")
		b.WriteString(before)
		name, rest, ok := strings.Cut(after, "}")
		if !ok {
			return b.String()
		}
		b.WriteString(row.fill(name, value, parts, unit))
		template = rest
	}
}

// fill returns what a template has in place of {name}.
func (row cssRow) fill(name string, value any, parts map[string]any, unit string) string {
	switch name {
	case "value":
		return plainly(value)
	case "unit":
		return unit
	case "each":
		each := value
		if row.Each.Of != "" {
			each = parts[row.Each.Of]
		}
		items, _ := each.([]any)
		written := make([]string, len(items))
		for i, item := range items {
			written[i] = cssRow{Write: row.Each.Write}.css(item, unit)
		}
		return strings.Join(written, row.Each.Join)
	}
	return plainly(parts[name])
}

func plainly(v any) string {
	switch v := v.(type) {
	case string:
		return v
	case float64:
		return Number(v)
	}
	return fmt.Sprint(v)
}

// Kebab converts a setting's key to its CSS name: cornerRadius becomes corner-radius.
func Kebab(key string) string {
	var b strings.Builder
	for _, r := range key {
		if r >= 'A' && r <= 'Z' {
			b.WriteByte('-')
			r += 'a' - 'A'
		}
		b.WriteRune(r)
	}
	return b.String()
}
