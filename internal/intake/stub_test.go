package intake_test

import (
	"path"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// stub builds nothing, so that a fuzzer is fast.
type stub struct{}

func (stub) Style(string, []byte) (string, fault.List)          { return "", nil }
func (stub) Mount(widget.Files, string) (string, fault.List)    { return " ", nil }
func (stub) Weight(string) int                                  { return 0 }
func (stub) Asset(p string, b []byte) (*asset.Made, fault.List) { return asset.Make(path.Base(p), b) }
