package setting

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"strings"
)

//go:embed css.json
var cssJSON []byte

// cssTable says how a value of each setting type reaches a stylesheet. It is data,
// because the console's preview applies the same table in the browser.
var cssTable = func() (t map[string]struct{ As, Write string }) {
	if err := json.Unmarshal(cssJSON, &t); err != nil {
		panic(err)
	}
	return t
}()

// Look is what the look settings put on a pocket's root element.
type Look struct {
	Properties map[string]string `json:"properties"` // CSS custom properties, "--corner-radius": "12px"
	Attributes map[string]string `json:"attributes"` // data attributes, "data-layout": "row"
}

// Look returns the CSS form of every setting that has "look".
func (s *Schema) Look(values Values) Look {
	l := Look{Properties: map[string]string{}, Attributes: map[string]string{}}
	for _, set := range s.Settings {
		v, ok := values[set.Key]
		if !set.Look || !ok {
			continue
		}
		row := cssTable[set.Type]
		var written string
		switch t := v.(type) {
		case float64:
			written = Number(t)
		default:
			written = fmt.Sprint(t)
		}
		written = strings.NewReplacer("{value}", written, "{unit}", set.Unit).Replace(row.Write)
		if row.As == "property" {
			l.Properties["--"+Kebab(set.Key)] = written
		} else {
			l.Attributes["data-"+Kebab(set.Key)] = written
		}
	}
	return l
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
