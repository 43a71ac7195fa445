package release

import (
	"context"

	"glasspocket/internal/signal"
)

// Rolled is a release in use with the percentage of pockets that it is rolled out to.
type Rolled struct {
	ID    int64 `db:"id"`
	Share int   `db:"share"`
}

// inUse are a widget's releases in use, the newest first, until the widget moves.
type inUse struct {
	list  []Rolled
	watch signal.Watch
}

// Wanted returns the ID of the newest release in use that is rolled out to a lot, or 0 if there is
// none. It runs for everything that visitors request and that is not in memory.
func (a *Releases) Wanted(ctx context.Context, name string, lot int) (int64, error) {
	now, ok := a.inUse.GetIfPresent(name)
	if !ok || now.watch.Moved() {
		since := a.signals.Now()
		list, err := a.store.ReleasesInUse(ctx, name)
		if err != nil {
			return 0, err
		}
		now = &inUse{list, a.signals.Watch(since, signal.Object{Kind: signal.Widget, ID: name})}
		a.inUse.Set(name, now)
	}
	for i, r := range now.list {
		if r.Share > lot || i == len(now.list)-1 { // the oldest serves all that newer ones do not
			return r.ID, nil
		}
	}
	return 0, nil
}
