package publish

import (
	"context"
	"errors"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release"
	"glasspocket/internal/content"
	"glasspocket/internal/problem"
)

// Move publishes the live version again with another release; number 0 is the newest. The draft
// stays unchanged.
func (a *Publishing) Move(ctx context.Context, s access.Scope, key string, number int, follow *bool) (delivery.Publication, error) {
	return a.put(ctx, s, key, "move", func(p pocket.Pocket) (pub delivery.Publication, err error) {
		if p.Publication == 0 {
			return pub, pocket.NotPublished(key)
		}
		if pub, err = a.delivery.Publication(ctx, key, p.Publication); err != nil {
			return pub, err
		}
		var info release.Info
		if number == 0 {
			info, err = a.store.NewestReleaseFor(ctx, p.Widget, p.Lot)
		} else {
			info, err = a.store.ReleaseByNumber(ctx, p.Widget, number)
		}
		if errors.Is(err, problem.ErrNotFound) {
			return pub, problem.Missing("release", fmt.Sprintf("%s %d", p.Widget, number), "List the widget's releases to see their numbers.")
		}
		if err != nil {
			return pub, err
		}
		if info.WithdrawnAt != nil {
			return pub, &problem.Error{Kind: problem.Conflict, Code: "release-withdrawn", Field: "release", What: fmt.Sprintf("Release %d of %s has been withdrawn.", number, p.Widget), Hint: "Choose another release, or put this one back into use."}
		}
		was := pub.Follow
		if follow != nil {
			pub.Follow = *follow
		}
		if info.Number == pub.Release && was == pub.Follow {
			return pub, &problem.Error{Kind: problem.Conflict, Code: "moved-already", What: fmt.Sprintf("%s already uses release %d.", key, info.Number), Hint: "There is nothing to do."}
		}
		r, err := a.releases.Open(ctx, info.ID)
		if err != nil {
			return pub, err
		}
		values, faults, err := a.delivery.CarryWhole(ctx, r, pub, info.ID < pub.ReleaseID)
		if err != nil {
			return pub, err
		}
		if len(faults) > 0 {
			return pub, problem.Faulty("settings-faulty", "The live version cannot use that release.", faults)
		}
		pub.Settings, pub.References = values, content.References(r.Schema, values, pub.Sources)
		pub.ReleaseID, pub.Release, pub.Restores = info.ID, info.Number, 0
		pub.Revision = p.PublishedOf
		return pub, nil
	})
}
