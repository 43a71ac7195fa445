package app

import (
	"context"
	"errors"
	"fmt"
	"time"
	"unicode/utf8"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"
)

// Check reads a widget folder's files without storing them.
func (a *App) Check(s Scope, files widget.Files) (*widget.Release, fault.List, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, nil, err
	}
	r, faults := widget.Read(files, a.builder)
	return r, faults, nil
}

// NewRelease has the options for a release.
type NewRelease struct {
	Files  widget.Files // nil for the draft on the worktop
	Note   string
	Share  int    // initial percentage of pockets; 0 for all
	DryRun string // the dry run that somebody reviewed; "" makes a new one
	Breaks bool   // pockets that it breaks may keep the old release

	After int // number of its expected predecessor, -1 for any
	At    time.Time
	By    string
}

// noteMost is the longest note, in characters.
const noteMost = 2000

// toRelease reads what to release: files, or the draft of a widget if files is nil.
func (a *App) toRelease(ctx context.Context, s Scope, name string, files widget.Files) (*widget.Release, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, err
	}
	builder := a.builder
	if files == nil {
		w, err := a.workpiece(ctx, name)
		if err != nil {
			return nil, err
		}
		var assets map[string]asset.Made
		files, assets = w.Folder()
		builder = madeBefore{a.builder, assets}
	}
	r, faults := widget.Read(files, builder)
	if r == nil {
		return nil, faulty("widget-faulty", "The widget folder has faults.", faults)
	}
	if r.Manifest.Name != name {
		return nil, &Error{Kind: Invalid, Code: "widget-name", Field: "name", What: fmt.Sprintf("The manifest says the widget is %q, but the address says %q.", r.Manifest.Name, name), Hint: "Send it to the address with the widget's own name."}
	}
	return r, nil
}

// Release makes an immutable, numbered release of a widget folder, after rendering every pocket
// that follows with it. Releasing an unchanged folder again returns the existing release (fresh is
// false).
func (a *App) Release(ctx context.Context, s Scope, name string, n NewRelease) (info ReleaseInfo, fresh bool, warnings fault.List, err error) {
	r, err := a.toRelease(ctx, s, name, n.Files)
	if err != nil {
		return info, false, nil, err
	}
	if utf8.RuneCountInString(n.Note) > noteMost {
		return info, false, nil, &Error{Kind: Invalid, Code: "note-too-long", Field: "note", What: fmt.Sprintf("A note can have at most %d characters.", noteMost), Hint: "Shorten it."}
	}
	if n.Share < 0 || n.Share > 100 {
		return info, false, nil, badShare(n.Share)
	}
	if n.Share == 0 {
		n.Share = 100
	}
	n.After, n.At, n.By = -1, a.now(), s.Name
	if newest, err := a.store.Releases(ctx, name, 0, 1); err != nil {
		return info, false, nil, err
	} else if len(newest) > 0 && (newest[0].Digest != r.Digest || newest[0].WithdrawnAt != nil) {
		if err := a.passes(ctx, name, r, &n); err != nil {
			return info, false, nil, err
		}
	}
	info, fresh, err = a.store.AddRelease(ctx, r, n, newRecord(s, a.now(), Entry{Did: "release", Kind: "widget", Of: name, Note: n.Note}))
	if errors.Is(err, ErrChanged) {
		return info, false, nil, &Error{Kind: Conflict, Code: "released-meanwhile", What: fmt.Sprintf("Somebody else released %s at the same time.", name), Hint: "Review that release, then release again."}
	}
	if err != nil {
		return info, false, nil, err
	}
	a.keepOpen(info.ID, r)
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Widget, ID: name}})
	if n.Breaks && fresh {
		if _, err := a.arriving(ctx, name); err != nil {
			return info, fresh, r.Warnings, err
		}
	}
	if n.Files == nil {
		a.releasedDraft(ctx, name, info.Number, info.Digest)
	}
	return info, fresh, r.Warnings, nil
}

func badShare(share int) *Error {
	return &Error{Kind: Invalid, Code: "share-faulty", Field: "share", What: fmt.Sprintf("A release can be rolled out to 1 to 100 percent of pockets, not to %d.", share), Hint: "To take it out of use, withdraw it."}
}

// Share sets the percentage of following pockets that a release is rolled out to.
func (a *App) Share(ctx context.Context, s Scope, name string, number, share int) (info ReleaseInfo, stuck Stuck, err error) {
	if err := s.require(withdrawReleases); err != nil {
		return info, stuck, err
	}
	if share < 1 || share > 100 {
		return info, stuck, badShare(share)
	}
	info, err = a.store.ShareRelease(ctx, name, number, share, newRecord(s, a.now(), Entry{Did: "share", Kind: "widget", Of: name, Number: number, Note: fmt.Sprint(share)}))
	if errors.Is(err, ErrNotFound) {
		return info, stuck, notFound("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Widget, ID: name}})
	if err == nil {
		stuck, err = a.arriving(ctx, name)
	}
	return info, stuck, err
}

// Releases lists a widget's releases before a number (0 for all), the newest first.
func (a *App) Releases(ctx context.Context, s Scope, name string, before, limit int) ([]ReleaseInfo, error) {
	if err := s.require(seeWidgets); err != nil {
		return nil, err
	}
	list, err := a.store.Releases(ctx, name, before, limit)
	if err == nil && len(list) == 0 && before == 0 {
		return nil, noWidget(name)
	}
	return list, err
}

// Withdraw withdraws a release, or puts it back into use. What was published with it is still
// served. Pockets that follow change to the newest release in use, except those whose settings it
// does not accept, which are stuck.
func (a *App) Withdraw(ctx context.Context, s Scope, name string, number int, withdrawn bool) (info ReleaseInfo, stuck Stuck, err error) {
	if err := s.require(withdrawReleases); err != nil {
		return info, stuck, err
	}
	var at *time.Time
	if withdrawn {
		now := a.now()
		at = &now
	}
	did := "bring-back-release"
	if withdrawn {
		did = "withdraw"
	}
	info, err = a.store.Withdraw(ctx, name, number, at, newRecord(s, a.now(), Entry{Did: did, Kind: "widget", Of: name, Number: number}))
	if errors.Is(err, ErrNotFound) {
		return info, stuck, notFound("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Widget, ID: name}})
	if err == nil {
		stuck, err = a.arriving(ctx, name)
	}
	return info, stuck, err
}

func noWidget(name string) *Error {
	return notFound("widget", name, "List the widgets to see their names. To add one, release a folder.")
}

// Widgets lists every widget with its newest release.
func (a *App) Widgets(ctx context.Context, s Scope) ([]WidgetInfo, error) {
	if err := s.require(seeWidgets); err != nil {
		return nil, err
	}
	infos, err := a.store.NewestReleases(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]WidgetInfo, len(infos))
	for i, info := range infos {
		r, err := a.open(ctx, info.ID)
		if err != nil {
			return nil, err
		}
		list[i] = WidgetInfo{info, r}
	}
	return list, nil
}

// WidgetInfo is a widget as in its newest release.
type WidgetInfo struct {
	ReleaseInfo
	Release *widget.Release
}

// Widget returns a widget.
func (a *App) Widget(ctx context.Context, s Scope, name string) (WidgetInfo, error) {
	if err := s.require(seeWidgets); err != nil {
		return WidgetInfo{}, err
	}
	return a.widget(ctx, name)
}

// WidgetOf returns a pocket's widget in the newest release that is rolled out to it.
func (a *App) WidgetOf(ctx context.Context, s Scope, name, key string) (WidgetInfo, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return WidgetInfo{}, err
	}
	if p.Widget != name {
		return WidgetInfo{}, noWidget(name)
	}
	return a.widgetFor(ctx, p.Widget, p.Lot)
}

// widgetFor returns a widget in the newest release that is rolled out to a pocket's lot. If all have
// been withdrawn, it returns the newest of those, so that the pocket can still be opened and
// unpublished; see WithdrawnAt.
func (a *App) widgetFor(ctx context.Context, name string, lot int) (WidgetInfo, error) {
	w, err := a.widgetAt(ctx, name, lot)
	var refused *Error
	if !errors.As(err, &refused) || refused.Code != "release-withdrawn" {
		return w, err
	}
	all, err := a.store.Releases(ctx, name, 0, 1)
	if err != nil {
		return WidgetInfo{}, err
	}
	r, err := a.open(ctx, all[0].ID)
	return WidgetInfo{all[0], r}, err
}

// widget returns a widget in the newest release that is rolled out to all.
func (a *App) widget(ctx context.Context, name string) (WidgetInfo, error) {
	return a.widgetAt(ctx, name, LotLast)
}

func (a *App) widgetAt(ctx context.Context, name string, lot int) (WidgetInfo, error) {
	info, err := a.store.NewestReleaseFor(ctx, name, lot)
	if errors.Is(err, ErrNotFound) {
		if all, err := a.store.Releases(ctx, name, 0, 1); err == nil && len(all) > 0 {
			return WidgetInfo{}, &Error{Kind: Conflict, Code: "release-withdrawn", What: fmt.Sprintf("All releases of %s have been withdrawn.", name), Hint: "Release its folder again, or put a release back into use."}
		}
		return WidgetInfo{}, noWidget(name)
	}
	if err != nil {
		return WidgetInfo{}, err
	}
	r, err := a.open(ctx, info.ID)
	return WidgetInfo{info, r}, err
}

// open returns a stored release, which is read once.
func (a *App) open(ctx context.Context, id int64) (*widget.Release, error) {
	if r, ok := a.opened.Load(id); ok {
		return r.(*widget.Release), nil
	}
	r, err, _ := a.openings.Do(fmt.Sprint(id), func() (any, error) {
		files, opened, err := a.store.ReleaseFiles(ctx, id)
		if err != nil {
			return nil, err
		}
		r, faults := widget.Read(files, opened)
		if len(faults) > 0 { // newer rules refuse what an older program accepted
			return nil, fmt.Errorf("stored release %d cannot be opened: %w", id, faults)
		}
		a.opened.Store(id, r)
		return r, nil
	})
	if err != nil {
		return nil, err
	}
	return r.(*widget.Release), nil
}

// keepOpen caches a release that has just been stored.
func (a *App) keepOpen(id int64, r *widget.Release) { a.opened.Store(id, r) }

// Module returns the script of a release, by the digest in its address.
func (a *App) Module(ctx context.Context, digest string) (*widget.Release, error) {
	var found *widget.Release
	a.opened.Range(func(_, v any) bool {
		if r := v.(*widget.Release); r.Digest == digest {
			found = r
			return false
		}
		return true
	})
	if found != nil {
		return found, nil
	}
	id, err := a.store.ReleaseByDigest(ctx, digest)
	if errors.Is(err, ErrNotFound) {
		return nil, notFound("release", digest, "Use the address from a payload.")
	}
	if err != nil {
		return nil, err
	}
	return a.open(ctx, id)
}
