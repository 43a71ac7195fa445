package source

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/netip"
	"net/url"
	"path"
	"slices"
	"strings"

	"glasspocket/internal/app/access"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
)

// Wanted is what somebody enters to connect a source: an address, a @name@host, or a file.
type Wanted struct {
	Text   string // address or handle
	File   []byte
	Name   string // of the file
	Secret feed.Secret
	// Reader and Options say how to read it, to try a mapping; "" and nil let the service decide.
	Reader  string
	Options *feed.Options
	// Kinds and Needs are what the widget shows that the source is for; empty if it is for none yet.
	Kinds, Needs []string
}

// Looked is what Wanted could mean.
type Looked struct {
	Candidates []Candidate
	Businesses []Business
}

// Business is an entry of a directory.
type Business struct {
	Name      string
	Place     string
	Address   string // of its page
	Directory string // name
	Rating    float64
	Reviews   int
}

// Candidate is a source that Wanted could mean, with its first items.
type Candidate struct {
	Name    string // suggested
	Reader  string
	Address string
	Options feed.Options
	About   About
	Items   []item.Item
	Count   int // of all items
	// Fits is how many of them the widget can show; Unfit says why it cannot show the others.
	Fits  int
	Unfit string
	// Mapped says that the fields have to be chosen, as for a table or JSON.
	Mapped  bool
	Outline *feed.Outline
}

// The most candidates of one address, and the items shown of each.
const (
	candidatesMost = 6
	firstItems     = 12
)

// Look reads what somebody enters, and returns what it could mean, the likeliest first. The error
// says why there is nothing.
func (a *Sources) Look(ctx context.Context, s access.Scope, customer string, w Wanted) (Looked, error) {
	if err := a.customers.Reach(ctx, s, access.ConnectSources, customer); err != nil {
		return Looked{}, err
	}
	zone, err := a.customers.ZoneOf(ctx, customer)
	if err != nil {
		return Looked{}, err
	}
	return a.look(ctx, zone, w)
}

// Try is Look for somebody without an account, who can connect the source after signing up.
func (a *Sources) Try(ctx context.Context, s access.Scope, w Wanted) (Looked, error) {
	if err := s.Require(access.TrySources); err != nil {
		return Looked{}, err
	}
	return a.look(ctx, "UTC", w)
}

func (a *Sources) look(ctx context.Context, zone string, w Wanted) (Looked, error) {
	if len(w.File) > 0 {
		return a.candidates(ctx, &feed.Document{Name: w.Name, Body: w.File, Now: a.now(), Zone: zone}, w, zone, "")
	}
	var err error
	text, name := strings.TrimSpace(w.Text), ""
	if text == "" {
		return Looked{}, &problem.Error{Kind: problem.Invalid, Code: "source-empty", Field: "text", What: "Enter an address, a @name@host, or the name of a business.", Hint: "Or drop a file: CSV, JSON, iCalendar, or a ZIP of Markdown files."}
	}
	ask := feed.Ask{Address: text, Accept: feed.Accepts, Secret: w.Secret}
	if h, ok := feed.ReadHandle(text); ok && !strings.Contains(text, "://") {
		if ask.Address, err = a.profileOf(ctx, h); err != nil {
			return Looked{}, lookError(err)
		}
		ask.Accept, name = feed.ActivityType, "@"+h.Name+"@"+h.Host
	} else if !isAddress(text) {
		list, err := a.businesses(ctx, text)
		return Looked{Businesses: list}, err
	}
	if r := feed.Named(w.Reader); r != nil {
		ask.Accept = r.Accept()
	}
	answer, err := a.web.Ask(ctx, ask)
	if err != nil {
		return Looked{}, lookError(err)
	}
	answer.Now, answer.Zone = a.now(), zone
	return a.candidates(ctx, &answer.Document, w, zone, name)
}

// LookAt reads a source with other options, without saving anything.
func (a *Sources) LookAt(ctx context.Context, s access.Scope, id string, o *feed.Options) (Looked, error) {
	src, err := a.change(ctx, s, id)
	if err != nil {
		return Looked{}, err
	}
	if o == nil {
		o = &src.Options
	}
	w := Wanted{Text: src.Address, Name: src.FileName, Reader: src.Reader, Options: o}
	if src.Address == "" {
		if w.File, err = a.store.SourceFile(ctx, id); err != nil {
			return Looked{}, err
		}
	} else if w.Secret, err = a.secret(src); err != nil {
		return Looked{}, err
	}
	return a.Look(ctx, s, src.CustomerID, w)
}

// lookError describes a failure for somebody who waits for it.
func lookError(err error) error {
	f := asFailure(err)
	code := "source-unreachable"
	switch {
	case f.Token:
		code = "source-token"
	case f.Busy:
		code = "source-busy"
	case f.Status != 0:
		code = "source-refused"
	}
	var unreadable *feed.Error
	if errors.As(err, &unreadable) {
		code = "source-unreadable"
	}
	return &problem.Error{Kind: problem.Invalid, Code: code, Field: "text", What: f.What, Hint: f.Hint}
}

// profileOf looks up a handle (WebFinger, RFC 7033). A host that is an address with a port is asked
// without TLS, because nobody has a certificate for it.
func (a *Sources) profileOf(ctx context.Context, h feed.Handle) (string, error) {
	scheme := "https://"
	if _, err := netip.ParseAddrPort(h.Host); err == nil {
		scheme = "http://"
	}
	answer, err := a.web.Ask(ctx, feed.Ask{Address: scheme + h.Host + h.Query(), Accept: "application/jrd+json, application/json"})
	if err != nil {
		if f := asFailure(err); f.Status == 404 {
			return "", &feed.Failure{Status: 404, What: fmt.Sprintf("%s has nobody named %s.", h.Host, h.Name), Hint: "Check the name."}
		}
		return "", err
	}
	if at := feed.Profile(&answer.Document); at != "" {
		return at, nil
	}
	return "", &feed.Failure{What: fmt.Sprintf("%s does not say where the profile of %s is.", h.Host, h.Name), Hint: "Enter the address of the profile."}
}

// candidates returns what a document offers: itself, the parts of a page, and the feeds to which it
// links.
func (a *Sources) candidates(ctx context.Context, d *feed.Document, w Wanted, zone, name string) (Looked, error) {
	reader, secret := feed.Of(d), w.Secret
	if w.Reader != "" {
		if reader = feed.Named(w.Reader); reader == nil {
			return Looked{}, unknownReader(w.Reader)
		}
	}
	if reader == nil {
		return Looked{}, &problem.Error{Kind: problem.Invalid, Code: "source-unreadable", Field: "text", What: unknownForm(d), Hint: "The service reads RSS, Atom, JSON Feed, iCalendar, web pages with structured data, social profiles, CSV, JSON, and ZIP files of Markdown."}
	}
	var list []Candidate
	var why error
	try := func(d *feed.Document, reader *feed.Reader, o feed.Options) {
		if len(list) >= candidatesMost {
			return
		}
		c, err := a.candidate(ctx, d, reader, o, w, zone)
		switch {
		case err != nil:
			why = cmp.Or(why, err)
		case !slices.ContainsFunc(list, func(has Candidate) bool {
			return has.Address == c.Address && has.Options.Part == c.Options.Part && c.Address != ""
		}):
			list = append(list, c)
		}
	}
	switch {
	case w.Options != nil:
		if err := checkOptions(*w.Options); err != nil {
			return Looked{}, err
		}
		try(d, reader, *w.Options)
	case reader.Name == "page":
		counts := feed.PartsOf(d)
		for _, part := range feed.Parts {
			if counts[part.Kind] > 0 {
				try(d, reader, feed.Options{Part: part.Kind})
			}
		}
		for _, link := range feed.Linked(d) {
			answer, err := a.web.Ask(ctx, feed.Ask{Address: link.Address, Accept: link.Type, Secret: sameHost(secret, d.Address, link.Address)})
			if err != nil {
				continue
			}
			answer.Now, answer.Zone = a.now(), zone
			if reader := feed.Of(&answer.Document); reader != nil && reader.Name != "page" {
				o := feed.Options{}
				if reader.Name == "activity" {
					o.Part = feed.ProfileParts(&answer.Document)[0]
				}
				try(&answer.Document, reader, o)
			}
		}
		if len(list) == 0 {
			try(d, reader, feed.Options{})
		}
	case reader.Name == "activity":
		for _, part := range feed.ProfileParts(d) {
			if part != feed.PartLikes || len(list) > 0 {
				try(d, reader, feed.Options{Part: part})
			}
		}
	default:
		try(d, reader, feed.Options{})
	}
	if len(list) == 0 {
		return Looked{}, lookError(why)
	}
	// What the widget can show comes first.
	slices.SortStableFunc(list, func(a, b Candidate) int { return cmp.Compare(min(b.Fits, 1), min(a.Fits, 1)) })
	for i := range list {
		if name != "" && list[i].About.Title == "" {
			list[i].Name = name
		}
	}
	return Looked{Candidates: list}, nil
}

// sameHost returns a secret for an address at the same host, and none for another one.
func sameHost(secret feed.Secret, home, address string) feed.Secret {
	if hostOf(home) != hostOf(address) {
		return feed.Secret{}
	}
	return secret
}

func unknownForm(d *feed.Document) string {
	if d.Name != "" {
		return fmt.Sprintf("%s has a form that the service does not read.", d.Name)
	}
	kind := d.Kind
	if kind == "" {
		kind = "something of an unknown type"
	}
	return fmt.Sprintf("There is %s at this address, which the service does not read.", kind)
}

func (a *Sources) candidate(ctx context.Context, d *feed.Document, reader *feed.Reader, o feed.Options, w Wanted, zone string) (Candidate, error) {
	secret := w.Secret
	c := Candidate{Reader: reader.Name, Address: d.Address, Options: o, Mapped: reader.Name == "table" || reader.Name == "json"}
	if c.Mapped {
		out, err := feed.OutlineOf(d, reader.Name, o)
		if err != nil {
			return c, err
		}
		c.Outline, c.Options.Mapping = &out, out.Mapping
	}
	if d.Address != "" {
		d.Get = a.getter(d.Address, secret, zone, nil)
	}
	found, err := reader.Read(ctx, d, c.Options)
	if err != nil {
		if c.Mapped { // the fields have yet to be chosen
			c.Name = nameOf(d, "")
			return c, nil
		}
		return c, err
	}
	c.About, c.Count = aboutOf(found), len(found.Items)
	c.Fits, c.Unfit = item.Fit(found.Items, w.Kinds, w.Needs)
	stock, _ := item.Stock{}.Merge("", found.Items, found.Window, a.now())
	c.Items = stock.Items[:min(len(stock.Items), firstItems)]
	c.Name = nameOf(d, found.Title)
	for _, part := range feed.Parts {
		if part.Kind == o.Part && o.Part != "" {
			c.Name += ": " + strings.ToLower(part.Label)
		}
	}
	if o.Part == feed.PartLikes {
		c.Name += ": liked posts"
	}
	return c, nil
}

// nameOf suggests a name for a source.
func nameOf(d *feed.Document, title string) string {
	if title != "" {
		return item.Line(title, 100)
	}
	if d.Name != "" {
		return item.Line(strings.TrimSuffix(d.Name, path.Ext(d.Name)), 100)
	}
	if u, err := url.Parse(d.Address); err == nil && u.Host != "" {
		return u.Host
	}
	return "Source"
}
