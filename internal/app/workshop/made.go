package workshop

import (
	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// MadeBefore is a builder that uses processed assets.
type MadeBefore struct {
	widget.Builder
	assets map[string]asset.Made
}

func (b MadeBefore) Asset(path string, src []byte) (*asset.Made, fault.List) {
	if made, ok := b.assets[path]; ok {
		return &made, nil
	}
	return b.Builder.Asset(path, src)
}
