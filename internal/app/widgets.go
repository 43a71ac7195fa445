package app

import (
	"context"
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// Check reads a widget folder's files without keeping them.
func (a *App) Check(s Scope, files widget.Files) (*widget.Release, fault.List, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, nil, err
	}
	r, faults := widget.Read(files, a.builder)
	return r, faults, nil
}

// Release makes an immutable, numbered release of a widget folder. Releasing an unchanged
// folder again returns the release that there is (fresh is false).
func (a *App) Release(ctx context.Context, s Scope, name string, files widget.Files) (info ReleaseInfo, fresh bool, warnings fault.List, err error) {
	r, faults, err := a.Check(s, files)
	if err != nil {
		return info, false, nil, err
	}
	if r == nil {
		return info, false, nil, faulty("widget-faulty", "The widget folder has faults.", faults)
	}
	if r.Manifest.Name != name {
		return info, false, nil, &Error{Kind: Invalid, Code: "widget-name", Field: "name", What: fmt.Sprintf("The manifest names the widget %q, and the address %q.", r.Manifest.Name, name), Hint: "Send it to the address of its own name."}
	}
	info, fresh, err = a.store.AddRelease(ctx, r, a.now(), s.Name)
	if err == nil {
		a.opened.Store(info.ID, r)
		a.marks.move(ofWidget, name)
	}
	return info, fresh, r.Warnings, err
}

// Releases lists a widget's releases, the newest first, those before a number (0 for all).
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

// Withdraw takes a release out of use for everything new, or brings it back. What was
// published with it goes on being served; pockets that follow go to the newest in use.
func (a *App) Withdraw(ctx context.Context, s Scope, name string, number int, withdrawn bool) (ReleaseInfo, error) {
	if err := s.require(withdrawReleases); err != nil {
		return ReleaseInfo{}, err
	}
	var at *time.Time
	if withdrawn {
		now := a.now()
		at = &now
	}
	info, err := a.store.Withdraw(ctx, name, number, at)
	if errors.Is(err, ErrNotFound) {
		return info, notFound("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see which there are.")
	}
	a.marks.move(ofWidget, name)
	return info, err
}

func noWidget(name string) *Error {
	return notFound("widget", name, "List the widgets to see which there are; release a folder to add one.")
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

// WidgetInfo is a widget by its newest release.
type WidgetInfo struct {
	ReleaseInfo
	Release *widget.Release
}

// Widget returns one widget.
func (a *App) Widget(ctx context.Context, s Scope, name string) (WidgetInfo, error) {
	if err := s.require(seeWidgets); err != nil {
		return WidgetInfo{}, err
	}
	return a.widget(ctx, name)
}

func (a *App) widget(ctx context.Context, name string) (WidgetInfo, error) {
	info, err := a.store.NewestRelease(ctx, name)
	if errors.Is(err, ErrNotFound) {
		if all, err := a.store.Releases(ctx, name, 0, 1); err == nil && len(all) > 0 {
			return WidgetInfo{}, &Error{Kind: Conflict, Code: "release-withdrawn", What: fmt.Sprintf("All releases of %s have been withdrawn.", name), Hint: "Release its folder again, or bring a release back."}
		}
		return WidgetInfo{}, noWidget(name)
	}
	if err != nil {
		return WidgetInfo{}, err
	}
	r, err := a.open(ctx, info.ID)
	return WidgetInfo{info, r}, err
}

// open returns a stored release, read once.
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
		if len(faults) > 0 { // a rule that came later refuses what an older program took
			return nil, fmt.Errorf("stored release %d does not open: %w", id, faults)
		}
		a.opened.Store(id, r)
		return r, nil
	})
	if err != nil {
		return nil, err
	}
	return r.(*widget.Release), nil
}

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
		return nil, notFound("release", digest, "Ask for the address that a payload names.")
	}
	if err != nil {
		return nil, err
	}
	return a.open(ctx, id)
}
