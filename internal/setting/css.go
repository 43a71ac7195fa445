package setting

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"regexp"
	"strings"

	"glasspocket/internal/asset"
)

//go:embed css.json
var cssJSON []byte

// cssRow says how a value of one setting type is written in CSS.
type cssRow struct {
	As    string            // "property" or "attribute"
	Write string            // {value}, {unit}, {each}, or a part of a value by its name
	By    string            // the part of a value that chooses among Cases instead of Write
	Cases map[string]string // as Write, by what By is
	Names map[string]string // what stands for a value, by the value
	Each  *struct {
		Of    string // the part that is a list; "" for the value itself
		Write string
		Join  string
	}
}

// cssTable says how a value of each setting type reaches a stylesheet. It is data,
// because the browser applies the same table: the console's preview, and a page's overrides.
var cssTable = func() (t map[string]cssRow) {
	if err := json.Unmarshal(cssJSON, &t); err != nil {
		panic(err)
	}
	return t
}()

// Look is what the look settings put on a pocket's root element.
type Look struct {
	Properties map[string]string `json:"properties"`      // CSS properties, most of them custom: "--corner-radius": "12px"
	Attributes map[string]string `json:"attributes"`      // data attributes, "data-layout": "row"
	Small      map[string]string `json:"small,omitempty"` // Properties on small screens, where they differ
	Fonts      []Face            `json:"fonts,omitempty"` // uploaded fonts that Properties name
}

// Face is an uploaded font.
type Face struct {
	Family  string `json:"family"`
	Address string `json:"address"`
}

// SmallScreen is the media query for small screens.
const SmallScreen = "(max-width:600px)"

// Look returns the CSS form of every setting that has "look".
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

// IsProperty tells whether the setting reaches the stylesheet as a custom property, whose
// value on small screens is a rule of the sheet.
func (s *Setting) IsProperty() bool { return s.Look && cssTable[s.Type].As == "property" }

// write puts the CSS form of a value into properties, or into l's attributes.
func (s *Setting) write(value any, w World, l *Look, properties map[string]string) {
	name, row := Kebab(s.Key), cssTable[s.Type]
	if s.Inherit != "" && value == Inherited {
		// A custom property without a value makes the declarations that use it fall away, and
		// the property itself comes in from the page.
		properties["--"+name], properties[s.Inherit] = "initial", Inherited
		return
	}
	if ref, ok := value.(string); ok && s.Type == "font" && asset.IsRef(ref) {
		info, ok := w.find(ref)
		if !ok {
			properties["--"+name] = row.Names["plain"]
			return
		}
		properties["--"+name] = fmt.Sprintf("%q, %s", info.Family(), row.Names["plain"])
		l.Fonts = append(l.Fonts, Face{info.Family(), w.Base + info.Address(info.Forms[0])})
		return
	}
	written := row.css(value, s.Unit)
	if row.As == "property" {
		properties["--"+name] = written
	} else {
		l.Attributes["data-"+name] = written
	}
}

var hole = regexp.MustCompile(`\{(\w+)\}`)

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
	return hole.ReplaceAllStringFunc(template, func(m string) string {
		switch name := m[1 : len(m)-1]; name {
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
		default:
			return plainly(parts[name])
		}
	})
}

func plainly(v any) string {
	if n, ok := v.(float64); ok {
		return Number(n)
	}
	return fmt.Sprint(v)
}

// Kebab turns a setting's key into its CSS name: cornerRadius becomes corner-radius.
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
