package message

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
)

// Vectors are what the service and the browser's Intl.PluralRules must both answer; the
// browser's side is held in e2e.
func TestCategories(t *testing.T) {
	for lang, want := range map[string]map[int]string{
		"en": {0: "other", 1: "one", 2: "other", 21: "other"},
		"de": {0: "other", 1: "one", 2: "other", 101: "other"},
		"pl": {0: "many", 1: "one", 2: "few", 5: "many", 12: "many", 22: "few"},
		"ar": {0: "zero", 1: "one", 2: "two", 3: "few", 11: "many", 100: "other"},
	} {
		for n, category := range want {
			assert.Equal(t, category, Category(lang, n), "%s %d", lang, n)
		}
	}
	assert.Equal(t, []string{"one", "few", "many", "other"}, CategoriesOf("pl"))
	assert.Equal(t, "rtl", Direction("ar"))
	assert.Equal(t, "ltr", Direction("de-AT"))
}

func TestSay(t *testing.T) {
	c, faults := Read([]byte(`{"days": {"one": "{count} Tag", "other": "{count} Tage"}, "open": "Öffnen"}`), "de")
	require.Empty(t, faults)
	assert.Equal(t, "1 Tag", c.Say("de", "days", 1))
	assert.Equal(t, "0 Tage", c.Say("de", "days", 0))
	assert.Equal(t, "Öffnen", c.Say("de", "open", 5))
	assert.Equal(t, "2 Tage", c.Say("xx", "days", 2), "a language without rules takes “other”")
}

func TestReadFaults(t *testing.T) {
	for _, c := range []struct {
		lang, in string
		code     fault.Code
		column   int
	}{
		{"en", `{"days": {"one": "day"}}`, fault.MessagePlural, 10},
		{"en", `{"days": {"one": "d", "few": "d", "other": "d"}}`, fault.MessagePlural, 23},
		{"en", `{"days": 3}`, fault.WrongType, 10},
		{"en", `{"a": {"one": 1, "other": "x"}}`, fault.WrongType, 15},
		{"en", `[]`, fault.WrongType, 1},
	} {
		_, faults := Read([]byte(c.in), c.lang)
		require.NotEmpty(t, faults, c.in)
		assert.Equal(t, c.code, faults[0].Code, c.in)
		assert.Equal(t, c.column, faults[0].Column, c.in)
	}
}

func TestWords(t *testing.T) {
	w := Words{"en": "Hello", "de": "Hallo"}
	assert.Equal(t, "Hallo", w.In("de-CH"))
	assert.Equal(t, "Hello", w.In("fr"))
	for tag, ok := range map[string]bool{"en": true, "pt-BR": true, "english": false, "EN": false, "": false, "x": false} {
		assert.Equal(t, ok, ValidTag(tag), tag)
	}
}
