package setting

import (
	"encoding/json"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Another kind of content is as valid as what it was made of, and leaves that as it was.
func TestContents(t *testing.T) {
	schema, faults := ReadSchema([]byte(`{"$schema": "`+Dialect+`", "type": "object", "properties": {
		"title": {"type": "string", "maxLength": 12, "default": "", "glass": {"type": "text", "label": {"en": "T"}}},
		"code": {"type": "string", "pattern": "^[a-z]*$", "default": "", "glass": {"type": "text", "label": {"en": "C"}}},
		"story": {"type": "string", "maxLength": 400, "contentMediaType": "text/html", "default": "", "glass": {"type": "richText", "label": {"en": "S"}}},
		"rows": {"type": "array", "minItems": 1, "maxItems": 7, "default": [{"name": "x"}], "items": {"type": "object", "properties": {"name": {"type": "string", "default": "", "glass": {"type": "text", "label": {"en": "N"}}}}}, "glass": {"type": "list", "label": {"en": "R"}}},
		"said": {"type": "array", "default": [], "glass": {"type": "items", "kind": "review", "fields": ["author", "text"], "label": {"en": "I"}}}}}`), nil)
	require.Empty(t, faults)
	const given = `{"title": "A board", "code": "abc", "story": "<p>Hello</p>", "rows": [{"id": "a", "name": "Skerry"}, {"id": "b", "name": "Hask"}], "said": [{"id": "r", "text": "Good", "author": {"name": "Runa"}}]}`
	values, faults := schema.CheckJSON([]byte(given))
	require.Empty(t, faults)
	count := func(v Values, key string) int { return len(v[key].([]any)) }

	none := schema.With(values, NoItems)
	assert.Equal(t, [2]int{1, 0}, [2]int{count(none, "rows"), count(none, "said")}, "as few as may be")
	many := schema.With(values, ManyItems)
	assert.Equal(t, [2]int{7, 50}, [2]int{count(many, "rows"), count(many, "said")}, "as many as may be")
	long := schema.With(values, LongWords)
	assert.Equal(t, 12, utf8.RuneCountInString(long["title"].(string)))
	assert.Equal(t, "abc", long["code"], "what must have a form stays")
	assert.Equal(t, "<p>"+longWord+"</p>", long["story"])
	assert.Equal(t, longWord, long["rows"].([]any)[1].(map[string]any)["name"])
	assert.Equal(t, longWord, long["said"].([]any)[0].(map[string]any)["author"].(map[string]any)["name"])
	assert.Equal(t, values, schema.With(values, "unheard"))

	for _, kind := range Contents {
		full, faults := schema.Complete(schema.With(values, kind))
		require.Empty(t, faults)
		_, faults = schema.CheckJSON(jsonOf(t, full))
		assert.Empty(t, faults, kind)
	}
	again, _ := schema.CheckJSON([]byte(given))
	assert.Equal(t, again, values, "what was given is as it was")
}

func jsonOf(t *testing.T, v any) []byte {
	t.Helper()
	text, err := json.Marshal(v)
	require.NoError(t, err)
	return text
}
