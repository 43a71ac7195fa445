package app

import (
	"context"
	"slices"
	"strings"
	"sync"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// Tried is a draft as its previews show it.
type Tried struct {
	Revision int // of the draft that was taken
	Trial    *widget.Trial
	Faults   fault.List
	Shown    []Shown // by case
}

// Shown is what a draft looks like in one case; with Faults there is nothing to see.
type Shown struct {
	render.Tried
	Faults fault.List
}

// CasesMost is how many cases one request may ask for.
const CasesMost = 24

// TryWidgetDraft renders a draft, with files that are not saved yet, in some cases.
func (a *App) TryWidgetDraft(ctx context.Context, s Scope, name string, overlay []FileChange, cases []widget.Case) (Tried, error) {
	w, err := a.WidgetDraft(ctx, s, name)
	if err != nil {
		return Tried{}, err
	}
	if len(cases) > CasesMost {
		return Tried{}, &Error{Kind: Invalid, Code: "too-many-cases", Field: "cases", What: "At most 24 cases can be shown at once.", Hint: "Ask for fewer."}
	}
	files, assets := w.with(overlay)
	t := Try(a.site, a.trier, files, assets, cases, a.now())
	t.Revision = w.Revision
	return t, nil
}

// Try renders a folder that is being written in some cases.
func Try(site *render.Site, by widget.Trier, files widget.Files, assets map[string]asset.Made, cases []widget.Case, now time.Time) Tried {
	var t Tried
	t.Trial, t.Faults = widget.Try(files, assets, by)
	if t.Trial == nil {
		return t
	}
	t.Shown = make([]Shown, len(cases))
	var all sync.WaitGroup
	for i, c := range cases {
		all.Go(func() {
			t.Shown[i].Tried, t.Shown[i].Faults = site.Try(t.Trial, c, render.Subject{Now: now})
		})
	}
	all.Wait()
	return t
}

// remembering is a Trier that keeps what it has built last: most keystrokes change no script.
type remembering struct {
	by   widget.Trier
	mu   sync.Mutex
	kept []builtMount
}

type builtMount struct {
	of         string // digest of the scripts
	code, maps string
	faults     fault.List
}

const mountsKept = 32

func (r *remembering) TryMount(files widget.Files, entry string) (string, string, fault.List) {
	scripts := widget.Files{entry + " is where it begins": nil}
	for p, text := range files {
		if strings.HasSuffix(p, ".ts") || strings.HasSuffix(p, ".js") {
			scripts[p] = text
		}
	}
	digest := scripts.Digest()
	r.mu.Lock()
	for _, k := range r.kept {
		if k.of == digest {
			r.mu.Unlock()
			return k.code, k.maps, slices.Clone(k.faults)
		}
	}
	r.mu.Unlock()
	code, maps, faults := r.by.TryMount(files, entry)
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.kept) >= mountsKept {
		r.kept = r.kept[1:]
	}
	r.kept = append(r.kept, builtMount{digest, code, maps, slices.Clone(faults)})
	return code, maps, faults
}

// Remembering is a Trier that builds each script once.
func Remembering(by widget.Trier) widget.Trier { return &remembering{by: by} }
