package client

import (
	"context"
	"net/url"
	"strconv"
	"strings"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/wire"
)

// ChangePocket changes a pocket's name or language, as part of its draft.
func (c *Client) ChangePocket(ctx context.Context, key string, revision int, n wire.ChangePocket) (out wire.Draft, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: pocketPath(key, ""), body: n, match: revision}, &out)
}

// PreviewCases lists a pocket's preview cases.
func (c *Client) PreviewCases(ctx context.Context, key string) (out wire.PreviewCases, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/cases")}, &out)
}

// SavePreviewCase saves a preview case.
func (c *Client) SavePreviewCase(ctx context.Context, key, name string, in pocket.Conditions) (out wire.PreviewCase, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: pocketPath(key, "/cases/"+url.PathEscape(name)), body: in}, &out)
}

// DeletePreviewCase deletes a preview case.
func (c *Client) DeletePreviewCase(ctx context.Context, key, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "/cases/"+url.PathEscape(name))}, nil)
}

// StarterDifferences lists what another starter would change.
func (c *Client) StarterDifferences(ctx context.Context, key, starter string, replace []string) (out wire.StarterDifferences, err error) {
	q := url.Values{}
	if len(replace) > 0 {
		q.Set("replace", strings.Join(replace, ","))
	}
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/starters/"+url.PathEscape(starter)), query: q}, &out)
}

// ChangeStarter changes to another starter.
func (c *Client) ChangeStarter(ctx context.Context, key string, revision int, n wire.ChangeStarter) (out wire.Draft, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: pocketPath(key, "/starter"), body: n, match: revision}, &out)
}

// PocketDifferences compares two versions of a pocket. 0 stands for the live version as the first,
// and for the draft as the second.
func (c *Client) PocketDifferences(ctx context.Context, key string, from, to int) (out wire.PocketDifferences, err error) {
	q := url.Values{}
	if from > 0 {
		q.Set("from", strconv.Itoa(from))
	}
	if to > 0 {
		q.Set("to", strconv.Itoa(to))
	}
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/differences"), query: q}, &out)
}

// Unpublish takes a pocket offline, from the next request on. after is the number of the
// publication that must still be the newest; 0 for any.
func (c *Client) Unpublish(ctx context.Context, key string, after int) (out wire.Publication, err error) {
	q := url.Values{}
	if after > 0 {
		q.Set("after", strconv.Itoa(after))
	}
	return out, c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "/publication"), query: q}, &out)
}

// Schedule schedules an action for a pocket.
func (c *Client) Schedule(ctx context.Context, key string, n wire.NewSchedule) (out wire.Schedules, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/schedules"), body: n}, &out)
}

// Schedules lists a pocket's schedules, the newest first, at most 200.
func (c *Client) Schedules(ctx context.Context, key string) (out wire.Schedules, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/schedules"), query: paging("")}, &out)
}

// CancelSchedule cancels a schedule.
func (c *Client) CancelSchedule(ctx context.Context, key string, id int64) error {
	return c.do(ctx, ask{method: "DELETE", path: pocketPath(key, "/schedules/"+strconv.FormatInt(id, 10))}, nil)
}

// AuditQuery filters the audit by customer, or by an object's kind and name.
type AuditQuery struct {
	Customer, Kind, Of string
	Cursor             string
	Limit              int // 0 for 50
}

// Audit lists who changed what, the newest first.
func (c *Client) Audit(ctx context.Context, t AuditQuery) (out wire.Audit, err error) {
	q := url.Values{}
	for name, value := range map[string]string{"customer": t.Customer, "kind": t.Kind, "of": t.Of, "cursor": t.Cursor} {
		if value != "" {
			q.Set(name, value)
		}
	}
	if t.Limit > 0 {
		q.Set("limit", strconv.Itoa(t.Limit))
	}
	return out, c.do(ctx, ask{method: "GET", path: "/audit", query: q}, &out)
}
