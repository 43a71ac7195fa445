package folder

import (
	"context"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/fsnotify/fsnotify"
)

// settles is how long a folder must be unchanged before a change is reported, because editors write
// a file in several steps.
const settles = 25 * time.Millisecond

// Watch calls changed after each change in a folder. It returns when ctx is done or the folder
// cannot be watched.
func Watch(ctx context.Context, dir string, changed func()) error {
	w, err := fsnotify.NewWatcher()
	if err != nil {
		return err
	}
	defer w.Close()
	// Folders that are created later are watched too.
	add := func(root string) error {
		return filepath.WalkDir(root, func(p string, d fs.DirEntry, err error) error {
			if err != nil || !d.IsDir() {
				return nil
			}
			if base := filepath.Base(p); p != dir && (strings.HasPrefix(base, ".") || base == "node_modules") {
				return fs.SkipDir
			}
			return w.Add(p)
		})
	}
	if err := add(dir); err != nil {
		return err
	}
	still := time.NewTimer(time.Hour)
	still.Stop()
	for {
		select {
		case <-ctx.Done():
			return nil
		case err := <-w.Errors:
			return err
		case e := <-w.Events:
			if strings.HasPrefix(filepath.Base(e.Name), ".") {
				continue
			}
			if e.Has(fsnotify.Create) {
				if info, err := os.Lstat(e.Name); err == nil && info.IsDir() {
					if err := add(e.Name); err != nil {
						return err
					}
				}
			}
			still.Reset(settles)
		case <-still.C:
			changed()
		}
	}
}
