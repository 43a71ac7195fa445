package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// alignmentLabels are what people read.
var alignmentLabels = map[string]message.Words{
	"start": {"en": "Start", "de": "Anfang"}, "center": {"en": "Centre", "de": "Mitte"}, "end": {"en": "End", "de": "Ende"}, "justify": {"en": "Both sides", "de": "Blocksatz"},
}

// alignments are values of CSS text-align (CSS Text 3, section 7.1) that follow the
// direction of writing.
var alignments = []string{"start", "center", "end", "justify"}

type alignment struct{}

func (alignment) jsonTypes() []string                 { return []string{"string"} }
func (alignment) controls() []string                  { return []string{"alignment"} }
func (alignment) keys() []string                      { return []string{"enum"} }
func (alignment) glass() []string                     { return nil }
func (alignment) shape(*Setting) *shape.Type          { return shape.OneOf(alignments...) }
func (alignment) view(_ *Setting, v any, _ World) any { return v }

// read takes an "enum" that leaves some of the four out.
func (alignment) read(s *Setting, v *jsondoc.Value) (faults fault.List) {
	enum := v.Get("enum")
	if enum == nil {
		for _, a := range alignments {
			s.Options = append(s.Options, Option{Value: a, Label: alignmentLabels[a]})
		}
		return nil
	}
	for _, item := range enum.Items {
		if !contains(alignments, item.Text) {
			faults = append(faults, item.Fault(fault.SchemaUnusable, s.Key, "There is no such alignment.", fault.DidYouMean(item.Text, alignments)))
			continue
		}
		s.Options = append(s.Options, Option{Value: item.Text, Label: alignmentLabels[item.Text]})
	}
	return faults
}

func (alignment) check(s *Setting, v *jsondoc.Value) (any, problems) { return choice{}.check(s, v) }
