package setting

import (
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// link is an address and whether it opens in a new tab. An empty address means no link.
type link struct{}

func (link) jsonTypes() []string                      { return []string{"object"} }
func (link) controls() []string                       { return []string{"link"} }
func (link) keys() []string                           { return nil }
func (link) glass() []string                          { return nil }
func (link) shape(*Setting) *shape.Type               { return shape.LinkTo }
func (link) read(*Setting, *jsondoc.Value) fault.List { return nil }

func (link) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"address": "https://…", "target": "same"}`, []part{
		{"address", addressPart, ""},
		{"target", onePart("same", "new"), "same"},
	}))
}

func addressPart(s *Setting, v *jsondoc.Value) (any, problems) {
	return text{}.check(&Setting{Key: s.Key, MaxLength: 2000, Format: "uri"}, v)
}

func (link) view(_ *Setting, v any, _ World) any {
	m, _ := v.(map[string]any)
	address, _ := m["address"].(string)
	target := "_self"
	if m["target"] == "new" {
		target = "_blank"
	}
	return map[string]any{"address": shape.Link(address), "target": target}
}

func (link) note() Note {
	return Note{"An address (http, https, mailto, tel), and whether it opens in a new tab. `<a {{linkTo .settings.more}}>` writes the attributes.", `{"address": "https://kelp-and-kiln.example", "target": "same"}`}
}

func (link) words(_ *Setting, v any, _ string) string {
	m, _ := v.(map[string]any)
	address, _ := m["address"].(string)
	return clip.Text(address, wordsMost)
}
