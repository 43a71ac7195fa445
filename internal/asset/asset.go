// Package asset reads images, sounds and fonts from widgets and customers: it determines the type
// from the content, checks the file, and makes the forms in which it is served.
package asset

import (
	"fmt"
	"regexp"
	"strings"
)

// Kind is the kind of an asset.
type Kind string

// The kinds.
const (
	Image Kind = "image"
	Sound Kind = "sound"
	Font  Kind = "font"
)

// Info describes an asset without its bytes. It is immutable: the digest is that of the processed
// file, so a different image is a different asset.
type Info struct {
	Digest string `json:"digest"` // SHA-256 of the largest form, in hexadecimal
	Name   string `json:"name"`   // the file's name for people, with its extension: "boat.jpg"
	Kind   Kind   `json:"kind"`
	Type   string `json:"type"`             // media type, "image/jpeg"
	Width  int    `json:"width,omitempty"`  // of an image, in pixels
	Height int    `json:"height,omitempty"` // of an image, in pixels
	Bytes  int    `json:"bytes"`            // of the largest form
	Forms  []Form `json:"forms"`            // the largest first; never empty
}

// Form is one of the files in which an asset is served.
type Form struct {
	Name   string `json:"name"`             // the last part of its address: "boat-640.jpg"
	Width  int    `json:"width,omitempty"`  // of an image, in pixels
	Height int    `json:"height,omitempty"` // of an image, in pixels
	Bytes  int    `json:"bytes"`
}

// Address returns the path of a form below the public address.
func (i Info) Address(f Form) string { return "/a/" + i.Digest + "/" + f.Name }

// Family is the font's name in stylesheets, which no page uses for another font.
func (i Info) Family() string { return "glass-" + i.Digest[:12] }

// Folder is the folder of a widget's own assets.
const Folder = "assets/"

var (
	digestForm = regexp.MustCompile(`^[0-9a-f]{64}$`)
	fileForm   = regexp.MustCompile(`^assets/[a-z0-9][a-z0-9-]{0,59}\.[a-z0-9]{2,5}$`)
)

// IsRef reports whether text can refer to an asset: by the digest of an upload, or by a path in the
// widget's folder.
func IsRef(text string) bool { return digestForm.MatchString(text) || fileForm.MatchString(text) }

// OfFolder reports whether a reference is a path in the widget's folder.
func OfFolder(ref string) bool { return strings.HasPrefix(ref, Folder) }

// NameFault says what is wrong with the path of an asset in a folder, or "".
func NameFault(path string) string {
	if fileForm.MatchString(path) {
		return ""
	}
	return fmt.Sprintf("%q is not a valid asset name.", path)
}

// Named returns the kind for use in a sentence: "an image".
func (k Kind) Named() string {
	return map[Kind]string{Image: "an image", Sound: "a sound", Font: "a font"}[k]
}
