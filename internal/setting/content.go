package setting

import (
	"fmt"
	"maps"
	"strings"
	"unicode/utf8"
)

// Variations of a widget's content for trying it, besides its own sample.
const (
	NoItems   = "none" // lists are empty
	OneItem   = "one"  // lists have one item
	ManyItems = "many" // lists have as many items as they can, up to ManyMost
	LongWords = "long" // texts contain words that do not break
)

// Contents lists them.
var Contents = []string{NoItems, OneItem, ManyItems, LongWords}

// ManyMost limits the lists of ManyItems.
const ManyMost = 60

// longWord has no place where a line can break.
const longWord = "Windgeschwindigkeitsmessgerätehersteller"

// With returns values with another variation of the content, as valid as values are. It returns
// values unchanged if the variation is unknown.
func (schema *Schema) With(values Values, kind string) Values {
	other := maps.Clone(values)
	for _, s := range schema.Settings {
		if v, there := other[s.Key]; there {
			other[s.Key] = s.with(v, kind)
		}
	}
	return other
}

func (s *Setting) with(v any, kind string) any {
	if of, ok := types[s.Type].(lengthens); ok && kind == LongWords {
		// Empty texts and texts with a fixed form stay.
		if t, ok := v.(string); ok && t != "" && s.Pattern == "" && s.Format == "" {
			return of.longer(s, t)
		}
		return v
	}
	fields, many := s.Holds()
	if fields != nil && !many {
		return withFields(fields, v, kind)
	}
	if !many {
		return v
	}
	given, _ := v.([]any)
	switch kind {
	case NoItems:
		return given[:min(s.MinItems, len(given))]
	case OneItem:
		return given[:min(max(1, s.MinItems), len(given))]
	case ManyItems:
		return repeated(given, min(s.MaxItems, ManyMost))
	case LongWords:
		longer := make([]any, len(given))
		for i, item := range given {
			longer[i] = withFields(fields, item, kind)
		}
		return longer
	}
	return v
}

func withFields(fields []*Setting, v any, kind string) any {
	m, ok := v.(map[string]any)
	if !ok {
		return v
	}
	m = maps.Clone(m)
	for _, f := range fields {
		if v, there := m[f.Key]; there {
			m[f.Key] = f.with(v, kind)
		}
	}
	return m
}

// longerText replaces the words of a text by long ones, up to the text's limit.
func (s *Setting) longerText(t string) string {
	words := max(1, len(strings.Fields(t))/4)
	long := strings.TrimSpace(strings.Repeat(longWord+" ", words))
	if most := s.MaxLength; most > 0 && utf8.RuneCountInString(long) > most {
		long = strings.TrimSpace(string([]rune(long)[:most]))
	}
	return long
}

// repeated repeats items until there are many of them, each with its own id.
func repeated(given []any, many int) []any {
	if len(given) == 0 {
		return given
	}
	list := make([]any, 0, many)
	for i := range max(many, len(given)) {
		item := given[i%len(given)]
		if m, ok := item.(map[string]any); ok && i >= len(given) {
			m = maps.Clone(m)
			m[IDKey] = fmt.Sprintf("again-%d", i)
			item = m
		}
		list = append(list, item)
	}
	return list
}
