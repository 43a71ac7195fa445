// Package folder keeps widget folders on disk and in zip files.
package folder

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// Read reads a folder. An error is the file system's, or that it is no folder.
func Read(dir string) (widget.Files, fault.List, error) {
	if info, err := os.Stat(dir); err != nil {
		return nil, nil, fmt.Errorf("the folder cannot be read: %w", err)
	} else if !info.IsDir() {
		return nil, nil, fmt.Errorf("%s is a file. Name the widget's folder", dir)
	}
	return widget.Collect(os.DirFS(dir))
}

// Write makes files of a folder what changes say, nil for gone. Each is put in place at once:
// who reads meanwhile sees the old or the new. Nothing is written outside dir, whatever the
// paths are and whatever links lie in it.
//
// Only files that a widget folder can have are written, see widget.PathFault: what is fetched was
// written by somebody else, and tools run files such as .git/config.
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

// Base is where a folder's files came from, kept beside them in the hidden folder
// .glass-pocket, so that later it is known who has changed what.
type Base struct {
	Server string            `json:"server"`
	Widget string            `json:"widget"`
	Files  map[string]string `json:"files"` // digests by path
}

const baseDir = ".glass-pocket"

// ReadBase reads a folder's base and the files as they came; ok is false when it has none.
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
	for p, digest := range b.Files {
		content, err := os.ReadFile(path.Join(dir, baseDir, "files", digest))
		if err != nil || Digest(content) != digest {
			return b, nil, false, fmt.Errorf("the saved original of %s is damaged. To start again, delete %s/%s", p, dir, baseDir)
		}
		files[p] = content
	}
	return b, files, true, nil
}

// WriteBase keeps files as a folder's base.
func WriteBase(dir string, b Base, files widget.Files) error {
	b.Files = map[string]string{}
	changes := map[string][]byte{}
	for p, content := range files {
		digest := Digest(content)
		b.Files[p] = digest
		changes[baseDir+"/files/"+digest] = append([]byte{}, content...)
	}
	text, _ := json.MarshalIndent(b, "", "  ")
	changes[baseDir+"/base.json"] = append(text, '\n')
	// Within dir alone: the hidden folder may be a link to elsewhere.
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

// Digest is the SHA-256 of a file, in hexadecimal, as drafts name it.
func Digest(content []byte) string {
	sum := sha256.Sum256(content)
	return hex.EncodeToString(sum[:])
}

// Differences are the changes that make one folder the other.
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

// Named tells how a folder's widget is called, "" when its manifest does not say.
func Named(files widget.Files) string {
	var m struct{ Name string }
	if json.Unmarshal(files[widget.ManifestFile], &m) != nil {
		return ""
	}
	return strings.TrimSpace(m.Name)
}
