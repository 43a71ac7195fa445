package setting

import (
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// choices is a selection of several of a choice's values, in the order of the options.
type choices struct{}

func (choices) jsonTypes() []string { return []string{"array"} }
func (choices) controls() []string  { return []string{"boxes"} }
func (choices) keys() []string      { return []string{"items", "uniqueItems", "minItems", "maxItems"} }
func (choices) glass() []string     { return []string{"options"} }

func (choices) shape(s *Setting) *shape.Type        { return shape.ListOf(shape.OneOf(s.values()...)) }
func (choices) view(_ *Setting, v any, _ World) any { return v }

func (choices) read(s *Setting, v *jsondoc.Value) fault.List {
	items := v.Get("items")
	if items == nil || items.Kind != jsondoc.Object {
		return fault.List{at(v, "items").Fault(fault.SchemaUnusable, s.Key, "Several choices need \"items\" with an \"enum\".", `Add "items": {"enum": ["…", "…"]}.`)}
	}
	faults := readOptions(s, items, v.Get("glass"))
	s.MinItems, s.MaxItems = int(numberAt(v, "minItems", 0)), int(numberAt(v, "maxItems", float64(len(s.Options))))
	return faults
}

func (choices) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.Array {
		return nil, wrongType(s, v, "a list of its choices", "Put them in square brackets.")
	}
	chosen := make([]string, 0, len(v.Items))
	var found problems
	for i, item := range v.Items {
		if len(found) >= fault.Most {
			break
		}
		value, ps := choice{}.check(s, item)
		if ps != nil {
			found = append(found, ps.in(item, fmt.Sprint(i))...)
			continue
		}
		if slices.Contains(chosen, value.(string)) {
			found = append(found, one(fault.ValueChoice, fmt.Sprintf("%q contains %q twice.", s.Key, value), "Delete one.").in(item, fmt.Sprint(i))...)
			continue
		}
		chosen = append(chosen, value.(string))
	}
	if n := len(v.Items); found == nil && (n < s.MinItems || n > s.MaxItems) {
		return nil, one(fault.ValueLength, fmt.Sprintf("%q has %d choices; %d to %d are allowed.", s.Key, n, s.MinItems, s.MaxItems), "Choose more or fewer.")
	}
	value := []any{}
	for _, o := range s.values() {
		if slices.Contains(chosen, o) {
			value = append(value, o)
		}
	}
	return value, found
}

func (choices) note() Note {
	return Note{"Any number of several values. `items` contains their `enum`.", `["date", "stars"]`}
}

func (choices) css() string {
	return `{ "as": "attribute", "write": "{each}", "each": { "write": "{value}", "join": " " } }`
}

func (choices) words(s *Setting, v any, language string) string { return s.optionsInWords(v, language) }

func (choices) allows(s *Setting) string { return "any of " + strings.Join(s.optionValues(), ", ") }

// condition reads one of the values: a condition holds if it is among the chosen ones.
func (choices) condition(s *Setting, v *jsondoc.Value) (any, problems) { return choice{}.check(s, v) }
