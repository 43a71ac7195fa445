package delivery

import (
	"context"
	"errors"
	"slices"
	"strings"

	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

// Current is one document of a key as it is stored.
type Current struct {
	Key         string `db:"key"`
	Publication int    `db:"publication"`
	CustomerID  string `db:"customer_id"`
	Target
	Follow    bool          `db:"follow"`
	Withheld  bool          `db:"withheld"` // the pocket, not its customer
	Inputs    render.Inputs `db:"-"`
	Ancestors string        `db:"ancestors"`
	Sums      string        `db:"sums"`
	Document  []byte        `db:"document"` // the requested part
}

// release returns the ID of the release that made the document.
func (c Current) release() int64 {
	made, _ := c.Inputs.Of(render.FromRelease)
	return made.Revision
}

// state is what is stored under a key, compared with what should be.
type state struct {
	Current
	wanted   int64    // ID of the release that visitors should receive
	withheld bool     // the pocket or its customer
	stale    []string // kinds of the inputs that have changed since the document was made
}

// under returns the ID of the release that visitors receive: the wanted one, unless that does not
// accept the settings.
func (s state) under(refused *refusals, d *Delivery) int64 {
	if s.wanted == s.release() || !refused.has(s.Key, s.Publication, s.wanted, d.now()) {
		return s.wanted
	}
	return s.release()
}

// is reports whether an input has changed.
func (s state) is(kind string) bool { return slices.Contains(s.stale, kind) }

// current reads what the store has for a part of a key. ready means that served is up to date. If
// not, it has to be made again, and served.Document, if present, was made from older inputs.
func (a *Delivery) current(ctx context.Context, key string, part render.Part) (served *Served, s state, ready bool, err error) {
	served = &Served{Inputs: []signal.Object{{Kind: signal.Pocket, ID: key}}}
	if s.Current, err = a.store.Current(ctx, key, part); errors.Is(err, problem.ErrNotFound) {
		return served, s, true, nil
	} else if err != nil {
		return nil, s, false, err
	}
	served.Inputs = append(served.Inputs, signal.Object{Kind: signal.Customer, ID: s.CustomerID})
	owner, err := a.customers.BrandOf(ctx, s.CustomerID)
	if err != nil {
		return nil, s, false, err
	}
	s.wanted = s.release()
	if s.Follow {
		served.Inputs = append(served.Inputs, signal.Object{Kind: signal.Widget, ID: s.Widget})
		newest, err := a.releases.Wanted(ctx, s.Widget, s.Lot)
		if err != nil {
			return nil, s, false, err
		}
		if newest != 0 {
			s.wanted = newest
		}
	}
	s.withheld = s.Withheld || owner.Withheld
	s.stale = s.Inputs.Stale(func(i render.Input) render.Input {
		switch i.Kind {
		case render.FromRelease:
			i.Revision = s.under(&a.refusals, a)
		case render.FromProgram:
			i.Digest = a.site.Identity
		case render.FromBrand:
			i.Revision = int64(owner.Revision)
		}
		return i
	})
	served.Publication, served.Withheld, served.Ancestors = s.Publication, s.withheld, s.Ancestors
	if s.withheld {
		return served, s, true, nil
	}
	if !s.is(render.FromProgram) {
		document := render.Stored(s.Document)
		if s.Sums == "" || strings.Contains(s.Sums, document.ETag) {
			served.Document = &document
			return served, s, len(s.stale) == 0, nil
		}
		a.notice("a stored rendering is damaged and is rebuilt", "pocket", key)
	}
	return served, s, false, nil
}
