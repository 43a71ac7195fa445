package setting

import (
	"encoding/json"
	"fmt"
	"strings"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
)

// wordsMost limits the texts that InWords returns, in characters.
const wordsMost = 160

// InWords describes a checked value for people: an option by its label, a moment by date and zone,
// a list by its length. It returns "" for no value.
func (s *Setting) InWords(value any, language string) string {
	if value == nil {
		return ""
	}
	if s.Inherit != "" && value == Inherited {
		return "same as the page"
	}
	if name := BrandName(value); name != "" && branded(s.Type) {
		return "the brand's " + name
	}
	if of, ok := types[s.Type].(worded); ok {
		return of.words(s, value, language)
	}
	text, _ := value.(string)
	if text != "" || value == "" {
		return clip.Text(strings.Join(strings.Fields(text), " "), wordsMost)
	}
	if row, known := cssTable[s.Type]; known && text == "" {
		return row.css(value, s.Unit)
	}
	written, _ := json.Marshal(value)
	return clip.Text(string(written), wordsMost)
}

func itemsInWords(value any) string {
	list, _ := value.([]any)
	return countedItems(len(list))
}

func countedItems(n int) string {
	if n == 1 {
		return "1 item"
	}
	return fmt.Sprintf("%d items", n)
}

// optionInWords returns the label of a value, or the value itself.
func (s *Setting) optionInWords(value any, language string) string {
	for _, o := range s.Options {
		if o.Value == value {
			return o.Label.In(language)
		}
	}
	return plainly(value)
}

// optionsInWords returns the labels of several values.
func (s *Setting) optionsInWords(value any, language string) string {
	list, _ := value.([]any)
	names := make([]string, len(list))
	for i, v := range list {
		names[i] = s.optionInWords(v, language)
	}
	return clip.Text(strings.Join(names, ", "), wordsMost)
}

func spaced(unit string) string {
	if unit == "" || unit == "%" {
		return unit
	}
	return " " + unit
}

func assetInWords(value any) string {
	m, _ := value.(map[string]any)
	ref, _ := m["asset"].(string)
	alt, _ := m["alt"].(string)
	switch {
	case ref == "":
		return "none"
	case alt != "":
		return clip.Text(alt, wordsMost)
	case asset.OfFolder(ref):
		return strings.TrimPrefix(ref, asset.Folder)
	}
	return ref[:min(12, len(ref))] + "…"
}
