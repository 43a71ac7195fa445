package setting

import (
	"fmt"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// languageOf is a BCP 47 tag, or "" for none.
type languageOf struct{}

func (languageOf) jsonTypes() []string                      { return []string{"string"} }
func (languageOf) controls() []string                       { return []string{"language"} }
func (languageOf) keys() []string                           { return nil }
func (languageOf) glass() []string                          { return nil }
func (languageOf) shape(*Setting) *shape.Type               { return shape.Text }
func (languageOf) view(_ *Setting, v any, _ World) any      { return v }
func (languageOf) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (languageOf) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a language", `Write a tag such as "de" or "pt-BR".`)
	}
	if v.Text != "" && !message.ValidTag(v.Text) {
		return nil, one(fault.BadLanguage, fmt.Sprintf("%q is %q, which is not a language tag.", s.Key, clip.Input(v.Text)), "Use a BCP 47 tag such as en, de or pt-BR.")
	}
	return v.Text, nil
}

func (languageOf) note() Note {
	return Note{"A language as a BCP 47 tag; `\"\"` for none.", `"pt-BR"`}
}

func (t languageOf) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
