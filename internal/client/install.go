package client

import (
	"context"
	"net/url"
	"strconv"

	"glasspocket/internal/app"
	"glasspocket/internal/wire"
)

// Hosts lists the kinds of host that there are.
func (c *Client) Hosts(ctx context.Context) (out wire.Hosts, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/hosts"}, &out)
}

func hostPath(name string) string { return "/hosts/" + url.PathEscape(name) }

// Host reads everything that is known of a kind of host.
func (c *Client) Host(ctx context.Context, name string) (out wire.HostProfile, err error) {
	return out, c.do(ctx, ask{method: "GET", path: hostPath(name)}, &out)
}

// SaveHost writes a kind of host, or an own version of one that ships.
func (c *Client) SaveHost(ctx context.Context, name string, n wire.SaveHost) (out wire.HostProfile, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: hostPath(name), body: n}, &out)
}

// DeleteHost takes an own kind of host, or an own version, away.
func (c *Client) DeleteHost(ctx context.Context, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: hostPath(name)}, nil)
}

// SaveHostImage keeps a picture that an own profile's steps name.
func (c *Client) SaveHostImage(ctx context.Context, name, file string, content []byte) error {
	return c.do(ctx, ask{method: "PUT", path: hostPath(name) + "/images/" + url.PathEscape(file), body: wire.NewImage{Bytes: content}}, nil)
}

// DeleteHostImage takes such a picture away.
func (c *Client) DeleteHostImage(ctx context.Context, name, file string) error {
	return c.do(ctx, ask{method: "DELETE", path: hostPath(name) + "/images/" + url.PathEscape(file)}, nil)
}

// Guide asks for the best delivery form for a host, all others, and the steps.
func (c *Client) Guide(ctx context.Context, key string, n app.Install) (out wire.Guided, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/guides"), body: n}, &out)
}

// Seal keeps what is published as a script that never changes.
func (c *Client) Seal(ctx context.Context, key string) (out wire.Sealed, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/sealed")}, &out)
}

// HandOver makes a page with the steps for somebody without an account.
func (c *Client) HandOver(ctx context.Context, key string, n wire.NewHandover) (out wire.Handover, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/handovers"), body: n}, &out)
}

// Handovers lists a pocket's pages, the newest first.
func (c *Client) Handovers(ctx context.Context, key string) (out wire.Handovers, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/handovers")}, &out)
}

// RevokeHandover ends such a page.
func (c *Client) RevokeHandover(ctx context.Context, key string, id int64) error {
	return c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "/handovers/"+strconv.FormatInt(id, 10))}, nil)
}

// HandedOver reads what such a page shows, by the secret of its link; no token is needed.
func (c *Client) HandedOver(ctx context.Context, secret string) (out wire.HandedOver, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/handovers", body: wire.Secret{Secret: secret}}, &out)
}

// TryOn asks how a pocket would stand on a page, before it is pasted there.
func (c *Client) TryOn(ctx context.Context, key string, n wire.TryOn) (out wire.TriedOn, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/tries"), body: n}, &out)
}
