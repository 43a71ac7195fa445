package setting

import (
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
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
	return nil, one(fault.ValueChoice, fmt.Sprintf("There is no font %q.", clip.Input(v.Text)), fault.DidYouMean(v.Text, append(Stacks(), Inherited)))
}

func (font) refs(_ *Setting, v any) []string {
	if ref, ok := v.(string); ok && asset.IsRef(ref) {
		return []string{ref}
	}
	return nil
}

func (font) note() Note {
	return Note{"A font: the name of a stack of system fonts, `\"inherit\"` for the page's font, or an uploaded font by its digest or its path in assets/.", `"book"`}
}

func (font) css() string {
	return `{
    "as": "property",
    "write": "{value}",
    "names": {
      "plain": "system-ui, \"Noto Sans\", sans-serif",
      "book": "\"Noto Serif\", Georgia, Charter, Cambria, serif",
      "engraved": "\"Noto Sans Display\", Candara, \"Gill Sans\", \"Noto Sans\", sans-serif",
      "narrow": "\"Noto Sans ExtraCondensed\", \"Liberation Sans Narrow\", \"Arial Narrow\", sans-serif",
      "round": "\"Varela Round\", ui-rounded, \"Noto Sans\", sans-serif",
      "typed": "ui-monospace, \"Noto Sans Mono\", monospace"
    }
  }`
}

func (font) words(_ *Setting, v any, _ string) string {
	if ref, ok := v.(string); ok && asset.IsRef(ref) {
		return "an uploaded font"
	}
	return plainly(v)
}

func (font) inPage(_ *Setting, p *InPage) { p.Of, p.Names = Stacks(), cssTable["font"].Names }

func (font) allows(*Setting) string {
	return strings.Join(Stacks(), ", ") + ", a font's digest, or " + Inherited
}

func (font) inBrands() {}

// write returns the family of an uploaded font, and its face. A font that no longer exists becomes
// the plain stack.
func (font) write(v any, w World) (string, *Face, bool) {
	ref, ok := v.(string)
	if !ok || !asset.IsRef(ref) {
		return "", nil, false
	}
	plain := cssTable["font"].Names["plain"]
	info, ok := w.find(ref)
	if !ok {
		return plain, nil, true
	}
	return fmt.Sprintf("%q, %s", info.Family(), plain), &Face{info.Family(), w.Base + info.Address(info.Forms[0])}, true
}
