package content

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"

	"glasspocket/internal/cue"
	"glasspocket/internal/setting"
)

// The table has every field of a Content once, so that none is forgotten in a comparison, a copy, a
// file or a list of differences.
func TestEveryFieldIsInTheTable(t *testing.T) {
	full := Content{Title: "Tide", Language: "de", Settings: setting.Values{"heading": "High water"}, Extras: Extras{Cues: cue.Cues{Not: []string{"/shop"}, OwnSites: true, Local: true}}, Follow: true}
	whole := reflect.ValueOf(full)
	assert.Len(t, Fields, whole.NumField())
	for i, f := range Fields {
		assert.False(t, whole.Field(i).IsZero(), "this test needs a value for the field %s", whole.Type().Field(i).Name)
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
	assert.Equal(t, []Difference{{"cues", "Where and when it shows", "everywhere", "not at /shop; on its customer's sites and on a local computer"}, {"follow", "Release of the widget", "number 3", "the newest"}},
		Content{}.Differences(3, Content{Extras: full.Extras, Follow: true}, 4))
}
