package manage

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/host"
	"glasspocket/internal/view"
	"glasspocket/internal/wire"
)

func pocketOut(p pocket.Pocket) wire.Pocket {
	out := wire.Pocket{Key: p.Key, Customer: p.CustomerID, Widget: p.Widget, Title: p.Title, Language: p.Language, Starter: p.Starter,
		State: wire.Unpublished, Revision: p.Revision, DraftAt: p.DraftAt, DraftBy: p.DraftBy, Newest: p.Newest, CreatedAt: p.CreatedAt, Publication: p.Publication, Release: p.Release, Follow: p.Follow, Withheld: withheldOut(p.Withheld)}
	if p.Publication > 0 {
		out.State, out.PublishedAt = wire.Published, &p.PublishedAt
		if p.PublishedOf != p.Revision {
			out.State = wire.Changed
		}
	}
	return out
}

func (d *door) listPockets(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	order, descending := strings.CutPrefix(k.Query("order"), "-")
	q := pocket.Query{CustomerID: k.Query("customer"), Search: k.Query("search"), Widget: k.Query("widget"), State: k.Query("state"), Behind: k.Query("behind") == "true", Order: order, Descending: descending, Limit: page.Limit}
	if q.After, err = pocket.ReadMark(page.After); err != nil {
		return nil, err
	}
	list, err := d.App.Pockets.List(k, k.scope, q)
	if err != nil {
		return nil, err
	}
	out := wire.Pockets{Pockets: []wire.Pocket{}}
	list, out.Next = cut(list, page.Limit, func(p pocket.Pocket) string { return q.Mark(p).String() })
	if err := d.App.Pockets.ServedReleases(k, list); err != nil {
		return nil, err
	}
	without, err := d.App.Releases.Releaseless(k)
	if err != nil {
		return nil, err
	}
	for _, p := range list {
		one := pocketOut(p)
		one.Releaseless = without[p.Widget]
		out.Pockets = append(out.Pockets, one)
	}
	if err := d.failingIn(k, out.Pockets); err != nil {
		return nil, err
	}
	out.Customers, err = d.App.Pockets.Owners(k, list)
	return out, err
}

func (d *door) makePocket(k *call) (any, error) {
	var in wire.NewPocket
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.Add(k, k.scope, pocket.NewPocket{CustomerID: in.Customer, Widget: in.Widget, Starter: in.Starter, Title: in.Title, Language: in.Language, Key: in.Key})
	return pocketOut(p), err
}

func (d *door) readPocket(k *call) (any, error) {
	p, err := d.App.Pockets.Get(k, k.scope, k.Params("key"))
	if err != nil {
		return nil, err
	}
	one := []pocket.Pocket{p}
	if err := d.App.Pockets.ServedReleases(k, one); err != nil {
		return nil, err
	}
	without, err := d.App.Releases.Releaseless(k)
	if err != nil {
		return nil, err
	}
	out := []wire.Pocket{pocketOut(one[0])}
	out[0].Releaseless = without[p.Widget]
	err = d.failingIn(k, out)
	return out[0], err
}

// draftOut returns the draft, with its revision as the ETag.
func draftOut(k *call, p pocket.Pocket, aside []string, err error) (any, error) {
	if err != nil {
		return nil, err
	}
	k.Set("ETag", fmt.Sprintf("%q", strconv.Itoa(p.Revision)))
	return wire.Draft{Extras: p.Extras, Revision: p.Revision, Settings: wire.SettingsOf(p.Settings), Aside: aside, ChangedAt: p.DraftAt, ChangedBy: p.DraftBy, Title: p.Title, Language: p.Language, Starter: p.Starter}, nil
}

func (d *door) readDraft(k *call) (any, error) {
	p, aside, err := d.App.Pockets.Draft(k, k.scope, k.Params("key"))
	return draftOut(k, p, aside, err)
}

func (d *door) saveDraft(k *call, whole bool) (any, error) {
	revision, err := k.revision(d.ofPocket(k))
	if err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.SaveDraft(k, k.scope, k.Params("key"), revision, k.BodyRaw(), whole)
	return draftOut(k, p, nil, err)
}

func (d *door) changeDraft(k *call) (any, error)  { return d.saveDraft(k, false) }
func (d *door) replaceDraft(k *call) (any, error) { return d.saveDraft(k, true) }

func (d *door) preview(k *call) (any, error) {
	var in wire.Preview
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.Preview(k, k.scope, k.Params("key"), pocket.Preview{Settings: in.Settings, Lists: in.Sources, In: in.Conditions, Number: in.Publication, Brand: in.Brand, Live: in.Live})
	if err != nil {
		return nil, err
	}
	return wire.Previewed{Payload: p.Payload, Parts: append([]view.Element{}, p.Parts...), Samples: p.Samples, Shown: p.Shown}, nil
}

func publicationOut(p delivery.Publication) wire.Publication {
	return wire.Publication{Key: p.Key, Number: p.Number, Release: p.Release, Revision: p.Revision, Language: p.Language, Settings: wire.SettingsOf(p.Settings), At: p.At, By: p.By, Client: p.Client, Follow: p.Follow, Restores: p.Restores, Unpublished: p.Unpublished, EverybodyAt: p.At.Add(delivery.VisitorsKeep * time.Second)}
}

func (d *door) publish(k *call) (any, error) {
	var in wire.Publish
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Publishing.Publish(k, k.scope, k.Params("key"), publish.Draft{Revision: in.Revision, Heights: in.Heights, Follow: in.Follow})
	if err != nil {
		return nil, err
	}
	return publicationOut(p), nil
}

func (d *door) restore(k *call) (any, error) {
	var in wire.Restore
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Publishing.Restore(k, k.scope, k.Params("key"), in.Number, in.After)
	if err != nil {
		return nil, err
	}
	return publicationOut(p), nil
}

func (d *door) withholdPocket(k *call) (any, error) {
	var in wire.Withhold
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.Withhold(k, k.scope, k.Params("key"), in.Why)
	return pocketOut(p), err
}

func (d *door) bringBackPocket(k *call) (any, error) {
	p, err := d.App.Pockets.BringBack(k, k.scope, k.Params("key"))
	return pocketOut(p), err
}

func (d *door) listPublications(k *call) (any, error) {
	before, limit, err := k.downwards()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Publishing.History(k, k.scope, k.Params("key"), before, limit)
	out := wire.Publications{Publications: []wire.Publication{}}
	list, out.Next = cut(list, limit, func(p publish.Published) string { return strconv.Itoa(p.Number) })
	for _, p := range list {
		one := publicationOut(p.Publication)
		one.First, one.Changed = p.First, p.Changed
		out.Publications = append(out.Publications, one)
	}
	return out, err
}

func (d *door) snippets(k *call) (any, error) {
	list, err := d.App.Installs.Snippets(k, k.scope, k.Params("key"), host.Delivery(k.Query("delivery")))
	return wire.Snippets{Snippets: list}, err
}
