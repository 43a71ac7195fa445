package setting

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/jsondoc"
)

var digest = strings.Repeat("ab", 32)

func brandOf(t *testing.T, text string) Brand {
	t.Helper()
	doc, faults := jsondoc.Read([]byte(text))
	require.Empty(t, faults)
	brand, faults := CheckBrand(doc)
	require.Empty(t, faults)
	return brand
}

// A brand says what is wrong with it by the place of the value, and takes the sound ones.
func TestCheckBrand(t *testing.T) {
	for name, c := range map[string]struct{ text, field, what string }{
		"no list":             {`{"accent": "#123456"}`, "values", "A brand is a list of values."},
		"no name":             {`[{"type": "colour", "value": "#123456"}]`, "0/name", ""},
		"a name that is none": {`[{"name": "Big Blue", "type": "colour", "value": "#123456"}]`, "0/name", `"Big Blue" is not a valid name for a brand value.`},
		"a type that is none": {`[{"name": "gap", "type": "length", "value": "2px"}]`, "0/type", `A brand value cannot have the type "length".`},
		"another's type":      {`[{"name": "accent", "type": "font", "value": "serif"}]`, "0/type", `The brand value "accent" has the type colour.`},
		"twice":               {`[{"name": "tide", "type": "colour", "value": "#123456"}, {"name": "tide", "type": "colour", "value": "#654321"}]`, "1/name", `The name "tide" is used twice.`},
		"no colour":           {`[{"name": "ink", "type": "colour", "value": "blueish"}]`, "0/value", ""},
		"no value":            {`[{"name": "ink", "type": "colour"}]`, "0/value", ""},
		"a long label":        {`[{"name": "ink", "type": "colour", "value": "#123456", "label": "` + strings.Repeat("x", 61) + `"}]`, "0/label", ""},
		"a widget's own file": {`[{"name": "logo", "type": "image", "value": {"asset": "assets/logo.png", "alt": ""}}]`, "0/value", ""},
		"a key more":          {`[{"name": "ink", "type": "colour", "value": "#123456", "shade": 3}]`, "0/shade", ""},
		"a brand of a brand":  {`[{"name": "ink", "type": "colour", "value": {"brand": "accent"}}]`, "0/value", ""},
		"far too many":        {"[" + strings.Repeat("0,", BrandMost) + "0]", "values", "A brand can have at most 40 values."},
	} {
		t.Run(name, func(t *testing.T) {
			doc, _ := jsondoc.Read([]byte(c.text))
			_, faults := CheckBrand(doc)
			require.Len(t, faults, 1)
			assert.Equal(t, c.field, faults[0].Field)
			assert.Contains(t, faults[0].What, c.what)
			assert.NotEmpty(t, faults[0].What)
			assert.NotEmpty(t, faults[0].Fix, "says what to do")
		})
	}
	brand := brandOf(t, `[{"name": "accent", "type": "colour", "value": "#0b6b63"}, {"name": "sea", "type": "colour", "value": "#123456", "label": "Sea at night"}, {"name": "heading", "type": "font", "value": "`+digest+`"}, {"name": "logo", "type": "image", "value": {"asset": "`+digest+`", "alt": "A kiln"}}]`)
	assert.Equal(t, []string{"Accent", "Sea at night", "Headings", "Logo"}, []string{brand[0].Label, brand[1].Label, brand[2].Label, brand[3].Label})
	assert.Equal(t, []string{digest, digest}, brand.Assets())
	kept, _ := json.Marshal(brand)
	var again Brand
	require.NoError(t, json.Unmarshal(kept, &again))
	assert.Empty(t, brand.Differs(again), "what is kept is what was read")
	other := brandOf(t, `[{"name": "accent", "type": "colour", "value": "#0f766f"}, {"name": "sea", "type": "colour", "value": "#123456", "label": "Another label"}, {"name": "shore", "type": "colour", "value": "#fff"}]`)
	assert.ElementsMatch(t, []string{"accent", "heading", "logo", "shore"}, brand.Differs(other), "another label is no other look")
	assert.ElementsMatch(t, brand.Differs(other), other.Differs(brand))
}

func branding(t *testing.T) *Schema {
	colour := func(more string) string {
		return `{"type": "string", "default": "#111111", "glass": {"type": "colour", "small": true, "label": {"en": "C"}` + more + `}}`
	}
	s, faults := ReadSchema([]byte(`{"$schema": "`+Dialect+`", "type": "object", "properties": {
		"ink": `+colour(`, "brand": "ink"`)+`, "ground": `+colour(`, "brand": "ground"`)+`, "accent": `+colour(`, "brand": "accent"`)+`, "onAccent": `+colour(`, "brand": "onAccent"`)+`, "own": `+colour("")+`,
		"heading": {"type": "string", "default": "", "glass": {"type": "text", "label": {"en": "H"}}},
		"rows": {"type": "array", "maxItems": 9, "default": [], "items": {"type": "object", "properties": {"tint": {"type": "string", "default": "#222222", "glass": {"type": "colour", "label": {"en": "T"}}}}}, "glass": {"type": "list", "label": {"en": "R"}}}}}`), nil)
	require.Empty(t, faults)
	return s
}

// References are read wherever a colour can stand, found there again, and become what the brand
// has, or the setting's own default.
func TestReferencesToABrand(t *testing.T) {
	s := branding(t)
	values, faults := s.CheckJSON([]byte(`{"own": {"brand": "sea"}, "accent": "#333333", "rows": [{"id": "a", "tint": {"brand": "accent"}}, {"id": "b", "tint": "#444444"}, {"id": "c", "tint": {"brand": "gone"}}], "small": {"ink": {"brand": "ink"}}}`))
	require.Empty(t, faults)
	assert.Equal(t, []string{"accent", "gone", "ink", "sea"}, s.BrandUses(values))
	full := s.WithBrand(values, brandOf(t, `[{"name": "accent", "type": "colour", "value": "#0b6b63"}, {"name": "sea", "type": "colour", "value": "#123456"}, {"name": "ink", "type": "colour", "value": "#010203"}]`))
	got, _ := json.Marshal(full)
	assert.JSONEq(t, `{"own": "#123456", "accent": "#333333", "rows": [{"id": "a", "tint": "#0b6b63"}, {"id": "b", "tint": "#444444"}, {"id": "c", "tint": "#222222"}], "small": {"ink": "#010203"}}`, string(got))
	assert.Equal(t, []string{"accent", "gone", "ink", "sea"}, s.BrandUses(values), "and what referred still does")
	assert.Empty(t, s.BrandUses(full))
	plain := Values{"own": "#123456"}
	assert.Equal(t, plain, s.WithBrand(plain, nil))
	for text, field := range map[string]string{
		`{"heading": {"brand": "accent"}}`:       "heading", // a text is none of a brand
		`{"own": {"brand": "Big Blue"}}`:         "own/brand",
		`{"own": {"brand": 3}}`:                  "own/brand",
		`{"own": {"brand": "sea", "more": 1}}`:   "own",
		`{"rows": [{"tint": {"brand": "a b"}}]}`: "rows/0/tint/brand",
	} {
		_, faults := s.CheckJSON([]byte(text))
		require.NotEmpty(t, faults, text)
		assert.Equal(t, field, faults[0].Field, text)
	}
}

// What would be hard to read with only one of a pair starts from both or from neither.
func TestNewPocketsStartFromTheBrand(t *testing.T) {
	s := branding(t)
	ref := func(name string) string { return `"` + name + `": {"brand": "` + name + `"}` }
	one := func(name string) string { return `{"name": "` + name + `", "type": "colour", "value": "#123456"}` }
	for name, c := range map[string]struct {
		has  []string
		want []string
	}{
		"all":                    {[]string{"ink", "ground", "accent", "onAccent"}, []string{"ink", "ground", "accent", "onAccent"}},
		"accent alone":           {[]string{"accent"}, []string{"accent"}},
		"ink without ground":     {[]string{"ink", "accent"}, []string{"accent"}},
		"ground without ink":     {[]string{"ground"}, nil},
		"onAccent without it":    {[]string{"onAccent"}, nil},
		"what no setting starts": {[]string{"sea"}, nil},
	} {
		var values, want []string
		for _, n := range c.has {
			values = append(values, one(n))
		}
		for _, n := range c.want {
			want = append(want, ref(n))
		}
		got, _ := json.Marshal(s.Branded(Values{"heading": "Tide"}, brandOf(t, "["+strings.Join(values, ",")+"]")))
		assert.JSONEq(t, `{"heading": "Tide"`+strings.Join(append([]string{""}, want...), ",")+"}", string(got), name)
	}
}

// A brand never makes a starter hard to read: where what the starter keeps would be, its own
// colours stay, and what it leaves to the page is left to it.
func TestBrandStaysLegible(t *testing.T) {
	colour := func(of, on, more string) string {
		return `{"type": "string", "default": "#000000"` + more + `, "glass": {"type": "colour", "look": true, "label": {"en": "C"}, "brand": "` + of + `"` + on + `}}`
	}
	s, faults := ReadSchema([]byte(`{"$schema": "`+Dialect+`", "type": "object", "properties": {
		"surface": `+strings.Replace(colour("ground", "", ""), "#000000", "#ffffff", 1)+`, "ink": `+colour("ink", `, "on": "surface"`, "")+`, "accent": `+colour("accent", `, "on": "surface"`, "")+`,
		"soft": {"type": "string", "default": "#444444", "glass": {"type": "colour", "look": true, "label": {"en": "C"}, "on": "surface"}}}}`), nil)
	require.Empty(t, faults)
	day := `{"name": "ink", "type": "colour", "value": "#3b2417"}, {"name": "ground", "type": "colour", "value": "#fbf5ee"}`
	for name, c := range map[string]struct{ starter, brand, want string }{
		"by day":                 {`{}`, day, `{"ink": {"brand": "ink"}, "surface": {"brand": "ground"}}`},
		"a starter of the night": {`{"surface": "#131c33", "ink": "#f1f5ff", "soft": "#b7c3dd"}`, day, `{"surface": "#131c33", "ink": "#f1f5ff", "soft": "#b7c3dd"}`},
		"an accent that is pale": {`{}`, `{"name": "accent", "type": "colour", "value": "#ffe9a8"}`, `{}`},
		"pale, but for the night": {`{"surface": "#131c33", "ink": "#f1f5ff", "soft": "#b7c3dd", "accent": "#aebcf0"}`, `{"name": "accent", "type": "colour", "value": "#ffe9a8"}`,
			`{"surface": "#131c33", "ink": "#f1f5ff", "soft": "#b7c3dd", "accent": {"brand": "accent"}}`},
		"weak already": {`{"accent": "#eeeeee"}`, `{"name": "accent", "type": "colour", "value": "#bbbbbb"}`, `{"accent": {"brand": "accent"}}`},
	} {
		values, faults := s.CheckJSON([]byte(c.starter))
		require.Empty(t, faults, name)
		got, _ := json.Marshal(s.Branded(values, brandOf(t, "["+c.brand+"]")))
		assert.JSONEq(t, c.want, string(got), name)
	}
}
