package portable

import (
	"context"
	"errors"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/problem"
)

// Duplicate creates a pocket with the same draft, for the same customer or for another, who
// receives the assets too.
func (a *Files) Duplicate(ctx context.Context, s access.Scope, from, customer, key string) (p pocket.Pocket, err error) {
	was, err := a.pockets.Get(ctx, s, from)
	if err != nil {
		return p, err
	}
	if customer == "" {
		customer = was.CustomerID
	}
	if err := a.customers.Reach(ctx, s, access.PublishPockets, customer); err != nil {
		return p, err
	}
	w, err := a.releases.Newest(ctx, was.Widget)
	if err != nil {
		return p, err
	}
	if customer != was.CustomerID {
		accepted, _ := w.Release.Schema.Carried(was.Settings)
		for _, digest := range w.Release.Schema.Assets(accepted) {
			if err := a.store.CopyAsset(ctx, was.CustomerID, customer, digest, s.Name, a.now()); err != nil && !errors.Is(err, problem.ErrNotFound) {
				return p, err
			}
		}
	}
	cases, err := a.store.PreviewCases(ctx, from)
	if err != nil {
		return p, err
	}
	if key == "" {
		key = pocket.NewKey()
	}
	title := was.Title
	if customer == was.CustomerID {
		if title += " (copy)"; len([]rune(title)) > 120 {
			title = was.Title
		}
	}
	copied := pocket.Pocket{Key: key, CustomerID: customer, Widget: was.Widget, Starter: was.Starter, Content: was.Content.Copy()}
	copied.Title = title
	if customer != was.CustomerID {
		connected, err := a.sources.Export(ctx, was.Sources, true)
		if err != nil {
			return p, err
		}
		// Tokens stay with the customer who entered them.
		if copied.Sources, err = a.sources.Adopt(ctx, s.Completing(nil), customer, was.Sources, connected); err != nil {
			return p, err
		}
	}
	return a.pockets.AddCopy(ctx, s, copied, w, cases, "duplicate", from)
}
