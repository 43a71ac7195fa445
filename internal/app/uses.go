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
	Following UsedBy // visitors get this release because these follow
	Pinned    UsedBy // published with this release; visitors keep it
	OfWidget  int    // how many pockets the widget has in all
	Next      int    // number of the newest other release in use, 0 for none
	// Stuck are those of Following that the other release in use does not take: their visitors
	// would keep this one.
	Stuck Stuck
}

// Stuck counts pockets that follow and cannot have the release that they should, and says why of
// the first of them, by key.
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

// whyNot is what keeps a release from a pocket, in a sentence.
func whyNot(err error) string {
	if e, ok := err.(*Error); ok {
		if len(e.Faults) > 0 {
			return e.Faults[0].What
		}
		return e.What
	}
	return err.Error()
}

// follow asks of each pocket that follows a widget what keeps a release from it, on all processors,
// and gathers those that something does, by key.
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

// leaving are the pockets that could not leave a release, were it withdrawn.
func (a *App) leaving(ctx context.Context, info ReleaseInfo) (stuck Stuck, err error) {
	list, err := a.store.Releases(ctx, info.Widget, 0, 10_000)
	if err != nil {
		return stuck, err
	}
	return a.follow(ctx, info.Widget, func(p Follower) error {
		if p.Wanted != info.ID {
			return nil
		}
		var next int64 // the newest that is rolled out to it, else the oldest
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

// arriving notes and returns the pockets that cannot have the release that they should, after
// what is in use has changed.
func (a *App) arriving(ctx context.Context, name string) (stuck Stuck, err error) {
	return a.follow(ctx, name, func(p Follower) error {
		err := a.accepts(ctx, p.Wanted, p.Publication)
		if err != nil && a.refused(err, p.Publication, p.Wanted) {
			_ = a.store.Refuse(ctx, p.Key, p.Number, p.Wanted) // else the next visitor's request notes it
		}
		return err
	})
}

// ServedReleases puts into pockets that follow the release that their visitors get, in place of
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

// UsedBy counts pockets and names the first of them, by key.
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

// ReleaseUses says which pockets withdrawing a release would affect.
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

// Releaseless says of which widgets every release has been withdrawn. Whoever has read a pocket
// may read it.
func (a *App) Releaseless(ctx context.Context) (map[string]bool, error) {
	names, err := a.store.ReleaselessWidgets(ctx)
	without := map[string]bool{}
	for _, name := range names {
		without[name] = true
	}
	return without, err
}

// ReleaselessWidgets are the names of the widgets of which every release has been withdrawn.
func (a *App) ReleaselessWidgets(ctx context.Context, s Scope) ([]string, error) {
	if err := s.require(seeWidgets); err != nil {
		return nil, err
	}
	return a.store.ReleaselessWidgets(ctx)
}
