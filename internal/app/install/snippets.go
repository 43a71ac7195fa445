package install

import (
	"context"
	"fmt"
	"slices"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/host"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

// publishedNow returns the live version under key, see visited, for somebody with access to it,
// also while it is withheld.
func (a *Installs) publishedNow(ctx context.Context, s access.Scope, key string) (pub delivery.Publication, r *widget.Release, err error) {
	if _, err := a.pockets.Get(ctx, s, key); err != nil {
		return pub, nil, err
	}
	live, _, err := a.delivery.Visited(ctx, key)
	if err != nil {
		return pub, nil, err
	}
	if live == nil {
		refused := pocket.NotPublished(key)
		refused.Hint = "Publish the pocket first. A snippet needs something to show."
		return pub, nil, refused
	}
	r, err = a.releases.Open(ctx, live.ReleaseID)
	return *live, r, err
}

// Snippets returns the snippets for a page that lets everything through: that of one delivery, or,
// for "", of all that the widget supports.
func (a *Installs) Snippets(ctx context.Context, s access.Scope, key string, delivery host.Delivery) ([]host.Snippet, error) {
	pub, subject, _, err := a.subjectFor(ctx, s, key)
	if err != nil {
		return nil, err
	}
	deliveries := host.Deliveries
	if delivery != "" {
		if _, ok := delivery.About(); !ok {
			return nil, noDelivery(delivery)
		}
		deliveries = []host.Delivery{delivery}
	}
	sealed, err := a.store.SealedOf(ctx, key)
	if err != nil {
		return nil, err
	}
	if len(sealed) > 0 {
		subject.Pinned = sealed[0].pinned()
	}
	if slices.Contains(deliveries, host.Email) {
		if err := a.delivery.AddMail(ctx, pub, &subject); err != nil {
			return nil, err
		}
	}
	list := []host.Snippet{}
	for _, f := range deliveries {
		switch {
		case subject.Fits(f):
			snippet, _ := host.Write(subject, host.Ask{Delivery: f})
			list = append(list, snippet)
		case delivery == host.Sealed:
			return nil, &problem.Error{Kind: problem.Conflict, Code: "not-sealed", Field: "delivery", What: fmt.Sprintf("No publication of %s has been sealed yet.", key), Hint: "Seal the live version first."}
		case delivery != "":
			return nil, &problem.Error{Kind: problem.Conflict, Code: "delivery-unfit", Field: "delivery", What: subject.Unfit(f), Hint: "Choose another delivery, such as script or split."}
		}
	}
	return list, nil
}
