package rollout

import (
	"context"
	"errors"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
)

// Uses are the pockets that withdrawing a release affects.
type Uses struct {
	Following UsedBy // visitors receive this release because these pockets follow
	Pinned    UsedBy // published with this release; visitors keep it
	OfWidget  int    // number of all pockets of the widget
	Next      int    // number of the newest other release in use, 0 for none
	// Stuck are those of Following whose settings the other release does not accept: their visitors
	// would keep this one.
	Stuck Stuck
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

// Uses lists the pockets that withdrawing a release would affect.
func (a *Rollouts) Uses(ctx context.Context, s access.Scope, name string, number int) (Uses, error) {
	if err := s.Require(access.WithdrawReleases); err != nil {
		return Uses{}, err
	}
	info, err := a.store.ReleaseByNumber(ctx, name, number)
	if errors.Is(err, problem.ErrNotFound) {
		return Uses{}, problem.Missing("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	if err != nil {
		return Uses{}, err
	}
	u, err := a.store.ReleaseUses(ctx, info, usesNamed)
	if err == nil && u.Next > 0 {
		u.Stuck, err = a.leaving(ctx, info)
	}
	return u, err
}
