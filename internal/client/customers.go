package client

import (
	"context"
	"net/url"
	"strconv"

	"glasspocket/internal/app/portable"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

func customerPath(id, rest string) string { return "/customers/" + url.PathEscape(id) + rest }

// Customer returns a customer.
func (c *Client) Customer(ctx context.Context, id string) (out wire.Customer, err error) {
	return out, c.do(ctx, ask{method: "GET", path: customerPath(id, "")}, &out)
}

// ChangeCustomer changes a customer's name, zone, language or sites.
func (c *Client) ChangeCustomer(ctx context.Context, id string, revision int, n wire.ChangeCustomer) (out wire.Customer, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: customerPath(id, ""), body: n, match: revision}, &out)
}

// Brand returns a customer's brand.
func (c *Client) Brand(ctx context.Context, id string) (out wire.Brand, err error) {
	return out, c.do(ctx, ask{method: "GET", path: customerPath(id, "/brand")}, &out)
}

// ChangeBrand changes a customer's brand.
func (c *Client) ChangeBrand(ctx context.Context, id string, revision int, values []setting.BrandValue) (out wire.Brand, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: customerPath(id, "/brand"), body: wire.NewBrand{Values: values}, match: revision}, &out)
}

// DryRunBrand lists the pockets that another brand would change, page by page.
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

// People lists the people with access to a customer, and invitations.
func (c *Client) People(ctx context.Context, id string) (out wire.People, err error) {
	return out, c.do(ctx, ask{method: "GET", path: customerPath(id, "/people")}, &out)
}

// RevokeAccess revokes somebody's access to a customer.
func (c *Client) RevokeAccess(ctx context.Context, id, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: customerPath(id, "/people/"+url.PathEscape(name))}, nil)
}

// Invite invites somebody to a customer. The result is the only place where the Link appears.
func (c *Client) Invite(ctx context.Context, id string, n wire.NewInvitation) (out wire.Invitation, err error) {
	return out, c.do(ctx, ask{method: "POST", path: customerPath(id, "/invitations"), body: n}, &out)
}

// RevokeInvitation revokes an invitation.
func (c *Client) RevokeInvitation(ctx context.Context, id string, number int64) error {
	return c.do(ctx, ask{method: "DELETE", path: customerPath(id, "/invitations/"+strconv.FormatInt(number, 10))}, nil)
}

// Invited returns what an invitation is for.
func (c *Client) Invited(ctx context.Context, secret string) (out wire.Invited, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/invitations", body: wire.Secret{Secret: secret}}, &out)
}

// Join accepts an invitation.
func (c *Client) Join(ctx context.Context, n wire.Join) (out wire.Session, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/invitations/uses", body: n}, &out)
}

// Gallery returns the widgets and starters of the gallery.
func (c *Client) Gallery(ctx context.Context) (out wire.Gallery, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/gallery"}, &out)
}

// GalleryPreviews renders the starters of a widget, in a customer's brand if customer is not "".
func (c *Client) GalleryPreviews(ctx context.Context, name, customer string) (out wire.GalleryPreviews, err error) {
	q := url.Values{}
	if customer != "" {
		q.Set("customer", customer)
	}
	return out, c.do(ctx, ask{method: "GET", path: "/gallery/" + url.PathEscape(name), query: q}, &out)
}

// StartGuestPocket creates a pocket without an account.
func (c *Client) StartGuestPocket(ctx context.Context, n wire.NewGuestPocket) (out wire.GuestPocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets", body: n}, &out)
}

// ResumeGuestPocket continues such a pocket, by its secret.
func (c *Client) ResumeGuestPocket(ctx context.Context, secret string) (out wire.GuestPocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/visits", body: wire.Secret{Secret: secret}}, &out)
}

// SignUp creates an account for the person with a guest pocket.
func (c *Client) SignUp(ctx context.Context, n wire.SignUp) (out wire.Session, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/accounts", body: n}, &out)
}

// Claim moves a guest pocket to the user's customer.
func (c *Client) Claim(ctx context.Context, n wire.Claim) (out wire.Pocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/claims", body: n}, &out)
}

// StartJob starts a job for many pockets.
func (c *Client) StartJob(ctx context.Context, n wire.NewJob) (out wire.Job, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/jobs", body: n}, &out)
}

// Jobs lists jobs, the newest first.
func (c *Client) Jobs(ctx context.Context) (out wire.Jobs, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/jobs"}, &out)
}

// Job returns the progress of a job.
func (c *Client) Job(ctx context.Context, id string) (out wire.Job, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/jobs/" + url.PathEscape(id)}, &out)
}

// CancelJob cancels a job.
func (c *Client) CancelJob(ctx context.Context, id string) error {
	return c.do(ctx, ask{method: "DELETE", path: "/jobs/" + url.PathEscape(id)}, nil)
}

// ExportPocket returns a pocket's export file; whole includes the bytes of its assets.
func (c *Client) ExportPocket(ctx context.Context, key string, whole bool) (out portable.PocketFile, err error) {
	q := url.Values{}
	if whole {
		q.Set("assets", "whole")
	}
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/file"), query: q}, &out)
}

// DuplicatePocket creates a pocket with the same draft, for another customer if one is named.
func (c *Client) DuplicatePocket(ctx context.Context, key, customer string) (out wire.Pocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/duplicates"), body: wire.Duplicate{Customer: customer}}, &out)
}

// MovePocket publishes the live version again with another release.
func (c *Client) MovePocket(ctx context.Context, key string, n wire.Move) (out wire.Publication, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/moves"), body: n}, &out)
}

// DeletePocket deletes a pocket that is not published.
func (c *Client) DeletePocket(ctx context.Context, key string) error {
	return c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "")}, nil)
}

// PocketList filters and orders a list of pockets.
type PocketList struct {
	wire.List
	Order  string // "key", "title" or "changed"; with "-" before it in reverse
	Cursor string
	Limit  int // 0 for 50
}

// ListPockets returns one page of a list of pockets.
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
