package setting

import (
	"fmt"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// image is an asset, its text alternative, and the focus point that must stay visible when the
// image is cropped, in percent from its left and top. An empty asset means no image. decorative
// means that the image adds no information and needs no text alternative.
type image struct{}

func (image) jsonTypes() []string                      { return []string{"object"} }
func (image) controls() []string                       { return []string{"image"} }
func (image) keys() []string                           { return nil }
func (image) glass() []string                          { return []string{"brand"} }
func (image) shape(*Setting) *shape.Type               { return shape.Image }
func (image) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (image) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"asset": "assets/boat.jpg", "alt": "A boat at the pier", "focus": {"x": 50, "y": 50}}`, []part{
		{"asset", func(_ *Setting, v *jsondoc.Value) (any, problems) { return s.readAsset(v, asset.Image) }, ""},
		{"alt", linePart(300), ""},
		{"decorative", toggle{}.check, false},
		{"focus", readFocus, map[string]any{"x": 50.0, "y": 50.0}},
	}))
}

var focusParts = []part{{"x", numberPart(0, 100, false), 50.0}, {"y", numberPart(0, 100, false), 50.0}}

func readFocus(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"x": 50, "y": 50}`, focusParts))
}

// readAsset reads a reference to an asset, or "" for none.
func (s *Setting) readAsset(v *jsondoc.Value, kind asset.Kind) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "the name of an asset", "Put it in double quotes.")
	}
	if v.Text == "" {
		return "", nil
	}
	if !asset.IsRef(v.Text) {
		return nil, one(fault.ValueAsset, fmt.Sprintf("%q names the asset %q, which is not a valid asset name.", s.Key, clip.Input(v.Text)), "Write assets/NAME for a file in the widget's folder, or the digest of an uploaded file.")
	}
	return v.Text, s.checkAsset(v, kind)
}

// checkAsset looks up a file of the widget's folder. The store checks uploaded assets.
func (s *Setting) checkAsset(v *jsondoc.Value, kind asset.Kind) problems {
	if s.folder == nil || !asset.OfFolder(v.Text) {
		return nil
	}
	info, ok := s.folder[v.Text]
	if !ok {
		names := make([]string, 0, len(s.folder))
		for name := range s.folder {
			names = append(names, name)
		}
		return one(fault.ValueAsset, fmt.Sprintf("%q names %q, which is not in the widget's folder.", s.Key, v.Text), fault.DidYouMean(v.Text, names))
	}
	if info.Kind != kind {
		return one(fault.ValueAsset, fmt.Sprintf("%q needs %s, but %s is %s.", s.Key, kind.Named(), v.Text, info.Kind.Named()), "Choose another asset.")
	}
	return nil
}

func (image) refs(_ *Setting, v any) []string { return assetOf(v) }

func assetOf(v any) []string {
	if m, _ := v.(map[string]any); m != nil {
		if ref, _ := m["asset"].(string); ref != "" {
			return []string{ref}
		}
	}
	return nil
}

func (image) view(_ *Setting, v any, w World) any {
	m, _ := v.(map[string]any)
	ref, _ := m["asset"].(string)
	info, ok := w.find(ref)
	if !ok || info.Kind != asset.Image {
		return shape.Image.Zero()
	}
	forms := make([]any, len(info.Forms))
	for i, f := range info.Forms {
		forms[i] = map[string]any{"address": shape.Link(w.Base + info.Address(f)), "width": float64(f.Width), "height": float64(f.Height)}
	}
	x, y := 50.0, 50.0
	if focus, ok := m["focus"].(map[string]any); ok {
		x, _ = focus["x"].(float64)
		y, _ = focus["y"].(float64)
	}
	alt, _ := m["alt"].(string)
	return map[string]any{
		"shown": true, "address": shape.Link(w.Base + info.Address(info.Forms[0])), "alt": alt, "forms": forms,
		"width": float64(info.Width), "height": float64(info.Height), "focusX": x, "focusY": y,
	}
}

func (image) note() Note {
	return Note{"An image: an asset by its digest or its path in assets/, a text alternative, and the focus point in percent that stays visible when the image is cropped. `{{image .settings.photo \"50vw\"}}` writes it.", `{"asset": "assets/boat.jpg", "alt": "A boat at the pier", "decorative": false, "focus": {"x": 50, "y": 50}}`}
}

func (image) words(_ *Setting, v any, _ string) string { return assetInWords(v) }

func (image) inBrands() {}

func (image) unheard(v *jsondoc.Value) bool {
	d := v.Get("decorative")
	return v.TextOf("asset") != "" && v.TextOf("alt") == "" && (d == nil || !d.Bool)
}
