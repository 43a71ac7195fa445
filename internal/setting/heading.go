package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// headingLevels are the levels of a heading in the outline of the page. "none" is text that is not
// a heading.
var headingLevels = []string{"1", "2", "3", "4", "5", "6", "none"}

type heading struct{}

func (heading) jsonTypes() []string                 { return []string{"string"} }
func (heading) controls() []string                  { return []string{"heading"} }
func (heading) keys() []string                      { return []string{"enum"} }
func (heading) glass() []string                     { return nil }
func (heading) shape(s *Setting) *shape.Type        { return choice{}.shape(s) }
func (heading) view(_ *Setting, v any, _ World) any { return v }

func (heading) read(s *Setting, v *jsondoc.Value) fault.List {
	return readEnum(s, v, headingLevels, headingLabels)
}

func (heading) check(s *Setting, v *jsondoc.Value) (any, problems) { return choice{}.check(s, v) }

// headingLabels are the labels in forms.
var headingLabels = map[string]message.Words{
	"1": {"en": "Heading 1", "de": "Überschrift 1"}, "2": {"en": "Heading 2", "de": "Überschrift 2"}, "3": {"en": "Heading 3", "de": "Überschrift 3"},
	"4": {"en": "Heading 4", "de": "Überschrift 4"}, "5": {"en": "Heading 5", "de": "Überschrift 5"}, "6": {"en": "Heading 6", "de": "Überschrift 6"},
	"none": {"en": "No heading, plain text", "de": "Keine Überschrift, nur Text"},
}

func (heading) note() Note {
	return Note{"The level of a heading in the outline of the page; `none` makes it plain text. `enum` can restrict the seven values. `{{heading .settings.level}}` writes the attributes.", `"2"`}
}

func (heading) words(s *Setting, v any, language string) string { return s.optionInWords(v, language) }

func (heading) inPage(s *Setting, p *InPage) { p.Of = s.Shape().Of }

func (t heading) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
