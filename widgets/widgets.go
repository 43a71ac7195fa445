// Package widgets carries the widgets that we ship, in the very format that users write.
package widgets

import (
	"embed"
	"io/fs"
)

//go:embed all:countdown
var folders embed.FS

// Names lists the shipped widgets.
var Names = []string{"countdown"}

// Folder returns the folder of a shipped widget.
func Folder(name string) (fs.FS, error) { return fs.Sub(folders, name) }
