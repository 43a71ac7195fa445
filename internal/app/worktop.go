package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// WidgetDraft has the files of a widget on the worktop. A widget has at most one.
type WidgetDraft struct {
	Widget    string    `db:"widget"`
	Revision  int       `db:"revision"` // counts the changes, from 1
	Release   int       `db:"release"`  // number of the last release with the same files, 0 for none
	CreatedAt time.Time `db:"created_at"`
	ChangedAt time.Time `db:"changed_at"`
	ChangedBy string    `db:"changed_by"`
}

// DraftFile is a file of a widget's draft.
type DraftFile struct {
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

func digestOf(bytes []byte) string {
	sum := sha256.Sum256(bytes)
	return hex.EncodeToString(sum[:])
}

// Workpiece is a draft with its files.
type Workpiece struct {
	WidgetDraft
	Files []DraftFile // by path
}

func (w *Workpiece) file(path string) *DraftFile {
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

// NewWidgetDraft says what a draft starts with: the given files, or a release.
type NewWidgetDraft struct {
	Widget  string
	Files   widget.Files // nil to use those of a release
	From    string       // the widget with the release; "" for the same widget
	Title   string       // for a copy of another widget; "" derives it from the name
	Release int          // its number; 0 for the newest in use
}

// AddWidgetDraft creates a draft of a widget.
func (a *App) AddWidgetDraft(ctx context.Context, s Scope, n NewWidgetDraft) (*Workpiece, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, err
	}
	if !widget.NameForm.MatchString(n.Widget) {
		return nil, &Error{Kind: Invalid, Code: "widget-name", Field: "name", What: fmt.Sprintf("%q is not a valid widget name.", n.Widget), Hint: "Use at most 40 lower-case letters, digits and hyphens, and start with a letter."}
	}
	now := a.now()
	d := WidgetDraft{Widget: n.Widget, Revision: 1, CreatedAt: now, ChangedAt: now, ChangedBy: s.Name}
	if n.Files == nil {
		from := n.From
		if from == "" {
			from = n.Widget
		}
		info, files, err := a.releaseFolder(ctx, from, n.Release)
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
	if err := a.store.AddWidgetDraft(ctx, d, files, newRecord(s, a.now(), Entry{Did: "start", Kind: "widget draft", Of: n.Widget})); errors.Is(err, ErrExists) {
		return nil, &Error{Kind: Conflict, Code: "draft-exists", Field: "name", What: fmt.Sprintf("%s is already on the worktop.", n.Widget), Hint: "Continue with that draft, or delete it first."}
	} else if err != nil {
		return nil, err
	}
	return a.workpiece(ctx, n.Widget)
}

// ReleaseFolder returns the files of a release; number 0 is the newest in use.
func (a *App) ReleaseFolder(ctx context.Context, s Scope, name string, number int) (ReleaseInfo, widget.Files, error) {
	if err := s.require(releaseWidgets); err != nil {
		return ReleaseInfo{}, nil, err
	}
	return a.releaseFolder(ctx, name, number)
}

// releaseFolder returns the files of a release with the bytes of its assets; number 0 is the newest
// in use.
func (a *App) releaseFolder(ctx context.Context, name string, number int) (info ReleaseInfo, files widget.Files, err error) {
	if number == 0 {
		info, err = a.store.NewestReleaseFor(ctx, name, LotLast)
	} else {
		info, err = a.store.ReleaseByNumber(ctx, name, number)
	}
	if errors.Is(err, ErrNotFound) && number > 0 {
		return info, nil, notFound("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	if errors.Is(err, ErrNotFound) {
		return info, nil, noWidget(name)
	}
	if err != nil {
		return info, nil, err
	}
	files, err = a.store.ReleaseFolder(ctx, info.ID)
	return info, files, err
}

// draftFiles converts changes to the stored form; whole has all files after the changes.
func (a *App) draftFiles(ctx context.Context, s Scope, whole widget.Files, changes []FileChange) (files []DraftFile, err error) {
	if faults := whole.Limits(); len(faults) > 0 {
		return nil, faulty("widget-faulty", "The folder cannot be saved.", faults)
	}
	for _, c := range changes {
		f := DraftFile{Path: c.Path, Bytes: c.Bytes, Digest: digestOf(c.Bytes), ChangedAt: a.now(), ChangedBy: s.Name, Removed: c.Removed}
		if strings.HasPrefix(c.Path, asset.Folder) && !c.Removed && asset.NameFault(c.Path) == "" {
			var faults fault.List
			if err := a.making.do(ctx, "developer "+s.Name, func() { f.Made, faults = a.builder.Asset(c.Path, c.Bytes) }); err != nil {
				return nil, err
			}
			if len(faults) > 0 {
				return nil, faulty("widget-faulty", "A file in the folder cannot be saved.", faults.In(c.Path))
			}
		}
		files = append(files, f)
	}
	return files, nil
}

// WidgetDrafts lists the drafts on the worktop.
func (a *App) WidgetDrafts(ctx context.Context, s Scope, p Page) ([]WidgetDraft, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, err
	}
	return a.store.WidgetDrafts(ctx, p)
}

// WidgetDraft returns a draft with its files.
func (a *App) WidgetDraft(ctx context.Context, s Scope, name string) (*Workpiece, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, err
	}
	return a.workpiece(ctx, name)
}

// workpieces caches the drafts that were read last, by widget. Each is valid while its revision is
// the stored one.
type workpieces = map[string]*Workpiece

// workpiecesMost limits the cache, because a folder can have up to 18 MiB.
const workpiecesMost = 4

func (a *App) workpiece(ctx context.Context, name string) (*Workpiece, error) {
	d, err := a.store.WidgetDraft(ctx, name)
	if errors.Is(err, ErrNotFound) {
		return nil, notFound("draft", name, "List the drafts to see which widgets are on the worktop, or start one.")
	}
	if err != nil {
		return nil, err
	}
	a.worktop.Lock()
	w := a.workpieces[name]
	a.worktop.Unlock()
	if w != nil && w.Revision == d.Revision && w.CreatedAt.Equal(d.CreatedAt) {
		return w, nil
	}
	w = &Workpiece{}
	if w.WidgetDraft, w.Files, err = a.store.WidgetDraftFiles(ctx, name); err != nil {
		return nil, err
	}
	a.worktop.Lock()
	defer a.worktop.Unlock()
	if len(a.workpieces) >= workpiecesMost {
		clear(a.workpieces)
	}
	a.workpieces[name] = w
	return w, nil
}

// SaveWidgetDraft changes files of a draft: all of them, or none if somebody else has changed one
// of them since it was read.
func (a *App) SaveWidgetDraft(ctx context.Context, s Scope, name string, changes []FileChange) (*Workpiece, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, err
	}
	for {
		w, err := a.workpiece(ctx, name)
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
			if was != c.Was && !(was == digestOf(c.Bytes) && !c.Removed) {
				collisions = append(collisions, fault.Fault{Path: c.Path, Field: c.Path, Code: fault.FileChanged, What: fmt.Sprintf("%s was changed by %s.", c.Path, by), Fix: "Read the current version, then repeat your change."})
			}
		}
		if len(collisions) > 0 {
			return nil, &Error{Kind: Precondition, Code: "draft-changed", What: collisions[0].What, Hint: collisions[0].Fix, Faults: collisions}
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
		next := w.WidgetDraft
		next.Revision, next.ChangedAt, next.ChangedBy = w.Revision+1, a.now(), s.Name
		err = a.store.SaveWidgetDraft(ctx, next, w.Revision, files, newRecord(s, a.now(), Entry{Did: "change", Kind: "widget draft", Of: name, Names: pathsOf(changes)}))
		if errors.Is(err, ErrChanged) {
			continue // somebody has changed a file in the meantime: check again
		}
		if err != nil {
			return nil, err
		}
		return a.workpiece(ctx, name)
	}
}

func pathsOf(changes []FileChange) []string {
	paths := make([]string, len(changes))
	for i, c := range changes {
		paths[i] = c.Path
	}
	return paths
}

// DeleteWidgetDraft removes a draft from the worktop. Its releases stay.
func (a *App) DeleteWidgetDraft(ctx context.Context, s Scope, name string) error {
	if err := s.require(releaseWidgets); err != nil {
		return err
	}
	err := a.store.DeleteWidgetDraft(ctx, name, newRecord(s, a.now(), Entry{Did: "delete", Kind: "widget draft", Of: name}))
	if errors.Is(err, ErrNotFound) {
		return notFound("draft", name, "List the drafts to see which widgets are on the worktop.")
	}
	a.worktop.Lock()
	delete(a.workpieces, name)
	a.worktop.Unlock()
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

// CheckWidgetDraft reports everything that is wrong with a draft, including unsaved files.
func (a *App) CheckWidgetDraft(ctx context.Context, s Scope, name string, overlay []FileChange) (*widget.Release, fault.List, error) {
	w, err := a.WidgetDraft(ctx, s, name)
	if err != nil {
		return nil, nil, err
	}
	files, assets := w.with(overlay)
	r, faults := widget.Read(files, madeBefore{a.builder, assets})
	if r != nil {
		return r, slices.Clone(r.Warnings), nil
	}
	return nil, faults, nil
}

// madeBefore is a builder that uses processed assets.
type madeBefore struct {
	widget.Builder
	assets map[string]asset.Made
}

func (b madeBefore) Asset(path string, src []byte) (*asset.Made, fault.List) {
	if made, ok := b.assets[path]; ok {
		return &made, nil
	}
	return b.Builder.Asset(path, src)
}

// releasedDraft records that a draft is the same as the release with that digest, unless it has
// changed since.
func (a *App) releasedDraft(ctx context.Context, name string, number int, digest string) {
	w, err := a.workpiece(ctx, name)
	if err != nil {
		return
	}
	if files, _ := w.Folder(); files.Digest() != digest {
		return
	}
	next := w.WidgetDraft
	next.Revision, next.Release = w.Revision+1, number
	_ = a.store.SaveWidgetDraft(ctx, next, w.Revision, nil, nil)
}
