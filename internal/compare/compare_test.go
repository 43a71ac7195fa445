package compare

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

func schema(t *testing.T, changes, properties string) *setting.Schema {
	t.Helper()
	s, faults := setting.ReadSchema([]byte(`{"$schema": "`+setting.Dialect+`", "type": "object", "glass": {"changes": [`+changes+`]}, "properties": {`+properties+`}}`), nil)
	require.Empty(t, faults)
	return s
}

func TestFolders(t *testing.T) {
	const (
		text   = `"heading": {"type": "string", "maxLength": 20, "default": "Hi", "glass": {"type": "text", "order": 1, "label": {"en": "Heading"}}}`
		longer = `"heading": {"type": "string", "maxLength": 40, "default": "Hi", "glass": {"type": "text", "order": 9, "label": {"en": "Heading"}}}`
		number = `"gap": {"type": "number", "default": 1, "glass": {"type": "number", "label": {"en": "Gap"}}}`
		colour = `"tone": {"type": "string", "default": "#123456", "glass": {"type": "colour", "label": {"de": "Ton"}}}`
	)
	before := widget.Files{"a.ts": []byte("1\n2\n3\n"), "gone.ts": []byte("x\n"), "same.ts": []byte("s"), "boat.jpg": {0xff, 1}, "empty.ts": {}}
	after := widget.Files{"a.ts": []byte("1\nzwei\n3\n4\n"), "new.ts": []byte("n\nn\n"), "same.ts": []byte("s"), "boat.jpg": {0xff, 2}, "empty.ts": []byte("one\n")}
	c := Folders(before, after, schema(t, "", text+","+number), schema(t, `{"rename": "gap", "to": "tone"}`, longer+","+colour))
	assert.Equal(t, []SettingChange{
		{Key: "tone", Label: "Ton", Kind: Added},
		{Key: "heading", Label: "Heading", Kind: Changed, What: []string{"maxLength: 20 → 40"}},
		{Key: "gap", Label: "Gap", Kind: Removed, What: []string{"its values move to tone"}},
	}, c.Settings)
	files := map[string]FileChange{}
	for _, f := range c.Files {
		files[f.Path] = f
	}
	assert.Len(t, files, 5)
	assert.NotContains(t, files, "same.ts")
	for path, want := range map[string][3]any{"a.ts": {Changed, 2, 1}, "gone.ts": {Removed, 0, 1}, "new.ts": {Added, 2, 0}, "empty.ts": {Changed, 1, 0}, "boat.jpg": {Changed, 0, 0}} {
		f := files[path]
		assert.Equal(t, want, [3]any{f.Kind, f.More, f.Fewer}, path)
	}
	assert.Contains(t, files["a.ts"].Diff, "-2\n+zwei\n 3\n+4\n")
	assert.Empty(t, files["boat.jpg"].Diff, "what is no text is not shown")

	long := widget.Files{"a.ts": []byte(strings.Repeat("line\n", 20000))}
	c = Folders(long, widget.Files{"a.ts": []byte(strings.Repeat("other\n", 20000))}, nil, nil)
	assert.Empty(t, c.Settings)
	assert.LessOrEqual(t, len(c.Files[0].Diff), diffMost)
	assert.Empty(t, Folders(before, before, nil, nil).Files)
}

// Values are told in the words of the form, lists by what has become of each item.
func TestValues(t *testing.T) {
	s := schema(t, "", `"cards": {"type": "array", "default": [], "items": {"type": "object", "properties": {"title": {"type": "string", "maxLength": 40, "default": "", "glass": {"type": "text", "label": {"en": "Title"}}}}}, "glass": {"type": "list", "label": {"en": "Cards"}}},
		"accent": {"type": "string", "default": "#102030", "glass": {"type": "colour", "label": {"en": "Accent"}}},
		"row": {"type": "string", "enum": ["one", "two"], "default": "one", "glass": {"type": "choice", "small": true, "label": {"en": "Rows"}, "options": {"one": {"en": "A single row"}, "two": {"en": "Two rows"}}}},
		"speed": {"type": "number", "default": 3, "glass": {"type": "number", "when": {"row": "two"}, "label": {"en": "Speed"}}}`)
	item := func(id, title string) any { return map[string]any{"id": id, "title": title} }
	before, _ := s.Complete(setting.Values{"cards": []any{item("a", "Boat"), item("b", "Kiln"), item("c", "Dome")}, "speed": 4.0})
	after, _ := s.Complete(setting.Values{"cards": []any{item("c", "Dome"), item("a", "The boat"), item("d", "Choir")}, "accent": "#405060", "small": map[string]any{"row": "two"}})
	var lines []string
	for _, c := range Values(s, before, after, "en") {
		lines = append(lines, c.Key+": "+c.Before+" → "+c.After)
		for _, i := range c.Items {
			lines = append(lines, "  "+i.Kind+" "+i.Name+strings.Repeat("!", len(i.What)))
		}
	}
	assert.Equal(t, []string{
		"cards: 3 items → 3 items, changed", "  removed Kiln", "  moved Dome", "  changed The boat!", "  added Choir",
		"accent: #102030 → #405060",
		"small/row: the same → Two rows",
	}, lines, "a speed that has no part to play is not told")
}

// Items are told as well: by title, words or who they are of, with what changed of each.
func TestItemsThatChanged(t *testing.T) {
	s := schema(t, "", `"reviews": {"type": "array", "default": [], "glass": {"type": "items", "kind": "review", "fields": ["title", "text", "author", "rating", "media"], "label": {"en": "Reviews"}}}`)
	read := func(text string) setting.Values {
		values, faults := s.CheckJSON([]byte(`{"reviews": ` + text + `}`))
		require.Empty(t, faults)
		full, _ := s.Complete(values)
		return full
	}
	before := read(`[{"id": "a", "title": "Warm", "rating": {"value": 4}, "author": {"name": "Runa"}}, {"id": "b", "text": "Came back twice."}, {"id": "c", "author": {"name": "Olm"}}]`)
	after := read(`[{"id": "a", "title": "Warm", "rating": {"value": 5}, "author": {"name": "Runa A."}, "media": [{"id": "m"}]}, {"id": "b", "text": "Came back thrice."}]`)
	list := Values(s, before, after, "en")
	require.Len(t, list, 1)
	var lines []string
	for _, i := range list[0].Items {
		lines = append(lines, i.Kind+" "+i.Name)
		for _, w := range i.What {
			lines = append(lines, "  "+w.Key+" "+w.Label+": "+w.Before+" → "+w.After)
		}
	}
	assert.Equal(t, []string{
		"removed Olm",
		"changed Warm", "  author/name Author, Name: Runa → Runa A.", "  rating Rating: 4 of 5 → 5 of 5", "  media Images:  → 1 item",
		"changed Came back thrice.", "  text Text: Came back twice. → Came back thrice.",
	}, lines)
}
