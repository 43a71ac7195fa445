package install

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
)

// UsedPlace is where a customer installed a pocket: the next pocket is proposed for the same.
type UsedPlace struct {
	Site   string    `db:"site" json:"site,omitempty"` // host name of the page's address; "" if unknown
	Host   string    `db:"host" json:"host"`           // name of a host profile
	Where  string    `db:"position" json:"where"`      // one of host.Wheres
	UsedAt time.Time `db:"used_at" json:"usedAt"`
}

// PlacesMost is how many places of a customer are kept.
const PlacesMost = 12

// Places lists a customer's places, the last used first. Those whose host profile no longer exists
// are left out.
func (a *Installs) Places(ctx context.Context, s access.Scope, customer string) ([]UsedPlace, error) {
	if err := a.customers.Reach(ctx, s, access.SeeLists, customer); err != nil {
		return nil, err
	}
	set, _, err := a.allHosts(ctx)
	if err != nil {
		return nil, err
	}
	list, err := a.store.Places(ctx, customer)
	return slices.DeleteFunc(list, func(p UsedPlace) bool {
		known := set.Get(p.Host)
		return known == nil || !slices.Contains(known.Wheres(), p.Where)
	}), err
}

// RememberPlace keeps a place as the customer's last used one. address is the page's complete
// address, its host name, or "".
func (a *Installs) RememberPlace(ctx context.Context, s access.Scope, customer, address, hostName, where string) (UsedPlace, error) {
	if err := a.customers.Reach(ctx, s, access.PublishPockets, customer); err != nil {
		return UsedPlace{}, err
	}
	p, err := a.Host(ctx, s, hostName)
	if err != nil {
		return UsedPlace{}, err
	}
	if !slices.Contains(p.Wheres(), where) {
		return UsedPlace{}, unknownWhere(p.Title, where, p.Wheres())
	}
	site, ok := siteOf(address)
	if !ok {
		return UsedPlace{}, &problem.Error{Kind: problem.Invalid, Code: "address-form", Field: "address", What: fmt.Sprintf("%q is not the address of a page.", address), Hint: "Write the complete address, such as https://shop.example/events."}
	}
	place := UsedPlace{Site: site, Host: hostName, Where: where, UsedAt: a.now().UTC()}
	return place, a.store.SavePlace(ctx, customer, place, PlacesMost)
}

// siteOf returns the host name and port of an address, in lower case.
func siteOf(address string) (site string, ok bool) {
	if address = strings.TrimSpace(address); address == "" {
		return "", true
	}
	if !strings.Contains(address, "://") {
		address = "https://" + address
	}
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || len(u.Host) > 253 || (u.Scheme != "https" && u.Scheme != "http") {
		return "", false
	}
	return strings.ToLower(u.Host), true
}

func unknownWhere(title, where string, known []string) error {
	return &problem.Error{Kind: problem.Invalid, Code: "where-unknown", Field: "where", What: fmt.Sprintf("%s has no position %q.", title, where), Hint: fault.DidYouMean(where, known)}
}
