// Package client calls the manage API from Go.
package client

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/host"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// Client is safe for concurrent use.
type Client struct {
	Server string // address of the manage listener, "http://127.0.0.1:7440"
	Token  string
	HTTP   *http.Client // nil for a client with a time-out of 30 s
}

// Problem is the service's reason for refusing a request.
type Problem struct{ wire.Problem }

func (p *Problem) Error() string { return p.Detail + " " + p.Hint }

// Unreachable is the error when no service answers.
type Unreachable struct {
	Server string
	Cause  error
}

func (u *Unreachable) Error() string {
	return fmt.Sprintf("no service answers at %s (%v). Check that glasspocketd is running and that this is its manage address", u.Server, u.Cause)
}

func (u *Unreachable) Unwrap() error { return u.Cause }

var standard = &http.Client{Timeout: 30 * time.Second}

type ask struct {
	method, path string
	query        url.Values
	body         any
	kind         string // content type; "" for application/json
	match        int    // If-Match revision; 0 for none
}

func (c *Client) do(ctx context.Context, a ask, out any) error {
	address := strings.TrimRight(c.Server, "/") + "/api/v1" + a.path
	if len(a.query) > 0 {
		address += "?" + a.query.Encode()
	}
	var body io.Reader
	if a.body != nil {
		text, err := json.Marshal(a.body)
		if err != nil {
			return err
		}
		body = bytes.NewReader(text)
	}
	req, err := http.NewRequestWithContext(ctx, a.method, address, body)
	if err != nil {
		return fmt.Errorf("the server's address %q cannot be used: %w", c.Server, err)
	}
	if body != nil {
		if a.kind == "" {
			a.kind = "application/json"
		}
		req.Header.Set("Content-Type", a.kind)
	}
	if c.Token != "" {
		req.Header.Set("Authorization", "Bearer "+c.Token)
	} else {
		req.Header.Set("Origin", strings.TrimRight(c.Server, "/")) // sessions are accepted from their own origin only
	}
	if a.match > 0 {
		req.Header.Set("If-Match", strconv.Quote(strconv.Itoa(a.match)))
	}
	h := c.HTTP
	if h == nil {
		h = standard
	}
	res, err := h.Do(req)
	if err != nil {
		var u *url.Error
		if errors.As(err, &u) {
			err = u.Err
		}
		var op *net.OpError
		if errors.As(err, &op) {
			err = op.Err
		}
		return &Unreachable{c.Server, err}
	}
	defer res.Body.Close()
	text, err := io.ReadAll(io.LimitReader(res.Body, 32<<20))
	if err != nil {
		return &Unreachable{c.Server, err}
	}
	if res.StatusCode >= 400 {
		p := &Problem{}
		if json.Unmarshal(text, &p.Problem) != nil || p.Code == "" {
			return &Unreachable{c.Server, fmt.Errorf("the server answered %s, which is not from this API", res.Status)}
		}
		return p
	}
	if out == nil || len(text) == 0 {
		return nil
	}
	if err := json.Unmarshal(text, out); err != nil {
		return &Unreachable{c.Server, fmt.Errorf("the answer does not come from this API: %w", err)}
	}
	return nil
}

// SignIn creates a token with a name and password. It uses a session, and signs out of it.
func (c *Client) SignIn(ctx context.Context, name, password string, n wire.NewToken) (t wire.Token, err error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return t, err
	}
	signed := &Client{Server: c.Server, HTTP: &http.Client{Jar: jar, Timeout: standard.Timeout}}
	if err := signed.do(ctx, ask{method: "POST", path: "/session", body: wire.SignIn{Name: name, Password: password}}, nil); err != nil {
		return t, err
	}
	t, err = signed.MakeToken(ctx, n)
	return t, errors.Join(err, signed.do(ctx, ask{method: "DELETE", path: "/session"}, nil))
}

// WhoAmI returns whom the token acts for.
func (c *Client) WhoAmI(ctx context.Context) (s wire.Session, err error) {
	return s, c.do(ctx, ask{method: "GET", path: "/session"}, &s)
}

// MakeToken creates a token. The result is the only place where its Secret appears.
func (c *Client) MakeToken(ctx context.Context, n wire.NewToken) (t wire.Token, err error) {
	return t, c.do(ctx, ask{method: "POST", path: "/tokens", body: n}, &t)
}

// Tokens lists the user's tokens.
func (c *Client) Tokens(ctx context.Context) (t wire.Tokens, err error) {
	return t, c.do(ctx, ask{method: "GET", path: "/tokens"}, &t)
}

// RevokeToken revokes a token at once.
func (c *Client) RevokeToken(ctx context.Context, id int64) error {
	return c.do(ctx, ask{method: "DELETE", path: "/tokens/" + strconv.FormatInt(id, 10)}, nil)
}

// Sessions lists the user's sessions.
func (c *Client) Sessions(ctx context.Context) (out wire.Sessions, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/sessions"}, &out)
}

// RevokeSession signs a session out at once.
func (c *Client) RevokeSession(ctx context.Context, id int64) error {
	return c.do(ctx, ask{method: "DELETE", path: "/sessions/" + strconv.FormatInt(id, 10)}, nil)
}

// ChangePassword changes the user's own password.
func (c *Client) ChangePassword(ctx context.Context, old, new string) error {
	return c.do(ctx, ask{method: "PUT", path: "/session/password", body: wire.ChangePassword{Old: old, New: new}}, nil)
}

// Users lists all users, page by page.
func (c *Client) Users(ctx context.Context) (all []wire.User, err error) {
	all = []wire.User{}
	for cursor := ""; ; {
		var page wire.Users
		if err := c.do(ctx, ask{method: "GET", path: "/users", query: paging(cursor)}, &page); err != nil {
			return nil, err
		}
		all = append(all, page.Users...)
		if cursor = page.Next; cursor == "" {
			return all, nil
		}
	}
}

// MakeUser creates a user. The result is the only place where a random Password appears.
func (c *Client) MakeUser(ctx context.Context, n wire.NewUser) (out wire.User, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/users", body: n}, &out)
}

// ChangeUser changes a user's role.
func (c *Client) ChangeUser(ctx context.Context, name string, n wire.ChangeUser) (out wire.User, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: "/users/" + url.PathEscape(name), body: n}, &out)
}

// ResetPassword sets a new random password for a user.
func (c *Client) ResetPassword(ctx context.Context, name string) (out wire.NewPassword, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/users/" + url.PathEscape(name) + "/password"}, &out)
}

// DeleteUser deletes a user, whose access ends at once.
func (c *Client) DeleteUser(ctx context.Context, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: "/users/" + url.PathEscape(name)}, nil)
}

// withheld withholds what path names or, with back, serves it again.
func (c *Client) withheld(ctx context.Context, path, why string, back bool, out any) error {
	if back {
		return c.do(ctx, ask{method: "DELETE", path: path + "/withheld"}, out)
	}
	return c.do(ctx, ask{method: "PUT", path: path + "/withheld", body: wire.Withhold{Why: why}}, out)
}

// WithholdCustomer stops serving a customer's pockets at once, or serves them again.
func (c *Client) WithholdCustomer(ctx context.Context, id, why string, back bool) (out wire.Customer, err error) {
	return out, c.withheld(ctx, "/customers/"+url.PathEscape(id), why, back, &out)
}

// WithholdPocket stops serving a pocket at once, or serves it again.
func (c *Client) WithholdPocket(ctx context.Context, key, why string, back bool) (out wire.Pocket, err error) {
	return out, c.withheld(ctx, pocketPath(key, ""), why, back, &out)
}

// MakeCustomer creates a customer.
func (c *Client) MakeCustomer(ctx context.Context, n wire.NewCustomer) (out wire.Customer, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/customers", body: n}, &out)
}

// Customers lists all visible customers, page by page. search limits the list to those with this
// text in name or ID.
func (c *Client) Customers(ctx context.Context, search string) (all []wire.Customer, err error) {
	all = []wire.Customer{}
	for cursor := ""; ; {
		var page wire.Customers
		q := paging(cursor)
		if search != "" {
			q.Set("search", search)
		}
		if err := c.do(ctx, ask{method: "GET", path: "/customers", query: q}, &page); err != nil {
			return nil, err
		}
		all = append(all, page.Customers...)
		if cursor = page.Next; cursor == "" {
			return all, nil
		}
	}
}

func paging(cursor string) url.Values {
	q := url.Values{"limit": {"200"}}
	if cursor != "" {
		q.Set("cursor", cursor)
	}
	return q
}

func folder(files widget.Files) wire.Folder { return wire.Folder{Files: wire.FilesOf(files)} }

// Check checks a widget folder.
func (c *Client) Check(ctx context.Context, files widget.Files) (out wire.Checked, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/checks", body: folder(files)}, &out)
}

// Release releases a widget folder.
func (c *Client) Release(ctx context.Context, name string, files widget.Files) (out wire.Release, err error) {
	return c.ReleaseAs(ctx, name, wire.NewRelease{Files: wire.FilesOf(files)})
}

// ReleaseAs releases files or the draft on the worktop.
func (c *Client) ReleaseAs(ctx context.Context, name string, n wire.NewRelease) (out wire.Release, err error) {
	return out, c.do(ctx, ask{method: "POST", path: releasesPath(name), body: n}, &out)
}

// ShareRelease rolls a release out to a percentage of pockets.
func (c *Client) ShareRelease(ctx context.Context, name string, number, share int) (out wire.Release, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: releasesPath(name) + "/" + strconv.Itoa(number), body: wire.ChangeRelease{Share: &share}}, &out)
}

func dryRunsPath(name string) string { return "/widgets/" + url.PathEscape(name) + "/dry-runs" }

// StartDryRun starts to render every pocket that follows the widget with files that are not
// released.
func (c *Client) StartDryRun(ctx context.Context, name string, n wire.NewDryRun) (out wire.DryRun, err error) {
	return out, c.do(ctx, ask{method: "POST", path: dryRunsPath(name), body: n}, &out)
}

// DryRun returns the progress of a dry run.
func (c *Client) DryRun(ctx context.Context, name, id, cursor string) (out wire.DryRun, err error) {
	return out, c.do(ctx, ask{method: "GET", path: dryRunsPath(name) + "/" + url.PathEscape(id), query: paging(cursor)}, &out)
}

// CancelDryRun cancels a dry run.
func (c *Client) CancelDryRun(ctx context.Context, name, id string) error {
	return c.do(ctx, ask{method: "DELETE", path: dryRunsPath(name) + "/" + url.PathEscape(id)}, nil)
}

// Differences compares a widget's draft with its newest release.
func (c *Client) Differences(ctx context.Context, name string) (out wire.Differences, err error) {
	return out, c.do(ctx, ask{method: "GET", path: widgetDraftPath(name, "/differences")}, &out)
}

// Origin compares a draft with the release from which it was copied.
func (c *Client) Origin(ctx context.Context, name string) (out wire.Origin, err error) {
	return out, c.do(ctx, ask{method: "GET", path: widgetDraftPath(name, "/origin")}, &out)
}

func assetsPath(customer string) string { return "/customers/" + url.PathEscape(customer) + "/assets" }

// Upload uploads an image, sound or font for a customer.
func (c *Client) Upload(ctx context.Context, customer, name string, src []byte) (out wire.Asset, err error) {
	return out, c.do(ctx, ask{method: "POST", path: assetsPath(customer), body: wire.NewAsset{Name: name, Bytes: src}}, &out)
}

// Assets lists a customer's assets, page by page.
func (c *Client) Assets(ctx context.Context, customer string) (all []wire.Asset, err error) {
	all = []wire.Asset{}
	for cursor := ""; ; {
		var page wire.Assets
		if err := c.do(ctx, ask{method: "GET", path: assetsPath(customer), query: paging(cursor)}, &page); err != nil {
			return nil, err
		}
		if all, cursor = append(all, page.Assets...), page.Next; cursor == "" {
			return all, nil
		}
	}
}

// Asset returns an asset and the pockets that use it.
func (c *Client) Asset(ctx context.Context, customer, digest string) (out wire.Asset, err error) {
	return out, c.do(ctx, ask{method: "GET", path: assetsPath(customer) + "/" + url.PathEscape(digest)}, &out)
}

// DeleteAsset deletes an asset that no pocket uses.
func (c *Client) DeleteAsset(ctx context.Context, customer, digest string) error {
	return c.do(ctx, ask{method: "DELETE", path: assetsPath(customer) + "/" + url.PathEscape(digest)}, nil)
}

// Widgets lists the widgets.
func (c *Client) Widgets(ctx context.Context) (out wire.Widgets, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/widgets"}, &out)
}

// Widget returns a widget.
func (c *Client) Widget(ctx context.Context, name string) (out wire.Widget, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/widgets/" + url.PathEscape(name)}, &out)
}

// WidgetOf returns a pocket's widget, in the release that its editor uses.
func (c *Client) WidgetOf(ctx context.Context, name, key string) (out wire.Widget, err error) {
	return out, c.do(ctx, ask{method: "GET", path: "/widgets/" + url.PathEscape(name), query: url.Values{"pocket": {key}}}, &out)
}

func releasesPath(name string) string { return "/widgets/" + url.PathEscape(name) + "/releases" }

// Releases lists a widget's newest releases, at most 200.
func (c *Client) Releases(ctx context.Context, name string) (out wire.Releases, err error) {
	return out, c.do(ctx, ask{method: "GET", path: releasesPath(name), query: paging("")}, &out)
}

// ReleaseUses lists the pockets that withdrawing a release would affect.
func (c *Client) ReleaseUses(ctx context.Context, name string, number int) (out wire.ReleaseUses, err error) {
	return out, c.do(ctx, ask{method: "GET", path: releasesPath(name) + "/" + strconv.Itoa(number) + "/uses"}, &out)
}

// Withdraw withdraws a release, or puts it back into use.
func (c *Client) Withdraw(ctx context.Context, name string, number int, withdrawn bool) (out wire.Release, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: releasesPath(name) + "/" + strconv.Itoa(number), body: wire.ChangeRelease{Withdrawn: &withdrawn}}, &out)
}

// MakePocket creates a pocket.
func (c *Client) MakePocket(ctx context.Context, n wire.NewPocket) (out wire.Pocket, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/pockets", body: n}, &out)
}

// Pockets lists all visible pockets, page by page. customer limits the list unless it is "".
func (c *Client) Pockets(ctx context.Context, customer string) (all []wire.Pocket, err error) {
	all = []wire.Pocket{}
	for cursor := ""; ; {
		q := paging(cursor)
		if customer != "" {
			q.Set("customer", customer)
		}
		var page wire.Pockets
		if err := c.do(ctx, ask{method: "GET", path: "/pockets", query: q}, &page); err != nil {
			return nil, err
		}
		all = append(all, page.Pockets...)
		if cursor = page.Next; cursor == "" {
			return all, nil
		}
	}
}

func pocketPath(key, rest string) string { return "/pockets/" + url.PathEscape(key) + rest }

// Pocket returns a pocket.
func (c *Client) Pocket(ctx context.Context, key string) (out wire.Pocket, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "")}, &out)
}

// Draft returns a pocket's draft.
func (c *Client) Draft(ctx context.Context, key string) (out wire.Draft, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/draft")}, &out)
}

// ChangeDraft merges settings into the draft; null deletes a value.
func (c *Client) ChangeDraft(ctx context.Context, key string, revision int, change map[string]json.RawMessage) (out wire.Draft, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: pocketPath(key, "/draft"), body: change, kind: "application/merge-patch+json", match: revision}, &out)
}

// ReplaceDraft replaces all settings with a JSON object, sent unchanged.
func (c *Client) ReplaceDraft(ctx context.Context, key string, revision int, settings json.RawMessage) (out wire.Draft, err error) {
	return out, c.do(ctx, ask{method: "PUT", path: pocketPath(key, "/draft"), body: settings, match: revision}, &out)
}

// Preview renders settings without saving them.
func (c *Client) Preview(ctx context.Context, key string, p wire.Preview) (out wire.Previewed, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/preview"), body: p}, &out)
}

// Publish publishes the draft.
func (c *Client) Publish(ctx context.Context, key string, p wire.Publish) (out wire.Publication, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/publications"), body: p}, &out)
}

// Restore publishes an older publication again.
func (c *Client) Restore(ctx context.Context, key string, n wire.Restore) (out wire.Publication, err error) {
	return out, c.do(ctx, ask{method: "POST", path: pocketPath(key, "/restorations"), body: n}, &out)
}

// Publications lists the newest publications, at most 200.
func (c *Client) Publications(ctx context.Context, key string) (out wire.Publications, err error) {
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/publications"), query: paging("")}, &out)
}

// Snippets returns the snippets of a pocket, or only that of one delivery unless it is "".
func (c *Client) Snippets(ctx context.Context, key string, delivery host.Delivery) (out wire.Snippets, err error) {
	q := url.Values{}
	if delivery != "" {
		q.Set("delivery", string(delivery))
	}
	return out, c.do(ctx, ask{method: "GET", path: pocketPath(key, "/snippets"), query: q}, &out)
}

func widgetDraftPath(name, rest string) string {
	return "/widgets/" + url.PathEscape(name) + "/draft" + rest
}

// WidgetDrafts lists the widgets on the worktop.
func (c *Client) WidgetDrafts(ctx context.Context) (all []wire.WidgetDraft, err error) {
	all = []wire.WidgetDraft{}
	for cursor := ""; ; {
		var page wire.WidgetDrafts
		if err := c.do(ctx, ask{method: "GET", path: "/drafts", query: paging(cursor)}, &page); err != nil {
			return nil, err
		}
		all = append(all, page.Drafts...)
		if cursor = page.Next; cursor == "" {
			return all, nil
		}
	}
}

// StartWidgetDraft puts a widget on the worktop.
func (c *Client) StartWidgetDraft(ctx context.Context, name string, n wire.NewWidgetDraft) (out wire.WidgetDraft, err error) {
	return out, c.do(ctx, ask{method: "POST", path: widgetDraftPath(name, ""), body: n}, &out)
}

// WidgetDraft returns the files of a widget's draft.
func (c *Client) WidgetDraft(ctx context.Context, name string) (out wire.WidgetDraft, err error) {
	return out, c.do(ctx, ask{method: "GET", path: widgetDraftPath(name, "")}, &out)
}

// ChangeWidgetDraft changes files of a widget's draft.
func (c *Client) ChangeWidgetDraft(ctx context.Context, name string, files []wire.DraftFile) (out wire.WidgetDraft, err error) {
	return out, c.do(ctx, ask{method: "PATCH", path: widgetDraftPath(name, ""), body: wire.DraftFiles{Files: files}}, &out)
}

// PackWidgetDraft returns a draft as a zip file.
func (c *Client) PackWidgetDraft(ctx context.Context, name string) (out wire.Packed, err error) {
	return out, c.do(ctx, ask{method: "GET", path: widgetDraftPath(name, "/zip")}, &out)
}

// DeleteWidgetDraft removes a widget from the worktop.
func (c *Client) DeleteWidgetDraft(ctx context.Context, name string) error {
	return c.do(ctx, ask{method: "DELETE", path: widgetDraftPath(name, "")}, nil)
}

// PreviewWidgetDraft renders a draft in several cases.
func (c *Client) PreviewWidgetDraft(ctx context.Context, name string, t wire.PreviewWidget) (out wire.PreviewedWidget, err error) {
	return out, c.do(ctx, ask{method: "POST", path: widgetDraftPath(name, "/previews"), body: t}, &out)
}

// ImportPage makes a widget folder from an HTML page.
func (c *Client) ImportPage(ctx context.Context, p wire.Page) (out wire.ImportedPage, err error) {
	return out, c.do(ctx, ask{method: "POST", path: "/pages", body: p}, &out)
}

// ReleaseFolder returns the files of a release; number 0 is the newest in use.
func (c *Client) ReleaseFolder(ctx context.Context, name string, number int) (out wire.ReleaseFolder, err error) {
	which := "newest"
	if number > 0 {
		which = strconv.Itoa(number)
	}
	return out, c.do(ctx, ask{method: "GET", path: releasesPath(name) + "/" + which + "/files"}, &out)
}

// CheckWidgetDraft reports everything that is wrong with a draft, including unsaved files.
func (c *Client) CheckWidgetDraft(ctx context.Context, name string, files []wire.DraftFile) (out wire.Checked, err error) {
	return out, c.do(ctx, ask{method: "POST", path: widgetDraftPath(name, "/checks"), body: wire.DraftFiles{Files: files}}, &out)
}

// ReleaseDifferences compares a release with the one before it.
func (c *Client) ReleaseDifferences(ctx context.Context, name string, number int) (out wire.Differences, err error) {
	return out, c.do(ctx, ask{method: "GET", path: releasesPath(name) + "/" + strconv.Itoa(number) + "/differences"}, &out)
}

// PreviewRelease renders a release in several cases.
func (c *Client) PreviewRelease(ctx context.Context, name string, number int, cases []widget.Case) (out wire.PreviewedWidget, err error) {
	return out, c.do(ctx, ask{method: "POST", path: releasesPath(name) + "/" + strconv.Itoa(number) + "/previews", body: wire.PreviewWidget{Cases: cases}}, &out)
}

// BeforeAndAfter returns both previews of a pocket in a dry run.
func (c *Client) BeforeAndAfter(ctx context.Context, name, id, key string) (out wire.BeforeAndAfter, err error) {
	return out, c.do(ctx, ask{method: "GET", path: dryRunsPath(name) + "/" + url.PathEscape(id) + "/pockets/" + url.PathEscape(key)}, &out)
}
