package pocket

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/release"
	"glasspocket/internal/content"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// SaveDraft changes a pocket's draft. It merges the object change according to RFC 7396 (null
// deletes a value), or replaces the draft if whole is true. revision must be the draft's current
// one. If anything is wrong, nothing is saved.
func (a *Pockets) SaveDraft(ctx context.Context, s access.Scope, key string, revision int, change []byte, whole bool) (Pocket, error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.Require(access.EditPockets); err != nil {
		return p, err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return p, err
	}
	doc, faults := jsondoc.Read(change)
	if doc == nil {
		return p, problem.Faulty("settings-faulty", "The settings cannot be read.", faults)
	}
	values, more := w.Release.Schema.Check(doc)
	if faults = append(faults, more...); len(faults) > 0 {
		return p, problem.Faulty("settings-faulty", "Some settings are wrong. Nothing was saved.", faults)
	}
	if _, faults, err := a.customers.Shown(ctx, p.CustomerID, w.Release.Schema, values); err != nil {
		return p, err
	} else if len(faults) > 0 {
		return p, problem.Faulty("settings-faulty", "Some settings are wrong. Nothing was saved.", faults)
	}
	if p.Revision != revision {
		return p, ChangedMeanwhile(p)
	}
	schema := w.Release.Schema
	merged := schema.CarriedWhole(p.Settings) // values for other releases are kept
	if whole {
		merged = beside(merged, schema, values)
	} else {
		for _, m := range doc.Members {
			switch {
			case m.Value.Kind == jsondoc.Null:
				forget(merged, schema, m.Key)
			case m.Key == setting.SmallKey:
				mergeSmall(merged, schema, m.Value, values)
			default:
				merged[m.Key] = values[m.Key]
			}
		}
	}
	before := p
	p.Settings = merged
	return a.save(ctx, s, before, p, w, namesIn(doc))
}

// beside returns values with those for other releases added, which merged also has.
func beside(merged setting.Values, schema *setting.Schema, values setting.Values) setting.Values {
	for key := range merged {
		if schema.Get(key) != nil || key == setting.SmallKey {
			delete(merged, key)
		}
	}
	for _, set := range schema.Settings {
		if _, given := values[set.Key]; !given {
			forget(merged, schema, set.Key)
		}
	}
	maps.Copy(merged, values)
	return merged
}

// forget deletes a setting's value, and values of older releases that would become it.
func forget(merged setting.Values, schema *setting.Schema, key string) {
	delete(merged, key)
	for _, old := range schema.Sources(key) {
		delete(merged, old)
	}
}

// mergeSmall merges the settings for small screens one by one, like the others.
func mergeSmall(merged setting.Values, schema *setting.Schema, change *jsondoc.Value, values setting.Values) {
	small, _ := merged[setting.SmallKey].(map[string]any)
	if small == nil {
		small = map[string]any{}
	}
	checked, _ := values[setting.SmallKey].(map[string]any)
	for _, m := range change.Members {
		if m.Value.Kind == jsondoc.Null {
			forget(small, schema, m.Key)
		} else {
			small[m.Key] = checked[m.Key]
		}
	}
	merged[setting.SmallKey] = small
	if len(small) == 0 {
		delete(merged, setting.SmallKey)
	}
}

// save saves changes to a draft, and returns the pocket as it is seen with its widget's newest
// release. before is the pocket as it was read.
func (a *Pockets) save(ctx context.Context, s access.Scope, before, p Pocket, w release.Widget, names []string) (Pocket, error) {
	accepted, _ := w.Release.Schema.Carried(p.Settings)
	// A change without effect gets no revision and no entry in the audit.
	if p.Starter == before.Starter && p.Content.Equal(before.Content) {
		p.Settings = accepted
		return p, nil
	}
	p.DraftAt, p.DraftBy, p.References = a.now(), s.Name, content.References(w.Release.Schema, accepted, p.Sources)
	rec := audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "change", Kind: "pocket", Of: p.Key, Names: names})
	if err := a.store.SavePocket(ctx, p, p.Revision, rec); errors.Is(err, problem.ErrChanged) {
		if current, err := a.store.Pocket(ctx, p.Key); err == nil {
			p = current
		}
		return p, ChangedMeanwhile(p)
	} else if err != nil {
		return p, err
	}
	p.Revision++
	p.Settings = accepted
	if s.Role == access.Guest {
		if err := a.store.KeepGuestPocket(ctx, p.Key, p.DraftAt.Add(a.keeps)); err != nil {
			return p, err
		}
	}
	return p, nil
}

// namesIn lists the settings in a change, "small/KEY" for those for small screens.
func namesIn(doc *jsondoc.Value) (names []string) {
	for _, m := range doc.Members {
		if m.Key != setting.SmallKey {
			names = append(names, m.Key)
			continue
		}
		for _, on := range m.Value.Members {
			names = append(names, setting.SmallKey+"/"+on.Key)
		}
	}
	return names
}

func ChangedMeanwhile(p Pocket) *problem.Error {
	by := ""
	if p.DraftBy != "" {
		by = " by " + p.DraftBy
	}
	return &problem.Error{Kind: problem.Precondition, Code: "draft-changed", What: fmt.Sprintf("The draft of %s was changed%s. Its revision is now %d.", p.Key, by, p.Revision), Hint: "Read the current version, then repeat your change."}
}

// Draft returns a pocket with the settings for its widget's newest release, and the keys of those
// kept aside: settings that this release does not have or whose values it does not accept.
func (a *Pockets) Draft(ctx context.Context, s access.Scope, key string) (p Pocket, aside []string, err error) {
	if p, err = a.Get(ctx, s, key); err != nil {
		return p, nil, err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return p, nil, nil // no release is in use: return it as stored
	}
	schema := w.Release.Schema
	accepted, _ := schema.Carried(p.Settings)
	for key := range p.Settings {
		moved := slices.ContainsFunc(schema.Changes, func(c setting.Change) bool { return c.From == key && c.Kind != "drop" })
		if _, taken := accepted[key]; !taken && !moved && key != setting.SmallKey {
			aside = append(aside, key)
		}
	}
	slices.Sort(aside)
	p.Settings = accepted
	return p, aside, nil
}
