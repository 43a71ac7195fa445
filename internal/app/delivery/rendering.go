package delivery

import (
	"context"
	"time"

	"glasspocket/internal/app/source"
	"glasspocket/internal/content"
	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Seal makes a sealed script of a publication. The result only depends on its content, not on
// the time.
func (a *Delivery) Seal(ctx context.Context, pub Publication) (*render.Sealed, error) {
	subject, err := a.Subject(ctx, pub.ReleaseID, pub)
	if err != nil {
		return nil, err
	}
	subject.Now = pub.At
	if _, err := a.Dress(ctx, pub.CustomerID, pub.Sources, &subject); err != nil {
		return nil, err
	}
	made, faults := a.site.Seal(subject)
	if len(faults) > 0 {
		return nil, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	return made, nil
}

// Subject returns a publication with one release and its settings, but without the customer's data,
// see dress.
func (a *Delivery) Subject(ctx context.Context, releaseID int64, p Publication) (s render.Subject, err error) {
	r, err := a.releases.Open(ctx, releaseID)
	if err != nil {
		return s, err
	}
	return a.SubjectOf(ctx, r, p, releaseID < p.ReleaseID)
}

// Carry converts the settings of a publication for a release. If back is set, that release is older
// than the publication's. faults are for values that it does not accept.
func (a *Delivery) Carry(ctx context.Context, r *widget.Release, p Publication, back bool) (values setting.Values, faults fault.List, err error) {
	values, faults = r.Schema.Carried(p.Settings)
	if len(faults) > 0 && back {
		own, err := a.releases.Open(ctx, p.ReleaseID)
		if err != nil {
			return nil, nil, err
		}
		values, faults = r.Schema.CarriedBack(p.Settings, own.Schema)
	}
	return values, faults, nil
}

// CarryWhole is carry with the release's defaults, because a followed release may have settings
// that were added later.
func (a *Delivery) CarryWhole(ctx context.Context, r *widget.Release, p Publication, back bool) (setting.Values, fault.List, error) {
	values, faults, err := a.Carry(ctx, r, p, back)
	if err == nil && len(faults) == 0 {
		values, faults = r.Schema.Complete(values)
	}
	return values, faults, err
}

func (a *Delivery) SubjectOf(ctx context.Context, r *widget.Release, p Publication, back bool) (s render.Subject, err error) {
	values, faults, err := a.CarryWhole(ctx, r, p, back)
	if err != nil {
		return s, err
	}
	if len(faults) > 0 {
		return s, problem.Faulty("settings-faulty", "A published setting is no longer valid.", faults)
	}
	return render.Subject{Cues: p.Cues, Key: p.Key, Title: p.Title, Publication: p.Number, Release: r, Settings: values, Language: p.Language, Now: a.now(), Published: p.At}, nil
}

// Dressed is what Dress has used, besides the settings.
type Dressed struct {
	Brand int // revision
	Items *source.Filled
}

// Dress adds the customer's data to a subject: the brand, the sites, the assets in the settings, and
// the items of the lists' sources. A deleted asset is not shown.
func (a *Delivery) Dress(ctx context.Context, customer string, lists content.Lists, s *render.Subject) (d Dressed, err error) {
	return a.dress(ctx, customer, lists, s, source.Next{})
}

func (a *Delivery) dress(ctx context.Context, customer string, lists content.Lists, s *render.Subject, page source.Next) (d Dressed, err error) {
	brand, err := a.customers.BrandOf(ctx, customer)
	if err != nil {
		return d, err
	}
	s.Brand, s.Sites, d.Brand = brand.Brand, brand.Sites, brand.Revision
	s.Assets, _, err = a.customers.ShownWith(ctx, customer, s.Release.Schema, s.Settings, brand.Brand)
	if err != nil {
		return d, err
	}
	d.Items, err = a.sources.Fill(ctx, source.Into{Customer: customer, Schema: s.Release.Schema, Values: s.Settings, Lists: lists, Language: s.Language, Now: s.Now, Page: page})
	if err != nil {
		return d, err
	}
	d.Items.Dress(s)
	return d, nil
}

// Build renders a publication with one release. to says for which pocket.
func (a *Delivery) Build(ctx context.Context, releaseID int64, to Target, p Publication) (*render.Delivery, Rendering, error) {
	subject, err := a.Subject(ctx, releaseID, p)
	if err != nil {
		return nil, Rendering{}, err
	}
	dressed, err := a.Dress(ctx, p.CustomerID, p.Sources, &subject)
	if err != nil {
		return nil, Rendering{}, err
	}
	d, faults := a.site.Deliver(subject)
	if len(faults) > 0 {
		return nil, Rendering{}, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	r := Rendering{Key: p.Key, Publication: p.Number, CustomerID: p.CustomerID, Target: to, Follow: p.Follow, Sums: d.Sums(), Script: d.Script.Brotli, JSON: d.JSON.Brotli, Page: d.Page.Brotli}
	r.Inputs = render.Inputs{{Kind: render.FromRelease, ID: to.Widget, Revision: releaseID}, {Kind: render.FromProgram, Digest: a.site.Identity}}
	if len(subject.Release.Schema.BrandUses(subject.Settings)) > 0 || subject.Cues.OwnSites {
		r.Inputs = append(r.Inputs, render.Input{Kind: render.FromBrand, ID: p.CustomerID, Revision: int64(dressed.Brand)})
	}
	if r.items = dressed.Items; r.items.Digest != "" {
		r.Inputs = append(r.Inputs, render.Input{Kind: render.FromItems, Digest: r.items.Digest})
		if until := r.items.Until; !until.IsZero() {
			r.Until = &until
		}
	}
	if subject.Cues.OwnSites {
		r.Ancestors = cue.Ancestors(subject.Sites, subject.Cues.Local)
	}
	return d, r, nil
}

// Target is what a pocket's renderings depend on and that never changes.
type Target struct {
	Widget string `db:"widget"`
	Lot    int    `db:"lot"`
}

// Rendering is a stored delivery, each part compressed with brotli, with what it was made from and
// with everything that serving it needs.
type Rendering struct {
	Key         string
	Publication int
	CustomerID  string
	Target
	Follow    bool
	Inputs    render.Inputs
	Ancestors string // sources of frame-ancestors for the pocket's page; "" allows every page
	Refused   int64  // ID of the release that should have made it but does not accept the settings; 0 for none
	Sums      string // its render.Delivery.Sums; "" is not checked
	Script    []byte
	JSON      []byte
	Page      []byte
	Until     *time.Time // when its items change by themselves; nil for never
	items     *source.Filled
}
