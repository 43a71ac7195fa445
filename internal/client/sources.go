package client

import (
	"context"
	"net/url"

	"glasspocket/internal/wire"
)

func sourcePath(id, rest string) string { return "/sources/" + url.PathEscape(id) + rest }

// LookForSource reads an address, a @name@host or a file, and returns what could be connected.
func (c *Client) LookForSource(ctx context.Context, customer string, look wire.SourceLook) (out wire.SourceFound, err error) {
	return out, c.do(ctx, ask{method: "POST", path: customerPath(customer, "/sources/look"), body: look}, &out)
}

// TrySource is LookForSource for somebody without an account.
func (c *Client) TrySource(ctx context.Context, look wire.SourceLook) (out wire.SourceFound, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/guest-pockets/sources/look", body: look}, &out)
}

// LookAtSource reads a source with other options, without saving anything.
func (c *Client) LookAtSource(ctx context.Context, id string, look wire.SourceLook) (out wire.SourceFound, err error) {
	return out, c.do(ctx, ask{method: "POST", path: sourcePath(id, "/look"), body: look}, &out)
}

// Sources lists a customer's sources.
func (c *Client) Sources(ctx context.Context, customer string) (list []wire.Source, err error) {
	for cursor := ""; ; {
		var page wire.Sources
		if err := c.do(ctx, ask{method: "GET", path: customerPath(customer, "/sources"), query: paging(cursor)}, &page); err != nil {
			return nil, err
		}
		list = append(list, page.Sources...)
		if cursor = page.Next; cursor == "" {
			return list, nil
		}
	}
}

// FailingSources lists the sources that have failed for a day, or have ended.
func (c *Client) FailingSources(ctx context.Context) ([]wire.FailingSource, error) {
	var out wire.FailingSources
	err := c.do(ctx, ask{method: "GET", path: "/failing-sources"}, &out)
	return out.Sources, err
}

// ConnectSource connects a source and fetches it for the first time.
func (c *Client) ConnectSource(ctx context.Context, customer string, n wire.NewSource) (out wire.Source, err error) {
	return out, c.do(ctx, ask{method: "POST", path: customerPath(customer, "/sources"), body: n}, &out)
}

// Source returns a source with the pockets that use it.
func (c *Client) Source(ctx context.Context, id string) (out wire.Source, err error) {
	return out, c.do(ctx, ask{method: "GET", path: sourcePath(id, "")}, &out)
}

// ChangeSource changes a source.
func (c *Client) ChangeSource(ctx context.Context, id string, revision int, n wire.ChangeSource) (out wire.Source, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: sourcePath(id, ""), body: n, match: revision}, &out)
}

// DeleteSource deletes a source that no pocket uses.
func (c *Client) DeleteSource(ctx context.Context, id string) error {
	return c.do(ctx, ask{method: "DELETE", path: sourcePath(id, "")}, nil)
}

// RefreshSource fetches a source now.
func (c *Client) RefreshSource(ctx context.Context, id string) (out wire.SourceRefreshed, err error) {
	return out, c.do(ctx, ask{method: "POST", path: sourcePath(id, "/refresh")}, &out)
}

// SourceItems lists the items of a source that have the words of search, at most limit.
func (c *Client) SourceItems(ctx context.Context, id, search string, limit int) (list []wire.SourceItem, more bool, err error) {
	for cursor := ""; ; {
		query := paging(cursor)
		query.Set("search", search)
		var page wire.SourceItems
		if err := c.do(ctx, ask{method: "GET", path: sourcePath(id, "/items"), query: query}, &page); err != nil {
			return nil, false, err
		}
		list = append(list, page.Items...)
		if len(list) >= limit {
			return list[:limit], len(list) > limit || page.Next != "", nil
		}
		if cursor = page.Next; cursor == "" {
			return list, false, nil
		}
	}
}

// SourceFetches lists what came of a source's fetches, the newest first.
func (c *Client) SourceFetches(ctx context.Context, id string) (out wire.SourceFetches, err error) {
	return out, c.do(ctx, ask{method: "GET", path: sourcePath(id, "/fetches")}, &out)
}

// Selection shows which items a list of a pocket would show.
func (c *Client) Selection(ctx context.Context, key, list string, n wire.NewSelection) (out wire.Selection, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/lists/"+url.PathEscape(list)+"/selection"), body: n}, &out)
}
