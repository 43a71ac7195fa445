package client

import (
	"context"
	"net/url"
	"strconv"

	"glasspocket/internal/app/install"
	"glasspocket/internal/wire"
)

// Hosts lists the host profiles.
func (c *Client) Hosts(ctx context.Context) (out wire.Hosts, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/hosts"}, &out)
}

func hostPath(name string) string { return "/hosts/" + url.PathEscape(name) }

// Host returns a host profile.
func (c *Client) Host(ctx context.Context, name string) (out wire.HostProfile, err error) {
	return out, c.do(ctx, ask{method: "GET", path: hostPath(name)}, &out)
}

// SaveHost saves a host profile, or an operator's version of a built-in one.
func (c *Client) SaveHost(ctx context.Context, name string, n wire.SaveHost) (out wire.HostProfile, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: hostPath(name), body: n}, &out)
}

// DeleteHost deletes an operator's host profile or version.
func (c *Client) DeleteHost(ctx context.Context, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: hostPath(name)}, nil)
}

// SaveHostImage saves an image for the steps of an operator's profile.
func (c *Client) SaveHostImage(ctx context.Context, name, file string, content []byte) error {
	return c.do(ctx, ask{method: "PUT", path: hostPath(name) + "/images/" + url.PathEscape(file), body: wire.NewImage{Bytes: content}}, nil)
}

// DeleteHostImage deletes such an image.
func (c *Client) DeleteHostImage(ctx context.Context, name, file string) error {
	return c.do(ctx, ask{method: "DELETE", path: hostPath(name) + "/images/" + url.PathEscape(file)}, nil)
}

// Guide returns the best delivery for a host, the others, and the steps.
func (c *Client) Guide(ctx context.Context, key string, n install.Install) (out wire.Guided, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/guides"), body: n}, &out)
}

// Seal stores the live version as a script that never changes.
func (c *Client) Seal(ctx context.Context, key string) (out wire.Sealed, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/sealed")}, &out)
}

// HandOver creates a page with the steps for somebody without an account.
func (c *Client) HandOver(ctx context.Context, key string, n wire.NewHandover) (out wire.Handover, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/handovers"), body: n}, &out)
}

// Handovers lists a pocket's handovers, the newest first.
func (c *Client) Handovers(ctx context.Context, key string) (out wire.Handovers, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/handovers")}, &out)
}

// RevokeHandover revokes a handover.
func (c *Client) RevokeHandover(ctx context.Context, key string, id int64) error {
	return c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "/handovers/"+strconv.FormatInt(id, 10))}, nil)
}

// HandedOver returns what a handover's page shows, by the secret of its link, without a token.
func (c *Client) HandedOver(ctx context.Context, secret string) (out wire.HandedOver, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/handovers", body: wire.Secret{Secret: secret}}, &out)
}

// TryOn shows how a pocket would look on a page before anybody pastes it there.
func (c *Client) TryOn(ctx context.Context, key string, n wire.TryOn) (out wire.TriedOn, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/tries"), body: n}, &out)
}

// Places lists where a customer installed pockets, the last used first.
func (c *Client) Places(ctx context.Context, customer string) (out wire.Places, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/customers/" + url.PathEscape(customer) + "/places"}, &out)
}

// RememberPlace keeps where a customer installed a pocket.
func (c *Client) RememberPlace(ctx context.Context, customer string, n wire.NewPlace) (out install.UsedPlace, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/customers/" + url.PathEscape(customer) + "/places", body: n}, &out)
}
