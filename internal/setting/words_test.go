package setting

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/message"
)

// Values are said as people read them, not as files hold them.
func TestInWords(t *testing.T) {
	of := func(kind string) *Setting { return &Setting{Key: "k", Type: kind} }
	choice := of("choice")
	choice.Options = []Option{{Value: "line", Label: message.Words{"en": "On one line", "de": "In einer Zeile"}}}
	several := of("choices")
	several.Options = choice.Options
	gap := of("number")
	gap.Unit = "px"
	share := of("number")
	share.Unit = "%"
	inherits := of("font")
	inherits.Inherit = "font-family"
	for name, c := range map[string]struct {
		of    *Setting
		value any
		want  string
	}{
		"nothing":         {of("text"), nil, ""},
		"an empty text":   {of("text"), "", ""},
		"text":            {of("text"), " Open\n again ", "Open again"},
		"a long text":     {of("text"), strings.Repeat("ä", 200), strings.Repeat("ä", wordsMost-1) + "…"},
		"on":              {of("switch"), true, "on"},
		"off":             {of("switch"), false, "off"},
		"a choice":        {choice, "line", "On one line"},
		"a choice gone":   {choice, "ring", "ring"},
		"choices":         {several, []any{"line", "ring"}, "On one line, ring"},
		"pixels":          {gap, 12.5, "12.5 px"},
		"per cent":        {share, 40.0, "40%"},
		"a date and time": {of("moment"), "2027-03-01T18:00[Europe/Berlin]", "1 March 2027, 18:00 (Europe/Berlin)"},
		"a date":          {of("date"), "2027-03-01", "1 March 2027"},
		"rich text":       {of("richText"), "<p>One <b>two</b></p><ul><li>three</li></ul>", "One two three"},
		"an image":        {of("image"), map[string]any{"asset": digest, "alt": "A kiln"}, "A kiln"},
		"without words":   {of("image"), map[string]any{"asset": digest, "alt": ""}, digest[:12] + "…"},
		"no image":        {of("image"), map[string]any{}, "none"},
		"a font uploaded": {of("font"), digest, "an uploaded font"},
		"as the page":     {inherits, Inherited, "same as the page"},
		"of the brand":    {of("colour"), BrandRef("accent"), "the brand's accent"},
		"a link":          {of("link"), map[string]any{"address": "https://kelp.example/", "newTab": true}, "https://kelp.example/"},
		"a rating":        {of("rating"), map[string]any{"value": 4.5, "best": 5.0}, "4.5 of 5"},
		"no rating":       {of("rating"), map[string]any{"best": 5.0}, ""},
		"one item":        {of("list"), []any{map[string]any{}}, "1 item"},
		"no items":        {of("list"), []any{}, "0 items"},
		"a border":        {of("border"), map[string]any{"width": 2.0, "style": "solid", "colour": "#111111"}, "2 px solid, #111111"},
		"a gradient":      {of("gradient"), map[string]any{"angle": 90.0, "stops": []any{map[string]any{"colour": "#111111"}, map[string]any{"colour": "#222222"}}}, "#111111 to #222222, 90°"},
	} {
		assert.Equal(t, c.want, c.of.InWords(c.value, "en"), name)
	}
	assert.Equal(t, "In einer Zeile", choice.InWords("line", "de"))
}

// Hours that a change of clocks skips or repeats are told, with the instant that is meant.
func TestOddMoments(t *testing.T) {
	for text, c := range map[string]struct{ at, odd string }{
		"2027-03-01T18:00[Europe/Berlin]":       {"2027-03-01T17:00Z", ""},
		"2027-03-28T02:30[Europe/Berlin]":       {"2027-03-28T01:30Z", "02:30 does not exist in Europe/Berlin, because the clocks go forward then. The service uses 03:30."},
		"2027-03-28T02:00[Europe/Berlin]":       {"2027-03-28T01:00Z", "02:00 does not exist in Europe/Berlin, because the clocks go forward then. The service uses 03:00."},
		"2027-03-28T03:00[Europe/Berlin]":       {"2027-03-28T01:00Z", ""},
		"2027-10-31T02:30[Europe/Berlin]":       {"2027-10-31T00:30Z", "02:30 happens twice in Europe/Berlin that night. The service uses the first. For the second, write 2027-10-31T02:30+01:00[Europe/Berlin]."},
		"2027-10-31T02:30+02:00[Europe/Berlin]": {"2027-10-31T00:30Z", ""},
		"2027-10-31T02:30+01:00[Europe/Berlin]": {"2027-10-31T01:30Z", ""},
		"2027-10-31T03:00[Europe/Berlin]":       {"2027-10-31T02:00Z", ""},
		"2027-04-04T01:45[Australia/Lord_Howe]": {"2027-04-03T14:45Z", "01:45 happens twice in Australia/Lord_Howe that night. The service uses the first. For the second, write 2027-04-04T01:45+10:30[Australia/Lord_Howe]."},
		"2027-10-31T02:30[UTC]":                 {"2027-10-31T02:30Z", ""},
	} {
		m, f := ReadMoment(text)
		require.Nil(t, f, text)
		assert.Equal(t, c.at, m.At.UTC().Format("2006-01-02T15:04Z"), text)
		assert.Equal(t, c.odd, m.Odd(), text)
	}
	for text, what := range map[string]string{
		"":                                      "is not a date and time with a time zone",
		"2027-03-01T18:00":                      "is not a date and time with a time zone",
		"2027-02-30T18:00[UTC]":                 "is not on the calendar",
		"1927-02-03T18:00[UTC]":                 "The year 1927 is outside the supported range.",
		"2027-03-01T18:00[Marrow/Kelp]":         "Marrow/Kelp",
		"2027-03-01T18:00+05:00[Europe/Berlin]": "The offset +05:00 is wrong for Europe/Berlin at that time.",
	} {
		_, f := ReadMoment(text)
		require.NotNil(t, f, text)
		assert.Contains(t, f.What, what)
		assert.NotEmpty(t, f.Fix)
	}
	assert.Nil(t, CheckZone("Europe/Berlin"))
	for _, zone := range []string{"", "Local", "Berlin", "../etc/passwd", "europe/berlin "} {
		assert.NotNil(t, CheckZone(zone), zone)
	}
}
