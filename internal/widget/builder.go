package widget

import (
	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
)

// Builder bundles what a browser runs. Faults have their path and place.
type Builder interface {
	Style(path string, css []byte) (string, fault.List)
	Mount(files Files, entry string) (string, fault.List)
	Asset(path string, src []byte) (*asset.Made, fault.List)
	// Weight returns the bytes of a script as sent to a visitor, or 0 if they are not measured.
	Weight(code string) int
}

// Opened is a Builder for a stored release, which was built and checked before.
type Opened struct {
	Built  Built
	Digest string // of the folder, whose assets may be missing; "" computes it from the files
}

// Style returns the stored stylesheet.
func (o Opened) Style(string, []byte) (string, fault.List) { return o.Built.Style, nil }

// Mount returns the stored mount module.
func (o Opened) Mount(Files, string) (string, fault.List) { return o.Built.Mount, nil }

// Asset returns the stored description of an asset, without its bytes.
func (o Opened) Asset(path string, _ []byte) (*asset.Made, fault.List) {
	made, ok := o.Built.Assets[path]
	if !ok {
		return nil, fault.List{{Code: fault.FileMissing, What: "The stored asset is missing.", Fix: "Release the folder again."}}
	}
	return &made, nil
}

// Weight returns 0, because the release was checked before.
func (o Opened) Weight(string) int { return 0 }
