package delivery

import (
	"context"
	"errors"
	"strings"

	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

// current reads what the store has for a part of a key. ready means that served is up to date. If
// not, it has to be made again, and served.Document, if present, was made by an older release.
func (a *Delivery) current(ctx context.Context, key string, part render.Part) (served *Served, current Current, ready bool, err error) {
	served = &Served{Inputs: []signal.Object{{Kind: signal.Pocket, ID: key}}}
	if current, err = a.store.Current(ctx, key, part); errors.Is(err, problem.ErrNotFound) {
		return served, current, true, nil
	} else if err != nil {
		return nil, current, false, err
	}
	served.Inputs = append(served.Inputs, signal.Object{Kind: signal.Customer, ID: current.CustomerID})
	if current.Follow {
		served.Inputs = append(served.Inputs, signal.Object{Kind: signal.Widget, ID: current.Widget})
	}
	served.Publication, served.Withheld, served.Ancestors = current.Publication, current.Withheld, ancestors(current.Cues, current.Sites)
	if current.Withheld {
		return served, current, true, nil
	}
	if current.Identity == a.site.Identity {
		document := render.Stored(current.Document)
		if current.Sums == "" || strings.Contains(current.Sums, document.ETag) {
			served.Document = &document
			return served, current, current.brandFits() && current.ReleaseID == a.under(current), nil
		}
		a.notice("a stored rendering is damaged and is rebuilt", "pocket", key)
	}
	return served, current, false, nil
}

// under returns the ID of the release that visitors of a pocket receive: the wanted one, unless
// that does not accept the settings.
func (a *Delivery) under(current Current) int64 {
	if wanted := current.wanted(); wanted == current.ReleaseID || !a.refusals.has(current.Key, current.Publication, wanted, a.now()) {
		return wanted
	}
	return current.ReleaseID
}

// Current has everything for serving one document of a key.
type Current struct {
	Key          string `db:"key"`
	Publication  int    `db:"publication"`
	ReleaseID    int64  `db:"release_id"`
	Identity     string `db:"identity"`
	Sums         string `db:"sums"`
	Document     []byte `db:"document"` // the requested part
	CustomerID   string `db:"customer_id"`
	Widget       string `db:"widget"`
	Follow       bool   `db:"follow"`
	Withheld     bool   `db:"withheld"`       // the pocket or its customer is withheld
	Brand        int    `db:"brand"`          // revision that the document was made with; -1 for none
	CurrentBrand int    `db:"brand_revision"` // the customer's
	Newest       int64  `db:"newest"`         // ID of the widget's newest release in use, 0 for none
	Cues         string `db:"cues_published"`
	Sites        []byte `db:"sites"` // the customer's, as a JSON list
}

// wanted returns the ID of the release that visitors should receive.
func (c Current) wanted() int64 {
	if c.Follow && c.Newest != 0 {
		return c.Newest
	}
	return c.ReleaseID
}

// brandFits reports whether the document was made with the customer's present brand, or needs none.
func (c Current) brandFits() bool { return c.Brand < 0 || c.Brand == c.CurrentBrand }
