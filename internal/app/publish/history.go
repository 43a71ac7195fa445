package publish

import (
	"context"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/compare"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Published is a publication with its changes from the one before it.
type Published struct {
	delivery.Publication
	First   bool     // nothing was published before
	Changed []string // labels of settings
}

// History lists a pocket's publications before a number (0 for all), newest first.
func (a *Publishing) History(ctx context.Context, s access.Scope, key string, before, limit int) ([]Published, error) {
	if _, err := a.pockets.Get(ctx, s, key); err != nil {
		return nil, err
	}
	list, err := a.store.Publications(ctx, key, before, limit+1)
	if err != nil {
		return nil, err
	}
	all, more := make([]Published, min(limit, len(list))), len(list) > limit
	for i := range all {
		all[i].Publication = list[i]
		if list[i].Unpublished {
			continue
		}
		older := i + 1
		for {
			for older < len(list) && list[older].Unpublished {
				older++
			}
			if older < len(list) || !more {
				break
			}
			// The last one's predecessor is on the next page.
			further, err := a.store.Publications(ctx, key, list[len(list)-1].Number, limit+1)
			if err != nil {
				return nil, err
			}
			more = len(further) > limit
			list = append(list, further...)
		}
		if older == len(list) {
			all[i].First = true
			continue
		}
		changes, err := a.between(ctx, list[older], list[i])
		if err != nil {
			return nil, err
		}
		for _, c := range changes {
			all[i].Changed = append(all[i].Changed, c.Label)
		}
	}
	return all, nil
}

// between lists the changes from one publication to another, in the terms of the later one's
// release.
func (a *Publishing) between(ctx context.Context, before, after delivery.Publication) ([]compare.ValueChange, error) {
	r, err := a.releases.Open(ctx, after.ReleaseID)
	if err != nil {
		return nil, err
	}
	was, err := a.complete(ctx, r, after.ReleaseID, before)
	if err != nil {
		return nil, err
	}
	is, err := a.complete(ctx, r, after.ReleaseID, after)
	return append(around(before, after), compare.Values(r.Schema, was, is, "en")...), err
}

// complete returns the settings of a publication for a release, with its defaults and without
// values that it does not accept.
func (a *Publishing) complete(ctx context.Context, r *widget.Release, id int64, p delivery.Publication) (setting.Values, error) {
	values, _, err := a.delivery.Carry(ctx, r, p, id < p.ReleaseID)
	full, _ := r.Schema.Complete(values)
	return full, err
}

// around lists changes other than those of settings.
func around(before, after delivery.Publication) (list []compare.ValueChange) {
	for _, d := range before.Content.Differences(before.Release, after.Content, after.Release) {
		list = append(list, compare.ValueChange{Key: "pocket/" + d.Key, Label: d.Label, Group: "Pocket", Before: d.Before, After: d.After})
	}
	return list
}

// Differences are the differences between two versions of a pocket.
type Differences struct {
	From    int // number of a publication; 0 if nothing was published
	To      int // number of a publication; 0 for the draft
	Changes []compare.ValueChange
}

// Differences compares two versions of a pocket: to is a publication or, for 0, the draft;
// from is a publication or, for 0, the live version.
func (a *Publishing) Differences(ctx context.Context, s access.Scope, key string, from, to int) (d Differences, err error) {
	p, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return d, err
	}
	d = Differences{From: from, To: to}
	var after delivery.Publication
	var release *widget.Release
	var id int64 // ID of the release
	if to > 0 {
		if after, err = a.delivery.Publication(ctx, key, to); err != nil {
			return d, err
		}
		id = after.ReleaseID
		if release, err = a.releases.Open(ctx, id); err != nil {
			return d, err
		}
	} else {
		w, err := a.releases.For(ctx, p.Widget, p.Lot)
		if err != nil {
			return d, err
		}
		release, id = w.Release, w.ID
		after = delivery.Publication{Content: p.Content, Release: w.Number}
	}
	if d.From == 0 {
		d.From = p.Publication
	}
	before := delivery.Publication{Content: after.Content, Release: after.Release} // differs in its settings only
	before.Settings = setting.Values{}
	if d.From > 0 {
		if before, err = a.delivery.Publication(ctx, key, d.From); err != nil {
			return d, err
		}
	}
	was, err := a.complete(ctx, release, id, before)
	if err != nil {
		return d, err
	}
	is, err := a.complete(ctx, release, id, after)
	d.Changes = append(around(before, after), compare.Values(release.Schema, was, is, "en")...)
	return d, err
}
