package manage

import (
	"encoding/json"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"glasspocket/hosts"
	"glasspocket/internal/app/access"
	"glasspocket/internal/app/install"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

func (d *door) listHosts(k *call) (any, error) {
	set, own, err := d.App.Installs.Hosts(k, k.scope)
	if err != nil {
		return nil, err
	}
	out := wire.Hosts{Hosts: []wire.Host{}, Wheres: host.WhereWords, Deliveries: host.Abouts, Proved: hosts.Proved()}
	for _, p := range set.List() {
		_, mine := own[p.Name]
		out.Hosts = append(out.Hosts, wire.Host{Name: p.Name, Title: p.Title, Summary: p.Summary, Signs: p.Signs, Wheres: p.Wheres(), Language: p.Language, Own: mine, Ours: d.App.Installs.Ships(p.Name)})
	}
	return out, nil
}

// provedOf returns the lab's results for a host.
func provedOf(name string) []hosts.Proof {
	list := []hosts.Proof{}
	for _, p := range hosts.Proved() {
		if p.Host == name {
			list = append(list, p)
		}
	}
	return list
}

func (d *door) readHost(k *call) (any, error) {
	p, err := d.App.Installs.Host(k, k.scope, k.Params("name"))
	if err != nil {
		return nil, err
	}
	_, own, err := d.App.Installs.Hosts(k, k.scope)
	if err != nil {
		return nil, err
	}
	out := wire.HostProfile{Host: *p, Ours: d.App.Installs.Ships(p.Name), Images: []string{}, Proved: provedOf(p.Name)}
	if o, ok := own[p.Name]; ok {
		out.Profile, out.Revision = o.Profile, o.Revision
	}
	if k.scope.Operator() {
		list, err := d.App.Installs.HostImages(k, k.scope, p.Name)
		if err != nil {
			return nil, err
		}
		out.Images = append(out.Images, list...)
	}
	return out, nil
}

func (d *door) saveHost(k *call) (any, error) {
	var in wire.SaveHost
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	name := k.Params("name")
	if in.DryRun {
		p, err := d.App.Installs.TryHost(k, k.scope, name, in.Profile)
		if err != nil {
			return nil, err
		}
		return wire.HostProfile{Host: *p, Profile: in.Profile, Revision: in.Revision, Ours: d.App.Installs.Ships(name), Images: []string{}, Proved: provedOf(p.Name)}, nil
	}
	p, o, err := d.App.Installs.SaveHost(k, k.scope, name, in.Profile, in.Revision)
	if err != nil {
		return nil, err
	}
	return wire.HostProfile{Host: *p, Profile: o.Profile, Revision: o.Revision, Ours: d.App.Installs.Ships(name), Images: []string{}, Proved: provedOf(p.Name)}, nil
}

func (d *door) deleteHost(k *call) (any, error) {
	return nil, d.App.Installs.DeleteHost(k, k.scope, k.Params("name"))
}

func (d *door) saveHostImage(k *call) (any, error) {
	var in wire.NewImage
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	return nil, d.App.Installs.SaveHostImage(k, k.scope, k.Params("name"), k.Params("file"), in.Bytes)
}

func (d *door) deleteHostImage(k *call) (any, error) {
	return nil, d.App.Installs.DeleteHostImage(k, k.scope, k.Params("name"), k.Params("file"))
}

// hostImage returns an image unchanged. It is shown in pages that need no account.
func (d *door) hostImage(c fiber.Ctx) error {
	p, err := d.App.Installs.HostImage(c, c.Params("name"), c.Params("file"))
	if err != nil {
		return err
	}
	c.Set("Content-Type", p.Kind)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Content-Security-Policy", "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:")
	c.Set("Cache-Control", "max-age=60")
	return c.Send(p.Bytes)
}

func (d *door) guided(g install.Guided) wire.Guided {
	out := wire.Guided{Install: g.Install, Wheres: g.Wheres, Choice: g.Choice, Guide: g.Guide, Needs: g.Needs, Base: d.App.Base(), Page: d.App.Base() + "/p/" + url.PathEscape(g.Subject.Key)}
	if out.Choice.Others == nil {
		out.Choice.Others = []host.Offer{}
	}
	if s := g.Pinned; s != nil {
		out.Sealed = sealedOut(*s)
		out.Sealed.Newest = g.Newest
	}
	return out
}

func sealedOut(s install.Sealed) *wire.Sealed {
	return &wire.Sealed{Publication: s.Publication, Address: s.Address, Integrity: s.Integrity, Policy: s.Policy, At: s.At, By: s.By}
}

func (d *door) guide(k *call) (any, error) {
	var in install.Install
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	g, err := d.App.Installs.Guide(k, k.scope, k.Params("key"), in)
	if err != nil {
		return nil, err
	}
	return d.guided(g), nil
}

func (d *door) listPlaces(k *call) (any, error) {
	list, err := d.App.Installs.Places(k, k.scope, k.Params("id"))
	return wire.Places{Places: append([]install.UsedPlace{}, list...)}, err
}

func (d *door) rememberPlace(k *call) (any, error) {
	var in wire.NewPlace
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	return d.App.Installs.RememberPlace(k, k.scope, k.Params("id"), in.Address, in.Host, in.Where)
}

func (d *door) seal(k *call) (any, error) {
	s, err := d.App.Installs.Seal(k, k.scope, k.Params("key"))
	if err != nil {
		return nil, err
	}
	out := sealedOut(s)
	out.Newest = true
	return out, nil
}

func handoverOut(h install.Handover) wire.Handover {
	out := wire.Handover{ID: h.ID, Note: h.Note, CreatedAt: h.CreatedAt, By: h.CreatedBy, SeenAt: h.SeenAt}
	json.Unmarshal(h.About, &out.Install) // valid, because we wrote it
	return out
}

func (d *door) handOver(k *call) (any, error) {
	var in wire.NewHandover
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	h, secret, err := d.App.Installs.HandOver(k, k.scope, k.Params("key"), in.Install, in.Note)
	if err != nil {
		return nil, err
	}
	out := handoverOut(h)
	out.Link = d.here(k) + "/steps#" + secret
	return out, nil
}

func (d *door) listHandovers(k *call) (any, error) {
	list, err := d.App.Installs.Handovers(k, k.scope, k.Params("key"))
	out := wire.Handovers{Handovers: []wire.Handover{}}
	for _, h := range list {
		out.Handovers = append(out.Handovers, handoverOut(h))
	}
	return out, err
}

func (d *door) revokeHandover(k *call) (any, error) {
	id, err := strconv.ParseInt(k.Params("id"), 10, 64)
	if err != nil {
		id = -1 // matches nothing
	}
	return nil, d.App.Installs.RevokeHandover(k, k.scope, k.Params("key"), id)
}

func (d *door) handedOver(k *call) (any, error) {
	var in wire.Secret
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	h, g, err := d.App.Installs.HandedOver(k, strings.TrimSpace(in.Secret), d.Proxies.Address(k).String())
	if err != nil {
		return nil, err
	}
	as := access.Scope{Role: access.CustomerViewer, CustomerID: h.CustomerID}
	owner, err := d.App.Customers.Get(k, as, h.CustomerID)
	if err != nil {
		return nil, err
	}
	return wire.HandedOver{Title: g.Subject.Title, Customer: owner.Name, Note: h.Note, By: h.CreatedBy, Guided: d.guided(g)}, nil
}
