package rollout

import (
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"sync"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
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
	cancel  context.CancelFunc
	done    chan struct{}

	mu        sync.Mutex
	of        int // number of pockets
	counts    map[Verdict]int
	outcomes  []Outcome // the changed and broken ones
	left      int       // how many of those are not stored
	cancelled bool
	err       error
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
	dryRunsKept  = 8      // beyond that, the oldest is dropped
	outcomesKept = 20_000 // changed and broken ones of a dry run
	followersAt  = 500    // pockets read at once
)

// Start starts to render all followers of a widget with files or, if files is nil, with its
// draft.
func (a *Rollouts) Start(ctx context.Context, s access.Scope, name string, files widget.Files) (*DryRun, error) {
	r, err := a.workshop.ToRelease(ctx, s, name, files)
	if err != nil {
		return nil, err
	}
	return a.startDryRun(ctx, name, r)
}

func (a *Rollouts) startDryRun(ctx context.Context, name string, r *widget.Release) (*DryRun, error) {
	newest, err := a.releases.NewestNumber(ctx, name)
	if err != nil {
		return nil, err
	}
	of, err := a.store.CountFollowers(ctx, name)
	if err != nil {
		return nil, err
	}
	running, cancel := context.WithCancel(context.Background())
	d := &DryRun{ID: strings.ToLower(rand.Text()[:12]), Widget: name, Digest: r.Digest, After: newest, Began: a.now(), release: r, cancel: cancel, done: make(chan struct{}), of: of, counts: map[Verdict]int{}}
	a.mu.Lock()
	a.dryRuns = append(a.dryRuns, d)
	if len(a.dryRuns) > dryRunsKept {
		a.dryRuns[0].cancel()
		a.dryRuns = slices.Delete(a.dryRuns, 0, 1)
	}
	a.mu.Unlock()
	go func() {
		defer close(d.done)
		defer cancel()
		err := a.runDry(running, d)
		d.mu.Lock()
		defer d.mu.Unlock()
		if err != nil {
			d.cancelled, d.err = true, err
		}
		// Broken ones come first, as in the alphabet.
		slices.SortFunc(d.outcomes, func(a, b Outcome) int {
			return cmp.Or(cmp.Compare(a.Verdict, b.Verdict), cmp.Compare(a.Key, b.Key))
		})
	}()
	return d, nil
}

// runDry renders the followers, page by page, on all processors.
func (a *Rollouts) runDry(ctx context.Context, d *DryRun) error {
	pockets := make(chan Follower, followersAt)
	var all sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		all.Go(func() {
			for p := range pockets {
				if ctx.Err() == nil {
					d.note(a.outcome(ctx, d.release, p))
				}
			}
		})
	}
	defer all.Wait()
	defer close(pockets)
	for after := ""; ; {
		page, err := a.store.Followers(ctx, d.Widget, after, followersAt)
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
		if len(page) < followersAt {
			return nil
		}
		after = page[len(page)-1].Key
	}
}

func (d *DryRun) note(o Outcome) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.counts[o.Verdict]++
	switch {
	case o.Verdict == Identical:
	case len(d.outcomes) < outcomesKept:
		d.outcomes = append(d.outcomes, o)
	default:
		d.left++
	}
}

// dryRun returns a widget's dry run by its ID.
func (a *Rollouts) dryRun(name, id string) (*DryRun, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	for _, d := range a.dryRuns {
		if d.ID == id && d.Widget == name {
			return d, nil
		}
	}
	return nil, problem.Missing("dry-run", id, "Start a new dry run. The service keeps only the most recent ones.")
}

// Progress returns the progress of a dry run, with at most limit outcomes from index first on.
func (a *Rollouts) Progress(ctx context.Context, s access.Scope, name, id string, first, limit int) (Progress, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return Progress{}, err
	}
	d, err := a.dryRun(name, id)
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
	p := Progress{ID: d.ID, Widget: d.Widget, Digest: d.Digest, After: d.After, Began: d.Began, Of: d.of, Counts: map[Verdict]int{}, Finished: finished && !d.cancelled, Cancelled: d.cancelled, Left: d.left}
	for v, n := range d.counts {
		p.Counts[v] = n
	}
	first = min(max(first, 0), len(d.outcomes))
	p.Outcomes = slices.Clone(d.outcomes[first:min(first+limit, len(d.outcomes))])
	return p
}

// Cancel cancels a dry run.
func (a *Rollouts) Cancel(s access.Scope, name, id string) error {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return err
	}
	d, err := a.dryRun(name, id)
	if err != nil {
		return err
	}
	d.cancel()
	<-d.done
	return nil
}

// BeforeAndAfter returns both previews of a pocket in a dry run: before has no payload if the
// pocket is not published, after has none if it would be broken.
func (a *Rollouts) BeforeAndAfter(ctx context.Context, s access.Scope, name, id, key string) (before, after *render.Whole, err error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, nil, err
	}
	d, err := a.dryRun(name, id)
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
	if payload, _, err := a.rendered(ctx, d.release, p, false, now); err == nil {
		w := a.site.Whole(payload, d.release)
		after = &w
	}
	return before, after, nil
}

// passes checks that a release breaks no follower, unless the developer accepts that.
func (a *Rollouts) passes(ctx context.Context, name string, r *widget.Release, n *NewRelease) error {
	var d *DryRun
	var err error
	if n.DryRun != "" {
		if d, err = a.dryRun(name, n.DryRun); err != nil {
			return err
		}
		switch newest, err := a.releases.NewestNumber(ctx, name); {
		case err != nil:
			return err
		case d.Digest != r.Digest:
			return &problem.Error{Kind: problem.Conflict, Code: "dry-run-other", Field: "dryRun", What: "The files have changed since the dry run.", Hint: "Start a new dry run."}
		case newest != d.After:
			return &problem.Error{Kind: problem.Conflict, Code: "released-meanwhile", Field: "dryRun", What: fmt.Sprintf("Release %d was made after the dry run started, so the comparison is out of date.", newest), Hint: "Review that release, then start a new dry run."}
		case !d.finished():
			return &problem.Error{Kind: problem.Conflict, Code: "dry-run-under-way", Field: "dryRun", What: "The dry run is still running.", Hint: "Wait until it finishes."}
		case d.progress(0, 0).Cancelled:
			return &problem.Error{Kind: problem.Conflict, Code: "dry-run-stopped", Field: "dryRun", What: "The dry run was cancelled, so its result is incomplete.", Hint: "Start a new one. Or leave it out, and the release runs its own."}
		}
		n.After = d.After
	} else {
		if d, err = a.startDryRun(ctx, name, r); err != nil {
			return err
		}
		n.After = d.After
		select {
		case <-d.done:
		case <-ctx.Done():
			d.cancel()
			return ctx.Err()
		}
	}
	p := d.progress(0, outcomesKept)
	if d.err != nil {
		return d.err
	}
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
