// Package folder stores widget folders on disk and in zip files.
package folder

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"strings"

	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// Read reads a folder. The error is the file system's, or that dir is not a folder.
func Read(dir string) (widget.Files, fault.List, error) {
	if info, err := os.Stat(dir); err != nil {
		return nil, nil, fmt.Errorf("the folder cannot be read: %w", err)
	} else if !info.IsDir() {
		return nil, nil, fmt.Errorf("%s is a file. Name the widget's folder", dir)
	}
	return widget.Collect(os.DirFS(dir))
}

// Write applies changes to a folder's files; nil deletes one. Each file is replaced atomically, so
// readers see the old or the new one. Nothing is written outside dir, whatever the paths are and
// whatever links the folder contains.
//
// It only writes files that a widget folder can have, see widget.PathFault, because somebody else
// wrote what is fetched, and tools run files such as .git/config.
func Write(dir string, changes map[string][]byte) error {
	for p, content := range changes {
		if f := widget.PathFault(p); f != nil && content != nil {
			return fmt.Errorf("nothing was written: %s %s", f.What, "Ask the widget's author to delete the file.")
		}
	}
	return write(dir, changes)
}

func write(dir string, changes map[string][]byte) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	root, err := os.OpenRoot(dir)
	if err != nil {
		return err
	}
	defer root.Close()
	for p, content := range changes {
		if !fs.ValidPath(p) || p == "." {
			return fmt.Errorf("%q is not a path within the folder", p)
		}
		if content == nil {
			if err := root.Remove(p); err != nil && !errors.Is(err, fs.ErrNotExist) {
				return err
			}
			continue
		}
		if err := root.MkdirAll(path.Dir(p), 0o755); err != nil {
			return err
		}
		if info, err := root.Lstat(p); err == nil && info.Mode()&fs.ModeSymlink != 0 {
			return fmt.Errorf("%s is a symbolic link, and files are not written through links", p)
		}
		fresh := path.Join(path.Dir(p), "."+path.Base(p)+".new")
		if err := root.WriteFile(fresh, content, 0o644); err != nil {
			return err
		}
		if err := root.Rename(fresh, p); err != nil {
			return err
		}
	}
	return nil
}

// Base records where a folder's files came from. It is stored next to them in the hidden folder
// .glass-pocket, and used to determine who changed what.
type Base struct {
	Server string            `json:"server"`
	Widget string            `json:"widget"`
	Files  map[string]string `json:"files"` // digests by path
}

const baseDir = ".glass-pocket"

// ReadBase reads a folder's base and the files as they were fetched. ok is false if there is none.
func ReadBase(dir string) (b Base, files widget.Files, ok bool, err error) {
	text, err := os.ReadFile(path.Join(dir, baseDir, "base.json"))
	if errors.Is(err, fs.ErrNotExist) {
		return b, nil, false, nil
	}
	if err == nil {
		err = json.Unmarshal(text, &b)
	}
	if err != nil {
		return b, nil, false, fmt.Errorf("%s/%s/base.json cannot be read: %w. To start again, delete that folder", dir, baseDir, err)
	}
	files = widget.Files{}
	for p, wanted := range b.Files {
		content, err := os.ReadFile(path.Join(dir, baseDir, "files", wanted))
		if err != nil || digest.Of(content) != wanted {
			return b, nil, false, fmt.Errorf("the saved original of %s is damaged. To start again, delete %s/%s", p, dir, baseDir)
		}
		files[p] = content
	}
	return b, files, true, nil
}

// WriteBase stores files as a folder's base.
func WriteBase(dir string, b Base, files widget.Files) error {
	b.Files = map[string]string{}
	changes := map[string][]byte{}
	for p, content := range files {
		digest := digest.Of(content)
		b.Files[p] = digest
		changes[baseDir+"/files/"+digest] = append([]byte{}, content...)
	}
	text, _ := json.MarshalIndent(b, "", "  ")
	changes[baseDir+"/base.json"] = append(text, '\n')
	// Only within dir, because the hidden folder could be a link to somewhere else.
	root, err := os.OpenRoot(dir)
	if err != nil {
		return err
	}
	defer root.Close()
	if err := root.RemoveAll(baseDir + "/files"); err != nil {
		return err
	}
	return write(dir, changes)
}

// Differences returns the changes that turn one folder into the other.
func Differences(from, to widget.Files) map[string][]byte {
	changes := map[string][]byte{}
	for p, content := range to {
		if was, there := from[p]; !there || !bytes.Equal(was, content) {
			changes[p] = append([]byte{}, content...)
		}
	}
	for p := range from {
		if _, there := to[p]; !there {
			changes[p] = nil
		}
	}
	return changes
}

// Named returns the name of a folder's widget, or "" if the manifest has none.
func Named(files widget.Files) string {
	var m struct{ Name string }
	if json.Unmarshal(files[widget.ManifestFile], &m) != nil {
		return ""
	}
	return strings.TrimSpace(m.Name)
}
