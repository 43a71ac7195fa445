package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// A preview shows the draft, or what is typed, or a publication, in any conditions, and
// leaves all of them as they are.
func TestPreview(t *testing.T) {
	w, key, _ := withCards(t)
	see := func(ask pocket.Preview) pocket.Previewed {
		t.Helper()
		out, err := w.Pockets.Preview(ctx, kelpEditor, key, ask)
		require.NoError(t, err)
		return out
	}
	cards := func(ask pocket.Preview) int { return strings.Count(see(ask).Markup, `class="card"`) }
	in := func(c pocket.Conditions) pocket.Preview { return pocket.Preview{In: c} }
	assert.Equal(t, 1, cards(pocket.Preview{}))
	assert.Equal(t, 0, cards(in(pocket.Conditions{Content: setting.NoItems})))
	assert.Equal(t, 1, cards(in(pocket.Conditions{Content: setting.OneItem})))
	assert.Equal(t, 40, cards(in(pocket.Conditions{Content: setting.ManyItems})), "as many as it takes")
	assert.Contains(t, see(in(pocket.Conditions{Content: setting.LongWords})).Markup, "Windgeschwindigkeitsmess")
	assert.Equal(t, 2, cards(pocket.Preview{Settings: []byte(`{"cards": [{"title": "One"}, {"title": "Two"}]}`)}))
	german := see(in(pocket.Conditions{Language: "de"}))
	assert.Equal(t, [2]string{"de", "ltr"}, [2]string{german.Language, german.Direction})
	assert.Contains(t, german.Markup, "1 Karte")
	arabic := see(in(pocket.Conditions{Language: "ar"}))
	assert.Equal(t, "rtl", arabic.Direction)
	assert.Equal(t, "rtl", see(in(pocket.Conditions{Turned: true})).Direction)
	assert.Equal(t, w.clock.UnixMilli(), see(pocket.Preview{}).Built)
	then := see(in(pocket.Conditions{Moment: "2027-10-31T02:30+01:00[Europe/Berlin]"}))
	assert.Equal(t, time.Date(2027, 10, 31, 1, 30, 0, 0, time.UTC).UnixMilli(), then.Built)
	// Each element of the widget's view says which part of the view wrote it.
	out := see(pocket.Preview{})
	assert.NotEmpty(t, out.Parts)
	assert.Contains(t, out.Markup, "data-glass-part=")

	_, err := w.Publishing.Publish(ctx, operator, key, publish.Draft{})
	require.NoError(t, err)
	w.set(t, key, `{"cards": [], "accent": "#654321"}`)
	assert.Equal(t, 0, cards(pocket.Preview{}))
	assert.Equal(t, 1, cards(pocket.Preview{Number: 1}), "what visitors get")
	assert.Equal(t, "#123456", see(pocket.Preview{Number: 1}).Look.Properties["--accent"])
	assert.NotContains(t, w.markup(t, key), "data-glass-part", "visitors get no marks")
	p, err := w.Pockets.Get(ctx, operator, key)
	require.NoError(t, err)
	assert.Equal(t, [2]any{3, 1}, [2]any{p.Revision, p.Publication})

	for field, c := range map[string]pocket.Conditions{
		"width":    {Width: 100},
		"page":     {Page: "moon"},
		"content":  {Content: "plenty"},
		"visitor":  {Visitor: "old"},
		"language": {Language: "tlh"},
		"moment":   {Moment: "2027-02-30T10:00[UTC]"},
	} {
		_, err := w.Pockets.Preview(ctx, kelpEditor, key, in(c))
		refused := refusal(t, err)
		assert.Equal(t, [2]string{"conditions-faulty", field}, [2]string{refused.Code, refused.Field})
		assert.NotEmpty(t, refused.Hint)
		assert.Equal(t, "conditions-faulty", refusal(t, w.Pockets.SaveCase(ctx, kelpEditor, key, pocket.Case{Name: "x", Conditions: c})).Code)
	}
	_, err = w.Pockets.Preview(ctx, kelpEditor, key, pocket.Preview{Settings: []byte(`{"accent": 3, "cards": [{"title": 4}]}`)})
	var fields []string
	for _, f := range refusal(t, err).Faults {
		fields = append(fields, f.Field)
	}
	assert.Equal(t, []string{"accent", "cards/0/title"}, fields, "the wrong type is told for each")
	branded := pocket.Preview{Settings: []byte(`{"accent": {"brand": "accent"}}`), Brand: setting.Brand{{Name: "accent", Type: "colour", Value: "#aa0000"}}}
	assert.Equal(t, "#aa0000", see(branded).Look.Properties["--accent"], "as a brand would make it that is not saved")
	branded.Brand[0].Value = map[string]any{"asset": 3}
	_, err = w.Pockets.Preview(ctx, kelpEditor, key, branded)
	assert.Equal(t, "brand-faulty", refusal(t, err).Code)
	_, err = w.Pockets.Preview(ctx, kelpEditor, key, pocket.Preview{Number: 9})
	assert.Equal(t, problem.NotFound, refusal(t, err).Kind)
}

// Cases are kept with their pocket by name, and no more than can be looked at.
func TestPreviewCases(t *testing.T) {
	w := newWorld(t)
	const key = "kelp-pocket"
	save := func(name string, c pocket.Conditions) error {
		return w.Pockets.SaveCase(ctx, kelpEditor, key, pocket.Case{Name: name, Conditions: c})
	}
	require.NoError(t, save(" Last ten seconds ", pocket.Conditions{Moment: "2027-04-01T08:59:50[UTC]"}))
	require.NoError(t, save("Last ten seconds", pocket.Conditions{Moment: "2027-04-01T08:59:50[UTC]", Frozen: true}))
	list, err := w.Pockets.Cases(ctx, kelpEditor, key)
	require.NoError(t, err)
	assert.Equal(t, []pocket.Case{{Name: "Last ten seconds", Conditions: pocket.Conditions{Moment: "2027-04-01T08:59:50[UTC]", Frozen: true}}}, list, "in place of the one before")
	for _, name := range []string{"", "  ", strings.Repeat("x", 61), "a\x07b"} {
		require.Error(t, save(name, pocket.Conditions{}), "%q", name)
	}
	for i := range pocket.CasesMost - 1 {
		require.NoError(t, save("Case "+strings.Repeat("i", i+1), pocket.Conditions{Width: 300 + i}))
	}
	assert.Equal(t, "too-many-cases", refusal(t, save("One more", pocket.Conditions{})).Code)
	require.NoError(t, save("Last ten seconds", pocket.Conditions{}), "one that is there can still change")
	viewer := kelpEditor
	viewer.Role = access.CustomerViewer
	assert.Equal(t, problem.Forbidden, refusal(t, w.Pockets.SaveCase(ctx, viewer, key, pocket.Case{Name: "x"})).Kind)
	require.NoError(t, w.Pockets.DeleteCase(ctx, kelpEditor, key, "Last ten seconds"))
	assert.Equal(t, "case-not-found", refusal(t, w.Pockets.DeleteCase(ctx, kelpEditor, key, "Last ten seconds")).Code)
	p, err := w.Files.Duplicate(ctx, operator, key, "ferry", "")
	require.NoError(t, err)
	copied, err := w.Pockets.Cases(ctx, operator, p.Key)
	require.NoError(t, err)
	assert.Len(t, copied, pocket.CasesMost-1, "a copy has them too")
}
