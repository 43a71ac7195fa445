// Package asset knows the pictures, sounds and fonts that a widget or a customer brings:
// what a file is by its content, whether it is sound, and the forms it is offered in.
package asset

import (
	"fmt"
	"regexp"
	"strings"
)

// Kind is what an asset is for.
type Kind string

// The kinds.
const (
	Image Kind = "image"
	Sound Kind = "sound"
	Font  Kind = "font"
)

// Info is an asset without its bytes. It is immutable: the digest is that of what was
// made of the file, so another picture is another asset.
type Info struct {
	Digest string `json:"digest"` // SHA-256 of the largest form, in hexadecimal
	Name   string `json:"name"`   // as people know it, with its ending: "boat.jpg"
	Kind   Kind   `json:"kind"`
	Type   string `json:"type"`             // media type, "image/jpeg"
	Width  int    `json:"width,omitempty"`  // of an image, in pixels
	Height int    `json:"height,omitempty"` // of an image, in pixels
	Bytes  int    `json:"bytes"`            // of the largest form
	Forms  []Form `json:"forms"`            // the largest first; never empty
}

// Form is one file that an asset is offered as.
type Form struct {
	Name   string `json:"name"`             // the last part of its address: "boat-640.jpg"
	Width  int    `json:"width,omitempty"`  // of an image, in pixels
	Height int    `json:"height,omitempty"` // of an image, in pixels
	Bytes  int    `json:"bytes"`
}

// Address is where a form is served, below the public address.
func (i Info) Address(f Form) string { return "/a/" + i.Digest + "/" + f.Name }

// Family is the name that a font has in stylesheets: one that no page has.
func (i Info) Family() string { return "glass-" + i.Digest[:12] }

// Folder is where a widget keeps its own assets.
const Folder = "assets/"

var (
	digestForm = regexp.MustCompile(`^[0-9a-f]{64}$`)
	fileForm   = regexp.MustCompile(`^assets/[a-z0-9][a-z0-9-]{0,59}\.[a-z0-9]{2,5}$`)
)

// IsRef tells whether text can name an asset: the digest of one that was uploaded, or the
// path of one in the widget's folder.
func IsRef(text string) bool { return digestForm.MatchString(text) || fileForm.MatchString(text) }

// OfFolder tells whether a reference names a file of the widget's folder.
func OfFolder(ref string) bool { return strings.HasPrefix(ref, Folder) }

// NameFault tells what is wrong with the path of an asset in a folder, or "".
func NameFault(path string) string {
	if fileForm.MatchString(path) {
		return ""
	}
	return fmt.Sprintf("%q is not a valid asset name.", path)
}

// Named names the kind in a sentence: "an image".
func (k Kind) Named() string {
	return map[Kind]string{Image: "an image", Sound: "a sound", Font: "a font"}[k]
}
