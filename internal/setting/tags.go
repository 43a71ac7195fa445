package setting

import (
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// Limits of a setting of tags.
const (
	TagsMost = 20
	TagMost  = 40 // characters
)

// tags are short texts in the order in which they were entered, without duplicates.
type tags struct{}

func (tags) jsonTypes() []string                      { return []string{"array"} }
func (tags) controls() []string                       { return []string{"tags"} }
func (tags) keys() []string                           { return []string{"items", "uniqueItems", "maxItems"} }
func (tags) glass() []string                          { return nil }
func (tags) shape(*Setting) *shape.Type               { return shape.ListOf(shape.Text) }
func (tags) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (tags) view(_ *Setting, v any, _ World) any      { return v }

func (tags) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.Array {
		return nil, wrongType(s, v, "a list of texts", `Write it as ["one", "two"].`)
	}
	if len(v.Items) > TagsMost {
		return nil, one(fault.ValueLength, fmt.Sprintf("%q has %d tags; at most %d are allowed.", s.Key, len(v.Items), TagsMost), "Delete some.")
	}
	list := []any{}
	var found problems
	for i, item := range v.Items {
		t, ps := linePart(TagMost)(s, item)
		if ps != nil {
			found = append(found, ps.in(item, fmt.Sprint(i))...)
			continue
		}
		if t := strings.TrimSpace(t.(string)); t != "" && !slices.Contains(list, any(t)) {
			list = append(list, t)
		}
	}
	return list, found
}

func (tags) note() Note {
	return Note{"Up to 20 different short texts.", `["clay", "evening"]`}
}

func (tags) words(s *Setting, v any, language string) string { return s.optionsInWords(v, language) }
