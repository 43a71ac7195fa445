package widget

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io/fs"
	"path"
	"sort"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
)

// Limits of a widget folder. Assets have other limits, depending on their kind.
const (
	FileMost   = 512 << 10 // bytes of one file
	FolderMost = 2 << 20   // bytes of all files
	AssetsMost = 16 << 20  // bytes of all assets
	FilesMost  = 200       // files
)

// Files are a folder's files by path, separated by "/".
type Files map[string][]byte

// Names of files in the format; see also startersDir and messagesDir.
const (
	ManifestFile = "widget.json"
	SchemaFile   = "settings.json"
	ViewFile     = "view.html"
	StyleFile    = "style.css"
	SampleFile   = "sample.json"
	startersDir  = "starters"
	messagesDir  = "messages"
)

// mountFiles are the possible names of a mount module; a folder has at most one of them.
var mountFiles = []string{"mount.ts", "mount.js"}

// Collect reads a folder without hidden files and node_modules. Exceeding a limit is a fault. The
// error is the file system's.
func Collect(folder fs.FS) (Files, fault.List, error) {
	files := Files{}
	var faults fault.List
	var room room
	err := fs.WalkDir(folder, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if base := path.Base(p); p != "." && (strings.HasPrefix(base, ".") || base == "node_modules") {
			if d.IsDir() {
				return fs.SkipDir
			}
			return nil
		}
		if d.Type()&fs.ModeSymlink != 0 {
			// A link could lead anywhere, and the service would not have its target.
			faults = append(faults, fault.Fault{Path: p, Code: fault.FileUnknown, What: fmt.Sprintf("%s is a symbolic link.", p), Fix: "Replace it with the file itself."})
			return nil
		}
		if !d.Type().IsRegular() {
			return nil
		}
		info, err := d.Info()
		if err != nil {
			return err
		}
		if f := room.add(p, int(info.Size())); f != nil {
			faults = append(faults, *f)
			if room.full() {
				return fs.SkipAll
			}
			return nil
		}
		files[p], err = fs.ReadFile(folder, p)
		return err
	})
	return files, faults, err
}

// Limits reports exceeded limits and invalid paths, for files that do not come from Collect.
func (files Files) Limits() (faults fault.List) {
	var room room
	for _, p := range files.Paths() {
		if f := room.add(p, len(files[p])); f != nil {
			faults = append(faults, *f)
			if room.full() {
				break
			}
		}
	}
	return append(faults, files.pathFaults()...)
}

// room compares a folder's totals with the limits.
type room struct{ files, text, assets int }

func (r *room) full() bool {
	return r.files > FilesMost || r.text > FolderMost || r.assets > AssetsMost
}

// add counts a file, and reports it if it or the folder is too large.
func (r *room) add(p string, bytes int) *fault.Fault {
	total, most := &r.text, FileMost
	if strings.HasPrefix(p, asset.Folder) {
		total, most = &r.assets, asset.Most
	}
	if bytes > most {
		return tooLarge(p, fmt.Sprintf("The file has %d bytes; the limit here is %d.", bytes, most))
	}
	*total += bytes
	if r.files++; r.full() {
		return tooLarge(p, fmt.Sprintf("The folder exceeds its limit of %d files, %d bytes and %d bytes of assets.", FilesMost, FolderMost, AssetsMost))
	}
	return nil
}

func tooLarge(p, what string) *fault.Fault {
	return &fault.Fault{Path: p, Code: fault.FileTooLarge, What: what, Fix: "Make it smaller, or delete files that do not belong to the widget."}
}

// Paths returns the sorted paths.
func (files Files) Paths() []string {
	paths := make([]string, 0, len(files))
	for p := range files {
		paths = append(paths, p)
	}
	sort.Strings(paths)
	return paths
}

// Digest is the SHA-256, in hexadecimal, of paths and contents: equal folders have equal digests,
// whatever their dates and modes.
func (files Files) Digest() string {
	h := sha256.New()
	for _, p := range files.Paths() {
		sum := sha256.Sum256(files[p])
		fmt.Fprintf(h, "%s %x\n", p, sum)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// under lists the names in dir that end in .json, without the extension.
func (files Files) under(dir string) []string {
	var names []string
	for _, p := range files.Paths() {
		if path.Dir(p) == dir && strings.HasSuffix(p, ".json") {
			names = append(names, strings.TrimSuffix(path.Base(p), ".json"))
		}
	}
	return names
}

// strangers reports missing files, and files that are not text.
func (files Files) strangers() (faults fault.List) {
	for _, p := range files.Paths() {
		if PathFault(p) == nil && !strings.HasPrefix(p, asset.Folder) && !utf8.Valid(files[p]) && path.Ext(p) != ".json" {
			faults = append(faults, fault.Fault{Path: p, Line: 1, Column: 1, Code: fault.FileNotText, What: "This is not UTF-8 text.", Fix: "Save the file as UTF-8."})
		}
	}
	for _, p := range []string{ManifestFile, SchemaFile, ViewFile} {
		if files[p] == nil {
			faults = append(faults, fault.Fault{Path: p, Code: fault.FileMissing, What: fmt.Sprintf("There is no %s.", p), Fix: "Add it. docs/widget-format.md shows a complete folder."})
		}
	}
	if files[mountFiles[0]] != nil && files[mountFiles[1]] != nil {
		faults = append(faults, fault.Fault{Path: mountFiles[1], Code: fault.FileUnknown, What: "There are two mount modules.", Fix: "Delete either mount.ts or mount.js."})
	}
	return faults
}
