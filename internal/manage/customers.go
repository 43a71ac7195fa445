package manage

import (
	"encoding/json"
	"fmt"
	"strconv"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
	"glasspocket/internal/work"
)

func (d *door) readCustomer(k *call) (any, error) {
	c, err := d.App.Customers.Get(k, k.scope, k.Params("id"))
	return customerAt(k, c, err)
}

// customerAt returns a customer, with its revision as the ETag.
func customerAt(k *call, c customer.Customer, err error) (any, error) {
	if err != nil {
		return nil, err
	}
	k.Set("ETag", strconv.Quote(strconv.Itoa(c.Revision)))
	return customerOut(c), nil
}

func (d *door) changeCustomer(k *call) (any, error) {
	revision, err := k.revision(d.ofCustomer(k))
	if err != nil {
		return nil, err
	}
	var in wire.ChangeCustomer
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	c, err := d.App.Customers.Change(k, k.scope, k.Params("id"), revision, customer.Change{Name: in.Name, Zone: in.Zone, Language: in.Language, Sites: in.Sites})
	return customerAt(k, c, err)
}

func (d *door) brandOut(k *call) (any, error) {
	brand, revision, err := d.App.Customers.Brand(k, k.scope, k.Params("id"))
	if err != nil {
		return nil, err
	}
	k.Set("ETag", strconv.Quote(strconv.Itoa(revision)))
	out := wire.Brand{Revision: revision, Values: append([]setting.BrandValue{}, brand...)}
	for _, n := range setting.BrandNames {
		out.Names = append(out.Names, wire.BrandName{Name: n.Name, Type: n.Type, Label: n.Label})
	}
	return out, nil
}

func (d *door) changeBrand(k *call) (any, error) {
	revision, err := k.revision(d.ofBrand(k))
	if err != nil {
		return nil, err
	}
	values, err := k.brand()
	if err != nil {
		return nil, err
	}
	if _, err := d.App.Customers.ChangeBrand(k, k.scope, k.Params("id"), revision, values); err != nil {
		return nil, err
	}
	return d.brandOut(k)
}

// brand returns the values of a brand in the body unchanged, so that faults have their places.
func (k *call) brand() ([]byte, error) {
	var in struct {
		Values json.RawMessage `json:"values"`
	}
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	if in.Values == nil {
		in.Values = []byte("[]")
	}
	return in.Values, nil
}

func (d *door) dryRunBrand(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	values, err := k.brand()
	if err != nil {
		return nil, err
	}
	r, err := d.App.Pockets.RestyledBy(k, k.scope, k.Params("id"), values, page)
	out := wire.Restyled{Names: append([]string{}, r.Names...), Pockets: []wire.Pocket{}}
	list, next := cut(r.Pockets, page.Limit, func(p pocket.Pocket) string { return p.Key })
	out.Next = next
	for _, p := range list {
		out.Pockets = append(out.Pockets, pocketOut(p))
	}
	return out, err
}

func (d *door) people(k *call) (any, error) {
	id := k.Params("id")
	list, err := d.App.Customers.People(k, k.scope, id)
	if err != nil {
		return nil, err
	}
	out := wire.People{People: []wire.User{}, Invitations: []wire.Invitation{}}
	for _, u := range list {
		out.People = append(out.People, userOut(u, ""))
	}
	// Viewers cannot see invitations.
	if invitations, err := d.App.Customers.Invitations(k, k.scope, id); err == nil {
		for _, n := range invitations {
			out.Invitations = append(out.Invitations, invitationOut(n))
		}
	}
	return out, nil
}

func invitationOut(n customer.Invitation) wire.Invitation {
	return wire.Invitation{ID: n.ID, Role: string(n.Role), Name: n.Name, CreatedAt: n.CreatedAt, CreatedBy: n.CreatedBy, ExpiresAt: n.ExpiresAt, UsedAt: n.UsedAt, UsedBy: n.UsedBy}
}

// here returns the address to which this request was sent.
func (d *door) here(k *call) string {
	scheme := "http://"
	if d.Secure {
		scheme = "https://"
	}
	return scheme + string(k.Request().Host())
}

func (d *door) invite(k *call) (any, error) {
	var in wire.NewInvitation
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	n, secret, err := d.App.Customers.Invite(k, k.scope, k.Params("id"), access.Role(in.Role), in.Name)
	if err != nil {
		return nil, err
	}
	out := invitationOut(n)
	// As a fragment, it appears in no log on its way.
	out.Secret, out.Link = secret, d.here(k)+"/join#"+secret
	return out, nil
}

func (d *door) revokeInvitation(k *call) (any, error) {
	id, err := strconv.ParseInt(k.Params("number"), 10, 64)
	if err != nil {
		id = -1 // matches nothing
	}
	return nil, d.App.Customers.RevokeInvitation(k, k.scope, k.Params("id"), id)
}

func (d *door) revokeAccess(k *call) (any, error) {
	return nil, d.App.Customers.RevokeAccess(k, k.scope, k.Params("id"), k.Params("name"))
}

func (d *door) readInvitation(k *call) (any, error) {
	var in wire.Secret
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	n, c, err := d.App.Customers.Invited(k, in.Secret, d.Proxies.Address(k.Ctx).String())
	if err != nil {
		return nil, err
	}
	return wire.Invited{Customer: c.Name, Role: string(n.Role), Name: n.Name, By: n.CreatedBy, Until: n.ExpiresAt}, nil
}

func (d *door) join(k *call) (any, error) {
	var in wire.Join
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	scope, secret, err := d.App.Customers.Join(k, in.Secret, in.Name, in.Password, d.Proxies.Address(k.Ctx).String(), k.Get("User-Agent"))
	if err != nil {
		return nil, err
	}
	d.setCookie(k.Ctx, secret)
	return d.session(scope), nil
}

func jobOut(j bulk.Job) wire.Job {
	return wire.Job{ID: j.ID, Does: j.Does, By: j.By, CreatedAt: j.CreatedAt, EndedAt: j.EndedAt, State: j.State, Why: j.Why, Of: j.Of, Done: j.Done, Failed: j.Failed}
}

func (d *door) startJob(k *call) (any, error) {
	var in wire.NewJob
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	ask := bulk.Ask{Does: in.Does, Keys: in.Keys, Release: in.Release, Follow: in.Follow, Customer: in.Customer, Files: in.Files}
	if l := in.List; l != nil {
		if len(in.Keys) > 0 {
			return nil, &problem.Error{Kind: problem.Invalid, Code: "body-faulty", Field: "list", What: "Send either keys or a list.", Hint: "Leave one of them out."}
		}
		ask.Query = &pocket.Query{CustomerID: l.Customer, Search: l.Search, Widget: l.Widget, State: l.State, Behind: l.Behind}
	}
	j, err := d.App.Jobs.Start(k, k.scope, ask)
	return jobOut(j), err
}

func (d *door) listJobs(k *call) (any, error) {
	list, err := d.App.Jobs.List(k, k.scope, 50)
	out := wire.Jobs{Jobs: []wire.Job{}}
	for _, j := range list {
		out.Jobs = append(out.Jobs, jobOut(j))
	}
	return out, err
}

// itemsMost is the largest number of items of each outcome in a job's response.
const itemsMost = 200

func (d *door) readJob(k *call) (any, error) {
	j, err := d.App.Jobs.Get(k, k.scope, k.Params("id"))
	if err != nil {
		return nil, err
	}
	out := jobOut(j)
	for outcome, into := range map[string]*[]wire.JobItem{work.Failed: &out.Failures, work.Done: &out.Made} {
		items, err := d.App.Jobs.Items(k, k.scope, j.ID, outcome, 0, itemsMost)
		if err != nil {
			return nil, err
		}
		for _, i := range items {
			if outcome == work.Failed || i.Made != "" {
				*into = append(*into, wire.JobItem{Key: i.Of, Made: i.Made, Why: i.Why, Hint: i.Hint})
			}
		}
	}
	return out, nil
}

func (d *door) cancelJob(k *call) (any, error) {
	return nil, d.App.Jobs.Cancel(k, k.scope, k.Params("id"))
}

func (d *door) exportPocket(k *call) (any, error) {
	f, err := d.App.Files.Export(k, k.scope, k.Params("key"), k.Query("assets") == "whole")
	if err != nil {
		return nil, err
	}
	return f, nil
}

func (d *door) duplicatePocket(k *call) (any, error) {
	var in wire.Duplicate
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Files.Duplicate(k, k.scope, k.Params("key"), in.Customer, "")
	return pocketOut(p), err
}

func (d *door) movePocket(k *call) (any, error) {
	var in wire.Move
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	if in.Release < 0 {
		return nil, &problem.Error{Kind: problem.NotFound, Code: "release-not-found", What: fmt.Sprintf("There is no release %d.", in.Release), Hint: "List the widget's releases to see their numbers."}
	}
	p, err := d.App.Publishing.Move(k, k.scope, k.Params("key"), in.Release, in.Follow)
	if err != nil {
		return nil, err
	}
	return publicationOut(p), nil
}

func (d *door) deletePocket(k *call) (any, error) {
	return nil, d.App.Pockets.Delete(k, k.scope, k.Params("key"))
}
