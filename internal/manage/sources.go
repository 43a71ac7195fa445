package manage

import (
	"context"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/source"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
	"glasspocket/internal/wire"
)

func secretIn(s *wire.SourceSecret) feed.Secret {
	if s == nil {
		return feed.Secret{}
	}
	return feed.Secret{In: s.In, Name: s.Name, Value: s.Value}
}

func aboutOut(a source.About) wire.SourceAbout {
	return wire.SourceAbout{Title: a.Title, Link: a.Link, Place: a.Place, Rated: a.Rated, Repairs: append([]string{}, a.Repairs...), Skipped: append([]string{}, a.Skipped...)}
}

func formOf(reader string) string {
	if r := feed.Named(reader); r != nil {
		return r.Title
	}
	return reader
}

func (d *door) sourceOut(s source.Source) wire.Source {
	out := wire.Source{ID: s.ID, Customer: s.CustomerID, Name: s.Name, Reader: s.Reader, Form: formOf(s.Reader), Address: s.Address, FileName: s.FileName, Options: s.Options, SecretIn: s.SecretIn, Revision: s.Revision,
		CreatedAt: s.CreatedAt, CreatedBy: s.CreatedBy, Items: s.Items, About: aboutOut(s.About), State: s.State(), ChangedAt: s.ChangedAt, FailingSince: s.FailingSince, Why: s.Why, Hint: s.Hint, Pushed: s.Pushed()}
	at := func(t time.Time) *time.Time {
		if t.IsZero() {
			return nil
		}
		return &t
	}
	out.CheckedAt, out.NextAt = at(s.Progress.CheckedAt), at(s.Next)
	return out
}

// itemsOut converts items. Images are left out, because the console must not load them from others.
func (d *door) itemsOut(ctx context.Context, customer string, list []item.Item) ([]wire.SourceItem, error) {
	world, err := d.App.Sources.World(ctx, customer)
	if err != nil {
		return nil, err
	}
	out := make([]wire.SourceItem, len(list))
	for i := range list {
		out[i] = wire.SourceItem{ID: list[i].ID, Source: list[i].Source, Seen: list[i].Seen, Values: list[i].Values(world)}
	}
	return out, nil
}

func (d *door) lookForSource(k *call) (any, error) {
	var in wire.SourceLook
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	found, err := d.App.Sources.Look(k, k.scope, k.Params("id"), wanted(in))
	return d.foundOut(k, k.Params("id"), found, err)
}

func (d *door) trySource(k *call) (any, error) {
	var in wire.SourceLook
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	var found source.Looked
	err := d.App.Guests.Look(k.scope, d.Proxies.Address(k).String(), func() (err error) {
		found, err = d.App.Sources.Try(k, k.scope, wanted(in))
		return err
	})
	return d.foundOut(k, customer.NobodysCustomer, found, err)
}

func wanted(in wire.SourceLook) source.Wanted {
	return source.Wanted{Text: in.Text, File: in.File, Name: in.FileName, Secret: secretIn(in.Secret), Reader: in.Reader, Options: in.Options, Kinds: in.Kinds, Needs: in.Needs}
}

func (d *door) foundOut(k *call, customer string, found source.Looked, err error) (any, error) {
	if err != nil {
		return nil, err
	}
	out := wire.SourceFound{Candidates: []wire.SourceCandidate{}, Businesses: []wire.Business{}}
	for _, c := range found.Candidates {
		items, err := d.itemsOut(k, customer, c.Items)
		if err != nil {
			return nil, err
		}
		out.Candidates = append(out.Candidates, wire.SourceCandidate{Name: c.Name, Reader: c.Reader, Form: formOf(c.Reader), Address: c.Address, Options: c.Options, About: aboutOut(c.About), Items: items, Count: c.Count, Fits: c.Fits, Unfit: c.Unfit, Outline: c.Outline})
	}
	for _, b := range found.Businesses {
		out.Businesses = append(out.Businesses, wire.Business(b))
	}
	return out, nil
}

func (d *door) lookAtSource(k *call) (any, error) {
	var in wire.SourceLook
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	src, err := d.App.Sources.Get(k, k.scope, k.Params("id"))
	if err != nil {
		return nil, err
	}
	found, err := d.App.Sources.LookAt(k, k.scope, src.ID, in.Options)
	return d.foundOut(k, src.CustomerID, found, err)
}

func (d *door) listSources(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Sources.List(k, k.scope, k.Params("id"), page)
	out := wire.Sources{Sources: []wire.Source{}}
	list, out.Next = cut(list, page.Limit, func(s source.Source) string { return s.Name + "\x00" + s.ID })
	for _, s := range list {
		out.Sources = append(out.Sources, d.sourceOut(s))
	}
	return out, err
}

func failingOut(f source.Failing) wire.FailingSource {
	return wire.FailingSource{ID: f.ID, Name: f.Name, Customer: f.CustomerID, Since: f.Since, ChangedAt: f.ChangedAt, Why: f.Why, Hint: f.Hint, Ended: f.Ended}
}

func (d *door) listFailing(k *call) (any, error) {
	list, err := d.App.Sources.Failing(k, k.scope)
	out := wire.FailingSources{Sources: []wire.FailingSource{}}
	for _, f := range list {
		out.Sources = append(out.Sources, failingOut(f))
	}
	return out, err
}

// failingIn sets the failing sources of pockets.
func (d *door) failingIn(k *call, list []wire.Pocket) error {
	keys := make([]string, len(list))
	at := map[string]int{}
	for i, p := range list {
		keys[i], at[p.Key] = p.Key, i
	}
	found, err := d.App.Sources.FailingIn(k, keys)
	for _, f := range found {
		p := &list[at[f.Key]]
		p.Failing = append(p.Failing, failingOut(f))
	}
	return err
}

func (d *door) connectSource(k *call) (any, error) {
	var in wire.NewSource
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	s, err := d.App.Sources.Connect(k, k.scope, k.Params("id"), source.Chosen{Name: in.Name, Reader: in.Reader, Address: in.Address, File: in.File, FileName: in.FileName, Options: in.Options, Secret: secretIn(in.Secret)})
	if err != nil {
		return nil, err
	}
	return d.sourceOut(s), nil
}

func (d *door) readSource(k *call) (any, error) {
	s, err := d.App.Sources.Get(k, k.scope, k.Params("id"))
	if err != nil {
		return nil, err
	}
	out := d.sourceOut(s)
	out.UsedBy, err = d.App.Sources.Uses(k, k.scope, s.ID)
	k.Set("ETag", strconv.Quote(strconv.Itoa(s.Revision)))
	return out, err
}

func (d *door) changeSource(k *call) (any, error) {
	revision, err := k.revision(func() (int, error) {
		s, err := d.App.Sources.Get(k, k.scope, k.Params("id"))
		return s.Revision, err
	})
	if err != nil {
		return nil, err
	}
	var in wire.ChangeSource
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	change := source.Changed{Name: in.Name, Address: in.Address, Options: in.Options, File: in.File, FileName: in.FileName}
	if in.Secret != nil {
		s := secretIn(in.Secret)
		change.Secret = &s
	}
	s, err := d.App.Sources.Change(k, k.scope, k.Params("id"), revision, change)
	if err != nil {
		return nil, err
	}
	k.Set("ETag", strconv.Quote(strconv.Itoa(s.Revision)))
	return d.sourceOut(s), nil
}

func (d *door) deleteSource(k *call) (any, error) {
	return nil, d.App.Sources.Delete(k, k.scope, k.Params("id"))
}

func (d *door) refreshSource(k *call) (any, error) {
	r, err := d.App.Sources.Refresh(k, k.scope, k.Params("id"))
	if err != nil {
		return nil, err
	}
	return wire.SourceRefreshed{Source: d.sourceOut(r.Source), Added: r.Changes.Added, Changed: r.Changes.Changed, Removed: r.Changes.Removed, Failed: r.Failed != nil}, nil
}

func (d *door) listItems(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	after := 0
	if page.After != "" {
		if after, err = strconv.Atoi(page.After); err != nil || after < 0 {
			return nil, &problem.Error{Kind: problem.Invalid, Code: "cursor-faulty", Field: "cursor", What: "The cursor is not one of this list.", Hint: "Use “next” of the last response."}
		}
	}
	src, list, err := d.App.Sources.Items(k, k.scope, k.Params("id"), strings.TrimSpace(k.Query("search")))
	if err != nil {
		return nil, err
	}
	out := wire.SourceItems{}
	end := min(after+page.Limit-1, len(list)) // page.Limit has one more, to see whether there is another page
	if after = min(after, len(list)); end < len(list) {
		out.Next = strconv.Itoa(end)
	}
	out.Items, err = d.itemsOut(k, src.CustomerID, list[after:max(after, end)])
	return out, err
}

func (d *door) listFetches(k *call) (any, error) {
	list, err := d.App.Sources.Fetches(k, k.scope, k.Params("id"))
	out := wire.SourceFetches{Fetches: []wire.SourceFetch{}}
	for _, f := range list {
		out.Fetches = append(out.Fetches, wire.SourceFetch{At: f.At, LastAt: f.LastAt, Times: f.Times, Status: f.Status, Bytes: f.Bytes, Took: f.Took, Added: f.Added, Changed: f.Changed, Removed: f.Removed, By: f.By, Why: f.Why})
	}
	return out, err
}

func (d *door) selectItems(k *call) (any, error) {
	var in wire.NewSelection
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.Get(k, k.scope, k.Params("key"))
	if err != nil {
		return nil, err
	}
	selected, list, err := d.App.Pockets.Select(k, k.scope, p.Key, k.Params("list"), in.List, in.Settings)
	if err != nil {
		return nil, err
	}
	out := wire.Selection{List: list, Total: len(selected.Shown) + len(selected.Out), Dropped: []wire.SourceDropped{}, Rules: []wire.SourceRule{}, Sources: selected.Names}
	if out.Shown, err = d.itemsOut(k, p.CustomerID, selected.Shown); err != nil {
		return nil, err
	}
	dropped := selected.Out[:min(len(selected.Out), droppedMost)]
	items := make([]item.Item, len(dropped))
	for i := range dropped {
		items[i] = *dropped[i].Item
	}
	described, err := d.itemsOut(k, p.CustomerID, items)
	if err != nil {
		return nil, err
	}
	for i, each := range dropped {
		one := wire.SourceDropped{Item: described[i]}
		for _, r := range each.Reasons {
			one.Reasons = append(one.Reasons, wire.SourceReason(r))
		}
		out.Dropped = append(out.Dropped, one)
	}
	for _, c := range selected.Rules {
		out.Rules = append(out.Rules, wire.SourceRule{Rule: c.Rule, Label: item.RuleLabel(c.Rule), Keeps: c.Keeps, Drops: c.Drops})
	}
	if !selected.Until.IsZero() {
		out.Until = &selected.Until
	}
	return out, nil
}

// droppedMost is how many dropped items a response lists. The counts cover all.
const droppedMost = 500
