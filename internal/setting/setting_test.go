package setting

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

const allTypes = `{
  "$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "required": ["when"],
  "properties": {
    "title":  {"type": "string", "minLength": 2, "maxLength": 5, "default": "abc", "glass": {"type": "text", "label": {"en": "T"}}},
    "note":   {"type": "string", "default": "", "glass": {"type": "text", "control": "lines", "label": {"en": "N"}}},
    "code":   {"type": "string", "pattern": "^[0-9]*$", "default": "", "glass": {"type": "text", "label": {"en": "C"}}},
    "link":   {"type": "string", "format": "uri", "default": "", "glass": {"type": "text", "label": {"en": "L"}}},
    "corner": {"type": "number", "minimum": 0, "maximum": 10, "multipleOf": 0.5, "default": 1.5, "glass": {"type": "number", "unit": "px", "look": true, "label": {"en": "N"}}},
    "shown":  {"type": "boolean", "default": true, "glass": {"type": "switch", "look": true, "label": {"en": "S"}}},
    "layout": {"type": "string", "enum": ["row", "stack"], "default": "row", "glass": {"type": "choice", "look": true, "label": {"en": "L"}, "options": {"row": {"en": "Row"}, "stack": {"en": "Stack"}}}},
    "mainAccent": {"type": "string", "default": "#0F766E", "glass": {"type": "colour", "look": true, "label": {"en": "A"}}},
    "when":   {"type": "string", "glass": {"type": "moment", "label": {"en": "W"}}}
  }
}`

func schema(t testing.TB) *Schema {
	s, faults := ReadSchema([]byte(allTypes))
	require.Empty(t, faults)
	return s
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
		{`"link": "tel:+49301"`, "tel:+49301"},
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
		{`"title": null`, nil},
	} {
		t.Run(c.in, func(t *testing.T) {
			values, faults := s.CheckJSON([]byte("{\n  " + c.in + "\n}"))
			if code, ok := c.want.(fault.Code); ok {
				require.Len(t, faults, 1)
				f := faults[0]
				assert.Equal(t, code, f.Code, f.What)
				assert.Equal(t, 2, f.Line)
				assert.NotEmpty(t, f.Mend)
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
	values, faults := s.Complete(Values{"when": "2027-03-01T18:00[UTC]", "corner": 2.5, "shown": false})
	require.Empty(t, faults)
	assert.Equal(t, Look{
		Properties: map[string]string{"--corner": "2.5px", "--main-accent": "#0f766e"},
		Attributes: map[string]string{"data-shown": "false", "data-layout": "row"},
	}, s.Look(values))
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
		{"not JSON Schema", one(`"a": {"type": "string", "maxLength": -3, "default": "", "glass": {"type": "text", "label": {"en": "A"}}}`), []fault.Code{fault.SchemaInvalid, fault.SchemaUnusable, fault.ValueLength}, 38},
		{"label without language", one(`"a": {"type": "string", "default": "", "glass": {"type": "text", "label": {"english": "A"}}}`), []fault.Code{fault.BadLanguage}, 76},
	} {
		t.Run(c.name, func(t *testing.T) {
			_, faults := ReadSchema([]byte(c.in))
			var codes []fault.Code
			for _, f := range faults {
				codes = append(codes, f.Code)
			}
			require.Equal(t, c.codes, codes, fmt.Sprint(faults))
			assert.Equal(t, [2]int{2, c.column}, [2]int{faults[0].Line, faults[0].Column}, faults[0].String())
		})
	}
}

func TestSchemaNeverLoads(t *testing.T) {
	_, faults := ReadSchema([]byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {"a": {"$ref": "http://127.0.0.1:1/x.json", "glass": {"type": "text", "label": {"en": "A"}}}}}`))
	require.NotEmpty(t, faults)
}

func FuzzReadSchema(f *testing.F) {
	f.Add([]byte(allTypes))
	f.Add([]byte(`{"properties": {"a": {"glass": {}}}}`))
	f.Add([]byte(`{"$schema": 1, "required": [1], "glass": {"groups": [1]}}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		s, faults := ReadSchema(text)
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

// A setting that does not matter needs no value, and a view still sees one of its type.
func TestWhen(t *testing.T) {
	const src = `{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "required": ["day", "far"], "properties": {
		"kind": {"type": "string", "enum": ["a", "b", "c"], "default": "a", "glass": {"type": "choice", "label": {"en": "K"}, "options": {"a": {"en": "A"}, "b": {"en": "B"}, "c": {"en": "C"}}}},
		"day": {"type": "string", "glass": {"type": "moment", "when": {"kind": ["b", "c"]}, "label": {"en": "D"}}},
		"far": {"type": "number", "glass": {"type": "number", "when": {"kind": "c"}, "label": {"en": "F"}}}}}`
	schema, faults := ReadSchema([]byte(src))
	require.Empty(t, faults)
	for kind, missing := range map[string]int{"a": 0, "b": 1, "c": 2} {
		full, faults := schema.Complete(Values{"kind": kind})
		assert.Len(t, faults, missing, kind)
		assert.Equal(t, map[string]any{"at": 0.0, "utc": "", "local": "", "zone": ""}, schema.Get("day").View(full["day"]))
		assert.Equal(t, 0.0, schema.Get("far").View(full["far"]))
	}
	for _, c := range []struct{ old, new, what string }{
		{`{"kind": "c"}`, `{"kimd": "c"}`, "is not a setting"},
		{`{"kind": "c"}`, `{"kind": "d"}`, "a value that cannot be"},
		{`{"kind": "c"}`, `{"day": "2027-03-01T18:00[UTC]"}`, "which has a \"when\" itself"},
	} {
		_, faults := ReadSchema([]byte(strings.Replace(src, c.old, c.new, 1)))
		require.Len(t, faults, 1, c.new)
		assert.Contains(t, faults[0].What, c.what)
		assert.Equal(t, 4, faults[0].Line)
	}
}
