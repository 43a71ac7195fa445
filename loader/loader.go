// Package loader carries the source of the script that runs in visitors' pages.
package loader

import "embed"

// Sources are the loader's TypeScript files; main.ts is the entry, kit/ what travels with
// the pockets that need it.
//
//go:embed *.ts frame/*.ts kit/*.ts worktop/*.ts
var Sources embed.FS

// PreviewPage and WorktopPage are the empty pages of the previews of a pocket and of a widget
// being written.
//
//go:embed preview.html
var PreviewPage []byte

//go:embed worktop.html
var WorktopPage []byte

// GalleryPage is the empty page that lies beneath the console's gallery.
//
//go:embed gallery.html
var GalleryPage []byte
