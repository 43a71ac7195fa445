package folder

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"io/fs"
	"strings"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// ZipMost is the largest zip file, in bytes.
const ZipMost = 32 << 20

// Pack returns files as a zip (APPNOTE.TXT 6.3.10), in a folder with the given name. The same files
// give the same bytes.
func Pack(name string, files widget.Files) ([]byte, error) {
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for _, p := range files.Paths() {
		f, err := w.CreateHeader(&zip.FileHeader{Name: name + "/" + p, Method: zip.Deflate})
		if err != nil {
			return nil, err
		}
		if _, err := f.Write(files[p]); err != nil {
			return nil, err
		}
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

// Unpack reads a widget folder from a zip. It writes nothing, and decompresses no more than a
// folder can have, whatever sizes the zip claims. Paths that lead outside, links and duplicates are
// faults.
func Unpack(packed []byte) (widget.Files, fault.List, error) {
	if len(packed) > ZipMost {
		return nil, nil, fmt.Errorf("the ZIP file has %d bytes; the limit is %d", len(packed), ZipMost)
	}
	z, err := zip.NewReader(bytes.NewReader(packed), int64(len(packed)))
	if err != nil {
		return nil, nil, fmt.Errorf("this is not a readable ZIP file: %w", err)
	}
	if len(z.File) > 4*widget.FilesMost {
		return nil, fault.List{{Code: fault.FileTooLarge, What: fmt.Sprintf("The ZIP file has %d entries; a widget can have %d files.", len(z.File), widget.FilesMost), Fix: "Pack only the widget's folder."}}, nil
	}
	var faults fault.List
	refuse := func(p, what, fix string) {
		faults = append(faults, fault.Fault{Path: p, Code: fault.FileUnknown, What: what, Fix: fix})
	}
	type entry struct {
		path string
		file *zip.File
	}
	var entries []entry
	for _, f := range z.File {
		p := strings.TrimSuffix(f.Name, "/")
		switch {
		case strings.ContainsAny(p, "\\\x00") || !fs.ValidPath(p):
			refuse(clip.Input(strings.ToValidUTF8(f.Name, "?")), fmt.Sprintf("%q would be outside the folder.", clip.Input(strings.ToValidUTF8(f.Name, "?"))), "Pack the widget's folder again. Paths must not contain .. or start with /.")
		case f.FileInfo().IsDir():
		case f.Mode()&fs.ModeType != 0:
			refuse(p, fmt.Sprintf("%s is a link or a device, not a file.", p), "Pack the file itself.")
		case hiddenPath(p):
		default:
			entries = append(entries, entry{p, f})
		}
	}
	if len(faults) > 0 {
		return nil, faults, nil
	}
	// Most zips contain the folder itself, some only its files.
	prefix := ""
	for i, e := range entries {
		head, _, inside := strings.Cut(e.path, "/")
		if !inside || i > 0 && head+"/" != prefix {
			prefix = ""
			break
		}
		prefix = head + "/"
	}
	files := widget.Files{}
	room := int64(widget.FolderMost + widget.AssetsMost)
	for _, e := range entries {
		p := strings.TrimPrefix(e.path, prefix)
		if _, twice := files[p]; twice {
			refuse(p, fmt.Sprintf("The ZIP file contains %s twice.", p), "Pack the folder again.")
			continue
		}
		most := int64(widget.FileMost)
		if strings.HasPrefix(p, asset.Folder) {
			most = asset.Most
		}
		content, err := unpacked(e.file, min(most, room))
		if err != nil {
			return nil, nil, fmt.Errorf("%s cannot be unpacked: %w", p, err)
		}
		if int64(len(content)) > min(most, room) {
			faults = append(faults, fault.Fault{Path: p, Code: fault.FileTooLarge, What: fmt.Sprintf("%s has more than %d bytes when unpacked.", p, min(most, room)), Fix: "Make it smaller, or leave it out."})
			break
		}
		room -= int64(len(content))
		files[p] = content
	}
	if len(faults) > 0 {
		return nil, faults, nil
	}
	return files, files.Limits(), nil
}

// unpacked reads at most one byte more than most.
func unpacked(f *zip.File, most int64) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	content, err := io.ReadAll(io.LimitReader(r, most+1))
	if content == nil {
		content = []byte{}
	}
	return content, err
}

// hiddenPath reports whether a path is skipped, as in a folder.
func hiddenPath(p string) bool {
	for _, part := range strings.Split(p, "/") {
		if strings.HasPrefix(part, ".") || part == "node_modules" || part == "__MACOSX" {
			return true
		}
	}
	return false
}
