package setting

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func changing(t *testing.T, changes string) (*Schema, []string) {
	text := func(key string) string {
		return `"` + key + `": {"type": "string", "default": "", "glass": {"type": "text", "small": true, "label": {"en": "L"}}}`
	}
	s, faults := ReadSchema([]byte(`{"$schema": "`+Dialect+`", "type": "object", "glass": {"changes": `+changes+`}, "properties": {`+text("tone")+`, `+text("first")+`, `+text("last")+`,
		"layout": {"type": "string", "enum": ["line", "stack"], "default": "line", "glass": {"type": "choice", "label": {"en": "L"}, "options": {"line": {"en": "L"}, "stack": {"en": "S"}}}}}}`), nil)
	var what []string
	for _, f := range faults {
		what = append(what, f.What)
	}
	require.NotNil(t, s)
	return s, what
}

// Values of any older release arrive; what is set already is never replaced, and nothing of it
// is lost to the older release.
func TestCarry(t *testing.T) {
	schema, faults := changing(t, `[{"rename": "accent", "to": "colour"}, {"rename": "colour", "to": "tone"}, {"drop": "shade"}, {"split": "name", "at": " ", "into": ["first", "last"]}, {"values": "layout", "become": {"row": "line"}}]`)
	require.Empty(t, faults)
	for name, c := range map[string]struct{ stored, want string }{
		"from the first":      {`{"accent": "red", "shade": 3, "name": "Runa Tove Alder", "layout": "row"}`, `{"tone": "red", "first": "Runa", "last": "Tove Alder", "layout": "line"}`},
		"from the second":     {`{"colour": "red"}`, `{"tone": "red"}`},
		"this one's":          {`{"tone": "blue", "layout": "stack"}`, `{"tone": "blue", "layout": "stack"}`},
		"set already":         {`{"accent": "red", "tone": "blue"}`, `{"tone": "blue"}`},
		"only one word":       {`{"name": "Runa"}`, `{"first": "Runa"}`},
		"on small screens":    {`{"small": {"accent": "red"}}`, `{"small": {"tone": "red"}}`},
		"nothing to be split": {`{"name": 7}`, `{}`},
	} {
		var before Values
		require.NoError(t, json.Unmarshal([]byte(c.stored), &before))
		values, faults := schema.Carried(before)
		assert.Empty(t, faults, name)
		got, _ := json.Marshal(values)
		assert.JSONEq(t, c.want, string(got), name)

		after := schema.CarriedWhole(before)
		unchanged, _ := json.Marshal(before)
		assert.JSONEq(t, c.stored, string(unchanged), name)
		for key, v := range before {
			if key != "layout" && key != "small" {
				assert.Equal(t, v, after[key], "%s keeps %s", name, key)
			}
		}
		again, faults := schema.Carried(after)
		assert.Empty(t, faults)
		assert.Equal(t, values, again, "what is kept beside changes nothing")
	}
	_, more := schema.Carried(Values{"unheard": 1.0})
	require.Len(t, more, 1)
	assert.Contains(t, more[0].What, "unheard")
	assert.Equal(t, []string{"colour", "accent"}, schema.Sources("tone"))
}

func TestChangesAreChecked(t *testing.T) {
	for changes, want := range map[string]string{
		`[{"rename": "tone", "to": "first"}]`:              `"tone" is a setting of this release, so it cannot be an old key.`,
		`[{"rename": "old", "to": "nowhere"}]`:             `There is no setting "nowhere" in this schema.`,
		`[{"split": "old", "at": "", "into": ["first"]}]`:  "The split has no \"at\".",
		`[{"split": "old", "at": " ", "into": ["first"]}]`: "A split needs at least two settings.",
		`[{"values": "nowhere", "become": {}}]`:            `There is no setting "nowhere" in this schema.`,
		`[{"move": "old"}]`:                                "This change does not say what happens to a setting.",
		`[{"rename": "old"}]`:                              `A change has no "to".`,
	} {
		_, faults := changing(t, changes)
		require.NotEmpty(t, faults, changes)
		assert.Contains(t, strings.Join(faults, " "), want, changes)
	}
}
