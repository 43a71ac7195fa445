package setting

import (
	"fmt"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/icon"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// iconOf is the name of one of our icons, or "" for none.
type iconOf struct{}

func (iconOf) jsonTypes() []string { return []string{"string"} }
func (iconOf) controls() []string  { return []string{"icon"} }
func (iconOf) keys() []string      { return nil }
func (iconOf) glass() []string     { return nil }
func (iconOf) shape(*Setting) *shape.Type {
	return shape.OneOf(append([]string{""}, icon.Names()...)...)
}
func (iconOf) view(_ *Setting, v any, _ World) any      { return v }
func (iconOf) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (iconOf) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "the name of an icon", "Put it in double quotes.")
	}
	if v.Text != "" && icon.Path(v.Text) == "" {
		return nil, one(fault.ValueChoice, fmt.Sprintf("There is no icon %q.", clip.Input(v.Text)), fault.DidYouMean(v.Text, icon.Names()))
	}
	return v.Text, nil
}

func (iconOf) note() Note {
	return Note{"The name of one of our icons; `\"\"` for none. `{{icon .settings.mark}}` draws it.", `"star"`}
}

func (iconOf) inPage(s *Setting, p *InPage) { p.Of = s.Shape().Of }

func (iconOf) allows(s *Setting) string { return "the name of one of our icons, as in " + s.example() }

func (t iconOf) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
