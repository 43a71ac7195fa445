package app

import (
	"context"
	"errors"
	"fmt"
)

// ReleaseUses are the pockets that withdrawing a release affects.
type ReleaseUses struct {
	Following UsedBy // visitors get this release because these follow
	Pinned    UsedBy // published with this release; visitors keep it
	OfWidget  int    // how many pockets the widget has in all
	Next      int    // number of the newest other release in use, 0 for none
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
		return ReleaseUses{}, notFound("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see which there are.")
	}
	if err != nil {
		return ReleaseUses{}, err
	}
	return a.store.ReleaseUses(ctx, info, usesNamed)
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
