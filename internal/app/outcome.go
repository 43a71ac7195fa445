package app

import (
	"bytes"
	"context"
	"reflect"
	"slices"
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
		after, _, err = a.rendered(ctx, next, p.Publication, false, now)
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
func (a *App) rendered(ctx context.Context, r *widget.Release, p Publication, back bool, now time.Time) (payload render.Payload, subject render.Subject, err error) {
	if subject, err = a.subjectOf(ctx, r, p, back); err != nil {
		return payload, subject, err
	}
	subject.Now = now
	if _, err = a.dress(ctx, p.CustomerID, &subject); err != nil {
		return payload, subject, err
	}
	subject = a.site.See(subject)
	payload, err = a.bare(subject)
	return payload, subject, err
}

func (a *App) bare(subject render.Subject) (render.Payload, error) {
	payload, faults := a.site.Bare(subject)
	if len(faults) > 0 {
		return payload, faulty("view-stopped", "The widget's view stopped with an error.", faults)
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
		if payload, subject, err = a.rendered(ctx, r, p.Publication, id < p.ReleaseID, now); err == nil {
			return payload, r, subject, nil
		}
	}
	return payload, nil, subject, err
}
