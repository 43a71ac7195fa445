package setting

import (
	"fmt"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// rating is a number out of best, as in schema.org's Rating. Without "value" there is no rating,
// because 0 out of 10 is one too.
type rating struct{}

func (rating) jsonTypes() []string                      { return []string{"object"} }
func (rating) controls() []string                       { return []string{"rating"} }
func (rating) keys() []string                           { return nil }
func (rating) glass() []string                          { return nil }
func (rating) shape(*Setting) *shape.Type               { return shape.Rating }
func (rating) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (rating) view(_ *Setting, v any, _ World) any {
	m, _ := v.(map[string]any)
	value, shown := m["value"].(float64)
	best, _ := m["best"].(float64)
	return map[string]any{"shown": shown, "value": value, "best": best, "part": value / max(best, 1)}
}

var ratingParts = []part{{"value", numberPart(0, 100, false), leftOut}, {"best", numberPart(1, 100, true), 5.0}}

func (rating) check(s *Setting, v *jsondoc.Value) (any, problems) {
	value, ps := readParts(s, v, `{"value": 4, "best": 5}`, ratingParts)
	if ps == nil {
		if given, ok := value["value"].(float64); ok && given > value["best"].(float64) {
			return nil, one(fault.ValueRange, fmt.Sprintf("%q is %s out of %s.", s.Key, Number(given), Number(value["best"].(float64))), "Choose a value that is not greater than \"best\".")
		}
	}
	return whole(value, ps)
}

func (rating) note() Note {
	return Note{"A rating out of `best`; without `value`, there is no rating.", `{"value": 4.5, "best": 5}`}
}

func (rating) words(_ *Setting, v any, _ string) string {
	m, _ := v.(map[string]any)
	if given, has := m["value"]; has {
		return plainly(given) + " of " + plainly(m["best"])
	}
	return ""
}
