package client

import (
	"context"
	"net/url"
	"strconv"

	"glasspocket/internal/app"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

func customerPath(id, rest string) string { return "/customers/" + url.PathEscape(id) + rest }

// Customer reads one customer.
func (c *Client) Customer(ctx context.Context, id string) (out wire.Customer, err error) {
	return out, c.do(ctx, ask{method: "GET", path: customerPath(id, "")}, &out)
}

// ChangeCustomer changes a customer's name, zone, language or sites.
func (c *Client) ChangeCustomer(ctx context.Context, id string, revision int, n wire.ChangeCustomer) (out wire.Customer, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: customerPath(id, ""), body: n, match: revision}, &out)
}

// Brand reads what a customer's widgets have in common.
func (c *Client) Brand(ctx context.Context, id string) (out wire.Brand, err error) {
	return out, c.do(ctx, ask{method: "GET", path: customerPath(id, "/brand")}, &out)
}

// ChangeBrand changes it.
func (c *Client) ChangeBrand(ctx context.Context, id string, revision int, values []setting.BrandValue) (out wire.Brand, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: customerPath(id, "/brand"), body: wire.NewBrand{Values: values}, match: revision}, &out)
}

// DryRunBrand tells which pockets another brand would change, page by page.
func (c *Client) DryRunBrand(ctx context.Context, id string, values []setting.BrandValue) (out wire.Restyled, err error) {
	for cursor := ""; ; {
		var page wire.Restyled
		if err := c.do(ctx, ask{method: "POST", path: customerPath(id, "/brand/dry-runs"), query: paging(cursor), body: wire.NewBrand{Values: values}}, &page); err != nil {
			return out, err
		}
		out.Names, out.Pockets = page.Names, append(out.Pockets, page.Pockets...)
		if cursor = page.Next; cursor == "" {
			return out, nil
		}
	}
}

// People lists who belongs to a customer, and who is invited.
func (c *Client) People(ctx context.Context, id string) (out wire.People, err error) {
	return out, c.do(ctx, ask{method: "GET", path: customerPath(id, "/people")}, &out)
}

// RevokeAccess takes somebody's access to a customer away.
func (c *Client) RevokeAccess(ctx context.Context, id, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: customerPath(id, "/people/"+url.PathEscape(name))}, nil)
}

// Invite invites somebody to a customer; the Link is told here and never again.
func (c *Client) Invite(ctx context.Context, id string, n wire.NewInvitation) (out wire.Invitation, err error) {
	return out, c.do(ctx, ask{method: "POST", path: customerPath(id, "/invitations"), body: n}, &out)
}

// RevokeInvitation takes an invitation back.
func (c *Client) RevokeInvitation(ctx context.Context, id string, number int64) error {
	return c.do(ctx, ask{method: "DELETE", path: customerPath(id, "/invitations/"+strconv.FormatInt(number, 10))}, nil)
}

// Invited reads what an invitation is to.
func (c *Client) Invited(ctx context.Context, secret string) (out wire.Invited, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/invitations", body: wire.Secret{Secret: secret}}, &out)
}

// Join takes an invitation up.
func (c *Client) Join(ctx context.Context, n wire.Join) (out wire.Session, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/invitations/uses", body: n}, &out)
}

// Gallery shows what there is to begin with.
func (c *Client) Gallery(ctx context.Context) (out wire.Gallery, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/gallery"}, &out)
}

// GalleryPreviews shows the starters of a widget; with customer in that customer's brand.
func (c *Client) GalleryPreviews(ctx context.Context, name, customer string) (out wire.GalleryPreviews, err error) {
	q := url.Values{}
	if customer != "" {
		q.Set("customer", customer)
	}
	return out, c.do(ctx, ask{method: "GET", path: "/gallery/" + url.PathEscape(name), query: q}, &out)
}

// Begin begins a pocket without an account.
func (c *Client) StartGuestPocket(ctx context.Context, n wire.NewGuestPocket) (out wire.GuestPocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets", body: n}, &out)
}

// ResumeGuestPocket goes on with such a pocket, by its secret.
func (c *Client) ResumeGuestPocket(ctx context.Context, secret string) (out wire.GuestPocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/visits", body: wire.Secret{Secret: secret}}, &out)
}

// SignUp makes an account for who has begun a pocket.
func (c *Client) SignUp(ctx context.Context, n wire.SignUp) (out wire.Session, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/accounts", body: n}, &out)
}

// Claim takes a pocket over that was begun without an account.
func (c *Client) Claim(ctx context.Context, n wire.Claim) (out wire.Pocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/claims", body: n}, &out)
}

// StartJob begins long work on many pockets.
func (c *Client) StartJob(ctx context.Context, n wire.NewJob) (out wire.Job, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/jobs", body: n}, &out)
}

// Jobs lists long work, the newest first.
func (c *Client) Jobs(ctx context.Context) (out wire.Jobs, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/jobs"}, &out)
}

// Job tells how far long work has come.
func (c *Client) Job(ctx context.Context, id string) (out wire.Job, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/jobs/" + url.PathEscape(id)}, &out)
}

// CancelJob ends long work before it is through.
func (c *Client) CancelJob(ctx context.Context, id string) error {
	return c.do(ctx, ask{method: "DELETE", path: "/jobs/" + url.PathEscape(id)}, nil)
}

// ExportPocket reads a pocket as a file; whole has the bytes of its assets too.
func (c *Client) ExportPocket(ctx context.Context, key string, whole bool) (out app.PocketFile, err error) {
	q := url.Values{}
	if whole {
		q.Set("assets", "whole")
	}
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/file"), query: q}, &out)
}

// DuplicatePocket makes a pocket with the same draft, of another customer when one is named.
func (c *Client) DuplicatePocket(ctx context.Context, key, customer string) (out wire.Pocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/duplicates"), body: wire.Duplicate{Customer: customer}}, &out)
}

// MovePocket publishes what visitors get once more, with another release.
func (c *Client) MovePocket(ctx context.Context, key string, n wire.Move) (out wire.Publication, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/moves"), body: n}, &out)
}

// DeletePocket takes a pocket away that is not published.
func (c *Client) DeletePocket(ctx context.Context, key string) error {
	return c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "")}, nil)
}

// PocketList says which pockets are listed, in which order.
type PocketList struct {
	wire.List
	Order  string // "key", "title" or "changed", with - before it for the other way round
	Cursor string
	Limit  int // 50 when 0
}

// ListPockets reads one page of a list of pockets.
func (c *Client) ListPockets(ctx context.Context, l PocketList) (out wire.Pockets, err error) {
	q := url.Values{}
	for name, value := range map[string]string{"customer": l.Customer, "search": l.Search, "widget": l.Widget, "state": l.State, "order": l.Order, "cursor": l.Cursor} {
		if value != "" {
			q.Set(name, value)
		}
	}
	if l.Behind {
		q.Set("behind", "true")
	}
	if l.Limit > 0 {
		q.Set("limit", strconv.Itoa(l.Limit))
	}
	return out, c.do(ctx, ask{method: "GET", path: "/pockets", query: q}, &out)
}
