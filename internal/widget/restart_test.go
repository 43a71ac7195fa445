package widget_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/bundle"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Going over to another starter replaces what the old one gave and keeps what was typed, there
// and back again.
func TestRestart(t *testing.T) {
	r, faults := widget.Read(shipped(t, "countdown"), bundle.Builder{})
	require.Empty(t, faults)
	values := func(text string) setting.Values {
		v, faults := r.Schema.CheckJSON([]byte(text))
		require.Empty(t, faults, text)
		return v
	}
	of := func(name string) setting.Values {
		s, ok := r.Starter(name)
		require.True(t, ok, name)
		return s.Settings
	}
	with := func(base setting.Values, more string) setting.Values {
		out := setting.Values{}
		for k, v := range base {
			out[k] = v
		}
		for k, v := range values(more) {
			out[k] = v
		}
		return out
	}
	const typed = `{"heading": "Tide turns", "target": "2027-04-01T09:00[UTC]", "accent": "#00ff00"}`
	for name, c := range map[string]struct {
		values   setting.Values
		from, to string
		take     []string
		want     setting.Values
	}{
		"nothing typed":          {of("harbour"), "harbour", "opening-night", nil, of("opening-night")},
		"from none":              {setting.Values{}, "", "harbour", nil, of("harbour")},
		"to none":                {of("harbour"), "harbour", "", nil, setting.Values{}},
		"typed stays":            {with(of("harbour"), typed), "harbour", "opening-night", nil, with(of("opening-night"), typed)},
		"but what is taken":      {with(of("harbour"), typed), "harbour", "opening-night", []string{"accent", "heading"}, with(of("opening-night"), `{"heading": "Tide turns", "target": "2027-04-01T09:00[UTC]"}`)},
		"on small screens":       {with(of("harbour"), `{"small": {"labels": false}}`), "harbour", "opening-night", nil, with(of("opening-night"), `{"small": {"labels": false}}`)},
		"to what it is already":  {with(of("harbour"), typed), "harbour", "harbour", nil, with(of("harbour"), typed)},
		"what it is not to take": {with(of("harbour"), typed), "harbour", "lantern", []string{"nothing"}, with(of("lantern"), typed)},
	} {
		t.Run(name, func(t *testing.T) {
			got := r.Restart(c.values, c.from, c.to, nil, c.take)
			want, _ := json.Marshal(c.want)
			is, _ := json.Marshal(got)
			assert.JSONEq(t, string(want), string(is))
			_, faults := r.Schema.CheckJSON(is)
			assert.Empty(t, faults, "what comes of it can be kept")
		})
	}
	full, faults := r.Schema.Complete(values(`{"target": "2027-04-01T09:00[UTC]"}`))
	require.Empty(t, faults)
	for key, v := range of("opening-night") {
		assert.Equal(t, v, r.Restart(full, "", "opening-night", nil, nil)[key], "a default was nobody's choice: %s", key)
	}
	// Through every starter and back: what was typed is there, nothing else is.
	now := with(of(r.Starters[0].Name), typed)
	for i := range r.Starters {
		now = r.Restart(now, r.Starters[i].Name, r.Starters[(i+1)%len(r.Starters)].Name, nil, nil)
		for key, v := range values(typed) {
			assert.Equal(t, v, now[key])
		}
	}
	want, _ := json.Marshal(with(of(r.Starters[0].Name), typed))
	is, _ := json.Marshal(now)
	assert.JSONEq(t, string(want), string(is))
	// What the brand gave with one starter it gives with the other; what was typed of it stays.
	brand := setting.Brand{{Name: "accent", Type: "colour", Value: "#9a4826"}, {Name: "ink", Type: "colour", Value: "#3b2417"}, {Name: "ground", Type: "colour", Value: "#fbf5ee"}, {Name: "glaze", Type: "colour", Value: "#7fa79a"}}
	began := r.Schema.Branded(of("harbour"), brand)
	is, _ = json.Marshal(r.Restart(began, "harbour", "observatory", brand, nil))
	want, _ = json.Marshal(r.Schema.Branded(of("observatory"), brand))
	assert.JSONEq(t, string(want), string(is))
	began["accent"] = setting.BrandRef("glaze")
	next := r.Restart(began, "harbour", "observatory", brand, nil)
	assert.Equal(t, []any{setting.BrandRef("glaze"), setting.BrandRef("ink"), "dials"}, []any{next["accent"], next["ink"], next["layout"]})
	assert.Equal(t, "#8fd3ff", r.Restart(began, "harbour", "observatory", brand, []string{"accent"})["accent"])
	assert.Equal(t, of("harbour"), r.Restart(nil, "", "harbour", brand, nil), "what did not begin from the brand is left alone")
	assert.True(t, r.Sets("harbour", "accent"))
	assert.False(t, r.Sets("harbour", "heading"))
}
