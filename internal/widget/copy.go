package widget

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"glasspocket/internal/jsondoc"
)

// Renamed returns a folder's files under another widget name. The name is only in the manifest, and
// the rest of its text stays the same.
func Renamed(files Files, name string) Files {
	text := files[ManifestFile]
	doc, _ := jsondoc.Read(text)
	v := doc.Get("name")
	if v == nil || v.Kind != jsondoc.String {
		return files
	}
	at := jsondoc.Offset(text, v.Line, v.Column)
	end := at + 1 + bytes.IndexByte(text[at+1:], '"') + 1 // a name that fits holds no escapes
	quoted, _ := json.Marshal(name)
	other := maps.Clone(files)
	other[ManifestFile] = slices.Concat(text[:at], quoted, text[end:])
	return other
}

// Titled returns a folder's files with another title, the same in all languages.
func Titled(files Files, title string) Files {
	text := files[ManifestFile]
	doc, _ := jsondoc.Read(text)
	v := doc.Get("title")
	if v == nil || v.Kind != jsondoc.Object || len(v.Members) == 0 {
		return files
	}
	words := make([]string, len(v.Members))
	quoted, _ := json.Marshal(title)
	for i, m := range v.Members {
		words[i] = fmt.Sprintf("%q: %s", m.Key, quoted)
	}
	at := jsondoc.Offset(text, v.Line, v.Column)
	last := v.Members[len(v.Members)-1].Value
	end := jsondoc.Offset(text, last.Line, last.Column)
	for end++; text[end] != '"'; end++ { // to the end of the text, which was read already
		if text[end] == '\\' {
			end++
		}
	}
	end += bytes.IndexByte(text[end:], '}') + 1
	other := maps.Clone(files)
	other[ManifestFile] = slices.Concat(text[:at], []byte("{ "+strings.Join(words, ", ")+" }"), text[end:])
	return other
}

// TitleFrom makes a title from a widget's name: "isle-cards" becomes "Isle cards".
func TitleFrom(name string) string {
	words := strings.ReplaceAll(name, "-", " ")
	return strings.ToUpper(words[:1]) + words[1:]
}

// CopyOf returns a release's files as another widget, whose manifest names its origin.
func CopyOf(files Files, name string, from Origin) Files {
	other := Renamed(files, name)
	text := other[ManifestFile]
	doc, _ := jsondoc.Read(text)
	origin := fmt.Sprintf(`{ "widget": %q, "release": %d }`, from.Widget, from.Release)
	if v := doc.Get("copyOf"); v != nil && v.Kind == jsondoc.Object {
		at := jsondoc.Offset(text, v.Line, v.Column)
		if end := bytes.IndexByte(text[at:], '}'); end > 0 {
			other[ManifestFile] = slices.Concat(text[:at], []byte(origin), text[at+end+1:])
		}
		return other
	}
	v := doc.Get("name")
	if v == nil || v.Kind != jsondoc.String {
		return other
	}
	end := jsondoc.Offset(text, v.Line, v.Column)
	end += 1 + bytes.IndexByte(text[end+1:], '"') + 1
	line := bytes.LastIndexByte(text[:end], '\n')
	gap := " "
	if indent := bytes.TrimLeft(text[line+1:end], " \t"); line >= 0 && bytes.HasPrefix(indent, []byte(`"name"`)) {
		gap = "\n" + string(text[line+1:end-len(indent)])
	}
	other[ManifestFile] = slices.Concat(text[:end], []byte(","+gap+`"copyOf": `+origin), text[end:])
	return other
}

// OriginOf returns the origin of a copied folder from its manifest, or nil.
func OriginOf(files Files) *Origin {
	if files[ManifestFile] == nil {
		return nil
	}
	m, _ := readManifest(files[ManifestFile])
	return m.CopyOf
}
