// Package loader embeds the source of the script that runs in visitors' pages.
package loader

import "embed"

// Sources are the loader's TypeScript files. main.ts is the entry; kit/ has the parts that only
// some pockets need.
//
//go:embed *.ts frame/*.ts kit/*.ts worktop/*.ts
var Sources embed.FS

// PreviewPage and WorktopPage are the blank pages for previews of a pocket and of a widget under
// development.
//
//go:embed preview.html
var PreviewPage []byte

//go:embed worktop.html
var WorktopPage []byte

// GalleryPage is the blank page behind the console's gallery.
//
//go:embed gallery.html
var GalleryPage []byte
