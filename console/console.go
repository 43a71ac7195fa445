// Package console embeds the built web console.
package console

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Files returns the console's files. Without a build, index.html is missing.
func Files() fs.FS {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // cannot happen: the path is a constant
	}
	return files
}
