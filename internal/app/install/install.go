package install

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

// Install describes how to bring a pocket to a page.
type Install struct {
	Host     string        `json:"host"`               // name of a profile
	Where    string        `json:"where,omitempty"`    // one of host.Wheres; "" for the host's first
	Delivery host.Delivery `json:"delivery,omitempty"` // "" for the best one
	Placing  host.Placing  `json:"placing,omitzero"`
}

// Guided is the result for an Install: all deliveries, and the steps for one of them.
type Guided struct {
	Wheres  []string // of the host
	Install Install  // the request, with defaults filled in
	Choice  host.Choice
	Guide   *host.Guide // nil if nothing of the pocket can be installed there
	Pinned  *Sealed     // what the sealed delivery is pinned to, if there is one
	Newest  bool        // Pinned is the same as the live version
	Needs   host.Needs
	Subject host.Subject
	pub     delivery.Publication
}

// Guide selects a delivery and writes the steps for a published pocket.
func (a *Installs) Guide(ctx context.Context, s access.Scope, key string, ask Install) (g Guided, err error) {
	if g.pub, g.Subject, g.Needs, err = a.subjectFor(ctx, s, key); err != nil {
		return g, err
	}
	p, err := a.Host(ctx, s, ask.Host)
	if err != nil {
		return g, err
	}
	if faults := ask.Placing.Check(); len(faults) > 0 {
		return g, problem.Faulty("placing-faulty", "The placement is not valid.", faults)
	}
	g.Wheres = p.Wheres()
	if ask.Where == "" {
		ask.Where = g.Wheres[0]
		if g.Subject.Floats && slices.Contains(g.Wheres, "site") {
			ask.Where = "site"
		}
	}
	if !slices.Contains(g.Wheres, ask.Where) {
		return g, unknownWhere(p.Title, ask.Where, g.Wheres)
	}
	sealed, err := a.store.SealedOf(ctx, key)
	if err != nil {
		return g, err
	}
	if len(sealed) > 0 {
		g.Pinned = &sealed[0]
		g.Subject.Pinned = sealed[0].pinned()
		newest, err := a.delivery.Seal(ctx, g.pub)
		g.Newest = err == nil && newest.Digest == sealed[0].Digest // release and brand change it too
	}
	if p.Pages.Are == "mail" || ask.Delivery == host.Email {
		if err := a.delivery.AddMail(ctx, g.pub, &g.Subject); err != nil {
			return g, err
		}
	}
	g.Choice = host.Choose(p, g.Subject, g.Needs, ask.Where, ask.Placing)
	offer := g.Choice.Best
	if ask.Delivery != "" {
		if _, ok := ask.Delivery.About(); !ok {
			return g, noDelivery(ask.Delivery)
		}
		if offer == nil || offer.Delivery != ask.Delivery {
			offer = nil
			for _, o := range g.Choice.Others {
				if o.Delivery == ask.Delivery {
					offer = &o
				}
			}
		}
		if offer == nil {
			return g, &problem.Error{Kind: problem.Conflict, Code: "delivery-unfit", Field: "delivery", What: fmt.Sprintf("The delivery %q is not possible there.", ask.Delivery), Hint: "Choose one of the deliveries on offer."}
		}
	}
	if offer != nil {
		guide := host.Lead(p, g.Subject, ask.Where, ask.Placing, *offer)
		g.Guide, ask.Delivery = &guide, offer.Delivery
	}
	g.Install = ask
	return g, nil
}

func noDelivery(delivery host.Delivery) *problem.Error {
	names := make([]string, len(host.Deliveries))
	for i, n := range host.Deliveries {
		names[i] = string(n)
	}
	return &problem.Error{Kind: problem.Invalid, Code: "delivery-unknown", Field: "delivery", What: fmt.Sprintf("There is no delivery %q.", delivery), Hint: fault.DidYouMean(string(delivery), names)}
}

// subjectFor returns the live version under key, for snippets.
func (a *Installs) subjectFor(ctx context.Context, s access.Scope, key string) (pub delivery.Publication, subject host.Subject, needs host.Needs, err error) {
	pub, r, err := a.publishedNow(ctx, s, key)
	if err != nil {
		return pub, subject, needs, err
	}
	subject = host.Subject{Base: a.delivery.Base(), Key: key, Title: pub.Title, Floats: r.Manifest.Floats, Wraps: r.Manifest.Wraps(), Chooses: pub.Cues.Chooses(), Limited: pub.Cues.OwnSites}
	for _, f := range r.Manifest.Facts {
		subject.Facts = append(subject.Facts, host.Fact{Name: f.Name, Yes: f.Type == "switch", Label: f.Label["en"]})
	}
	subject.OfPage = subject.Floats && r.Manifest.Purpose == "page"
	return pub, subject, needsOf(r), json.Unmarshal(pub.Heights, &subject.Heights)
}

// needsOf returns what a widget needs of a page.
func needsOf(r *widget.Release) host.Needs {
	return host.Needs{
		Script: strings.TrimSpace(r.Built.Mount) != "", Storage: r.Can(widget.Memory), Floats: r.Manifest.Floats, Wraps: r.Manifest.Wraps(),
		Forms: r.Can(widget.Forms), Page: len(r.Manifest.Facts) > 0 || r.Can(widget.Reading),
	}
}
