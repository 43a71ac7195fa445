// Package release reads widgets in their releases: which release a pocket gets, and its files.
package release

import (
	"context"
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"
)

// Releases reads widgets. It is safe for concurrent use.
type Releases struct {
	store    Store
	opened   *otter.Cache[int64, *widget.Release]
	openings singleflight.Group
	signals  *signal.Signals
	inUse    *otter.Cache[string, *inUse] // by widget
}

// openMost is how many releases stay in memory.
const openMost = 1000

// New returns Releases.
func New(store Store, signals *signal.Signals) *Releases {
	return &Releases{store: store, signals: signals, inUse: otter.Must(&otter.Options[string, *inUse]{MaximumSize: openMost}), opened: otter.Must(&otter.Options[int64, *widget.Release]{MaximumSize: openMost})}
}

// NewestNumber returns the number of a widget's newest release, 0 if there is none.
func (a *Releases) NewestNumber(ctx context.Context, name string) (int, error) {
	list, err := a.store.Releases(ctx, name, 0, 1)
	if err != nil || len(list) == 0 {
		return 0, err
	}
	return list[0].Number, nil
}

// Info is a release without its files.
type Info struct {
	ID        int64     `db:"id"`
	Widget    string    `db:"widget"`
	Number    int       `db:"number"` // 1, 2, … within the widget
	Digest    string    `db:"digest"`
	CreatedAt time.Time `db:"created_at"`
	CreatedBy string    `db:"created_by"`
	// WithdrawnAt is nil unless the release is withdrawn.
	WithdrawnAt *time.Time `db:"withdrawn_at"`
	Note        string     `db:"note"`
	// Share is the percentage of pockets that it is rolled out to; see Pocket.Lot.
	Share int `db:"share"`
}

// LotLast is the last lot: a release that includes it is rolled out to all.
const LotLast = 99

// Releaseless reports which widgets have only withdrawn releases. Everybody who can read a pocket
// may read it.
func (a *Releases) Releaseless(ctx context.Context) (map[string]bool, error) {
	names, err := a.store.ReleaselessWidgets(ctx)
	without := map[string]bool{}
	for _, name := range names {
		without[name] = true
	}
	return without, err
}

// ReleaselessWidgets lists the names of the widgets with only withdrawn releases.
func (a *Releases) ReleaselessWidgets(ctx context.Context, s access.Scope) ([]string, error) {
	if err := s.Require(access.SeeWidgets); err != nil {
		return nil, err
	}
	return a.store.ReleaselessWidgets(ctx)
}

// History lists a widget's releases before a number (0 for all), the newest first.
func (a *Releases) History(ctx context.Context, s access.Scope, name string, before, limit int) ([]Info, error) {
	if err := s.Require(access.SeeWidgets); err != nil {
		return nil, err
	}
	list, err := a.store.Releases(ctx, name, before, limit)
	if err == nil && len(list) == 0 && before == 0 {
		return nil, NoWidget(name)
	}
	return list, err
}

func NoWidget(name string) *problem.Error {
	return problem.Missing("widget", name, "List the widgets to see their names. To add one, release a folder.")
}

// List lists every widget with its newest release.
func (a *Releases) List(ctx context.Context, s access.Scope) ([]Widget, error) {
	if err := s.Require(access.SeeWidgets); err != nil {
		return nil, err
	}
	infos, err := a.store.NewestReleases(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]Widget, len(infos))
	for i, info := range infos {
		r, err := a.Open(ctx, info.ID)
		if err != nil {
			return nil, err
		}
		list[i] = Widget{info, r}
	}
	return list, nil
}

// Widget is a widget as in its newest release.
type Widget struct {
	Info
	Release *widget.Release
}

// Widget returns a widget.
func (a *Releases) Widget(ctx context.Context, s access.Scope, name string) (Widget, error) {
	if err := s.Require(access.SeeWidgets); err != nil {
		return Widget{}, err
	}
	return a.Newest(ctx, name)
}

// For returns a widget in the newest release that is rolled out to a pocket's lot. If all have
// been withdrawn, it returns the newest of those, so that the pocket can still be opened and
// unpublished; see WithdrawnAt.
func (a *Releases) For(ctx context.Context, name string, lot int) (Widget, error) {
	w, err := a.widgetAt(ctx, name, lot)
	var refused *problem.Error
	if !errors.As(err, &refused) || refused.Code != "release-withdrawn" {
		return w, err
	}
	all, err := a.store.Releases(ctx, name, 0, 1)
	if err != nil {
		return Widget{}, err
	}
	r, err := a.Open(ctx, all[0].ID)
	return Widget{all[0], r}, err
}

// Newest returns a widget in the newest release that is rolled out to all.
func (a *Releases) Newest(ctx context.Context, name string) (Widget, error) {
	return a.widgetAt(ctx, name, LotLast)
}

func (a *Releases) widgetAt(ctx context.Context, name string, lot int) (Widget, error) {
	info, err := a.store.NewestReleaseFor(ctx, name, lot)
	if errors.Is(err, problem.ErrNotFound) {
		if all, err := a.store.Releases(ctx, name, 0, 1); err == nil && len(all) > 0 {
			return Widget{}, &problem.Error{Kind: problem.Conflict, Code: "release-withdrawn", What: fmt.Sprintf("All releases of %s have been withdrawn.", name), Hint: "Release its folder again, or put a release back into use."}
		}
		return Widget{}, NoWidget(name)
	}
	if err != nil {
		return Widget{}, err
	}
	r, err := a.Open(ctx, info.ID)
	return Widget{info, r}, err
}
