package rollout

import (
	"context"
	"errors"
	"fmt"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/release"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"
)

// Check reads a widget folder's files without storing them.
func (a *Rollouts) Check(s access.Scope, files widget.Files) (*widget.Release, fault.List, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, nil, err
	}
	r, faults := widget.Read(files, a.builder)
	return r, faults, nil
}

// NewRelease has the options for a release.
type NewRelease struct {
	Files  widget.Files // nil for the draft on the worktop
	Note   string
	Share  int    // initial percentage of pockets; 0 for all
	DryRun string // the dry run that somebody reviewed; "" makes a new one
	Breaks bool   // pockets that it breaks may keep the old release

	After int // number of its expected predecessor, -1 for any
	At    time.Time
	By    string
}

// noteMost is the longest note, in characters.
const noteMost = 2000

// Release makes an immutable, numbered release of a widget folder, after rendering every pocket
// that follows with it. Releasing an unchanged folder again returns the existing release (fresh is
// false).
func (a *Rollouts) Release(ctx context.Context, s access.Scope, name string, n NewRelease) (info release.Info, fresh bool, warnings fault.List, err error) {
	r, err := a.workshop.ToRelease(ctx, s, name, n.Files)
	if err != nil {
		return info, false, nil, err
	}
	if utf8.RuneCountInString(n.Note) > noteMost {
		return info, false, nil, &problem.Error{Kind: problem.Invalid, Code: "note-too-long", Field: "note", What: fmt.Sprintf("A note can have at most %d characters.", noteMost), Hint: "Shorten it."}
	}
	if n.Share < 0 || n.Share > 100 {
		return info, false, nil, badShare(n.Share)
	}
	if n.Share == 0 {
		n.Share = 100
	}
	n.After, n.At, n.By = -1, a.now(), s.Name
	if newest, err := a.store.Releases(ctx, name, 0, 1); err != nil {
		return info, false, nil, err
	} else if len(newest) > 0 && (newest[0].Digest != r.Digest || newest[0].WithdrawnAt != nil) {
		if err := a.passes(ctx, name, r, &n); err != nil {
			return info, false, nil, err
		}
	}
	info, fresh, err = a.store.AddRelease(ctx, r, n, audit.NewRecord(s, a.now(), audit.Entry{Did: "release", Kind: "widget", Of: name, Note: n.Note}))
	if errors.Is(err, problem.ErrChanged) {
		return info, false, nil, &problem.Error{Kind: problem.Conflict, Code: "released-meanwhile", What: fmt.Sprintf("Somebody else released %s at the same time.", name), Hint: "Review that release, then release again."}
	}
	if err != nil {
		return info, false, nil, err
	}
	a.releases.Keep(info.ID, r)
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Widget, ID: name}})
	if n.Breaks && fresh {
		if _, err := a.arriving(ctx, name); err != nil {
			return info, fresh, r.Warnings, err
		}
	}
	if n.Files == nil {
		a.workshop.Released(ctx, name, info.Number, info.Digest)
	}
	return info, fresh, r.Warnings, nil
}

func badShare(share int) *problem.Error {
	return &problem.Error{Kind: problem.Invalid, Code: "share-faulty", Field: "share", What: fmt.Sprintf("A release can be rolled out to 1 to 100 percent of pockets, not to %d.", share), Hint: "To take it out of use, withdraw it."}
}

// Share sets the percentage of following pockets that a release is rolled out to.
func (a *Rollouts) Share(ctx context.Context, s access.Scope, name string, number, share int) (info release.Info, stuck Stuck, err error) {
	if err := s.Require(access.WithdrawReleases); err != nil {
		return info, stuck, err
	}
	if share < 1 || share > 100 {
		return info, stuck, badShare(share)
	}
	info, err = a.store.ShareRelease(ctx, name, number, share, audit.NewRecord(s, a.now(), audit.Entry{Did: "share", Kind: "widget", Of: name, Number: number, Note: fmt.Sprint(share)}))
	if errors.Is(err, problem.ErrNotFound) {
		return info, stuck, problem.Missing("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Widget, ID: name}})
	if err == nil {
		stuck, err = a.arriving(ctx, name)
	}
	return info, stuck, err
}

// Withdraw withdraws a release, or puts it back into use. What was published with it is still
// served. Pockets that follow change to the newest release in use, except those whose settings it
// does not accept, which are stuck.
func (a *Rollouts) Withdraw(ctx context.Context, s access.Scope, name string, number int, withdrawn bool) (info release.Info, stuck Stuck, err error) {
	if err := s.Require(access.WithdrawReleases); err != nil {
		return info, stuck, err
	}
	var at *time.Time
	if withdrawn {
		now := a.now()
		at = &now
	}
	did := "bring-back-release"
	if withdrawn {
		did = "withdraw"
	}
	info, err = a.store.Withdraw(ctx, name, number, at, audit.NewRecord(s, a.now(), audit.Entry{Did: did, Kind: "widget", Of: name, Number: number}))
	if errors.Is(err, problem.ErrNotFound) {
		return info, stuck, problem.Missing("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Widget, ID: name}})
	if err == nil {
		stuck, err = a.arriving(ctx, name)
	}
	return info, stuck, err
}
