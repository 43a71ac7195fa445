package setting

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// allTypes is a schema with every setting type at least once.
//
//go:embed testdata/types.json
var allTypes []byte

var folder = Folder{
	"assets/boat.jpg":   {Digest: strings.Repeat("ab", 32), Name: "boat.jpg", Kind: asset.Image, Width: 800, Height: 600, Forms: []asset.Form{{Name: "boat-800.jpg", Width: 800, Height: 600}, {Name: "boat-320.jpg", Width: 320, Height: 240}}},
	"assets/bell.mp3":   {Digest: strings.Repeat("cd", 32), Name: "bell.mp3", Kind: asset.Sound, Type: "audio/mpeg", Forms: []asset.Form{{Name: "bell.mp3"}}},
	"assets/tide.woff2": {Digest: strings.Repeat("ef", 32), Name: "tide.woff2", Kind: asset.Font, Forms: []asset.Form{{Name: "tide.woff2"}}},
}

func schema(t testing.TB) *Schema {
	s, faults := ReadSchema(allTypes, folder)
	require.Empty(t, faults)
	return s
}

// Every type is in the schema that the tests go through, so that none is left untested.
func TestEveryTypeIsThere(t *testing.T) {
	used := map[string]bool{}
	for _, set := range schema(t).Settings {
		used[set.Type] = true
	}
	for _, name := range TypeNames() {
		assert.True(t, used[name], name)
		note := NoteOf(name)
		require.NotEmpty(t, note.What, name)
		if name == "choice" || name == "choices" || name == "list" || name == "items" || name == "text" || name == "number" {
			continue // the example's values are of another widget
		}
		all := schema(t).Settings
		set := all[slices.IndexFunc(all, func(s *Setting) bool { return s.Type == name })]
		doc, faults := jsondoc.Read([]byte(note.Value))
		require.Empty(t, faults, name)
		value, ps := set.check(doc)
		require.Empty(t, ps, name)
		written, _ := json.Marshal(value)
		assert.JSONEq(t, note.Value, string(written), "the example is in canonical form")
	}
}

func TestCheck(t *testing.T) {
	s := schema(t)
	for _, c := range []struct {
		in   string // one member of the settings object
		want any    // the canonical value, or the fault's code
	}{
		{`"title": "four"`, "four"},
		{`"title": "ü€𝄞"`, "ü€𝄞"}, // characters, not bytes
		{`"title": "a"`, fault.ValueLength},
		{`"title": "abcdef"`, fault.ValueLength},
		{`"title": 12`, fault.ValueType},
		{`"title": "a\u0000b"`, fault.ValueCharacter},
		{`"title": "a\ud800b"`, fault.ValueCharacter}, // a lone surrogate
		{`"title": "a\nb"`, fault.ValueCharacter},
		{`"note": "a\r\nb"`, "a\nb"},
		{`"code": "123"`, "123"},
		{`"code": "12a"`, fault.ValuePattern},
		{`"link": "https://a.example/x?y=1"`, "https://a.example/x?y=1"},
		{`"link": "tel:200300"`, "tel:200300"},
		{`"link": ""`, ""},
		{`"link": "javascript:alert(1)"`, fault.ValueLink},
		{`"link": "JavaScript:alert(1)"`, fault.ValueLink},
		{`"link": " javascript:alert(1)"`, fault.ValueLink},
		{`"link": "data:text/html,x"`, fault.ValueLink},
		{`"link": "//a.example"`, fault.ValueLink},
		{`"link": "https:///x"`, fault.ValueLink},
		{`"corner": 2.5`, 2.5},
		{`"corner": 10`, 10.0},
		{`"corner": 10.5`, fault.ValueRange},
		{`"corner": 0.3`, fault.ValueStep},
		{`"corner": 1e999`, fault.ValueRange},
		{`"corner": "2"`, fault.ValueType},
		{`"shown": false`, false},
		{`"shown": "false"`, fault.ValueType},
		{`"layout": "stack"`, "stack"},
		{`"layout": "circle"`, fault.ValueChoice},
		{`"mainAccent": "#ABCDEF"`, "#abcdef"},
		{`"mainAccent": "#abc"`, "#aabbcc"},
		{`"mainAccent": "#11223344"`, "#11223344"},
		{`"mainAccent": "teal"`, fault.ValueColour},
		{`"mainAccent": "#fff;color:red"`, fault.ValueColour},
		{`"when": "2027-03-01T18:00[Europe/Berlin]"`, "2027-03-01T18:00[Europe/Berlin]"},
		{`"when": "2027-03-01T18:00+01:00[Europe/Berlin]"`, "2027-03-01T18:00[Europe/Berlin]"},
		{`"when": "2027-03-01T18:00+05:00[Europe/Berlin]"`, fault.ValueMoment},
		{`"when": "2027-02-29T18:00[Europe/Berlin]"`, fault.ValueMoment},
		{`"when": "2027-03-01T18:00"`, fault.ValueMoment},
		{`"when": "2027-03-01T18:00[Berlin]"`, fault.ValueZone},
		{`"when": "2027-03-01T18:00[CET]"`, fault.ValueZone},
		{`"when": "2027-03-01T18:00[Local]"`, fault.ValueZone},
		{`"when": "2027-03-01T18:00[../etc/passwd]"`, fault.ValueZone},
		{`"when": "1800-03-01T18:00[UTC]"`, fault.ValueMoment},
		{`"acent": 1`, fault.SettingUnknown},
		{`"story": "<p>Tea <b>and</b> <strong onclick='x()'>kiln</strong></p>"`, "<p>Tea <strong>and</strong> <strong>kiln</strong></p>"},
		{`"story": "<u class=x>Tea</u>"`, "Tea"},
		{`"story": "<script>alert(1)</script><a href='javascript:alert(1)'>x</a>"`, "x"},
		{`"story": "<a href='https://a.example'>x</a>"`, `<a href="https://a.example" rel="nofollow">x</a>`},
		{`"parts": ["stars", "date"]`, []any{"date", "stars"}}, // in the order of the options
		{`"parts": ["date", "date"]`, fault.ValueChoice},
		{`"parts": ["colour"]`, fault.ValueChoice},
		{`"parts": []`, fault.ValueLength},
		{`"fill": {"stops": [{"colour": "#FFF", "at": 0}, {"colour": "#000000", "at": 100}]}`, map[string]any{"angle": 90.0, "stops": []any{map[string]any{"colour": "#ffffff", "at": 0.0}, map[string]any{"colour": "#000000", "at": 100.0}}}},
		{`"fill": {"angle": 90, "stops": [{"colour": "#ffffff", "at": 0}]}`, fault.ValueLength},
		{`"fill": {"angle": 361, "stops": [{"colour": "#ffffff", "at": 0}, {"colour": "#000000", "at": 1}]}`, fault.ValueRange},
		{`"fill": {"stops": [{"colour": "#ffffff", "at": 50}, {"colour": "#000000", "at": 1}]}`, fault.ValueRange},
		{`"fill": {"stops": [{"colour": "red", "at": 0}, {"colour": "#000000", "at": 1}]}`, fault.ValueColour},
		{`"typeface": "book"`, "book"},
		{`"typeface": "inherit"`, "inherit"},
		{`"typeface": "assets/tide.woff2"`, "assets/tide.woff2"},
		{`"typeface": "assets/boat.jpg"`, fault.ValueAsset},
		{`"typeface": "Helvetica; color: red"`, fault.ValueChoice},
		{`"gap": "1.50em"`, "1.5em"},
		{`"gap": "12"`, fault.ValueLengthOf},
		{`"gap": "2rem"`, fault.ValueLengthOf},
		{`"gap": "500px"`, fault.ValueRange},
		{`"gap": "1px;color:red"`, fault.ValueLengthOf},
		{`"size": "inherit"`, "inherit"},
		{`"corner": "inherit"`, fault.ValueType}, // only where the schema says so
		{`"room": 8`, map[string]any{"top": 8.0, "right": 8.0, "bottom": 8.0, "left": 8.0}},
		{`"room": {"top": 4}`, map[string]any{"top": 4.0, "right": 0.0, "bottom": 0.0, "left": 0.0}},
		{`"room": {"up": 4}`, fault.KeyUnknown},
		{`"room": {"top": -4}`, fault.ValueRange},
		{`"edge": {"style": "dashed", "width": 2}`, map[string]any{"style": "dashed", "width": 2.0, "colour": "#000000"}},
		{`"edge": {"width": 2}`, fault.ValueType},
		{`"edge": {"style": "wavy"}`, fault.ValueChoice},
		{`"shade": {"kind": "none"}`, map[string]any{"kind": "none", "x": 0.0, "y": 0.0, "blur": 0.0, "spread": 0.0, "colour": "#00000033"}},
		{`"shade": {"kind": "outside", "blur": -1}`, fault.ValueRange},
		{`"level": "2"`, "2"},
		{`"level": "7"`, fault.ValueChoice},
		{`"level": 2`, fault.ValueType},
		{`"align": "center"`, "center"},
		{`"align": "left"`, fault.ValueChoice},
		{`"day": "2027-03-01"`, "2027-03-01"},
		{`"day": ""`, ""},
		{`"day": "2027-02-29"`, fault.ValueDate},
		{`"day": "1.3.2027"`, fault.ValueDate},
		{`"opens": "18:30"`, "18:30"},
		{`"opens": "24:00"`, fault.ValueDate},
		{`"pause": "PT8S"`, "PT8S"},
		{`"pause": "PT"`, fault.ValueDate},
		{`"pause": "P1M"`, fault.ValueDate}, // a month has no fixed length
		{`"pause": "PT2M"`, fault.ValueRange},
		{`"more": {"address": "https://a.example", "target": "new"}`, map[string]any{"address": "https://a.example", "target": "new"}},
		{`"more": {"address": "javascript:alert(1)"}`, fault.ValueLink},
		{`"more": {"address": "https://a.example", "target": "_blank"}`, fault.ValueChoice},
		{`"photo": {"asset": "assets/boat.jpg", "alt": "A boat", "focus": {"x": 20}}`, map[string]any{"asset": "assets/boat.jpg", "alt": "A boat", "decorative": false, "focus": map[string]any{"x": 20.0, "y": 50.0}}},
		{`"photo": {"asset": "assets/boot.jpg"}`, fault.ValueAsset},
		{`"photo": {"asset": "assets/bell.mp3"}`, fault.ValueAsset},
		{`"photo": {"asset": "https://a.example/boat.jpg"}`, fault.ValueAsset},
		{`"photo": {"asset": "assets/../../etc/passwd"}`, fault.ValueAsset},
		{`"bell": {"asset": "assets/bell.mp3"}`, map[string]any{"asset": "assets/bell.mp3"}},
		{`"mark": "star"`, "star"},
		{`"mark": "stra"`, fault.ValueChoice},
		{`"price": {"amount": 1250, "currency": "EUR"}`, map[string]any{"amount": 1250.0, "currency": "EUR"}},
		{`"price": {"amount": 12.5, "currency": "EUR"}`, fault.ValueStep},
		{`"price": {"amount": 1250, "currency": "EURO"}`, fault.ValueChoice},
		{`"speaks": "pl"`, "pl"},
		{`"speaks": "polish"`, fault.BadLanguage},
		{`"score": {"value": 4.5, "best": 5}`, map[string]any{"value": 4.5, "best": 5.0}},
		{`"score": {"value": 0, "best": 10}`, map[string]any{"value": 0.0, "best": 10.0}},
		{`"score": {}`, map[string]any{"best": 5.0}},
		{`"score": {"value": 6, "best": 5}`, fault.ValueRange},
		{`"topics": ["tea", " kiln ", "tea"]`, []any{"tea", "kiln"}},
		{`"cards": [{"id": "a", "title": "One"}, {"id": "b"}]`, []any{map[string]any{"id": "a", "title": "One"}, map[string]any{"id": "b"}}},
		{`"cards": [{"id": "a"}, {"id": "a"}]`, fault.ValueTwice},
		{`"cards": [{"id": "a b"}]`, fault.BadName},
		{`"cards": [{"titel": "x"}]`, fault.SettingUnknown},
		{`"cards": [{"title": 3}]`, fault.ValueType},
		{`"cards": [{}, {}, {}, {}]`, fault.ValueLength},
		{`"cards": {}`, fault.ValueType},
		{`"said": [{"id": "r1", "text": "Good", "rating": {"value": 5}, "tags": ["tea"]}]`, []any{map[string]any{"id": "r1", "text": "Good", "rating": map[string]any{"value": 5.0, "best": 5.0}, "tags": []any{"tea"}}}},
		{`"said": [{"id": "r1", "author": {"name": "Runa", "picture": {"asset": "x"}}}]`, fault.ValueAsset},
		{`"said": [{"at": "yesterday"}]`, fault.ValueMoment},
		{`"small": {"corner": 2}`, map[string]any{"corner": 2.0}},
		{`"small": {"title": "abc"}`, fault.SettingUnknown},
		{`"small": {"corner": 99}`, fault.ValueRange},
		{`"title": null`, nil},
	} {
		t.Run(c.in, func(t *testing.T) {
			values, faults := s.CheckJSON([]byte("{\n  " + c.in + "\n}"))
			if code, ok := c.want.(fault.Code); ok {
				require.Len(t, faults, 1)
				f := faults[0]
				assert.Equal(t, code, f.Code, f.What)
				assert.Equal(t, 2, f.Line)
				assert.NotEmpty(t, f.Fix)
				assert.Empty(t, values)
				return
			}
			require.Empty(t, faults)
			key := strings.Split(c.in, `"`)[1]
			assert.Equal(t, c.want, values[key])
		})
	}
}

// A wall-clock time becomes an instant by its zone's rules, also where clocks change.
func TestMoments(t *testing.T) {
	for _, c := range []struct{ in, utc string }{
		{"2027-01-15T12:00[Europe/Berlin]", "2027-01-15T11:00:00Z"},
		{"2027-07-15T12:00[Europe/Berlin]", "2027-07-15T10:00:00Z"},
		{"2027-07-15T12:00:30[UTC]", "2027-07-15T12:00:30Z"},
		{"2027-03-28T02:30[Europe/Berlin]", "2027-03-28T01:30:00Z"},       // skipped: moved on by the gap
		{"2027-10-31T02:30[Europe/Berlin]", "2027-10-31T00:30:00Z"},       // twice: the earlier
		{"2027-10-31T02:30+01:00[Europe/Berlin]", "2027-10-31T01:30:00Z"}, // twice: the one its offset says
		{"2027-10-31T02:30+02:00[Europe/Berlin]", "2027-10-31T00:30:00Z"},
		{"2027-04-04T02:15[Australia/Lord_Howe]", "2027-04-03T15:45:00Z"}, // after the half-hour change
		{"2027-04-04T01:45[Australia/Lord_Howe]", "2027-04-03T14:45:00Z"}, // twice within half an hour: the earlier
		{"2011-12-30T12:00[Pacific/Apia]", "2011-12-30T22:00:00Z"},        // a day that Samoa skipped
		{"2027-06-01T00:00[Asia/Kathmandu]", "2027-05-31T18:15:00Z"},
	} {
		m, p := parseMoment(c.in)
		require.Nil(t, p, c.in)
		assert.Equal(t, c.utc, m.At.UTC().Format(time.RFC3339), c.in)
		again, p := parseMoment(m.String())
		require.Nil(t, p)
		assert.True(t, again.At.Equal(m.At), "%s written as %s is another instant", c.in, m)
	}
	now := time.Date(2027, 3, 27, 12, 0, 0, 0, time.UTC)
	m, ok := AfterNow("P1DT2H[Europe/Berlin]", now)
	require.True(t, ok)
	assert.Equal(t, "2027-03-28T15:00:00[Europe/Berlin]", m.String(), "a day is a day on the calendar, hours are hours")
}

func TestCompleteAndLook(t *testing.T) {
	s := schema(t)
	_, faults := s.Complete(Values{})
	require.Len(t, faults, 1)
	assert.Equal(t, fault.SettingMissing, faults[0].Code)
	values, faults := s.Complete(Values{"when": "2027-03-01T18:00[UTC]", "corner": 2.5, "shown": false, "size": "inherit", "typeface": "assets/tide.woff2", "small": map[string]any{"corner": 1.0}})
	require.Empty(t, faults)
	look := s.Look(values, World{Base: "https://p.example", Folder: folder})
	assert.Equal(t, map[string]string{"data-shown": "false", "data-layout": "row"}, look.Attributes)
	assert.Equal(t, map[string]string{"--corner": "1px"}, look.Small)
	for name, want := range map[string]string{"--corner": "2.5px", "--main-accent": "#0b6b63", "--size": "initial", "font-size": "inherit", "--typeface": `"glass-efefefefefef", ` + cssTable["font"].Names["plain"]} {
		assert.Equal(t, want, look.Properties[name], name)
	}
	assert.Equal(t, []Face{{"glass-efefefefefef", "https://p.example/a/" + strings.Repeat("ef", 32) + "/tide.woff2"}}, look.Fonts)
	assert.Equal(t, "Untitled", values["cards"].([]any)[0].(map[string]any)["title"], "the fields of items have defaults too")
}

// What a view and a script see of a value has the shape that they are told, of none too.
func TestShapes(t *testing.T) {
	s := schema(t)
	values, faults := s.Complete(Values{"when": "2027-03-01T18:00[UTC]", "photo": map[string]any{"asset": "assets/boat.jpg", "alt": "", "focus": map[string]any{"x": 1.0, "y": 2.0}},
		"said": []any{map[string]any{"id": "r1", "author": map[string]any{"name": "Runa"}, "media": []any{map[string]any{"id": "m", "image": map[string]any{"asset": "assets/boat.jpg"}}}}}})
	require.Empty(t, faults)
	for _, set := range s.Settings {
		fits(t, set.Key, set.Shape(), set.View(values[set.Key], World{Base: "https://p.example", Folder: folder}))
		fits(t, set.Key+" without a value", set.Shape(), set.View(nil, World{}))
		fits(t, set.Key+" without its assets", set.Shape(), set.View(values[set.Key], World{}))
	}
	photo := s.Get("photo").View(values["photo"], World{Base: "https://p.example", Folder: folder}).(map[string]any)
	assert.Equal(t, shape.Link("https://p.example/a/"+strings.Repeat("ab", 32)+"/boat-800.jpg"), photo["address"])
	score := s.Get("score")
	for stored, want := range map[string]bool{`{"value": 0, "best": 10}`: true, `{"best": 5}`: false, `null`: false} {
		var value any
		require.NoError(t, json.Unmarshal([]byte(stored), &value))
		assert.Equal(t, want, score.View(value, World{}).(map[string]any)["shown"], "0 is a rating, nothing is none")
	}
	said := s.Get("said").View(values["said"], World{}).([]any)[0].(map[string]any)
	assert.Equal(t, "Runa", said["author"].(map[string]any)["name"])
	assert.NotContains(t, said, "tags", "a widget gets the fields that it asks for")
}

func fits(t *testing.T, at string, want *shape.Type, value any) {
	switch want.Kind {
	case shape.ObjectKind:
		m, ok := value.(map[string]any)
		if assert.True(t, ok, "%s is %T", at, value) {
			assert.Len(t, m, len(want.Fields), at)
			for name, field := range want.Fields {
				fits(t, at+"."+name, field, m[name])
			}
		}
	case shape.ListKind:
		list, ok := value.([]any)
		assert.True(t, ok, "%s is %T", at, value)
		for _, e := range list {
			fits(t, at+"[]", want.Element, e)
		}
	default:
		assert.IsType(t, want.Zero(), value, at)
		if want.Of != nil && value != "" {
			assert.Contains(t, want.Of, value, at)
		}
	}
}

// What people are told of a setting's values is true of it: everything named is taken.
func TestAllows(t *testing.T) {
	s := schema(t)
	for key, want := range map[string]string{
		"title": "2 to 5 characters", "link": "an address", "shown": "true, false", "layout": "row, stack", "parts": "any of ",
		"level": "1, 2, 3, 4, 5, 6, none", "align": "start, ", "more": `as in {"address": `, "when": "as in 2027-03-01T18:00[Europe/Berlin]", "typeface": "book, ",
		"cards": " items of title, ", "pause": "seconds, as in PT8S", "mark": "as in star",
	} {
		assert.Contains(t, s.Get(key).Allows(), want, key)
	}
	assert.Equal(t, "from 8 to 40px, or inherit", (&Setting{Type: "number", Unit: "px", Minimum: ptr(8), Maximum: ptr(40), Inherit: "font-size"}).Allows())
	for _, set := range s.Settings {
		assert.NotEmpty(t, set.Allows(), set.Key)
		for _, o := range set.Options {
			_, faults := s.CheckJSON([]byte(`{"` + set.Key + `": "` + o.Value + `"}`))
			assert.Equal(t, set.Type == "choices", len(faults) > 0, "%s %s", set.Key, o.Value)
			assert.Contains(t, set.Allows(), o.Value)
		}
	}
}

// A text that is wrong in very many places gets so many faults and no more.
func TestFaultsAreBounded(t *testing.T) {
	s := schema(t)
	for name, text := range map[string]string{
		"settings": `{` + strings.TrimSuffix(strings.Repeat(`"x%d": 1, `, 5000), ", ") + `}`,
		"small":    `{"small": {` + strings.TrimSuffix(strings.Repeat(`"x%d": 1, `, 5000), ", ") + `}}`,
		"choices":  `{"parts": [` + strings.TrimSuffix(strings.Repeat(`"x%d", `, 5000), ", ") + `]}`,
		"fields":   `{"cards": [{` + strings.TrimSuffix(strings.Repeat(`"x%d": 1, `, 5000), ", ") + `}]}`,
	} {
		numbers := make([]any, 5000)
		for i := range numbers {
			numbers[i] = i
		}
		_, faults := s.CheckJSON(fmt.Appendf(nil, text, numbers...))
		assert.Len(t, faults, fault.Most, name)
	}
}

func ptr(n float64) *float64 { return &n }

// An item keeps its id when the list around it changes, and the same list read twice gives
// the same ids.
func TestItemIDs(t *testing.T) {
	s := schema(t)
	read := func(text string) []any {
		values, faults := s.CheckJSON([]byte(text))
		require.Empty(t, faults)
		return values["cards"].([]any)
	}
	id := func(item any) string { return item.(map[string]any)["id"].(string) }
	list := read(`{"cards": [{"title": "One"}, {"title": "Two"}, {"title": "One"}]}`)
	assert.Equal(t, list, read(`{"cards": [{"title": "One"}, {"title": "Two"}, {"title": "One"}]}`))
	assert.Len(t, map[string]bool{id(list[0]): true, id(list[1]): true, id(list[2]): true}, 3)
	moved, _ := json.Marshal(map[string]any{"cards": []any{list[1], map[string]any{"title": "New"}, list[0]}})
	again := read(string(moved))
	assert.Equal(t, []string{id(list[1]), id(list[0])}, []string{id(again[0]), id(again[2])})
}

func TestSchemaFaults(t *testing.T) {
	one := func(property string) string {
		return `{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {` + "\n" + property + `}}`
	}
	for _, c := range []struct {
		name, in string
		codes    []fault.Code
		column   int // of the first fault, on line 2
	}{
		{"no glass", one(`"a": {"type": "string", "default": ""}`), []fault.Code{fault.KeyMissing}, 6},
		{"unknown type", one(`"a": {"type": "string", "default": "", "glass": {"type": "txt", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 58},
		{"wrong JSON type", one(`"a": {"type": "string", "default": "", "glass": {"type": "switch", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 15},
		{"no default", one(`"a": {"type": "boolean", "glass": {"type": "switch", "label": {"en": "A"}}}`), []fault.Code{fault.NoDefault}, 6},
		{"default out of range", one(`"a": {"type": "number", "maximum": 1, "default": 2, "glass": {"type": "number", "label": {"en": "A"}}}`), []fault.Code{fault.ValueRange}, 50},
		{"bad key", one(`"A-b": {"type": "boolean", "default": true, "glass": {"type": "switch", "label": {"en": "A"}}}`), []fault.Code{fault.BadName}, 1},
		{"misspelt keyword", one(`"a": {"type": "number", "maximun": 1, "default": 2, "glass": {"type": "number", "label": {"en": "A"}}}`), []fault.Code{fault.KeyUnknown}, 25},
		{"misspelt annotation", one(`"a": {"type": "number", "default": 2, "glass": {"type": "number", "lable": {"en": "A"}}}`), []fault.Code{fault.KeyUnknown, fault.KeyMissing}, 67},
		{"slider without ends", one(`"a": {"type": "number", "default": 2, "glass": {"type": "number", "control": "slider", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 6},
		{"option without label", one(`"a": {"type": "string", "enum": ["x"], "default": "x", "glass": {"type": "choice", "label": {"en": "A"}}}`), []fault.Code{fault.KeyMissing}, 34},
		{"look of a text", one(`"a": {"type": "string", "default": "", "glass": {"type": "text", "look": true, "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 74},
		{"an empty text is not a URI", one(`"a": {"type": "string", "format": "uri", "default": "", "glass": {"type": "text", "label": {"en": "A"}}}`), []fault.Code{fault.ValueLink}, 53},
		{"a list of types", one(`"a": {"type": ["number", "string"], "default": 2, "glass": {"type": "number", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 15},
		{"a type that does not inherit", one(`"a": {"type": ["number", "string"], "default": 2, "glass": {"type": "number", "look": true, "inherit": "padding", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 104},
		{"inherit without its schema type", one(`"a": {"type": "number", "default": 2, "glass": {"type": "number", "look": true, "inherit": "font-size", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 15},
		{"small within a list", one(`"a": {"type": "array", "default": [], "items": {"type": "object", "properties": {"b": {"type": "string", "default": "", "glass": {"type": "text", "small": true, "label": {"en": "B"}}}}}, "glass": {"type": "list", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 156},
		{"a key that another type has", one(`"a": {"type": "number", "default": 2, "glass": {"type": "number", "units": ["px"], "label": {"en": "A"}}}`), []fault.Code{fault.KeyUnknown}, 67},
		{"a reserved word", one(`"small": {"type": "number", "default": 2, "glass": {"type": "number", "label": {"en": "A"}}}`), []fault.Code{fault.BadName}, 1},
		{"a reference elsewhere", one(`"a": {"$ref": "https://a.example/x.json"}`), []fault.Code{fault.SchemaUnusable}, 15},
		{"a group in itself", one(`"a": {"type": "array", "default": [], "items": {"$ref": "#/properties/a"}, "glass": {"type": "list", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable, fault.SchemaUnusable}, 57},
		{"a list in a list", one(`"a": {"type": "array", "default": [], "items": {"type": "object", "properties": {"b": {"type": "array", "default": [], "items": {"type": "object", "properties": {}}, "glass": {"type": "list", "label": {"en": "B"}}}}}, "glass": {"type": "list", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 185},
		{"a list of nothing", one(`"a": {"type": "array", "default": [], "items": {"type": "string"}, "glass": {"type": "list", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 48},
		{"look within a list", one(`"a": {"type": "array", "default": [], "items": {"type": "object", "properties": {"b": {"type": "string", "default": "#000000", "glass": {"type": "colour", "look": true, "label": {"en": "B"}}}}}, "glass": {"type": "list", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 164},
		{"items without a kind", one(`"a": {"type": "array", "default": [], "glass": {"type": "items", "fields": ["title"], "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 48},
		{"items with a field that none has", one(`"a": {"type": "array", "default": [], "glass": {"type": "items", "kind": "card", "fields": ["titel"], "label": {"en": "A"}}}`), []fault.Code{fault.SettingUnknown}, 93},
		{"images without images", one(`"a": {"type": "string", "enum": ["x"], "default": "x", "glass": {"type": "choice", "control": "images", "label": {"en": "A"}, "options": {"x": {"en": "X"}}}}`), []fault.Code{fault.KeyMissing}, 95},
		{"on no colour", one(`"a": {"type": "string", "default": "#000000", "glass": {"type": "colour", "look": true, "on": "b", "label": {"en": "A"}}}`), []fault.Code{fault.SettingUnknown}, 95},
		{"a heading level that there is not", one(`"a": {"type": "string", "enum": ["2", "7"], "default": "2", "glass": {"type": "heading", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaUnusable}, 39},
		{"a default that the enum leaves out", one(`"a": {"type": "string", "enum": ["2", "3"], "default": "none", "glass": {"type": "heading", "label": {"en": "A"}}}`), []fault.Code{fault.ValueChoice}, 56},
		{"a default asset that is not there", one(`"a": {"type": "object", "default": {"asset": "assets/x.jpg"}, "glass": {"type": "image", "label": {"en": "A"}}}`), []fault.Code{fault.ValueAsset}, 46},
		{"not JSON Schema", one(`"a": {"type": "string", "maxLength": -3, "default": "", "glass": {"type": "text", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaInvalid, fault.SchemaUnusable, fault.ValueLength}, 38},
		{"label without language", one(`"a": {"type": "string", "default": "", "glass": {"type": "text", "label": {"english": "A"}}}`), []fault.Code{fault.BadLanguage}, 76},
	} {
		t.Run(c.name, func(t *testing.T) {
			_, faults := ReadSchema([]byte(c.in), nil)
			var codes []fault.Code
			for _, f := range faults {
				codes = append(codes, f.Code)
			}
			require.Equal(t, c.codes, codes, fmt.Sprint(faults))
			assert.Equal(t, [2]int{2, c.column}, [2]int{faults[0].Line, faults[0].Column}, faults[0].String())
		})
	}
}

// A stored release can name the images of a choice's options by their earlier key.
func TestStoredImages(t *testing.T) {
	stored := strings.NewReplacer(`"control": "images"`, `"control": "pictures"`, `"images": {`, `"pictures": {`).Replace(string(allTypes))
	require.NotEqual(t, string(allTypes), stored)
	schema, faults := ReadSchema([]byte(stored), folder)
	require.Empty(t, faults)
	assert.Equal(t, "images", schema.Get("layout").Control)
	assert.Equal(t, "assets/boat.jpg", schema.Get("layout").Options[0].Image)
}

func TestSchemaNeverLoads(t *testing.T) {
	_, faults := ReadSchema([]byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {"a": {"$ref": "http://127.0.0.1:1/x.json", "glass": {"type": "text", "label": {"en": "A"}}}}}`), nil)
	require.NotEmpty(t, faults)
}

func FuzzReadSchema(f *testing.F) {
	f.Add(allTypes)
	f.Add([]byte(`{"properties": {"a": {"glass": {}}}}`))
	f.Add([]byte(`{"$schema": 1, "required": [1], "glass": {"groups": [1]}}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		s, faults := ReadSchema(text, nil)
		if len(faults) > 0 || s == nil {
			return
		}
		// What is taken without faults has a checked default or is required, for each setting.
		_, missing := s.Complete(Values{})
		for _, m := range missing {
			assert.True(t, s.Get(m.Field).Required)
		}
	})
}

// FuzzCheck holds that canonical values stay as they are when they are checked again.
func FuzzCheck(f *testing.F) {
	s := schema(f)
	f.Add([]byte(`{"title": "abc", "when": "2027-10-31T02:30+01:00[Europe/Berlin]", "corner": 2.50, "mainAccent": "#ABC"}`))
	f.Add([]byte(`{"note": "a\r\nb", "link": "tel:1"}`))
	f.Add([]byte(`{"cards": [{"id": "a", "title": "x"}, {"title": "y"}], "small": {"corner": 2}, "fill": {"angle": 9, "stops": [{"colour": "#000", "at": 0}, {"colour": "#fff", "at": 100}]}}`))
	f.Add([]byte(`{"said": [{"id": "b", "author": {"name": "Runa"}, "text": "a\r\nb", "at": "2026-01-02T03:04+01:00", "rating": {"value": 4.50, "best": 5}, "tags": [" a ", "a"], "kind": "review", "media": [], "reply": {"text": "c"}}]}`))
	f.Add([]byte(`{"story": "<p>a<b>b</b><a href='/x'>c</a></p>", "price": {"amount": 5, "currency": "EUR"}, "more": {"address": "/a", "target": "new"}, "photo": {"asset": ""}}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		values, _ := s.CheckJSON(text)
		if values == nil {
			return
		}
		written, err := json.Marshal(values)
		require.NoError(t, err)
		again, faults := s.CheckJSON(written)
		require.Empty(t, faults, string(written))
		require.Equal(t, len(values), len(again))
		for k, v := range values {
			require.Equal(t, v, again[k])
		}
	})
}

func TestFromText(t *testing.T) {
	s := schema(t)
	for _, c := range [][3]string{{"title", "12", `"12"`}, {"corner", "2.5", "2.5"}, {"corner", "wide", `"wide"`}, {"shown", "off", "false"}, {"mainAccent", "#abc", `"#abc"`}} {
		assert.Equal(t, c[2], string(s.Get(c[0]).FromText(c[1])))
	}
	doc, _ := jsondoc.Read([]byte(`{"when": "P1D[UTC]"}`))
	values, faults := s.CheckSample(doc, time.Unix(0, 0))
	require.Empty(t, faults)
	assert.Equal(t, "1970-01-02T00:00:00[UTC]", values["when"])
}

// What a page gives is checked as any value is, and counts on small screens too.
func TestGiven(t *testing.T) {
	s := schema(t)
	for _, c := range []struct {
		key, text string
		want      any
	}{
		{"title", `"<b>`, `"<b>`}, {"corner", "2.5", 2.5}, {"corner", "900", nil}, {"corner", "wide", nil}, {"shown", "false", false}, {"shown", "never", nil},
		{"mainAccent", "#ABC", "#aabbcc"}, {"mainAccent", "red;x", nil}, {"title", "\x00", nil}, {"corner", "", nil}, {"corner", "null", nil},
	} {
		value, faults := s.Get(c.key).Given(c.text)
		assert.Equal(t, c.want, value, c.text)
		assert.Equal(t, c.want == nil, len(faults) == 1, c.text)
	}
	own := Values{"title": "x", "corner": 4.0, SmallKey: map[string]any{"corner": 2.0, "gap": 1.0}}
	assert.Equal(t, Values{"title": "x", "corner": 9.0, SmallKey: map[string]any{"gap": 1.0}}, own.Give(Values{"corner": 9.0}))
	assert.Equal(t, Values{"title": "x", "corner": 4.0, SmallKey: map[string]any{"corner": 2.0, "gap": 1.0}}, own, "the pocket's own stay")
}

// A setting that does not matter needs no value, and a view still sees one of its type.
func TestWhen(t *testing.T) {
	const src = `{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "required": ["day", "far"], "properties": {
		"kind": {"type": "string", "enum": ["a", "b", "c"], "default": "a", "glass": {"type": "choice", "label": {"en": "K"}, "options": {"a": {"en": "A"}, "b": {"en": "B"}, "c": {"en": "C"}}}},
		"day": {"type": "string", "glass": {"type": "moment", "when": {"kind": ["b", "c"]}, "label": {"en": "D"}}},
		"far": {"type": "number", "glass": {"type": "number", "when": {"kind": "c"}, "label": {"en": "F"}}}}}`
	schema, faults := ReadSchema([]byte(src), nil)
	require.Empty(t, faults)
	for kind, missing := range map[string]int{"a": 0, "b": 1, "c": 2} {
		full, faults := schema.Complete(Values{"kind": kind})
		assert.Len(t, faults, missing, kind)
		assert.Equal(t, map[string]any{"at": 0.0, "utc": "", "local": "", "zone": ""}, schema.Get("day").View(full["day"], World{}))
		assert.Equal(t, 0.0, schema.Get("far").View(full["far"], World{}))
	}
	onSmall, faults := ReadSchema([]byte(strings.Replace(src, `"type": "choice"`, `"type": "choice", "small": true`, 1)), nil)
	require.Empty(t, faults)
	full, faults := onSmall.Complete(Values{"kind": "a", "small": map[string]any{"kind": "b"}})
	require.Len(t, faults, 1, "what is needed on small screens only is needed")
	assert.Equal(t, `On small screens "D" (day) has no value.`, faults[0].What)
	assert.Equal(t, "b", full.OnSmall()["kind"])
	for _, c := range []struct{ old, new, what string }{
		{`{"kind": "c"}`, `{"kimd": "c"}`, "is not a setting"},
		{`{"kind": "c"}`, `{"kind": "d"}`, "a value that is not possible"},
		{`{"kind": "c"}`, `{"day": "2027-03-01T18:00[UTC]"}`, "which has a \"when\" of its own"},
	} {
		_, faults := ReadSchema([]byte(strings.Replace(src, c.old, c.new, 1)), nil)
		require.Len(t, faults, 1, c.new)
		assert.Contains(t, faults[0].What, c.what)
		assert.Equal(t, 4, faults[0].Line)
	}
}
