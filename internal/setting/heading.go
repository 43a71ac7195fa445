package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// HeadingLevels are what a heading can be in the outline of the page around it; "none" is
// a text that is no heading.
var HeadingLevels = []string{"1", "2", "3", "4", "5", "6", "none"}

type heading struct{}

func (heading) jsonTypes() []string                      { return []string{"string"} }
func (heading) controls() []string                       { return []string{"heading"} }
func (heading) keys() []string                           { return []string{"enum"} }
func (heading) glass() []string                          { return nil }
func (heading) shape(*Setting) *shape.Type               { return shape.OneOf(HeadingLevels...) }
func (heading) view(_ *Setting, v any, _ World) any      { return v }
func (heading) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (heading) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return onePart(HeadingLevels...)(s, v)
}
