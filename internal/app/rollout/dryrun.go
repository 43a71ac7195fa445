package rollout

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"sync"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/processors"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// DryRun renders every pocket that follows a widget with files that are not released.
type DryRun struct {
	ID     string
	Widget string
	Digest string // of the files
	After  int    // number of the newest release at its start
	Began  time.Time

	release *widget.Release
	same    sync.Map      // same by *widget.Release, see compared
	of      int           // number of pockets
	done    chan struct{} // closed when it has ended

	mu        sync.Mutex
	result    Result
	cancelled bool
}

// Result is the result of a dry run, or what there is of it so far.
type Result struct {
	Counts   map[Verdict]int `json:"counts"`
	Outcomes []Outcome       `json:"outcomes"` // the changed and broken ones
	Left     int             `json:"left"`     // how many of those are not stored
}

// StoredDryRun is a dry run as it is stored.
type StoredDryRun struct {
	ID        string    `db:"id"`
	Widget    string    `db:"widget"`
	Digest    string    `db:"digest"`
	After     int       `db:"after"`
	Began     time.Time `db:"began"`
	Of        int       `db:"of"`
	By        string    `db:"by"`
	Folder    []byte    `db:"folder"` // widget.Files as JSON
	Result    []byte    `db:"result"` // Result as JSON; empty until it is done
	Cancelled bool      `db:"cancelled"`
}

// Progress is the progress of a dry run.
type Progress struct {
	ID, Widget, Digest string
	After              int
	Began              time.Time
	Of                 int
	Counts             map[Verdict]int
	Finished           bool
	Cancelled          bool
	Stale              bool // there is a newer release now
	Outcomes           []Outcome
	Left               int
}

const (
	DryRunsKept  = 8      // beyond that, the oldest is dropped
	outcomesKept = 20_000 // changed and broken ones of a dry run
	followersAt  = 200    // pockets read at once
	firstAt      = 50     // the first ones, because nothing is rendered until they are read
)

// runDry renders the followers, page by page, on all processors.
func (a *Rollouts) runDry(ctx context.Context, d *DryRun) error {
	pockets := make(chan Follower, followersAt)
	var all sync.WaitGroup
	for range processors.Count() {
		all.Go(func() {
			for p := range pockets {
				if ctx.Err() == nil {
					d.note(a.outcome(ctx, d, p))
				}
			}
		})
	}
	defer all.Wait()
	defer close(pockets)
	for after, limit := "", firstAt; ; limit = followersAt {
		page, err := a.store.Followers(ctx, d.Widget, after, limit)
		if err != nil {
			return err
		}
		for _, p := range page {
			select {
			case pockets <- p:
			case <-ctx.Done():
				return ctx.Err()
			}
		}
		if len(page) < limit {
			return nil
		}
		after = page[len(page)-1].Key
	}
}

// sort puts the broken ones first, as in the alphabet.
func (d *DryRun) sort() {
	d.mu.Lock()
	defer d.mu.Unlock()
	slices.SortFunc(d.result.Outcomes, func(a, b Outcome) int {
		return cmp.Or(cmp.Compare(a.Verdict, b.Verdict), cmp.Compare(a.Key, b.Key))
	})
}

func (d *DryRun) note(o Outcome) {
	d.mu.Lock()
	defer d.mu.Unlock()
	r := &d.result
	r.Counts[o.Verdict]++
	switch {
	case o.Verdict == Identical:
	case len(r.Outcomes) < outcomesKept:
		r.Outcomes = append(r.Outcomes, o)
	default:
		r.Left++
	}
}

// Progress returns the progress of a dry run, with at most limit outcomes from index first on.
func (a *Rollouts) Progress(ctx context.Context, s access.Scope, name, id string, first, limit int) (Progress, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return Progress{}, err
	}
	d, err := a.dryRun(ctx, name, id)
	if err != nil {
		return Progress{}, err
	}
	newest, err := a.releases.NewestNumber(ctx, name)
	if err != nil {
		return Progress{}, err
	}
	p := d.progress(first, limit)
	p.Stale = newest != d.After
	return p, nil
}

func (d *DryRun) finished() bool {
	select {
	case <-d.done:
		return true
	default:
		return false
	}
}

func (d *DryRun) progress(first, limit int) Progress {
	finished := d.finished()
	d.mu.Lock()
	defer d.mu.Unlock()
	p := Progress{ID: d.ID, Widget: d.Widget, Digest: d.Digest, After: d.After, Began: d.Began, Of: d.of, Counts: maps.Clone(d.result.Counts), Finished: finished && !d.cancelled, Cancelled: d.cancelled, Left: d.result.Left}
	list := d.result.Outcomes
	first = min(max(first, 0), len(list))
	p.Outcomes = slices.Clone(list[first:min(first+limit, len(list))])
	return p
}

// BeforeAndAfter returns both previews of a pocket in a dry run: before has no payload if the
// pocket is not published, after has none if it would be broken.
func (a *Rollouts) BeforeAndAfter(ctx context.Context, s access.Scope, name, id, key string) (before, after *render.Whole, err error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, nil, err
	}
	d, err := a.dryRun(ctx, name, id)
	if err != nil {
		return nil, nil, err
	}
	pocket, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return nil, nil, err
	}
	if pocket.Widget != name || pocket.Publication == 0 {
		return nil, nil, problem.Missing("pocket", key, "Choose a pocket from the dry run's list.")
	}
	p, err := a.store.Publication(ctx, key, pocket.Publication)
	if err != nil {
		return nil, nil, err
	}
	now := a.now()
	wanted, err := a.store.NewestReleaseFor(ctx, name, pocket.Lot)
	if err != nil {
		wanted.ID = p.ReleaseID
	}
	if payload, r, _, err := a.renderedNow(ctx, Follower{p, wanted.ID, pocket.Lot}, now); err == nil {
		w := a.site.Whole(payload, r)
		before = &w
	}
	next, err := a.releaseOf(ctx, d)
	if err != nil {
		return nil, nil, err
	}
	if payload, _, err := a.rendered(ctx, next, p, false, now); err == nil {
		w := a.site.Whole(payload, next)
		after = &w
	}
	return before, after, nil
}

// passes checks that a release breaks no follower, unless the developer accepts that.
func (a *Rollouts) passes(ctx context.Context, name string, r *widget.Release, n *NewRelease) error {
	var d *DryRun
	var err error
	if n.DryRun != "" {
		if d, err = a.dryRun(ctx, name, n.DryRun); err != nil {
			return err
		}
		switch newest, err := a.releases.NewestNumber(ctx, name); {
		case err != nil:
			return err
		case d.Digest != r.Digest:
			return &problem.Error{Kind: problem.Conflict, Code: "dry-run-other", Field: "dryRun", What: "The files have changed since the dry run.", Hint: "Start a new dry run."}
		case newest != d.After:
			return &problem.Error{Kind: problem.Conflict, Code: "released-meanwhile", Field: "dryRun", What: fmt.Sprintf("Release %d was made after the dry run started, so the comparison is out of date.", newest), Hint: "Review that release, then start a new dry run."}
		case d.progress(0, 0).Cancelled:
			return &problem.Error{Kind: problem.Conflict, Code: "dry-run-stopped", Field: "dryRun", What: "The dry run was cancelled, so its result is incomplete.", Hint: "Start a new one. Or leave it out, and the release runs its own."}
		case !d.finished():
			return &problem.Error{Kind: problem.Conflict, Code: "dry-run-under-way", Field: "dryRun", What: "The dry run is still running.", Hint: "Wait until it finishes."}
		}
		n.After = d.After
	} else {
		// The request waits for the result, so nothing needs to be stored.
		if d, err = a.newDryRun(ctx, name, r); err != nil {
			return err
		}
		n.After = d.After
		if err := a.runDry(ctx, d); err != nil {
			return err
		}
		d.sort()
	}
	p := d.progress(0, outcomesKept)
	if broken := p.Counts[Broken]; broken > 0 && !n.Breaks {
		e := &problem.Error{Kind: problem.Conflict, Code: "release-breaks", Field: "breaks", What: fmt.Sprintf("%d of %d pockets that follow cannot use this release.", broken, p.Of), Hint: "Correct the release, or confirm it. Those pockets then keep their present release."}
		for _, o := range p.Outcomes {
			if o.Verdict == Broken && len(e.Faults) < 10 {
				e.Faults = append(e.Faults, fault.Fault{Field: o.Key, Code: fault.ReleaseBreaks, What: fmt.Sprintf("%s: %s", o.Key, o.Why), Fix: "Describe under \"changes\" in settings.json how older settings change."})
			}
		}
		return e
	}
	return nil
}
