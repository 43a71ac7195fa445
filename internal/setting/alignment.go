package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// alignmentLabels are the labels in forms.
var alignmentLabels = map[string]message.Words{
	"start": {"en": "Start", "de": "Anfang"}, "center": {"en": "Centre", "de": "Mitte"}, "end": {"en": "End", "de": "Ende"}, "justify": {"en": "Both sides", "de": "Blocksatz"},
}

// alignments are values of CSS text-align (CSS Text 3, section 7.1) that follow the direction of
// the text.
var alignments = []string{"start", "center", "end", "justify"}

type alignment struct{}

func (alignment) jsonTypes() []string                 { return []string{"string"} }
func (alignment) controls() []string                  { return []string{"alignment"} }
func (alignment) keys() []string                      { return []string{"enum"} }
func (alignment) glass() []string                     { return nil }
func (alignment) shape(s *Setting) *shape.Type        { return choice{}.shape(s) }
func (alignment) view(_ *Setting, v any, _ World) any { return v }

func (alignment) read(s *Setting, v *jsondoc.Value) fault.List {
	return readEnum(s, v, alignments, alignmentLabels)
}

func (alignment) check(s *Setting, v *jsondoc.Value) (any, problems) { return choice{}.check(s, v) }

func (alignment) note() Note {
	return Note{"The alignment of text, relative to the writing direction. `enum` can restrict the four values.", `"center"`}
}

func (alignment) css() string {
	return `{ "as": "property", "write": "{value}" }`
}

func (alignment) words(s *Setting, v any, language string) string {
	return s.optionInWords(v, language)
}

func (alignment) inPage(s *Setting, p *InPage) { p.Of = s.Shape().Of }

func (t alignment) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
