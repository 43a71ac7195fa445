package content

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"

	"glasspocket/internal/cue"
	"glasspocket/internal/item"
	"glasspocket/internal/setting"
)

// The table has every field of a Content once, so that none is forgotten in a comparison, a copy, a
// file or a list of differences.
func TestEveryFieldIsInTheTable(t *testing.T) {
	full := Content{Title: "Tide", Language: "de", Settings: setting.Values{"heading": "High water"}, Extras: Extras{Cues: cue.Cues{Not: []string{"/shop"}, OwnSites: true, Local: true}, Sources: Lists{"reviews": {From: []item.From{{Source: "src-1"}}, Most: 3, Rules: item.Rules{Rating: 4}}}}, Follow: true}
	fields := 0
	for field, v := range reflect.ValueOf(full).Fields() {
		inner := []reflect.Value{v}
		if field.Anonymous {
			inner = nil
			for _, v := range v.Fields() {
				inner = append(inner, v)
			}
		}
		for _, v := range inner {
			assert.False(t, v.IsZero(), "this test needs a value for every field of %s", field.Name)
			fields++
		}
	}
	assert.Len(t, Fields, fields)
	for _, f := range Fields {
		one := Content{}
		at := reflect.ValueOf(f.Of(&one)).Elem()
		assert.True(t, at.IsZero(), "%s has a field of its own", f.Key)
		at.Set(reflect.ValueOf(f.Of(&full)).Elem())
		assert.False(t, one.Equal(Content{}), f.Key)
		assert.Equal(t, f.Copied, one.Copy().Equal(one), f.Key)
		for _, d := range (Content{}).Differences(1, one, 1) {
			assert.Equal(t, f.Key, d.Key)
			assert.NotEqual(t, d.Before, d.After)
		}
		assert.Equal(t, f.Words != nil, len((Content{}).Differences(1, one, 1)) == 1, f.Key)
	}
	assert.True(t, full.Equal(full))
	assert.Equal(t, []Difference{{"cues", "Where and when it shows", "everywhere", "not at /shop; on its customer's sites and on a local computer"}, {"sources", "Sources", "typed in", "reviews: 1 source, newest first, at most 3; rules: rating"}, {"follow", "Release of the widget", "number 3", "the newest"}},
		Content{}.Differences(3, Content{Extras: full.Extras, Follow: true}, 4))
}
