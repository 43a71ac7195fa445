package workshop

import (
	"context"
	"sync"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// PreviewedWidget is a draft in the form for previews.
type PreviewedWidget struct {
	Revision int // of the draft that was used
	Trial    *widget.Trial
	Faults   fault.List
	Shown    []Shown // by case
}

// Shown is a rendering of a draft in one case. If it has Faults, there is nothing to see.
type Shown struct {
	render.PreviewedWidget
	Faults fault.List
}

// CasesMost is the largest number of cases in a request.
const CasesMost = 24

// Preview renders a draft, with unsaved files, in some cases.
func (a *Workshop) Preview(ctx context.Context, s access.Scope, name string, overlay []FileChange, cases []widget.Case) (PreviewedWidget, error) {
	w, err := a.Get(ctx, s, name)
	if err != nil {
		return PreviewedWidget{}, err
	}
	if len(cases) > CasesMost {
		return PreviewedWidget{}, &problem.Error{Kind: problem.Invalid, Code: "too-many-cases", Field: "cases", What: "At most 24 preview cases can be shown at once.", Hint: "Request fewer."}
	}
	files, assets := w.with(overlay)
	t := Try(a.site, a.trials, files, assets, cases, a.now())
	t.Revision = w.Revision
	return t, nil
}

// Try renders a folder under development in some cases.
func Try(site *render.Site, trials *widget.Trials, files widget.Files, assets map[string]asset.Made, cases []widget.Case, now time.Time) PreviewedWidget {
	var t PreviewedWidget
	t.Trial, t.Faults = trials.Try(files, assets)
	if t.Trial == nil {
		return t
	}
	t.Shown = make([]Shown, len(cases))
	var all sync.WaitGroup
	for i, c := range cases {
		all.Go(func() {
			t.Shown[i].PreviewedWidget, t.Shown[i].Faults = site.Try(t.Trial, c, render.Subject{Now: now})
		})
	}
	all.Wait()
	return t
}
