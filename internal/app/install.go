package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/render"
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
	pub     Publication
}

// Guide selects a delivery and writes the steps for a published pocket.
func (a *App) Guide(ctx context.Context, s Scope, key string, ask Install) (g Guided, err error) {
	if g.pub, g.Subject, g.Needs, err = a.subjectFor(ctx, s, key); err != nil {
		return g, err
	}
	p, err := a.Host(ctx, s, ask.Host)
	if err != nil {
		return g, err
	}
	if faults := ask.Placing.Check(); len(faults) > 0 {
		return g, faulty("placing-faulty", "The placement is not valid.", faults)
	}
	g.Wheres = p.Wheres()
	if ask.Where == "" {
		ask.Where = g.Wheres[0]
		if g.Subject.Floats && slices.Contains(g.Wheres, "site") {
			ask.Where = "site"
		}
	}
	if !slices.Contains(g.Wheres, ask.Where) {
		return g, &Error{Kind: Invalid, Code: "where-unknown", Field: "where", What: fmt.Sprintf("%s has no position %q.", p.Title, ask.Where), Hint: fault.DidYouMean(ask.Where, g.Wheres)}
	}
	sealed, err := a.store.SealedOf(ctx, key)
	if err != nil {
		return g, err
	}
	if len(sealed) > 0 {
		g.Pinned = &sealed[0]
		g.Subject.Pinned = sealed[0].pinned()
		newest, err := a.sealNow(ctx, g.pub)
		g.Newest = err == nil && newest.Digest == sealed[0].Digest // release and brand change it too
	}
	if p.Pages.Are == "mail" || ask.Delivery == host.Email {
		if err := a.addMail(ctx, g.pub, &g.Subject); err != nil {
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
			return g, &Error{Kind: Conflict, Code: "delivery-unfit", Field: "delivery", What: fmt.Sprintf("The delivery %q is not possible there.", ask.Delivery), Hint: "Choose one of the deliveries on offer."}
		}
	}
	if offer != nil {
		guide := host.Lead(p, g.Subject, ask.Where, ask.Placing, *offer)
		g.Guide, ask.Delivery = &guide, offer.Delivery
	}
	g.Install = ask
	return g, nil
}

func noDelivery(delivery host.Delivery) *Error {
	names := make([]string, len(host.Deliveries))
	for i, n := range host.Deliveries {
		names[i] = string(n)
	}
	return &Error{Kind: Invalid, Code: "delivery-unknown", Field: "delivery", What: fmt.Sprintf("There is no delivery %q.", delivery), Hint: fault.DidYouMean(string(delivery), names)}
}

// subjectFor returns the live version under key, for snippets.
func (a *App) subjectFor(ctx context.Context, s Scope, key string) (pub Publication, subject host.Subject, needs host.Needs, err error) {
	pub, r, err := a.publishedNow(ctx, s, key)
	if err != nil {
		return pub, subject, needs, err
	}
	cues, err := cue.Read([]byte(pub.Cues))
	if err != nil {
		return pub, subject, needs, err
	}
	subject = host.Subject{Base: a.site.Base, Key: key, Title: pub.Title, Floats: r.Manifest.Floats, Wraps: r.Manifest.Wraps(), Chooses: cues.Chooses(), Limited: cues.OwnSites}
	for _, f := range r.Manifest.Facts {
		subject.Facts = append(subject.Facts, host.Fact{Name: f.Name, Yes: f.Type == "switch", Label: f.Label["en"]})
	}
	subject.OfPage = subject.Floats && r.Manifest.Purpose == "page"
	return pub, subject, needsOf(r), json.Unmarshal(pub.Heights, &subject.Heights)
}

// needsOf determines a widget's needs from its files.
func needsOf(r *widget.Release) host.Needs {
	uses := func(word string) bool { return widget.HasWord(r.Built.Mount, word) }
	return host.Needs{
		Script: strings.TrimSpace(r.Built.Mount) != "", Storage: uses("memory"), Floats: r.Manifest.Floats, Wraps: r.Manifest.Wraps(),
		Forms: strings.Contains(string(r.Files[widget.ViewFile]), "<form"),
		Page:  len(r.Manifest.Facts) > 0 || uses("reading"),
	}
}

// Sealed is a publication as a script that never changes.
type Sealed struct {
	Digest      string    `db:"digest"`
	Key         string    `db:"key"`
	Publication int       `db:"publication"`
	Address     string    `db:"address"`
	Integrity   string    `db:"integrity"`
	Policy      string    `db:"policy"`
	Script      []byte    `db:"script"` // brotli
	At          time.Time `db:"at"`
	By          string    `db:"by"`
}

// pinned returns the data for a snippet.
func (s Sealed) pinned() *host.Pinned {
	return &host.Pinned{Address: s.Address, Integrity: s.Integrity, Policy: s.Policy}
}

// Seal stores the live version under key as a script that never changes. Earlier sealed scripts
// stay.
func (a *App) Seal(ctx context.Context, s Scope, key string) (Sealed, error) {
	if err := s.require(publishPockets); err != nil {
		return Sealed{}, err
	}
	pub, _, err := a.publishedNow(ctx, s, key)
	if err != nil {
		return Sealed{}, err
	}
	made, err := a.sealNow(ctx, pub)
	if err != nil {
		return Sealed{}, err
	}
	out := Sealed{Digest: made.Digest, Key: key, Publication: pub.Number, Address: made.Address, Integrity: made.Integrity, Policy: made.Policy, Script: made.Script.Brotli, At: a.now(), By: s.Name}
	return out, a.store.AddSealed(ctx, out, newRecord(s, a.now(), Entry{CustomerID: pub.CustomerID, Did: "seal", Kind: "pocket", Of: key, Number: pub.Number}))
}

// sealNow makes a sealed script of a publication. The result only depends on its content, not on
// the time.
func (a *App) sealNow(ctx context.Context, pub Publication) (*render.Sealed, error) {
	subject, err := a.subject(ctx, pub.ReleaseID, pub)
	if err != nil {
		return nil, err
	}
	subject.Now = pub.At
	if _, err := a.dress(ctx, pub.CustomerID, &subject); err != nil {
		return nil, err
	}
	made, faults := a.site.Seal(subject)
	if len(faults) > 0 {
		return nil, faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	return made, nil
}

// SealedScript returns a sealed script compressed with brotli.
func (a *App) SealedScript(ctx context.Context, digest, key string) ([]byte, error) {
	return a.store.SealedScript(ctx, digest, key)
}

// publishedNow returns the live version under key, see visited, for somebody with access to it,
// also while it is withheld.
func (a *App) publishedNow(ctx context.Context, s Scope, key string) (pub Publication, r *widget.Release, err error) {
	if _, err := a.Pocket(ctx, s, key); err != nil {
		return pub, nil, err
	}
	live, _, err := a.visited(ctx, key)
	if err != nil {
		return pub, nil, err
	}
	if live == nil {
		refused := notPublished(key)
		refused.Hint = "Publish the pocket first. A snippet needs something to show."
		return pub, nil, refused
	}
	r, err = a.open(ctx, live.ReleaseID)
	return *live, r, err
}

// Snippets returns the snippets for a page that lets everything through: that of one delivery, or,
// for "", of all that the widget supports.
func (a *App) Snippets(ctx context.Context, s Scope, key string, delivery host.Delivery) ([]host.Snippet, error) {
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
		if err := a.addMail(ctx, pub, &subject); err != nil {
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
			return nil, &Error{Kind: Conflict, Code: "not-sealed", Field: "delivery", What: fmt.Sprintf("No publication of %s has been sealed yet.", key), Hint: "Seal the live version first."}
		case delivery != "":
			return nil, &Error{Kind: Conflict, Code: "delivery-unfit", Field: "delivery", What: subject.Unfit(f), Hint: "Choose another delivery, such as script or split."}
		}
	}
	return list, nil
}

// PageAbout describes a pocket's page for hosts that show previews of links.
type PageAbout struct {
	Title  string
	Frames bool // it works in a frame
	// Height returns its height at a width, both in CSS pixels; 0 if unknown.
	Height func(width int) int
}

// AboutPage describes the live version under key. It returns nil if there is none, or the pocket is
// withheld.
func (a *App) AboutPage(ctx context.Context, key string) (*PageAbout, error) {
	pub, withheld, err := a.visited(ctx, key)
	if pub == nil || withheld || err != nil {
		return nil, err
	}
	var heights []widget.Height
	if err := json.Unmarshal(pub.Heights, &heights); err != nil {
		return nil, err
	}
	r, err := a.open(ctx, pub.ReleaseID)
	if err != nil {
		return nil, err
	}
	return &PageAbout{
		Title:  pub.Title,
		Frames: host.Subject{Floats: r.Manifest.Floats, Wraps: r.Manifest.Wraps()}.Fits(host.Frame),
		Height: func(width int) int { return host.HeightAt(heights, width) },
	}, nil
}
