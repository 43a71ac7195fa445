package widget_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/jsondoc"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

// The reference page names every key, setting type, unit and function that the format has.
func TestReferencePageIsWhole(t *testing.T) {
	text, err := os.ReadFile(filepath.Join("..", "..", "docs", "widget-format.md"))
	require.NoError(t, err)
	page := string(text)
	for _, keys := range [][]jsondoc.Key{widget.ManifestKeys, widget.HeightKeys, widget.PassesKeys, widget.StarterKeys, widget.SampleKeys, setting.SchemaKeys, setting.GlassKeys, setting.TopGlassKeys} {
		for _, k := range keys {
			assert.Regexp(t, "[`\"]"+`\Q`+k.Name+`\E`+"[`\"]", page, "the key %s", k.Name)
		}
	}
	for _, name := range append(setting.TypeNames(), setting.Units[1:]...) {
		assert.Contains(t, page, "`"+name+"`")
	}
	for _, f := range view.Functions {
		assert.Contains(t, page, "`"+f.Name+" "+f.Arguments+"`")
	}
}
