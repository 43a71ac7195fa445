// Package local runs the worktop for a folder on this computer: the part of the manage API that the
// worktop uses, for files that the author's own editor changes too. Nothing leaves the computer.
package local

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"
	"sync"
	"time"

	"glasspocket/internal/app/workshop"
	"glasspocket/internal/asset"
	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/folder"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// Builder builds for releases and for previews.
type Builder interface {
	widget.Builder
	widget.Trier
}

// Bench is a folder on the worktop. It is safe for concurrent use.
type Bench struct {
	dir     string
	name    string // the widget's, as first read from its manifest
	builder Builder
	trials  *widget.Trials
	site    *render.Site // for the public address
	secret  secret

	saving sync.Mutex // held from comparing a change with the files until it is written

	mu       sync.Mutex
	files    widget.Files
	faults   fault.List // from reading the folder
	revision int
	began    time.Time
	changed  time.Time
	made     map[string]*asset.Made // by digest of the file
	watchers map[chan struct{}]bool
}

// Open reads a folder.
func Open(dir string, b Builder) (*Bench, error) {
	t := &Bench{dir: dir, secret: newSecret(), builder: b, trials: widget.NewTrials(b), made: map[string]*asset.Made{}, watchers: map[chan struct{}]bool{}, began: time.Now(), changed: time.Now()}
	if err := t.read(); err != nil {
		return nil, err
	}
	if t.name = folder.Named(t.files); t.name == "" || !widget.NameForm.MatchString(t.name) {
		t.name = "widget"
	}
	return t, nil
}

// Address returns the address that opens the worktop; at is its host and port.
func (t *Bench) Address(at string) string {
	return "http://" + at + "/worktop/" + t.name + "?" + key + "=" + string(t.secret)
}

// Name returns the widget's name.
func (t *Bench) Name() string { return t.name }

// read reads the files on disk, and notifies everybody who waits if they changed.
func (t *Bench) read() error {
	files, faults, err := folder.Read(t.dir)
	if err != nil {
		return err
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.revision > 0 && len(folder.Differences(t.files, files)) == 0 && len(faults) == len(t.faults) {
		return nil
	}
	t.files, t.faults, t.changed = files, faults, time.Now()
	t.revision++
	for w := range t.watchers {
		select {
		case w <- struct{}{}:
		default: // a notification is pending
		}
	}
	return nil
}

// Watch follows the folder until ctx is done.
func (t *Bench) Watch(ctx context.Context, failed func(error)) error {
	return folder.Watch(ctx, t.dir, func() {
		if err := t.read(); err != nil {
			failed(err)
		}
	})
}

// changes returns a channel that receives a value after each change. Call end when it is no longer
// needed.
func (t *Bench) changes() (c chan struct{}, end func()) {
	c = make(chan struct{}, 1)
	t.mu.Lock()
	defer t.mu.Unlock()
	t.watchers[c] = true
	return c, func() {
		t.mu.Lock()
		defer t.mu.Unlock()
		delete(t.watchers, c)
	}
}

// assets processes the folder's assets, each content once.
func (t *Bench) assets(files widget.Files) (map[string]asset.Made, fault.List) {
	all := map[string]asset.Made{}
	var faults fault.List
	for _, p := range files.Paths() {
		if !strings.HasPrefix(p, asset.Folder) || asset.NameFault(p) != "" {
			continue
		}
		sum := sha256.Sum256(append([]byte(path.Base(p)+"\x00"), files[p]...))
		key := hex.EncodeToString(sum[:])
		t.mu.Lock()
		made := t.made[key]
		t.mu.Unlock()
		if made == nil {
			var more fault.List
			if made, more = t.builder.Asset(p, files[p]); made == nil {
				faults = append(faults, more.In(p)...)
				continue
			}
			t.mu.Lock()
			t.made[key] = made
			t.mu.Unlock()
		}
		all[p] = *made
	}
	return all, faults
}

// file returns a form of one of the folder's assets, by its address.
func (t *Bench) file(digest, name string) []byte {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, made := range t.made {
		if made.Digest != digest {
			continue
		}
		for i, form := range made.Forms {
			if form.Name == name {
				return made.Files[i]
			}
		}
	}
	return nil
}

// draft returns the folder in the form for the worktop.
func (t *Bench) draft() wire.WidgetDraft {
	t.mu.Lock()
	files := maps.Clone(t.files)
	out := wire.WidgetDraft{Widget: t.name, Revision: t.revision, CreatedAt: t.began, ChangedAt: t.changed, ChangedBy: "another program", Files: []wire.DraftFile{}}
	t.mu.Unlock()
	assets, _ := t.assets(files)
	for _, p := range files.Paths() {
		var made *asset.Made
		if m, ok := assets[p]; ok {
			made = &m
		}
		file := wire.DraftFileOf(p, files[p], made, t.site.Base)
		file.ChangedBy = out.ChangedBy
		out.Files = append(out.Files, file)
	}
	return out
}

// save writes changes to disk: all of them, or none if a file is not the one that was changed.
func (t *Bench) save(list []workshop.FileChange) (fault.List, error) {
	t.saving.Lock()
	defer t.saving.Unlock()
	if err := t.read(); err != nil { // include what an editor has just written
		return nil, err
	}
	t.mu.Lock()
	files := maps.Clone(t.files)
	t.mu.Unlock()
	var collisions fault.List
	changes := map[string][]byte{}
	for _, c := range list {
		was := ""
		content, there := files[c.Path]
		if there {
			was = digest.Of(content)
		}
		if was != c.Was && !(there && !c.Removed && bytes.Equal(content, c.Bytes)) {
			collisions = append(collisions, fault.Fault{Path: c.Path, Field: c.Path, Code: fault.FileChanged, What: fmt.Sprintf("Another program has changed %s.", c.Path), Fix: "Read the current version, then repeat your change."})
			continue
		}
		changes[c.Path] = append([]byte{}, c.Bytes...)
		files[c.Path] = c.Bytes
		if c.Removed {
			changes[c.Path] = nil
			delete(files, c.Path)
		}
	}
	if len(collisions) > 0 {
		return collisions, nil
	}
	if faults := files.Limits(); len(faults) > 0 {
		return faults, nil
	}
	if err := folder.Write(t.dir, changes); err != nil {
		return nil, err
	}
	return nil, t.read()
}

// with returns the folder with unsaved files.
func (t *Bench) with(overlay []workshop.FileChange) (widget.Files, fault.List) {
	t.mu.Lock()
	defer t.mu.Unlock()
	files := maps.Clone(t.files)
	for _, c := range overlay {
		if c.Removed {
			delete(files, c.Path)
		} else {
			files[c.Path] = c.Bytes
		}
	}
	return files, t.faults
}

// try renders the folder in several cases.
func (t *Bench) try(overlay []workshop.FileChange, cases []widget.Case) wire.PreviewedWidget {
	files, faults := t.with(overlay)
	assets, more := t.assets(files)
	tried := workshop.Try(t.site, t.trials, files, assets, cases, time.Now())
	tried.Faults = slices.Concat(faults, more, tried.Faults)
	t.mu.Lock()
	tried.Revision = t.revision
	t.mu.Unlock()
	return wire.PreviewedWidgetOf(tried, t.site.Base)
}

// check reports everything that is wrong with the folder.
func (t *Bench) check(overlay []workshop.FileChange) wire.Checked {
	files, faults := t.with(overlay)
	r, more := widget.Read(files, t.builder)
	if r == nil {
		return wire.Checked{Faults: slices.Concat(faults, more)}
	}
	out := wire.Checked{Faults: append(append(fault.List{}, faults...), r.Warnings...)}
	if len(faults) == 0 {
		out.Widget, out.Digest = r.Manifest.Name, r.Digest
	}
	return out
}
