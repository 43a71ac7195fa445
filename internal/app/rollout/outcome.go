package rollout

import (
	"bytes"
	"context"
	"reflect"
	"slices"
	"time"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// Verdict is the effect of a new release on a pocket that follows.
type Verdict string

// The verdicts.
const (
	Identical Verdict = "identical" // visitors see the same
	Altered   Verdict = "changed"   // visitors see something else
	Broken    Verdict = "broken"    // it cannot be rendered, so it would stay with its release
)

// Outcome is the result for a pocket in a dry run.
type Outcome struct {
	Key        string
	CustomerID string
	Title      string
	Verdict    Verdict
	What       []string   // for a changed one: what differs
	Why        string     // for a broken one
	Faults     fault.List // for a broken one
}

// outcome renders a pocket with both releases.
func (a *Rollouts) outcome(ctx context.Context, d *DryRun, p Follower) Outcome {
	next := d.release
	o := Outcome{Key: p.Key, CustomerID: p.CustomerID, Title: p.Title, Verdict: Identical}
	now := a.now()
	before, old, subject, err := a.renderedNow(ctx, p, now)
	shown := err == nil
	var after render.Payload
	if shown && d.compared(old).settings {
		// The settings have the same result in both releases.
		if after = before; !d.compared(old).view {
			subject.Release = next
			after, err = a.bare(subject)
		}
	} else {
		after, _, err = a.rendered(ctx, next, p.Publication, false, now)
	}
	if err != nil {
		o.Verdict, o.Why = Broken, err.Error()
		if e, ok := err.(*problem.Error); ok {
			o.Why, o.Faults = e.What, e.Faults
			if len(e.Faults) > 0 {
				o.Why = e.Faults[0].What
			}
		}
		return o
	}
	if !shown {
		o.Verdict, o.What = Altered, []string{"it is not published"}
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
	differ("script", old.Built.Mount != next.Built.Mount || !d.compared(old).mount && (!reflect.DeepEqual(before.Settings, after.Settings) || !reflect.DeepEqual(before.Messages, after.Messages)))
	return o
}

// same says what two releases have in common.
type same struct {
	settings bool // they read settings in the same way
	mount    bool // for the same settings, their scripts get the same
	view     bool // they differ only in stylesheet and script
}

func compare(a, b *widget.Release) (s same) {
	s.settings = sameSettings(a, b)
	s.mount = s.settings && sameMount(a, b)
	s.view = s.mount && bytes.Equal(a.Files[widget.ViewFile], b.Files[widget.ViewFile])
	return s
}

// compared compares a release with that of the dry run, once for all its pockets, because that takes
// as long as rendering a small widget.
func (d *DryRun) compared(old *widget.Release) same {
	if known, ok := d.same.Load(old); ok {
		return known.(same)
	}
	s := compare(old, d.release)
	d.same.Store(old, s)
	return s
}

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

func sameMount(a, b *widget.Release) bool {
	return reflect.DeepEqual(a.Messages, b.Messages) && slices.Equal(a.Manifest.Languages, b.Manifest.Languages) && reflect.DeepEqual(a.Manifest.Mount, b.Manifest.Mount)
}

// rendered renders a publication with a release, without the release's own style and script. The
// subject has its sight.
func (a *Rollouts) rendered(ctx context.Context, r *widget.Release, p delivery.Publication, back bool, now time.Time) (payload render.Payload, subject render.Subject, err error) {
	if subject, err = a.delivery.SubjectOf(ctx, r, p, back); err != nil {
		return payload, subject, err
	}
	subject.Now = now
	if _, err = a.delivery.Dress(ctx, p.CustomerID, p.Sources, &subject); err != nil {
		return payload, subject, err
	}
	subject = a.site.See(subject)
	payload, err = a.bare(subject)
	return payload, subject, err
}

func (a *Rollouts) bare(subject render.Subject) (render.Payload, error) {
	payload, faults := a.site.Bare(subject)
	if len(faults) > 0 {
		return payload, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	return payload, nil
}

// renderedNow renders a publication as visitors see it: with the newest release that is rolled out
// to it, or else with its own.
func (a *Rollouts) renderedNow(ctx context.Context, p Follower, now time.Time) (payload render.Payload, r *widget.Release, subject render.Subject, err error) {
	for _, id := range []int64{p.Wanted, p.ReleaseID} {
		if r, err = a.releases.Open(ctx, id); err != nil {
			continue
		}
		if payload, subject, err = a.rendered(ctx, r, p.Publication, id < p.ReleaseID, now); err == nil {
			return payload, r, subject, nil
		}
	}
	return payload, nil, subject, err
}
