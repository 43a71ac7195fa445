package pocket

import (
	"context"
	"strings"
	"sync"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// StarterPreview is a preview of a widget's starter with its sample content.
type StarterPreview struct {
	Starter string
	Payload render.Payload
}

// starterPreviews has the previews of a widget's starters in a language, made once per release and minute.
type starterPreviews struct {
	at     time.Time
	digest string // the release's
	list   []StarterPreview
}

// previewsLast is how long previews of starters are cached. Their countdowns run in the browser.
const previewsLast = time.Minute

// GalleryPreviews renders the starters of a widget with sample content. If customer is given,
// starters that start with a brand have that customer's.
func (a *Pockets) GalleryPreviews(ctx context.Context, s access.Scope, name, customer, language string) ([]StarterPreview, error) {
	w, err := a.releases.Widget(ctx, s, name)
	if err != nil {
		return nil, err
	}
	brand := setting.Brand{}
	if customer != "" {
		if err := a.customers.Reach(ctx, s, access.SeeLists, customer); err != nil {
			return nil, err
		}
		kept, err := a.customers.BrandOf(ctx, customer)
		if err != nil {
			return nil, err
		}
		brand = kept.Brand
	}
	if language = w.Release.Language(language); len(brand) == 0 {
		customer = "" // the same for everybody
	}
	cache := name + " " + language
	if p, ok := a.starters.GetIfPresent(cache); ok && len(brand) == 0 {
		if p.digest == w.Release.Digest && a.now().Sub(p.at).Abs() < previewsLast {
			return p.list, nil
		}
	}
	starters := w.Release.Starters
	if len(starters) == 0 {
		starters = []widget.Starter{{}}
	}
	list := make([]StarterPreview, len(starters))
	errs := make([]error, len(starters))
	now := a.now()
	var all sync.WaitGroup
	for i, starter := range starters {
		all.Go(func() {
			list[i].Starter = starter.Name
			full, faults := w.Release.Preview(w.Release.Schema.Branded(starter.Settings, brand), now)
			if len(faults) == 0 {
				assets, _, err := a.customers.ShownWith(ctx, customer, w.Release.Schema, full, brand)
				if errs[i] = err; err != nil {
					return
				}
				list[i].Payload, faults = a.site.Show(render.Subject{Key: strings.TrimSuffix("gallery-"+name+"-"+starter.Name, "-"), Title: name, Release: w.Release, Settings: full, Language: language, Now: now, Assets: assets, Brand: brand})
			}
			if len(faults) > 0 {
				errs[i] = problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
			}
		})
	}
	all.Wait()
	for _, err := range errs {
		if err != nil {
			return nil, err
		}
	}
	if len(brand) == 0 {
		a.starters.Set(cache, &starterPreviews{now, w.Release.Digest, list})
	}
	return list, nil
}
