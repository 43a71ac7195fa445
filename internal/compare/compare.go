// Package compare describes the changes between two folders of a widget in the terms of their
// authors: settings by their labels, files by their lines.
package compare

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/aymanbagabas/go-udiff"

	"glasspocket/internal/clip"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// The kinds of changes.
const (
	Added   = "added"
	Removed = "removed"
	Changed = "changed"
)

// Changes are the differences between two folders.
type Changes struct {
	Settings []SettingChange `json:"settings"`
	Files    []FileChange    `json:"files"`
}

// SettingChange is a setting that was added, removed or changed.
type SettingChange struct {
	Key   string   `json:"key"`
	Label string   `json:"label"`
	Kind  string   `json:"kind"`
	What  []string `json:"what,omitempty"` // "default: 8 → 12"
}

// FileChange is a file that was added, removed or changed.
type FileChange struct {
	Path  string `json:"path"`
	Kind  string `json:"kind"`
	More  int    `json:"more"` // lines added
	Fewer int    `json:"fewer"`
	Diff  string `json:"diff,omitempty"` // unified diff, for a text that is not too long
}

// longest is the largest file whose lines are compared, in bytes, and diffMost the longest reported
// diff.
const (
	longest  = 256 << 10
	diffMost = 24 << 10
)

// Folders compares files and, if both folders are valid, settings.
func Folders(before, after widget.Files, was, is *setting.Schema) Changes {
	c := Changes{Settings: []SettingChange{}, Files: []FileChange{}}
	if was != nil && is != nil {
		c.Settings = settings(was, is)
	}
	paths := append(before.Paths(), after.Paths()...)
	slices.Sort(paths)
	for _, p := range slices.Compact(paths) {
		one, had := before[p]
		two, has := after[p]
		if had && has && string(one) == string(two) {
			continue
		}
		f := FileChange{Path: p, Kind: Changed}
		switch {
		case !had:
			f.Kind = Added
		case !has:
			f.Kind = Removed
		}
		if utf8.Valid(one) && utf8.Valid(two) && len(one)+len(two) <= longest {
			f.lines(string(one), string(two))
		}
		c.Files = append(c.Files, f)
	}
	return c
}

func (f *FileChange) lines(before, after string) {
	edits := udiff.Lines(before, after)
	for _, e := range edits {
		f.Fewer += count(before[e.Start:e.End])
		f.More += count(e.New)
	}
	text, err := udiff.ToUnified("", "", before, edits, 2)
	if err != nil {
		return
	}
	if _, body, ok := strings.Cut(text, "\n+++ \n"); ok && len(body) <= diffMost { // without the names of files
		f.Diff = body
	}
}

// count returns the number of lines in a text.
func count(text string) int {
	n := strings.Count(text, "\n")
	if text != "" && !strings.HasSuffix(text, "\n") {
		n++
	}
	return n
}

func settings(was, is *setting.Schema) []SettingChange {
	list := []SettingChange{}
	for _, s := range is.Settings {
		old := was.Get(s.Key)
		if old == nil {
			list = append(list, SettingChange{Key: s.Key, Label: label(s), Kind: Added})
			continue
		}
		if what := differences(old, s); len(what) > 0 {
			list = append(list, SettingChange{Key: s.Key, Label: label(s), Kind: Changed, What: what})
		}
	}
	for _, s := range was.Settings {
		if is.Get(s.Key) == nil {
			c := SettingChange{Key: s.Key, Label: label(s), Kind: Removed}
			for _, change := range is.Changes {
				if change.From == s.Key {
					switch change.Kind {
					case "drop":
						c.What = []string{"its values are kept, but not shown"}
					default:
						c.What = []string{"its values move to " + strings.Join(change.To, ", ")}
					}
				}
			}
			list = append(list, c)
		}
	}
	return list
}

func label(s *setting.Setting) string {
	if l := s.Label.In("en"); l != "" {
		return l
	}
	return s.Key
}

// differences compares the properties of a setting by their names in the API.
func differences(was, is *setting.Setting) (what []string) {
	a, b := plain(was), plain(is)
	keys := make([]string, 0, len(a)+len(b))
	for k := range a {
		keys = append(keys, k)
	}
	for k := range b {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	for _, k := range slices.Compact(keys) {
		if k != "order" && !reflect.DeepEqual(a[k], b[k]) {
			what = append(what, fmt.Sprintf("%s: %s → %s", k, short(a[k]), short(b[k])))
		}
	}
	return what
}

func plain(s *setting.Setting) (m map[string]any) {
	text, _ := json.Marshal(s)
	_ = json.Unmarshal(text, &m) // encoded above, so it is valid
	return m
}

func short(v any) string {
	if v == nil {
		return "none"
	}
	text, _ := json.Marshal(v)
	return clip.Input(string(text))
}
