package setting

import (
	"fmt"
	"slices"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// font is a font family: the page's ("inherit"), a stack of system fonts by its name in css.json,
// or an uploaded font by its reference.
type font struct{}

func (font) jsonTypes() []string                 { return []string{"string"} }
func (font) controls() []string                  { return []string{"font"} }
func (font) keys() []string                      { return nil }
func (font) glass() []string                     { return []string{"brand"} }
func (font) shape(*Setting) *shape.Type          { return shape.Text }
func (font) view(_ *Setting, v any, _ World) any { return v }

// Stacks lists the names of the font stacks, which need no upload.
func Stacks() []string {
	names := make([]string, 0, len(cssTable["font"].Names))
	for n := range cssTable["font"].Names {
		names = append(names, n)
	}
	slices.Sort(names)
	return names
}

// read allows every font setting to inherit from the page.
func (font) read(s *Setting, _ *jsondoc.Value) fault.List {
	s.Inherit = "font-family"
	return nil
}

func (font) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "a font", `Write a name such as "plain", or "inherit" for the page's own.`)
	}
	if _, ok := cssTable["font"].Names[v.Text]; ok {
		return v.Text, nil
	}
	if asset.IsRef(v.Text) {
		return v.Text, s.checkAsset(v, asset.Font)
	}
	return nil, one(fault.ValueChoice, fmt.Sprintf("There is no font %q.", clip(v.Text)), fault.DidYouMean(v.Text, append(Stacks(), Inherited)))
}

func (font) refs(_ *Setting, v any) []string {
	if ref, ok := v.(string); ok && asset.IsRef(ref) {
		return []string{ref}
	}
	return nil
}
