package rollout

import (
	"context"
	"errors"

	"golang.org/x/sync/errgroup"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/release"
	"glasspocket/internal/problem"
	"glasspocket/internal/processors"
)

// Follower is the live version of a pocket that follows its widget.
type Follower struct {
	delivery.Publication
	Wanted int64 `db:"wanted"` // ID of the newest release that is rolled out to it
	Lot    int   `db:"lot"`    // of the pocket
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
	if e, ok := err.(*problem.Error); ok {
		if len(e.Faults) > 0 {
			return e.Faults[0].What
		}
		return e.What
	}
	return err.Error()
}

// follow tries a release with each pocket that follows a widget, on all processors, and collects
// those that cannot have it, by key.
func (a *Rollouts) follow(ctx context.Context, name string, ask func(Follower) error) (stuck Stuck, err error) {
	for after := ""; ; {
		page, err := a.store.Followers(ctx, name, after, followersAt)
		if err != nil {
			return stuck, err
		}
		whys := make([]error, len(page))
		var group errgroup.Group
		group.SetLimit(processors.Count())
		for i, p := range page {
			group.Go(func() error {
				whys[i] = ask(p)
				return nil
			})
		}
		_ = group.Wait()
		for i, why := range whys {
			var refused *problem.Error
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
func (a *Rollouts) accepts(ctx context.Context, release int64, p delivery.Publication) error {
	if release == p.ReleaseID {
		return nil
	}
	r, err := a.releases.Open(ctx, release)
	if err != nil {
		return err
	}
	if own, err := a.releases.Open(ctx, p.ReleaseID); err == nil && compare(own, r).view {
		return nil // only style or script differ
	}
	_, _, err = a.rendered(ctx, r, p, release < p.ReleaseID, a.now())
	return err
}

// leaving returns the pockets that could not leave a release if it were withdrawn.
func (a *Rollouts) leaving(ctx context.Context, info release.Info) (stuck Stuck, err error) {
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
func (a *Rollouts) arriving(ctx context.Context, name string) (stuck Stuck, err error) {
	return a.follow(ctx, name, func(p Follower) error {
		err := a.accepts(ctx, p.Wanted, p.Publication)
		if err != nil && a.delivery.Refused(err, p.Publication, p.Wanted) {
			_ = a.store.Refuse(ctx, p.Key, p.Number, p.Wanted) // if this fails, the next request records it
		}
		return err
	})
}
