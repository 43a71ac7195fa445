// Package workshop has the worktop: drafts of widgets, their checks and previews.
package workshop

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/release"
	"glasspocket/internal/asset"
	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/slots"
	"glasspocket/internal/widget"
)

// Workshop manages drafts of widgets. It is safe for concurrent use.
type Workshop struct {
	store      Store
	releases   *release.Releases
	site       *render.Site
	builder    widget.Builder
	trials     *widget.Trials
	making     *slots.Slots // for re-encoding images
	mu         sync.Mutex   // guards workpieces
	workpieces workpieces
	now        func() time.Time
}

// Options are the parts of a Workshop. All are required.
type Options struct {
	Store    Store
	Releases *release.Releases
	Site     *render.Site
	Builder  widget.Builder
	Trier    widget.Trier
	Making   *slots.Slots // limits how many images are re-encoded at once
	Now      func() time.Time
}

// New returns a Workshop.
func New(o Options) *Workshop {
	return &Workshop{store: o.Store, releases: o.Releases, site: o.Site, builder: o.Builder, trials: widget.NewTrials(o.Trier), making: o.Making, workpieces: workpieces{}, now: o.Now}
}

// Draft has the files of a widget on the worktop. A widget has at most one.
type Draft struct {
	Widget    string    `db:"widget"`
	Revision  int       `db:"revision"` // counts the changes, from 1
	Release   int       `db:"release"`  // number of the last release with the same files, 0 for none
	CreatedAt time.Time `db:"created_at"`
	ChangedAt time.Time `db:"changed_at"`
	ChangedBy string    `db:"changed_by"`
}

// File is a file of a widget's draft.
type File struct {
	Path      string    `db:"path"`
	Bytes     []byte    `db:"bytes"`
	Digest    string    `db:"digest"` // SHA-256 of Bytes, in hexadecimal
	ChangedAt time.Time `db:"changed_at"`
	ChangedBy string    `db:"changed_by"`
	Made      *asset.Made
	Removed   bool
}

// FileChange is a change to a file of a draft.
type FileChange struct {
	Path    string
	Bytes   []byte
	Removed bool
	// Was is the digest of the file before the change, "" if there was none.
	Was string
}

// Workpiece is a draft with its files.
type Workpiece struct {
	Draft
	Files []File // by path
}

func (w *Workpiece) file(path string) *File {
	for i := range w.Files {
		if w.Files[i].Path == path {
			return &w.Files[i]
		}
	}
	return nil
}

// Folder returns the files as a widget folder, and its processed assets by path.
func (w *Workpiece) Folder() (widget.Files, map[string]asset.Made) {
	files, assets := widget.Files{}, map[string]asset.Made{}
	for _, f := range w.Files {
		files[f.Path] = f.Bytes
		if f.Made != nil {
			assets[f.Path] = *f.Made
		}
	}
	return files, assets
}

// NewDraft says what a draft starts with: the given files, or a release.
type NewDraft struct {
	Widget  string
	Files   widget.Files // nil to use those of a release
	From    string       // the widget with the release; "" for the same widget
	Title   string       // for a copy of another widget; "" derives it from the name
	Release int          // its number; 0 for the newest in use
}

// Add creates a draft of a widget.
func (a *Workshop) Add(ctx context.Context, s access.Scope, n NewDraft) (*Workpiece, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	if !widget.NameForm.MatchString(n.Widget) {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "widget-name", Field: "name", What: fmt.Sprintf("%q is not a valid widget name.", n.Widget), Hint: "Use at most 40 lower-case letters, digits and hyphens, and start with a letter."}
	}
	now := a.now()
	d := Draft{Widget: n.Widget, Revision: 1, CreatedAt: now, ChangedAt: now, ChangedBy: s.Name}
	if n.Files == nil {
		from := n.From
		if from == "" {
			from = n.Widget
		}
		info, files, err := a.releases.Folder(ctx, from, n.Release)
		if err != nil {
			return nil, err
		}
		n.Files = files
		if from == n.Widget {
			d.Release = info.Number
		} else {
			n.Files = widget.CopyOf(files, n.Widget, widget.Origin{Widget: from, Release: info.Number})
			if n.Title == "" {
				n.Title = widget.TitleFrom(n.Widget)
			}
			n.Files = widget.Titled(n.Files, n.Title)
		}
	}
	var changes []FileChange
	for _, p := range n.Files.Paths() {
		changes = append(changes, FileChange{Path: p, Bytes: n.Files[p]})
	}
	files, err := a.draftFiles(ctx, s, n.Files, changes)
	if err != nil {
		return nil, err
	}
	if err := a.store.AddWidgetDraft(ctx, d, files, audit.NewRecord(s, a.now(), audit.Entry{Did: "start", Kind: "widget draft", Of: n.Widget})); errors.Is(err, problem.ErrExists) {
		return nil, &problem.Error{Kind: problem.Conflict, Code: "draft-exists", Field: "name", What: fmt.Sprintf("%s is already on the worktop.", n.Widget), Hint: "Continue with that draft, or delete it first."}
	} else if err != nil {
		return nil, err
	}
	return a.Workpiece(ctx, n.Widget)
}

// draftFiles converts changes to the stored form; whole has all files after the changes.
func (a *Workshop) draftFiles(ctx context.Context, s access.Scope, whole widget.Files, changes []FileChange) (files []File, err error) {
	if faults := whole.Limits(); len(faults) > 0 {
		return nil, problem.Faulty("widget-faulty", "The folder cannot be saved.", faults)
	}
	for _, c := range changes {
		f := File{Path: c.Path, Bytes: c.Bytes, Digest: digest.Of(c.Bytes), ChangedAt: a.now(), ChangedBy: s.Name, Removed: c.Removed}
		if strings.HasPrefix(c.Path, asset.Folder) && !c.Removed && asset.NameFault(c.Path) == "" {
			var faults fault.List
			if err := a.making.Do(ctx, "developer "+s.Name, func() { f.Made, faults = a.builder.Asset(c.Path, c.Bytes) }); err != nil {
				return nil, err
			}
			if len(faults) > 0 {
				return nil, problem.Faulty("widget-faulty", "A file in the folder cannot be saved.", faults.In(c.Path))
			}
		}
		files = append(files, f)
	}
	return files, nil
}

// List lists the drafts on the worktop.
func (a *Workshop) List(ctx context.Context, s access.Scope, p paging.Page) ([]Draft, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	return a.store.WidgetDrafts(ctx, p)
}

// Get returns a draft with its files.
func (a *Workshop) Get(ctx context.Context, s access.Scope, name string) (*Workpiece, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	return a.Workpiece(ctx, name)
}

// workpieces caches the drafts that were read last, by widget. Each is valid while its revision is
// the stored one.
type workpieces = map[string]*Workpiece

// workpiecesMost limits the cache, because a folder can have up to 18 MiB.
const workpiecesMost = 4

func (a *Workshop) Workpiece(ctx context.Context, name string) (*Workpiece, error) {
	d, err := a.store.WidgetDraft(ctx, name)
	if errors.Is(err, problem.ErrNotFound) {
		return nil, problem.Missing("draft", name, "List the drafts to see which widgets are on the worktop, or start one.")
	}
	if err != nil {
		return nil, err
	}
	a.mu.Lock()
	w := a.workpieces[name]
	a.mu.Unlock()
	if w != nil && w.Revision == d.Revision && w.CreatedAt.Equal(d.CreatedAt) {
		return w, nil
	}
	w = &Workpiece{}
	if w.Draft, w.Files, err = a.store.WidgetDraftFiles(ctx, name); err != nil {
		return nil, err
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	if len(a.workpieces) >= workpiecesMost {
		clear(a.workpieces)
	}
	a.workpieces[name] = w
	return w, nil
}

// Save changes files of a draft: all of them, or none if somebody else has changed one
// of them since it was read.
func (a *Workshop) Save(ctx context.Context, s access.Scope, name string, changes []FileChange) (*Workpiece, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	for {
		w, err := a.Workpiece(ctx, name)
		if err != nil {
			return nil, err
		}
		var collisions fault.List
		for _, c := range changes {
			was, by := "", ""
			if f := w.file(c.Path); f != nil {
				was, by = f.Digest, f.ChangedBy
			} else if c.Was != "" {
				by = w.ChangedBy
			}
			if was != c.Was && !(was == digest.Of(c.Bytes) && !c.Removed) {
				collisions = append(collisions, fault.Fault{Path: c.Path, Field: c.Path, Code: fault.FileChanged, What: fmt.Sprintf("%s was changed by %s.", c.Path, by), Fix: "Read the current version, then repeat your change."})
			}
		}
		if len(collisions) > 0 {
			return nil, &problem.Error{Kind: problem.Precondition, Code: "draft-changed", What: collisions[0].What, Hint: collisions[0].Fix, Faults: collisions}
		}
		whole, _ := w.Folder()
		whole = maps.Clone(whole)
		for _, c := range changes {
			if c.Removed {
				delete(whole, c.Path)
			} else {
				whole[c.Path] = c.Bytes
			}
		}
		files, err := a.draftFiles(ctx, s, whole, changes)
		if err != nil {
			return nil, err
		}
		next := w.Draft
		next.Revision, next.ChangedAt, next.ChangedBy = w.Revision+1, a.now(), s.Name
		err = a.store.SaveWidgetDraft(ctx, next, w.Revision, files, audit.NewRecord(s, a.now(), audit.Entry{Did: "change", Kind: "widget draft", Of: name, Names: pathsOf(changes)}))
		if errors.Is(err, problem.ErrChanged) {
			continue // somebody has changed a file in the meantime: check again
		}
		if err != nil {
			return nil, err
		}
		return a.Workpiece(ctx, name)
	}
}

func pathsOf(changes []FileChange) []string {
	paths := make([]string, len(changes))
	for i, c := range changes {
		paths[i] = c.Path
	}
	return paths
}

// Delete removes a draft from the worktop. Its releases stay.
func (a *Workshop) Delete(ctx context.Context, s access.Scope, name string) error {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return err
	}
	err := a.store.DeleteWidgetDraft(ctx, name, audit.NewRecord(s, a.now(), audit.Entry{Did: "delete", Kind: "widget draft", Of: name}))
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("draft", name, "List the drafts to see which widgets are on the worktop.")
	}
	a.mu.Lock()
	delete(a.workpieces, name)
	a.mu.Unlock()
	return err
}

// with returns a draft's folder with unsaved files. Assets have to be saved.
func (w *Workpiece) with(overlay []FileChange) (widget.Files, map[string]asset.Made) {
	files, assets := w.Folder()
	for _, c := range overlay {
		switch {
		case c.Removed:
			delete(files, c.Path)
		case !strings.HasPrefix(c.Path, asset.Folder):
			files[c.Path] = c.Bytes
		}
	}
	return files, assets
}

// CheckDraft reports everything that is wrong with a draft, including unsaved files.
func (a *Workshop) CheckDraft(ctx context.Context, s access.Scope, name string, overlay []FileChange) (*widget.Release, fault.List, error) {
	w, err := a.Get(ctx, s, name)
	if err != nil {
		return nil, nil, err
	}
	files, assets := w.with(overlay)
	r, faults := widget.Read(files, MadeBefore{a.builder, assets})
	if r != nil {
		return r, slices.Clone(r.Warnings), nil
	}
	return nil, faults, nil
}

// Released records that a draft is the same as the release with that digest, unless it has
// changed since.
func (a *Workshop) Released(ctx context.Context, name string, number int, digest string) {
	w, err := a.Workpiece(ctx, name)
	if err != nil {
		return
	}
	if files, _ := w.Folder(); files.Digest() != digest {
		return
	}
	next := w.Draft
	next.Revision, next.Release = w.Revision+1, number
	_ = a.store.SaveWidgetDraft(ctx, next, w.Revision, nil, nil)
}
