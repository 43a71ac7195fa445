package setting

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What visitors see of items: hidden ones are left out, the others are sorted, and those without
// a date or a rating come last.
func TestShown(t *testing.T) {
	schema, faults := ReadSchema([]byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {
		"voices": {"type": "array", "default": [], "glass": {"type": "items", "label": {"en": "V"}, "kind": "review", "fields": ["title", "at", "rating"], "sortBy": "order"}},
		"order": {"type": "string", "enum": ["typed", "newest", "oldest", "best", "worst"], "default": "typed", "glass": {"type": "choice", "label": {"en": "O"}, "options": {"typed": {"en": "t"}, "newest": {"en": "n"}, "oldest": {"en": "o"}, "best": {"en": "b"}, "worst": {"en": "w"}}}}}}`), nil)
	require.Empty(t, faults)
	for order, want := range map[string][]int{"typed": {0, 1, 3, 4}, "newest": {1, 4, 0, 3}, "oldest": {0, 4, 1, 3}, "best": {3, 0, 4, 1}, "worst": {4, 0, 3, 1}} {
		values, faults := schema.CheckJSON([]byte(`{"order": "` + order + `", "voices": [
			{"id": "a", "at": "2026-03-01T18:00[Europe/Berlin]", "rating": {"value": 4, "best": 5}},
			{"id": "b", "at": "2026-05-01T18:00[Europe/Berlin]"},
			{"id": "c", "at": "2026-09-01T18:00[Europe/Berlin]", "rating": {"value": 5, "best": 5}, "hidden": true},
			{"id": "d", "rating": {"value": 9, "best": 10}},
			{"id": "e", "at": "2026-03-01T18:00[America/New_York]", "rating": {"value": 1, "best": 5}}]}`))
		require.Empty(t, faults)
		full, faults := schema.Complete(values)
		require.Empty(t, faults)
		voices := schema.Get("voices")
		assert.Equal(t, want, voices.Shown(full), order)
		var ids []string
		for _, item := range voices.Seen(full, World{}).([]any) {
			ids = append(ids, item.(map[string]any)["id"].(string))
		}
		for i, at := range want {
			assert.Equal(t, string(rune('a'+at)), ids[i], order)
		}
		assert.Nil(t, schema.Get("order").Shown(full), "not items")
	}
	_, faults = ReadSchema([]byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {
		"voices": {"type": "array", "default": [], "glass": {"type": "items", "label": {"en": "V"}, "kind": "review", "fields": ["title"], "sortBy": "oder"}},
		"order": {"type": "string", "default": "", "glass": {"type": "text", "label": {"en": "O"}}}}}`), nil)
	require.Len(t, faults, 1)
	assert.Contains(t, faults[0].Fix, "order")
}
