package setting

import (
	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// sound is an audio file; an empty asset is none.
type sound struct{}

func (sound) jsonTypes() []string                      { return []string{"object"} }
func (sound) controls() []string                       { return []string{"sound"} }
func (sound) keys() []string                           { return nil }
func (sound) glass() []string                          { return nil }
func (sound) shape(*Setting) *shape.Type               { return shape.Sound }
func (sound) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (sound) refs(_ *Setting, v any) []string          { return assetOf(v) }

func (sound) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"asset": "assets/bell.mp3"}`, []part{
		{"asset", func(_ *Setting, v *jsondoc.Value) (any, problems) { return s.readAsset(v, asset.Sound) }, ""},
	}))
}

func (sound) view(_ *Setting, v any, w World) any {
	m, _ := v.(map[string]any)
	ref, _ := m["asset"].(string)
	info, ok := w.find(ref)
	if !ok || info.Kind != asset.Sound {
		return shape.Sound.Zero()
	}
	return map[string]any{"shown": true, "address": shape.Link(w.Base + info.Address(info.Forms[0])), "type": info.Type}
}

func (sound) note() Note {
	return Note{"A sound: an asset by its digest or its path in assets/.", `{"asset": "assets/bell.mp3"}`}
}

func (sound) words(_ *Setting, v any, _ string) string { return assetInWords(v) }
