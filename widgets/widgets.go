// Package widgets embeds the widgets that are included, in the format that users write.
package widgets

import (
	"embed"
	"io/fs"
)

//go:embed all:cards all:countdown all:dates all:feed all:notices all:person all:popup all:progress all:reviews all:section all:ticker
var folders embed.FS

// Names lists the included widgets.
var Names = []string{"cards", "countdown", "dates", "feed", "notices", "person", "popup", "progress", "reviews", "section", "ticker"}

// Folder returns the folder of an included widget.
func Folder(name string) (fs.FS, error) { return fs.Sub(folders, name) }
