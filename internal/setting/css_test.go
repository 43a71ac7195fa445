package setting

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/generated"
)

// The console's preview writes looks in the browser; both sides are held to the same file.
func TestLooksAreWrittenAlike(t *testing.T) {
	text, err := os.ReadFile("testdata/looks.json")
	require.NoError(t, err)
	var cases []struct {
		Type, Key, Unit, Property, Attribute, Written string
		Value                                         any
	}
	require.NoError(t, json.Unmarshal(text, &cases))
	require.NotEmpty(t, cases)
	for _, c := range cases {
		s := &Schema{Settings: []*Setting{{Key: c.Key, Type: c.Type, Unit: c.Unit, Look: true}}}
		want := Look{Properties: map[string]string{}, Attributes: map[string]string{}}
		if c.Property != "" {
			want.Properties[c.Property] = c.Written
		} else {
			want.Attributes[c.Attribute] = c.Written
		}
		assert.Equal(t, want, s.Look(Values{c.Key: c.Value}, World{}), c.Key)
	}
}

// css.json is for the console. It is generated from the types.
func TestCSSTable(t *testing.T) {
	generated.File(t, "css.json", CSSTable(), "go test ./internal/setting -update")
}

// The console decides about "when" too; both sides are held to the same file.
func TestWhenIsDecidedAlike(t *testing.T) {
	text, err := os.ReadFile("testdata/when.json")
	require.NoError(t, err)
	var cases []struct {
		Name    string
		When    map[string][]any
		Values  Values
		Matters bool
	}
	require.NoError(t, json.Unmarshal(text, &cases))
	require.NotEmpty(t, cases)
	for _, c := range cases {
		assert.Equal(t, c.Matters, (&Setting{When: c.When}).Matters(c.Values), c.Name)
	}
}
