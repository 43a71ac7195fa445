package rollout

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
	"glasspocket/internal/work"
)

// DryRunTask is the name of the kind of task for a dry run. The key of a task is the dry run's ID.
const DryRunTask = "dry-run"

// Task is the kind of task that does a dry run. After a restart it begins again: it changes nothing.
func (a *Rollouts) Task() work.Kind {
	return work.Kind{Name: DryRunTask, About: "Dry run of a release", Limit: 2, Lasts: time.Hour, Tries: 5, Final: "Start a new dry run.", Keep: 30 * 24 * time.Hour, Run: a.run}
}

// Start starts to render all followers of a widget with files or, if files is nil, with its draft.
func (a *Rollouts) Start(ctx context.Context, s access.Scope, name string, files widget.Files) (*DryRun, error) {
	r, err := a.workshop.ToRelease(ctx, s, name, files)
	if err != nil {
		return nil, err
	}
	d, err := a.newDryRun(ctx, name, r)
	if err != nil {
		return nil, err
	}
	folder, err := json.Marshal(r.Files)
	if err != nil {
		return nil, err
	}
	a.keep(d)
	deleted, err := a.store.AddDryRun(ctx, StoredDryRun{ID: d.ID, Widget: name, Digest: d.Digest, After: d.After, Began: d.Began, Of: d.of, By: s.Name, Folder: folder})
	if err != nil {
		return nil, err
	}
	for _, id := range deleted {
		a.dryRuns.Invalidate(id)
	}
	a.wake()
	return d, nil
}

// newDryRun returns a dry run that has not started.
func (a *Rollouts) newDryRun(ctx context.Context, name string, r *widget.Release) (*DryRun, error) {
	newest, err := a.releases.NewestNumber(ctx, name)
	if err != nil {
		return nil, err
	}
	of, err := a.store.CountFollowers(ctx, name)
	if err != nil {
		return nil, err
	}
	return &DryRun{ID: strings.ToLower(rand.Text()[:12]), Widget: name, Digest: r.Digest, After: newest, Began: a.now(), release: r, of: of, done: make(chan struct{}), result: Result{Counts: map[Verdict]int{}}}, nil
}

// keep keeps a dry run in memory, so that its progress can be read and its release need not be read
// again.
func (a *Rollouts) keep(d *DryRun) { a.dryRuns.Set(d.ID, d) }

// dryRun returns a widget's dry run by its ID.
func (a *Rollouts) dryRun(ctx context.Context, name, id string) (*DryRun, error) {
	if d, ok := a.dryRuns.GetIfPresent(id); ok && d.Widget == name {
		return d, nil
	}
	stored, err := a.store.DryRun(ctx, id)
	if errors.Is(err, problem.ErrNotFound) || err == nil && stored.Widget != name {
		return nil, problem.Missing("dry-run", id, "Start a new dry run. The service keeps only the most recent ones.")
	}
	if err != nil {
		return nil, err
	}
	d := &DryRun{ID: id, Widget: name, Digest: stored.Digest, After: stored.After, Began: stored.Began.UTC(), of: stored.Of, done: make(chan struct{}), cancelled: stored.Cancelled, result: Result{Counts: map[Verdict]int{}}}
	if len(stored.Result) > 0 {
		err = json.Unmarshal(stored.Result, &d.result)
	}
	if len(stored.Result) > 0 || stored.Cancelled {
		close(d.done)
	}
	return d, err
}

// releaseOf returns the release that a dry run is about, from its stored files if necessary.
func (a *Rollouts) releaseOf(ctx context.Context, d *DryRun) (*widget.Release, error) {
	if d.release != nil {
		return d.release, nil
	}
	stored, err := a.store.DryRun(ctx, d.ID)
	if err != nil {
		return nil, err
	}
	var files widget.Files
	if err := json.Unmarshal(stored.Folder, &files); err != nil {
		return nil, err
	}
	r, faults := widget.Read(files, a.builder)
	if r == nil {
		return nil, problem.Faulty("widget-faulty", "The files of the dry run have faults.", faults)
	}
	return r, nil
}

// run does a dry run. The result is stored in the write that finishes the task.
func (a *Rollouts) run(ctx context.Context, t work.Task) error {
	stored, err := a.store.DryRun(ctx, t.Key)
	if errors.Is(err, problem.ErrNotFound) || err == nil && (stored.Cancelled || len(stored.Result) > 0) {
		return nil
	}
	if err != nil {
		return err
	}
	d, ok := a.dryRuns.GetIfPresent(t.Key)
	if !ok || t.Attempts > 1 { // after a restart, or after a failure in the middle
		d = &DryRun{ID: stored.ID, Widget: stored.Widget, Digest: stored.Digest, After: stored.After, Began: stored.Began.UTC(), of: stored.Of, done: make(chan struct{}), result: Result{Counts: map[Verdict]int{}}}
		if d.release, err = a.releaseOf(ctx, d); err != nil {
			return err
		}
		a.keep(d)
	}
	if err := a.runDry(ctx, d); err != nil {
		return err
	}
	d.sort()
	result, err := json.Marshal(d.result)
	if err != nil {
		return err
	}
	if err := a.store.FinishDryRun(ctx, d.ID, result, &audit.Record{Entry: audit.Entry{At: a.now()}, Task: t.Done("")}); err != nil {
		return err
	}
	close(d.done)
	return nil
}

// Cancel cancels a dry run.
func (a *Rollouts) Cancel(ctx context.Context, s access.Scope, name, id string) error {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return err
	}
	d, err := a.dryRun(ctx, name, id)
	if err != nil || d.finished() {
		return err
	}
	task, err := a.store.CancelDryRun(ctx, id, a.now())
	if errors.Is(err, problem.ErrChanged) {
		return nil // it has just ended
	}
	if err != nil {
		return err
	}
	a.stop(task)
	d.mu.Lock()
	d.cancelled = true
	d.mu.Unlock()
	return nil
}
