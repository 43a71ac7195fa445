package client

import (
	"context"
	"net/url"
	"strconv"

	"glasspocket/internal/wire"
)

// TaskQuery filters a list of tasks; "" matches all.
type TaskQuery struct{ State, Kind, Cursor string }

// Tasks lists background tasks, the newest first.
func (c *Client) Tasks(ctx context.Context, q TaskQuery) (out wire.Tasks, err error) {
	query := url.Values{}
	for name, value := range map[string]string{"state": q.State, "kind": q.Kind, "cursor": q.Cursor} {
		if value != "" {
			query.Set(name, value)
		}
	}
	return out, c.do(ctx, ask{method: "GET", path: "/tasks", query: query}, &out)
}

// RunTask runs a waiting task now, or a failed one again.
func (c *Client) RunTask(ctx context.Context, id int64) (out wire.Task, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/tasks/" + strconv.FormatInt(id, 10) + "/runs"}, &out)
}

// CancelTask cancels a task that waits or runs.
func (c *Client) CancelTask(ctx context.Context, id int64) error {
	return c.do(ctx, ask{method: "DELETE", path: "/tasks/" + strconv.FormatInt(id, 10)}, nil)
}
