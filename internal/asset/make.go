package asset

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"path"
	"regexp"
	"strings"

	"glasspocket/internal/fault"
)

// Made is an asset with its bytes: one file for each of Info.Forms.
type Made struct {
	Info
	Files [][]byte
}

// Limits are the largest sizes of accepted files, in bytes.
var Limits = map[Kind]int{Image: 12 << 20, Sound: 4 << 20, Font: 1 << 20}

// Most is the largest size of a file of any kind, in bytes.
const Most = 12 << 20

// maker processes files of one media type.
type maker struct {
	Type   string // media type
	Kind   Kind
	Ending string
	is     func(src []byte) bool
	make   func(name string, src []byte) ([]Form, [][]byte, *trouble)
}

// trouble describes what is wrong with a file.
type trouble struct{ what, fix string }

// makers has a row for each accepted media type. The content determines the type, whatever the
// file's name.
var makers []maker

func init() { // in init, because functions in the rows refer to the table
	makers = []maker{
		{"image/jpeg", Image, "jpg", startsWith("\xff\xd8\xff"), raster},
		{"image/png", Image, "png", startsWith("\x89PNG\r\n\x1a\n"), raster},
		{"image/gif", Image, "gif", startsWith("GIF87a", "GIF89a"), animation},
		{"image/webp", Image, "webp", riff("WEBP"), raster},
		{"image/svg+xml", Image, "svg", isSVG, drawing},
		{"audio/mpeg", Sound, "mp3", isMP3, checked(soundOf)},
		{"audio/ogg", Sound, "ogg", startsWith("OggS"), checked(soundOf)},
		{"audio/wav", Sound, "wav", riff("WAVE"), checked(soundOf)},
		{"audio/flac", Sound, "flac", startsWith("fLaC"), checked(soundOf)},
		{"font/woff2", Font, "woff2", startsWith("wOF2"), checked(fontOf)},
		{"font/woff", Font, "woff", startsWith("wOFF"), checked(fontOf)},
		{"font/ttf", Font, "ttf", startsWith("\x00\x01\x00\x00", "true"), checked(fontOf)},
		{"font/otf", Font, "otf", startsWith("OTTO"), checked(fontOf)},
	}
}

// TypeOf returns the media type of a stored file by its extension, or "".
func TypeOf(name string) string {
	for _, m := range makers {
		if strings.HasSuffix(name, "."+m.Ending) {
			return m.Type
		}
	}
	return ""
}

// KindOf determines the kind of a file from its content.
func KindOf(src []byte) (Kind, bool) {
	if m := makerOf(src); m != nil {
		return m.Kind, true
	}
	return "", false
}

func makerOf(src []byte) *maker {
	for i := range makers {
		if makers[i].is(src) {
			return &makers[i]
		}
	}
	return nil
}

// Make processes a file: images lose their metadata and are encoded in several widths; all others
// are kept unchanged. name is the file's name for people.
func Make(name string, src []byte) (*Made, fault.List) {
	fail := func(code fault.Code, what, fix string) (*Made, fault.List) {
		return nil, fault.List{{Code: code, What: what, Fix: fix}}
	}
	if len(src) == 0 {
		return fail(fault.AssetUnknown, name+" is empty.", "The copy may have failed. Save or export it again.")
	}
	m := makerOf(src)
	if m == nil {
		return fail(fault.AssetUnknown, fmt.Sprintf("%s is not an image, sound or font that can be used here. It starts with %q.", name, head(src)),
			"Use JPEG, PNG, GIF, WebP or SVG; MP3, Ogg, WAV or FLAC; WOFF2, WOFF, TrueType or OpenType.")
	}
	if len(src) > Limits[m.Kind] {
		return fail(fault.FileTooLarge, fmt.Sprintf("%s has %s; the limit for %s is %s.", name, size(len(src)), m.Kind.Named(), size(Limits[m.Kind])), fixSize[m.Kind])
	}
	base := Base(name)
	forms, files, wrong := m.make(base, src)
	if wrong != nil {
		return fail(fault.AssetBroken, name+" "+wrong.what, wrong.fix)
	}
	made := &Made{Info: Info{Name: base + path.Ext(forms[0].Name), Kind: m.Kind, Type: TypeOf(forms[0].Name), Width: forms[0].Width, Height: forms[0].Height, Bytes: len(files[0]), Forms: forms}, Files: files}
	h := sha256.New()
	for i, f := range files {
		made.Forms[i].Bytes = len(f)
		fmt.Fprintf(h, "%s %d\n", forms[i].Name, len(f))
		h.Write(f)
	}
	made.Digest = hex.EncodeToString(h.Sum(nil))
	return made, nil
}

var fixSize = map[Kind]string{
	Image: "Make it smaller: a width of 2,560 pixels is enough.",
	Sound: "Save it as MP3 or Ogg at 96 to 128 kbit/s, or shorten it.",
	Font:  "Save it as WOFF2, with only the characters you need.",
}

var outside = regexp.MustCompile(`[^a-z0-9]+`)

// Base converts a file's name to the start of an address: lower-case letters, digits and hyphens.
func Base(name string) string {
	name = strings.ToLower(strings.TrimSuffix(path.Base(strings.ReplaceAll(name, "\\", "/")), path.Ext(name)))
	name = strings.Trim(outside.ReplaceAllString(name, "-"), "-")
	if name == "" {
		return "asset"
	}
	return name[:min(len(name), 60)]
}

func startsWith(heads ...string) func([]byte) bool {
	return func(src []byte) bool {
		for _, h := range heads {
			if bytes.HasPrefix(src, []byte(h)) {
				return true
			}
		}
		return false
	}
}

// riff recognises a container of the Resource Interchange File Format by its form type.
func riff(form string) func([]byte) bool {
	return func(src []byte) bool {
		return len(src) > 12 && string(src[:4]) == "RIFF" && string(src[8:12]) == form
	}
}

// checked keeps a file unchanged if check finds nothing wrong.
func checked(check func([]byte) *trouble) func(string, []byte) ([]Form, [][]byte, *trouble) {
	return func(base string, src []byte) ([]Form, [][]byte, *trouble) {
		if t := check(src); t != nil {
			return nil, nil, t
		}
		return []Form{{Name: base + "." + makerOf(src).Ending}}, [][]byte{src}, nil
	}
}

func head(src []byte) string { return string(bytes.ToValidUTF8(src[:min(len(src), 16)], []byte("·"))) }

func size(n int) string {
	if n < 1<<20 {
		return fmt.Sprintf("%d KB", (n+1023)>>10)
	}
	return fmt.Sprintf("%.1f MB", float64(n)/(1<<20))
}
