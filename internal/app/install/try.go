package install

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"strings"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/cue"
	"glasspocket/internal/diagnose"
	"glasspocket/internal/host"
	"glasspocket/internal/onpage"
	"glasspocket/internal/problem"
)

// PageSource fetches web pages. Its errors are *Error.
type PageSource interface {
	FetchPage(ctx context.Context, address string) (onpage.Page, error)
}

// TryOn requests how a pocket would look on a page before anybody pastes it there.
type TryOn struct {
	Install Install
	Address string // the page's; or
	HTML    string // the page itself
	Spot    int    // where: an index into the Spots of an earlier response; -1 for the likely one
}

// TriedOn is the result.
type TriedOn struct {
	Guided
	Page     onpage.Placed // without Live and Still
	Address  string        // the page's, after redirects
	Outcome  host.Outcome
	Findings []diagnose.Finding // damage to snippets that the page already contains
	Add      string             // what to add to the page's content policy so that it allows everything; "" for nothing
	Token    string             // of the two pages, see TriedPage
}

// Limits of tries.
const (
	TryHTMLMost = 2 << 20 // bytes of pasted HTML
	// Pages are large and servers can be slow, so only this many are fetched at a time, and more
	// wait.
	triesAtATime = 4
)

// TryOn inserts a pocket into a page as its host would, and reports the result.
func (a *Installs) TryOn(ctx context.Context, s access.Scope, key string, ask TryOn) (t TriedOn, err error) {
	if err := s.Require(access.EditPockets); err != nil {
		return t, err
	}
	if t.Guided, err = a.Guide(ctx, s, key, ask.Install); err != nil {
		return t, err
	}
	if t.Guide == nil {
		return t, &problem.Error{Kind: problem.Conflict, Code: "form-unfit", Field: "host", What: "This pocket cannot be installed on this host.", Hint: "Choose another host."}
	}
	page, err := a.pageOf(ctx, ask)
	if err != nil {
		return t, err
	}
	switch frames, err := onpage.IsFrames(page.HTML); {
	case err != nil:
		return t, &problem.Error{Kind: problem.Invalid, Code: "page-too-deep", Field: "html", What: "The page's elements are nested more than 512 deep.", Hint: "Try the part of the page that the widget will be placed in."}
	case frames:
		return t, &problem.Error{Kind: problem.Invalid, Code: "page-of-frames", Field: "address", What: "This page contains only frames that show other pages.", Hint: "Use the address of the inner page. To find it, right-click the page and open the frame in a new tab."}
	}
	profile, err := a.Host(ctx, s, t.Install.Host)
	if err != nil {
		return t, err
	}
	offer := t.Guide.Offer
	if t.Subject.Pinned == nil && offer.Delivery == host.Sealed {
		return t, &problem.Error{Kind: problem.Conflict, Code: "not-sealed", Field: "form", What: fmt.Sprintf("No publication of %s has been sealed yet.", key), Hint: "Seal the live version first."}
	}
	ground := host.Ground{Pages: profile.Pages, Self: page.Address, Content: profile.Place(offer.Content), Script: profile.Place(offer.Script), Policy: profile.Place(offer.Policy)}
	if policy := onpage.PolicyOf(page); ask.Address != "" || policy != "" { // the page itself says what it allows
		ground.Pages.Policy, ground.Policy = policy, nil
	}
	snippet := host.Snippet{Delivery: offer.Delivery, Parts: t.Guide.Parts}
	t.Outcome = ground.Outcome(t.Subject, snippet)
	t.Add = ground.Missing(t.Subject, snippet)
	payload, _, err := a.delivery.ShownNow(ctx, t.pub)
	if err != nil {
		return t, err
	}
	t.Page = onpage.Put(page, ask.Spot, ground, t.Subject, snippet, t.Outcome, payload.Declared())
	t.Address = page.Address
	if t.Findings, err = a.findings(ctx, s, key, page.HTML); err != nil {
		return t, err
	}
	if page.Address != "" && t.Outcome.Shows == "widget" { // frames and links do not depend on the page around them
		elsewhere, err := a.elsewhere(ctx, t.pub, page.Address)
		if err != nil {
			return t, err
		}
		t.Findings = append(t.Findings, elsewhere...)
	}
	t.Token = access.Secret()
	a.delivery.KeepTried(t.Token, &delivery.TriedPage{Live: t.Page.Live, Still: t.Page.Still, Policy: t.Page.Policy})
	t.Page.Live, t.Page.Still = "", ""
	return t, nil
}

func (a *Installs) pageOf(ctx context.Context, ask TryOn) (onpage.Page, error) {
	switch {
	case (ask.Address == "") == (ask.HTML == ""):
		return onpage.Page{}, &problem.Error{Kind: problem.Invalid, Code: "page-needed", Field: "address", What: "Give the address of the page, or its HTML.", Hint: "Send one of the two."}
	case len(ask.HTML) > TryHTMLMost:
		return onpage.Page{}, &problem.Error{Kind: problem.Invalid, Code: "page-too-large", Field: "html", What: fmt.Sprintf("The pasted HTML has more than %d MB.", TryHTMLMost>>20), Hint: "Paste only the part of the page where the widget goes."}
	case ask.HTML != "":
		if !strings.Contains(ask.HTML, "<") {
			return onpage.Page{}, &problem.Error{Kind: problem.Invalid, Code: "page-no-html", Field: "html", What: "The pasted text contains no HTML.", Hint: "Copy the complete source of the page. In the browser, right-click the page and choose “View page source”."}
		}
		return onpage.Page{HTML: ask.HTML}, nil
	case a.pages == nil:
		return onpage.Page{}, errors.New("this service cannot fetch pages")
	}
	select {
	case a.trying <- struct{}{}:
		defer func() { <-a.trying }()
	case <-ctx.Done():
		return onpage.Page{}, ctx.Err()
	}
	return a.pages.FetchPage(ctx, ask.Address)
}

// elsewhere explains why a pocket's own rules hide it at an address.
func (a *Installs) elsewhere(ctx context.Context, pub delivery.Publication, address string) ([]diagnose.Finding, error) {
	cues := pub.Cues
	brand, err := a.customers.BrandOf(ctx, pub.CustomerID)
	if err != nil {
		return nil, err
	}
	switch u, err := url.Parse(address); {
	case err != nil || cues.Shows(address, brand.Sites):
		return nil, nil
	case cues.OwnSites && !(cue.Cues{OwnSites: true, Local: cues.Local}).Shows(address, brand.Sites):
		return []diagnose.Finding{{Code: "site-not-entered", Key: pub.Key, What: fmt.Sprintf("The pocket shows only on its customer's sites, and %s is not one of them.", u.Host), Fix: "Add the domain under “Sites”. The pocket shows within a minute."}}, nil
	}
	return []diagnose.Finding{{Code: "not-here", Key: pub.Key, What: "The pocket's settings say that it does not show at this address.", Fix: "Check “Where and when it shows” in its settings."}}, nil
}

// findings checks a page for snippets of this customer's pockets.
func (a *Installs) findings(ctx context.Context, s access.Scope, key, text string) ([]diagnose.Finding, error) {
	p, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return nil, err
	}
	w := diagnose.World{Base: a.delivery.Base(), Key: key, Look: func(key string) (there, published bool) {
		// Everybody can see a published one on the public listener. Others are visible to their
		// customer only.
		p, err := a.store.Pocket(ctx, key)
		published = err == nil && p.Publication > 0
		return err == nil && (published || s.Sees(p.CustomerID)), published
	}}
	list, err := a.store.Pockets(ctx, pocket.Query{CustomerID: p.CustomerID, Order: "key", Limit: 500})
	if err != nil {
		return nil, err
	}
	for _, one := range list {
		w.Keys = append(w.Keys, one.Key)
	}
	return diagnose.Page(text, w), nil
}
