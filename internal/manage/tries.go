package manage

import (
	"glasspocket/internal/app/install"
	"glasspocket/internal/diagnose"
	"glasspocket/internal/onpage"
	"glasspocket/internal/wire"
)

func (d *door) tryOn(k *call) (any, error) {
	var in wire.TryOn
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	ask := install.TryOn{Install: in.Install, Address: in.Address, HTML: in.HTML, Spot: -1}
	if in.Spot != nil {
		ask.Spot = *in.Spot
	}
	t, err := d.App.Installs.TryOn(k, k.scope, k.Params("key"), ask)
	if err != nil {
		return nil, err
	}
	at := d.App.Base() + "/tries/" + t.Token
	return wire.TriedOn{Install: t.Install, Guide: *t.Guide, Outcome: t.Outcome, Title: t.Page.Title, Address: t.Address, Spots: append([]onpage.Spot{}, t.Page.Spots...), Spot: t.Page.Spot,
		Findings: append([]diagnose.Finding{}, t.Findings...), Policy: t.Page.Policy, Add: t.Add, Live: at + "#" + onpage.Anchor, Still: at + "?still=1#" + onpage.Anchor}, nil
}
