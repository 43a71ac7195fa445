package delivery

import (
	"context"
	"errors"
	"strings"

	"glasspocket/internal/app/source"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

// moreBytes limits the pages of lists that are kept in memory.
const moreBytes = 32 << 20

// listPage is a rendered page of a list, valid until something that it was made from moves.
type listPage struct {
	document render.Encoded
	watch    signal.Watch
	items    *source.Filled
}

// More returns a page of a list, for visitors who have the items before it: as a fragment or, if
// whole is set, as a document. It uses the publication and the release of their other pages, if they
// still exist. It returns nil if nothing is published, or the pocket is withheld. moderate may
// refuse to render what is not in memory.
func (a *Delivery) More(ctx context.Context, key string, of render.PageOf, whole bool, moderate func() error) (*render.Encoded, error) {
	name := key + "?" + of.Query()
	if whole {
		name += "&whole"
	}
	if p, ok := a.pages.GetIfPresent(name); ok && !p.watch.Moved() && !p.items.Moved() && !p.items.Over(a.now()) {
		return &p.document, nil
	}
	if err := moderate(); err != nil {
		return nil, err
	}
	since := a.signals.Now()
	served, _, _, err := a.current(ctx, key, render.JSON)
	if err != nil {
		return nil, err
	}
	pub, withheld, err := a.Visited(ctx, key)
	if pub == nil || withheld || err != nil {
		return nil, err
	}
	subject, lists, err := a.pinned(ctx, *pub, of)
	if err != nil {
		return nil, err
	}
	set := subject.Release.Schema.Get(of.List)
	if set == nil || set.Page == "" {
		return nil, &problem.Error{Kind: problem.NotFound, Code: "no-such-list", What: "The pocket has no list “" + of.List + "” with pages.", Hint: "Use the address that the pocket's own link has."}
	}
	subject.From = map[string]int{of.List: of.From}
	dressed, err := a.dress(ctx, pub.CustomerID, lists, &subject, source.Next{List: of.List, From: of.From, After: of.After})
	if err != nil {
		return nil, err
	}
	subject = a.site.See(subject)
	made, faults := render.Encoded{}, fault.List(nil)
	if whole {
		made, faults = a.site.Standalone(subject)
	} else {
		made, faults = a.site.Fragment(subject, of.List)
	}
	if len(faults) > 0 {
		return nil, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	a.pages.Set(name, &listPage{made, a.signals.Watch(since, served.Inputs...), dressed.Items})
	return &made, nil
}

// pinned returns the subject of a page and its lists: of the publication and the release that it names or, if they
// do not exist, of those that visitors receive now.
func (a *Delivery) pinned(ctx context.Context, now Publication, of render.PageOf) (s render.Subject, lists content.Lists, err error) {
	pub := now
	if of.Publication != now.Number {
		if pub, err = a.store.Publication(ctx, now.Key, of.Publication); errors.Is(err, problem.ErrNotFound) {
			pub = now
		} else if err != nil {
			return s, nil, err
		}
	}
	for _, id := range []int64{pub.ReleaseID, now.ReleaseID} {
		r, err := a.releases.Open(ctx, id)
		if err != nil {
			return s, nil, err
		}
		if strings.HasPrefix(r.Digest, of.Release) {
			s, err = a.SubjectOf(ctx, r, pub, id < pub.ReleaseID)
			return s, pub.Sources, err
		}
	}
	s, err = a.Subject(ctx, now.ReleaseID, now)
	return s, now.Sources, err
}
