package app

import (
	"bytes"
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"reflect"
	"runtime"
	"slices"
	"strings"
	"sync"
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// Verdict is what a new release would do to a pocket that follows.
type Verdict string

// The verdicts.
const (
	Identical Verdict = "identical" // visitors get the same
	Altered   Verdict = "changed"   // they get something else
	Broken    Verdict = "broken"    // they would get nothing, so the pocket would stay with its release
)

// Outcome is one pocket of a dry run.
type Outcome struct {
	Key        string
	CustomerID string
	Title      string
	Verdict    Verdict
	What       []string   // of an altered one: what differs
	Why        string     // of a broken one
	Faults     fault.List // likewise
}

// DryRun renders every pocket that follows a widget with files that are not released.
type DryRun struct {
	ID     string
	Widget string
	Digest string // of the files
	After  int    // number of the newest release when it began
	Began  time.Time

	release *widget.Release
	cancel  context.CancelFunc
	done    chan struct{}

	mu        sync.Mutex
	of        int // pockets
	counts    map[Verdict]int
	outcomes  []Outcome // altered and broken ones
	left      int       // of those, how many are not kept
	cancelled bool
	err       error
}

// Progress is how far a dry run has come.
type Progress struct {
	ID, Widget, Digest string
	After              int
	Began              time.Time
	Of                 int
	Counts             map[Verdict]int
	Finished           bool
	Cancelled          bool
	Stale              bool // there is a newer release by now
	Outcomes           []Outcome
	Left               int
}

const (
	dryRunsKept  = 8      // then the oldest is forgotten
	outcomesKept = 20_000 // altered and broken ones of one dry run
	followersAt  = 500    // pockets read at once
)

// BeginDryRun begins to render all followers of a widget with files, or, when files is nil,
// with its draft.
func (a *App) BeginDryRun(ctx context.Context, s Scope, name string, files widget.Files) (*DryRun, error) {
	r, err := a.toRelease(ctx, s, name, files)
	if err != nil {
		return nil, err
	}
	return a.beginDryRun(ctx, name, r)
}

func (a *App) beginDryRun(ctx context.Context, name string, r *widget.Release) (*DryRun, error) {
	newest, err := a.newestNumber(ctx, name)
	if err != nil {
		return nil, err
	}
	of, err := a.store.CountFollowers(ctx, name)
	if err != nil {
		return nil, err
	}
	running, cancel := context.WithCancel(context.Background())
	d := &DryRun{ID: strings.ToLower(rand.Text()[:12]), Widget: name, Digest: r.Digest, After: newest, Began: a.now(), release: r, cancel: cancel, done: make(chan struct{}), of: of, counts: map[Verdict]int{}}
	a.worktop.Lock()
	a.dryRuns = append(a.dryRuns, d)
	if len(a.dryRuns) > dryRunsKept {
		a.dryRuns[0].cancel()
		a.dryRuns = slices.Delete(a.dryRuns, 0, 1)
	}
	a.worktop.Unlock()
	go func() {
		defer close(d.done)
		defer cancel()
		err := a.runDry(running, d)
		d.mu.Lock()
		defer d.mu.Unlock()
		if err != nil {
			d.cancelled, d.err = true, err
		}
		// What breaks comes first, as it does in the alphabet.
		slices.SortFunc(d.outcomes, func(a, b Outcome) int {
			return cmp.Or(cmp.Compare(a.Verdict, b.Verdict), cmp.Compare(a.Key, b.Key))
		})
	}()
	return d, nil
}

// newestNumber is the number of a widget's newest release, 0 when there is none.
func (a *App) newestNumber(ctx context.Context, name string) (int, error) {
	list, err := a.store.Releases(ctx, name, 0, 1)
	if err != nil || len(list) == 0 {
		return 0, err
	}
	return list[0].Number, nil
}

// runDry goes through the followers, page by page, on all processors.
func (a *App) runDry(ctx context.Context, d *DryRun) error {
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

// outcome renders one pocket both ways.
func (a *App) outcome(ctx context.Context, next *widget.Release, p Follower) Outcome {
	o := Outcome{Key: p.Key, CustomerID: p.CustomerID, Title: p.Title, Verdict: Identical}
	now := a.now()
	before, old, subject, err := a.renderedNow(ctx, p, now)
	shown := err == nil
	var after render.Payload
	if shown && sameSettings(old, next) {
		// What was typed comes to the same, whatever the rest of the release is.
		if after = before; !sameView(old, next) {
			subject.Release = next
			after, err = a.bare(subject)
		}
	} else {
		after, _, err = a.rendered(ctx, next, p.Publication, now)
	}
	if err != nil {
		o.Verdict, o.Why = Broken, err.Error()
		if e, ok := err.(*Error); ok {
			o.Why, o.Faults = e.What, e.Faults
			if len(e.Faults) > 0 {
				o.Why = e.Faults[0].What
			}
		}
		return o
	}
	if !shown {
		o.Verdict, o.What = Altered, []string{"it is not shown now"}
		return o
	}
	differ := func(what string, differs bool) {
		if differs {
			o.Verdict = Altered
			o.What = append(o.What, what)
		}
	}
	differ("markup", before.Markup != after.Markup || !reflect.DeepEqual(before.Small, after.Small))
	differ("look", before.Style != after.Style || !reflect.DeepEqual(before.Look, after.Look))
	differ("stylesheet", old.Built.Style != next.Built.Style)
	differ("script", old.Built.Mount != next.Built.Mount || !reflect.DeepEqual(before.Settings, after.Settings) || !reflect.DeepEqual(before.Messages, after.Messages))
	return o
}

// sameSettings tells whether two releases take the same settings in the same way.
func sameSettings(a, b *widget.Release) bool {
	if !bytes.Equal(a.Files[widget.SchemaFile], b.Files[widget.SchemaFile]) || len(a.Built.Assets) != len(b.Built.Assets) {
		return false
	}
	for path, made := range a.Built.Assets {
		if b.Built.Assets[path].Digest != made.Digest {
			return false
		}
	}
	return true
}

// sameView tells whether two releases with the same settings make the same of them, but for
// stylesheet and script.
func sameView(a, b *widget.Release) bool {
	return bytes.Equal(a.Files[widget.ViewFile], b.Files[widget.ViewFile]) && reflect.DeepEqual(a.Messages, b.Messages) &&
		slices.Equal(a.Manifest.Languages, b.Manifest.Languages) && reflect.DeepEqual(a.Manifest.Mount, b.Manifest.Mount)
}

// rendered is a publication under a release, without the release's own style and script; the
// subject has its sight.
func (a *App) rendered(ctx context.Context, r *widget.Release, p Publication, now time.Time) (payload render.Payload, subject render.Subject, err error) {
	if subject, err = a.subjectOf(r, p); err != nil {
		return payload, subject, err
	}
	subject.Now = now
	if subject.Assets, _, err = a.shown(ctx, p.CustomerID, r.Schema, subject.Settings); err != nil {
		return payload, subject, err
	}
	subject = a.site.See(subject)
	payload, err = a.bare(subject)
	return payload, subject, err
}

func (a *App) bare(subject render.Subject) (render.Payload, error) {
	payload, faults := a.site.Bare(subject)
	if len(faults) > 0 {
		return payload, faulty("view-stopped", "The widget's view stopped.", faults)
	}
	return payload, nil
}

// renderedNow is a publication as visitors get it now: by the newest release that is rolled
// out to it, else by the one that it was made with.
func (a *App) renderedNow(ctx context.Context, p Follower, now time.Time) (payload render.Payload, r *widget.Release, subject render.Subject, err error) {
	for _, id := range []int64{p.Wanted, p.ReleaseID} {
		if r, err = a.open(ctx, id); err != nil {
			continue
		}
		if payload, subject, err = a.rendered(ctx, r, p.Publication, now); err == nil {
			return payload, r, subject, nil
		}
	}
	return payload, nil, subject, err
}

// dryRun is one of a widget, by its ID.
func (a *App) dryRun(name, id string) (*DryRun, error) {
	a.worktop.Lock()
	defer a.worktop.Unlock()
	for _, d := range a.dryRuns {
		if d.ID == id && d.Widget == name {
			return d, nil
		}
	}
	return nil, notFound("dry-run", id, "Begin one; the service keeps the last few only.")
}

// DryRun tells how far a dry run has come, with its outcomes from the first-th on, at most
// limit.
func (a *App) DryRun(ctx context.Context, s Scope, name, id string, first, limit int) (Progress, error) {
	if err := s.require(releaseWidgets); err != nil {
		return Progress{}, err
	}
	d, err := a.dryRun(name, id)
	if err != nil {
		return Progress{}, err
	}
	newest, err := a.newestNumber(ctx, name)
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

// EndDryRun stops a dry run.
func (a *App) EndDryRun(s Scope, name, id string) error {
	if err := s.require(releaseWidgets); err != nil {
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

// BeforeAndAfter are the two pictures of one pocket of a dry run, before without a payload
// when it is not shown now, after without one when it would be broken.
func (a *App) BeforeAndAfter(ctx context.Context, s Scope, name, id, key string) (before, after *render.Whole, err error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, nil, err
	}
	d, err := a.dryRun(name, id)
	if err != nil {
		return nil, nil, err
	}
	pocket, err := a.Pocket(ctx, s, key)
	if err != nil {
		return nil, nil, err
	}
	if pocket.Widget != name || pocket.Publication == 0 {
		return nil, nil, notFound("pocket", key, "Choose one that the dry run lists.")
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
	if payload, r, _, err := a.renderedNow(ctx, Follower{p, wanted.ID}, now); err == nil {
		w := a.site.Whole(payload, r)
		before = &w
	}
	if payload, _, err := a.rendered(ctx, d.release, p, now); err == nil {
		w := a.site.Whole(payload, d.release)
		after = &w
	}
	return before, after, nil
}

// passes makes sure that a release breaks no follower, or that this is said to be meant.
func (a *App) passes(ctx context.Context, name string, r *widget.Release, n *NewRelease) error {
	var d *DryRun
	var err error
	if n.DryRun != "" {
		if d, err = a.dryRun(name, n.DryRun); err != nil {
			return err
		}
		switch newest, err := a.newestNumber(ctx, name); {
		case err != nil:
			return err
		case d.Digest != r.Digest:
			return &Error{Kind: Conflict, Code: "dry-run-other", Field: "dryRun", What: "The files have changed since the dry run.", Hint: "Run it again."}
		case newest != d.After:
			return &Error{Kind: Conflict, Code: "released-meanwhile", Field: "dryRun", What: fmt.Sprintf("Release %d was made meanwhile, so what the dry run compared with is not what visitors have.", newest), Hint: "Look at what it changed, then run the dry run again."}
		case !d.finished():
			return &Error{Kind: Conflict, Code: "dry-run-under-way", Field: "dryRun", What: "The dry run is still under way.", Hint: "Wait for its end."}
		case d.progress(0, 0).Cancelled:
			return &Error{Kind: Conflict, Code: "dry-run-stopped", Field: "dryRun", What: "The dry run was stopped before its end, so nobody knows what the release would break.", Hint: "Run it again, or name none: then the release makes its own."}
		}
		n.After = d.After
	} else {
		if d, err = a.beginDryRun(ctx, name, r); err != nil {
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
		e := &Error{Kind: Conflict, Code: "release-breaks", Field: "breaks", What: fmt.Sprintf("%d of %d pockets that follow would not take this release.", broken, p.Of), Hint: "Mend it, or say that this is meant; those pockets stay with the release that they have."}
		for _, o := range p.Outcomes {
			if o.Verdict == Broken && len(e.Faults) < 10 {
				e.Faults = append(e.Faults, fault.Fault{Field: o.Key, Code: fault.ReleaseBreaks, What: fmt.Sprintf("%s: %s", o.Key, o.Why), Mend: "Say in settings.json, under \"changes\", what becomes of older settings."})
			}
		}
		return e
	}
	return nil
}
