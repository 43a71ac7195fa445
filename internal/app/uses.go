package app

import (
	"context"
	"errors"
	"fmt"
	"runtime"

	"golang.org/x/sync/errgroup"
)

// ReleaseUses are the pockets that withdrawing a release affects.
type ReleaseUses struct {
	Following UsedBy // visitors receive this release because these pockets follow
	Pinned    UsedBy // published with this release; visitors keep it
	OfWidget  int    // number of all pockets of the widget
	Next      int    // number of the newest other release in use, 0 for none
	// Stuck are those of Following whose settings the other release does not accept: their visitors
	// would keep this one.
	Stuck Stuck
}

// Stuck counts pockets that follow but cannot have the intended release, with the reasons for the
// first of them, by key.
type Stuck struct {
	Count   int
	Pockets []StuckPocket
}

// StuckPocket is one of them.
type StuckPocket struct {
	Key, Title, Why string
}

func (s *Stuck) add(p Follower, err error) {
	if s.Count++; len(s.Pockets) < usesNamed {
		s.Pockets = append(s.Pockets, StuckPocket{p.Key, p.Title, whyNot(err)})
	}
}

// whyNot explains in a sentence why a pocket cannot have a release.
func whyNot(err error) string {
	if e, ok := err.(*Error); ok {
		if len(e.Faults) > 0 {
			return e.Faults[0].What
		}
		return e.What
	}
	return err.Error()
}

// follow tries a release with each pocket that follows a widget, on all processors, and collects
// those that cannot have it, by key.
func (a *App) follow(ctx context.Context, name string, ask func(Follower) error) (stuck Stuck, err error) {
	for after := ""; ; {
		page, err := a.store.Followers(ctx, name, after, followersAt)
		if err != nil {
			return stuck, err
		}
		whys := make([]error, len(page))
		var group errgroup.Group
		group.SetLimit(runtime.GOMAXPROCS(0))
		for i, p := range page {
			group.Go(func() error {
				whys[i] = ask(p)
				return nil
			})
		}
		_ = group.Wait()
		for i, why := range whys {
			var refused *Error
			switch {
			case why == nil:
			case errors.As(why, &refused):
				stuck.add(page[i], why)
			default:
				return stuck, why
			}
		}
		if len(page) < followersAt {
			return stuck, nil
		}
		after = page[len(page)-1].Key
	}
}

// accepts reports whether a release accepts a publication, by rendering it.
func (a *App) accepts(ctx context.Context, release int64, p Publication) error {
	if release == p.ReleaseID {
		return nil
	}
	r, err := a.open(ctx, release)
	if err != nil {
		return err
	}
	if own, err := a.open(ctx, p.ReleaseID); err == nil && sameSettings(own, r) && sameView(own, r) {
		return nil // only style or script differ
	}
	_, _, err = a.rendered(ctx, r, p, release < p.ReleaseID, a.now())
	return err
}

// leaving returns the pockets that could not leave a release if it were withdrawn.
func (a *App) leaving(ctx context.Context, info ReleaseInfo) (stuck Stuck, err error) {
	list, err := a.store.Releases(ctx, info.Widget, 0, 10_000)
	if err != nil {
		return stuck, err
	}
	return a.follow(ctx, info.Widget, func(p Follower) error {
		if p.Wanted != info.ID {
			return nil
		}
		var next int64 // the newest that is rolled out to it, or else the oldest
		for _, other := range list {
			if other.ID == info.ID || other.WithdrawnAt != nil {
				continue
			}
			if next = other.ID; other.Share > p.Lot {
				break
			}
		}
		if next == 0 {
			return nil
		}
		return a.accepts(ctx, next, p.Publication)
	})
}

// arriving records and returns the pockets that cannot have the intended release after the releases
// in use have changed.
func (a *App) arriving(ctx context.Context, name string) (stuck Stuck, err error) {
	return a.follow(ctx, name, func(p Follower) error {
		err := a.accepts(ctx, p.Wanted, p.Publication)
		if err != nil && a.refused(err, p.Publication, p.Wanted) {
			_ = a.store.Refuse(ctx, p.Key, p.Number, p.Wanted) // if this fails, the next request records it
		}
		return err
	})
}

// ServedReleases sets, for pockets that follow, the release that their visitors receive instead of
// the one that they were published with.
func (a *App) ServedReleases(ctx context.Context, list []Pocket) error {
	var keys []string
	for _, p := range list {
		if p.Follow && p.Publication > 0 {
			keys = append(keys, p.Key)
		}
	}
	if len(keys) == 0 {
		return nil
	}
	numbers, err := a.store.ServedReleases(ctx, keys)
	for i, p := range list {
		if n := numbers[p.Key]; n > 0 {
			list[i].Release = n
		}
	}
	return err
}

// UsedBy counts pockets, and names the first of them by key.
type UsedBy struct {
	Count   int
	Pockets []NamedPocket
}

// NamedPocket is a pocket by its key and its title.
type NamedPocket struct {
	Key   string `db:"key"`
	Title string `db:"title"`
}

// usesNamed is how many pockets are named of each kind.
const usesNamed = 50

// ReleaseUses lists the pockets that withdrawing a release would affect.
func (a *App) ReleaseUses(ctx context.Context, s Scope, name string, number int) (ReleaseUses, error) {
	if err := s.require(withdrawReleases); err != nil {
		return ReleaseUses{}, err
	}
	info, err := a.store.ReleaseByNumber(ctx, name, number)
	if errors.Is(err, ErrNotFound) {
		return ReleaseUses{}, notFound("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	if err != nil {
		return ReleaseUses{}, err
	}
	u, err := a.store.ReleaseUses(ctx, info, usesNamed)
	if err == nil && u.Next > 0 {
		u.Stuck, err = a.leaving(ctx, info)
	}
	return u, err
}

// Releaseless reports which widgets have only withdrawn releases. Everybody who can read a pocket
// may read it.
func (a *App) Releaseless(ctx context.Context) (map[string]bool, error) {
	names, err := a.store.ReleaselessWidgets(ctx)
	without := map[string]bool{}
	for _, name := range names {
		without[name] = true
	}
	return without, err
}

// ReleaselessWidgets lists the names of the widgets with only withdrawn releases.
func (a *App) ReleaselessWidgets(ctx context.Context, s Scope) ([]string, error) {
	if err := s.require(seeWidgets); err != nil {
		return nil, err
	}
	return a.store.ReleaselessWidgets(ctx)
}
