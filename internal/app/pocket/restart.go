package pocket

import (
	"context"
	"fmt"
	"slices"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/release"
	"glasspocket/internal/compare"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// Restart is the result of changing to another starter.
type Restart struct {
	Settings setting.Values
	Changes  []compare.ValueChange
	Kept     []compare.ValueChange // entered by somebody, and so kept; After is the starter's value
}

// Restart lists what another starter would change. Values that differ from the present starter's
// were entered by somebody and stay, except for the settings in replace.
func (a *Pockets) Restart(ctx context.Context, s access.Scope, key, starter string, replace []string) (r Restart, err error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return r, err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return r, err
	}
	if _, ok := w.Release.Starter(starter); !ok {
		return r, noStarter(w, starter)
	}
	for _, name := range replace {
		if w.Release.Schema.Get(name) == nil {
			return r, problem.Faulty("settings-faulty", "There is no such setting.", fault.List{{Field: name, Code: fault.SettingUnknown, What: fmt.Sprintf("There is no setting %q.", name), Fix: fault.DidYouMean(name, w.Release.Schema.Keys())}})
		}
	}
	brand, err := a.customers.BrandOf(ctx, p.CustomerID)
	if err != nil {
		return r, err
	}
	before, _ := w.Release.Schema.Carried(p.Settings)
	after := w.Release.Restart(before, p.Starter, starter, brand.Brand, replace)
	all := w.Release.Restart(before, p.Starter, starter, brand.Brand, w.Release.Schema.Keys())
	complete := func(v setting.Values) setting.Values { full, _ := w.Release.Schema.Complete(v); return full }
	r.Changes = compare.Values(w.Release.Schema, complete(before), complete(after), "en")
	for _, c := range compare.Values(w.Release.Schema, complete(after), complete(all), "en") {
		// Entered content is not listed if the starter has none.
		if set := w.Release.Schema.Get(c.Key); set != nil && w.Release.Sets(starter, c.Key) && !slices.Contains(replace, c.Key) && !setting.IsBrandRef(after[c.Key]) {
			r.Kept = append(r.Kept, c)
		}
	}
	r.Settings = after
	return r, nil
}

func noStarter(w release.Widget, starter string) error {
	return &problem.Error{Kind: problem.NotFound, Code: "starter-not-found", Field: "starter", What: fmt.Sprintf("The widget %s has no starter %q.", w.Widget, starter), Hint: fault.DidYouMean(starter, w.Release.StarterNames())}
}

// ChangeStarter changes to another starter; see Restart.
func (a *Pockets) ChangeStarter(ctx context.Context, s access.Scope, key string, revision int, starter string, replace []string) (Pocket, error) {
	if err := s.Require(access.EditPockets); err != nil {
		return Pocket{}, err
	}
	r, err := a.Restart(ctx, s, key, starter, replace)
	if err != nil {
		return Pocket{}, err
	}
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return p, err
	}
	if p.Revision != revision {
		return p, ChangedMeanwhile(p)
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return p, err
	}
	before := p
	p.Starter = starter
	p.Settings = beside(w.Release.Schema.CarriedWhole(p.Settings), w.Release.Schema, r.Settings)
	return a.save(ctx, s, before, p, w, []string{"starter"})
}
