package e2e

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/andybalholm/brotli"
	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/client"
	"glasspocket/internal/folder"
	"glasspocket/internal/host"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func raw(settings map[string]any) map[string]json.RawMessage {
	out := map[string]json.RawMessage{}
	for k, v := range settings {
		out[k], _ = json.Marshal(v)
	}
	return out
}

// checked is an HTTP transport that holds every request and answer against the OpenAPI
// document that the service itself serves.
type checked struct {
	t      *testing.T
	router routers.Router
	seen   map[string]bool // operation ids
}

func (c *checked) RoundTrip(req *http.Request) (*http.Response, error) {
	var body []byte
	if req.Body != nil {
		body, _ = io.ReadAll(req.Body)
		req.Body = io.NopCloser(bytes.NewReader(body))
	}
	res, err := http.DefaultTransport.RoundTrip(req)
	if err != nil {
		return nil, err
	}
	again := req.Clone(req.Context())
	again.Body = io.NopCloser(bytes.NewReader(body))
	again.URL.Scheme, again.URL.Host = "", ""
	route, params, err := c.router.FindRoute(again)
	if err != nil {
		c.t.Errorf("%s %s is not in the OpenAPI document: %v", req.Method, req.URL.Path, err)
		return res, nil
	}
	c.seen[route.Operation.OperationID] = true
	in := &openapi3filter.RequestValidationInput{Request: again, PathParams: params, Route: route, Options: &openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc, IncludeResponseStatus: true}}
	if res.StatusCode < 400 {
		if err := openapi3filter.ValidateRequest(req.Context(), in); err != nil {
			c.t.Errorf("%s %s was taken and is not what the document says: %v", req.Method, req.URL.Path, err)
		}
	}
	text, _ := io.ReadAll(res.Body)
	res.Body = io.NopCloser(bytes.NewReader(text))
	out := &openapi3filter.ResponseValidationInput{RequestValidationInput: in, Status: res.StatusCode, Header: res.Header, Options: in.Options}
	out.SetBodyBytes(text)
	if err := openapi3filter.ValidateResponse(req.Context(), out); err != nil {
		c.t.Errorf("the answer to %s %s is not what the document says: %v", req.Method, req.URL.Path, err)
	}
	return res, nil
}

func problem(t *testing.T, err error) wire.Problem {
	t.Helper()
	var p *client.Problem
	require.True(t, errors.As(err, &p), "a refusal was expected, and there is %v", err)
	return p.Problem
}

// The whole life of a pocket through the client; every operation of the OpenAPI document
// is used, and every request and answer fits it.
func TestLifeOfAPocket(t *testing.T) {
	ctx := t.Context()
	res, err := http.Get(demo.Manage + "/api/v1/openapi.json")
	require.NoError(t, err)
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	openapi3filter.RegisterBodyDecoder("application/merge-patch+json", openapi3filter.RegisteredBodyDecoder("application/json"))
	doc, err := openapi3.NewLoader().LoadFromData(text)
	require.NoError(t, err)
	router, err := gorillamux.NewRouter(doc)
	require.NoError(t, err)
	watch := &checked{t: t, router: router, seen: map[string]bool{}}
	c := &client.Client{Server: demo.Manage, Token: demo.Token, HTTP: &http.Client{Transport: watch}}

	who, err := c.WhoAmI(ctx)
	require.NoError(t, err)
	assert.Equal(t, demo.Public, who.PublicBase)
	made, err := c.MakeCustomer(ctx, wire.NewCustomer{Name: "Høgni’s  Boats & Co"})
	require.NoError(t, err)
	assert.Equal(t, "h-gni-s-boats-co", made.ID)
	_, err = c.MakeCustomer(ctx, wire.NewCustomer{Name: "Høgni’s Boats Co"})
	assert.Equal(t, "customer-exists", problem(t, err).Code)
	customers, err := c.Customers(ctx, "")
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(customers), 6)

	p, err := c.MakePocket(ctx, wire.NewPocket{Customer: made.ID, Widget: "countdown", Starter: "opening-night", Language: "de"})
	require.NoError(t, err)
	assert.Regexp(t, `^[a-z2-9]{12}$`, p.Key)
	assert.Equal(t, wire.Unpublished, p.State)
	_, err = c.Snippets(ctx, p.Key, "")
	assert.Equal(t, "not-published", problem(t, err).Code)
	_, err = c.Publish(ctx, p.Key, wire.Publish{})
	missing := problem(t, err)
	assert.Equal(t, "settings-missing", missing.Code)
	assert.Equal(t, "target", missing.Field)

	d, err := c.Draft(ctx, p.Key)
	require.NoError(t, err)
	_, err = c.ChangeDraft(ctx, p.Key, d.Revision, raw(map[string]any{"accent": "teal", "radius": 99, "acent": 1}))
	faulty := problem(t, err)
	assert.Equal(t, 422, faulty.Status)
	assert.Len(t, faulty.Faults, 3, "all faults at once")
	preview, err := c.Preview(ctx, p.Key, wire.Preview{Settings: json.RawMessage(`{"heading": "Probe"}`)})
	require.NoError(t, err)
	assert.Contains(t, preview.Markup, "Probe")
	assert.Equal(t, "de", preview.Language)
	after, err := c.ChangeDraft(ctx, p.Key, d.Revision, raw(map[string]any{"target": "2099-01-01T00:00[UTC]", "heading": "Eins"}))
	require.NoError(t, err)
	_, err = c.ChangeDraft(ctx, p.Key, d.Revision, raw(map[string]any{"heading": "Zwei"}))
	assert.Equal(t, "draft-changed", problem(t, err).Code, "a second saver with the old revision is told so")
	after, err = c.ReplaceDraft(ctx, p.Key, after.Revision, json.RawMessage(`{"target": "2099-01-01T00:00[UTC]", "heading": "Drei"}`))
	require.NoError(t, err)
	assert.NotContains(t, string(after.Settings), "layout", "replacing leaves nothing of the starter")

	pub, err := c.Publish(ctx, p.Key, wire.Publish{Revision: after.Revision})
	require.NoError(t, err)
	assert.Equal(t, 1, pub.Number)
	_, err = c.Publish(ctx, p.Key, wire.Publish{Revision: after.Revision - 1})
	assert.Equal(t, "draft-changed", problem(t, err).Code)
	pubs, err := c.Publications(ctx, p.Key)
	require.NoError(t, err)
	assert.Len(t, pubs.Publications, 1)
	read, err := c.Pocket(ctx, p.Key)
	require.NoError(t, err)
	assert.Equal(t, wire.Published, read.State)
	_, err = c.ChangeDraft(ctx, p.Key, after.Revision, raw(map[string]any{"heading": nil}))
	require.NoError(t, err)
	all, err := c.Pockets(ctx, made.ID)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, wire.Changed, all[0].State)
	_, err = c.Snippets(ctx, p.Key, "carpet")
	assert.Equal(t, "delivery", problem(t, err).Field)
	snippets, err := c.Snippets(ctx, p.Key, "")
	require.NoError(t, err)
	forms := []host.Delivery{}
	for _, s := range snippets.Snippets {
		forms = append(forms, s.Delivery)
	}
	assert.Equal(t, []host.Delivery{host.Script, host.Split, host.Component, host.Frame, host.Screen, host.Email, host.Link}, forms, "what it can be delivered in; nothing of it is sealed, and it is no form")

	widgets, err := c.Widgets(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, widgets.Widgets)
	w, err := c.Widget(ctx, "countdown")
	require.NoError(t, err)
	assert.Len(t, w.Settings, 26)
	_, err = c.Widget(ctx, "nothing")
	assert.Equal(t, 404, problem(t, err).Status)
	bad, err := c.Check(ctx, map[string][]byte{"widget.json": []byte("{}"), "picture.bin": {0xff}})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(bad.Faults), 5)
	_, err = c.Release(ctx, "nothing", map[string][]byte{"widget.json": []byte("{}")})
	assert.Equal(t, "widget-faulty", problem(t, err).Code)

	token, err := c.MakeToken(ctx, wire.NewToken{Name: "short", Days: 1})
	require.NoError(t, err)
	other := &client.Client{Server: demo.Manage, Token: token.Secret}
	_, err = other.WhoAmI(ctx)
	require.NoError(t, err)
	require.NoError(t, c.RevokeToken(ctx, token.ID))
	_, err = other.WhoAmI(ctx)
	assert.Equal(t, "token-unknown", problem(t, err).Code)
	_, err = c.Tokens(ctx)
	require.NoError(t, err)
	_, err = c.Publish(ctx, p.Key, wire.Publish{})
	require.NoError(t, err)
	again, err := c.Restore(ctx, p.Key, wire.Restore{Number: 1})
	require.NoError(t, err)
	assert.Equal(t, [2]int{3, 1}, [2]int{again.Number, again.Restores})
	held, err := c.WithholdPocket(ctx, p.Key, "A test", false)
	require.NoError(t, err)
	assert.Equal(t, "A test", held.Withheld.Why)
	_, gone := send(t, "GET", demo.Public+"/s/"+p.Key+".json", "")
	assert.Contains(t, gone, `"code":"withheld"`)
	_, gone = send(t, "GET", demo.Public+"/s/"+p.Key+".js", "")
	assert.Contains(t, gone, "is withheld by its operator")
	_, err = c.WithholdPocket(ctx, p.Key, "", true)
	require.NoError(t, err)
	res, _ = send(t, "GET", demo.Public+"/s/"+p.Key+".json", "")
	assert.Equal(t, 200, res.StatusCode)
	_, err = c.WithholdCustomer(ctx, made.ID, "", false)
	require.NoError(t, err)
	res, _ = send(t, "GET", demo.Public+"/p/"+p.Key, "")
	assert.Equal(t, 404, res.StatusCode)
	_, err = c.WithholdCustomer(ctx, made.ID, "", true)
	require.NoError(t, err)
	releases, err := c.Releases(ctx, "countdown")
	require.NoError(t, err)
	require.NotEmpty(t, releases.Releases)
	uses, err := c.ReleaseUses(ctx, "countdown", releases.Releases[0].Number)
	require.NoError(t, err)
	assert.Positive(t, uses.OfWidget)
	assert.Positive(t, uses.Pinned.Count+uses.Following.Count)
	assert.NotEmpty(t, append(uses.Pinned.Pockets, uses.Following.Pockets...)[0].Title)
	_, err = c.Withdraw(ctx, "countdown", 99, true)
	assert.Equal(t, "release-not-found", problem(t, err).Code)

	user, err := c.MakeUser(ctx, wire.NewUser{Name: "tarn@h-gni.example", Role: "customer-viewer", Customer: made.ID})
	require.NoError(t, err)
	assert.Len(t, user.Password, 20)
	_, err = c.ChangeUser(ctx, user.Name, wire.ChangeUser{Role: "customer-editor", Customer: made.ID})
	require.NoError(t, err)
	renewed, err := c.ResetPassword(ctx, user.Name)
	require.NoError(t, err)
	_, err = c.SignIn(ctx, user.Name, user.Password, wire.NewToken{Name: "x", Days: 1})
	assert.Equal(t, "wrong-sign-in", problem(t, err).Code)
	theirs, err := c.SignIn(ctx, user.Name, renewed.Password, wire.NewToken{Name: "x", Days: 1})
	require.NoError(t, err)
	assert.Equal(t, [2]string{"customer-editor", made.ID}, [2]string{theirs.Role, theirs.Customer})
	require.NoError(t, (&client.Client{Server: demo.Manage, Token: theirs.Secret}).ChangePassword(ctx, renewed.Password, "four words of one's own"))
	assert.Equal(t, "password-wrong", problem(t, c.ChangePassword(ctx, "no", "four words of one's own")).Code)
	users, err := c.Users(ctx)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(users), 2)
	require.NoError(t, c.DeleteUser(ctx, user.Name))
	_, err = (&client.Client{Server: demo.Manage, Token: theirs.Secret}).WhoAmI(ctx)
	assert.Equal(t, "token-unknown", problem(t, err).Code, "with the user the tokens end")
	picture, err := c.Upload(ctx, "kelp-and-kiln", "life.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 7 7"/>`))
	require.NoError(t, err)
	list, err := c.Assets(ctx, "kelp-and-kiln")
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(list), picture.Digest)
	_, err = c.Asset(ctx, "kelp-and-kiln", picture.Digest)
	require.NoError(t, err)
	require.NoError(t, c.DeleteAsset(ctx, "kelp-and-kiln", picture.Digest))
	assert.Equal(t, "asset-not-found", problem(t, c.DeleteAsset(ctx, "kelp-and-kiln", picture.Digest)).Code)
	_, err = c.Sessions(ctx)
	require.NoError(t, err)
	assert.Equal(t, "session-not-found", problem(t, c.RevokeSession(ctx, 999999)).Code)
	signed, err := c.SignIn(ctx, demo.Name, demo.Password, wire.NewToken{Name: "by password", Days: 1})
	require.NoError(t, err)
	assert.NotEmpty(t, signed.Secret)

	// A widget's life at the worktop, from a page to a release that is taken back.
	taken, err := c.ImportPage(ctx, wire.Page{Name: "life-tide", HTML: "<title>Tide</title><h1>High water</h1><style>h1 { color: #17233a }</style>"})
	require.NoError(t, err)
	assert.Empty(t, taken.Faults)
	_, err = c.StartWidgetDraft(ctx, "life-tide", wire.NewWidgetDraft{Files: taken.Files})
	require.NoError(t, err)
	begun, err := c.WidgetDraft(ctx, "life-tide")
	require.NoError(t, err)
	var sheet wire.DraftFile
	for _, f := range begun.Files {
		if f.Path == "style.css" {
			sheet = f
		}
	}
	sheet.Was, sheet.Text = sheet.Digest, sheet.Text+".life-tide { margin: 0; }\n"
	sheet.Digest = ""
	changed, err := c.ChangeWidgetDraft(ctx, "life-tide", []wire.DraftFile{sheet})
	require.NoError(t, err)
	assert.Equal(t, 2, changed.Revision)
	checked, err := c.CheckWidgetDraft(ctx, "life-tide", nil)
	require.NoError(t, err)
	assert.Equal(t, "life-tide", checked.Widget)
	tried, err := c.PreviewWidgetDraft(ctx, "life-tide", wire.PreviewWidget{Cases: []widget.Case{{}, {Turned: true}}})
	require.NoError(t, err)
	require.Len(t, tried.Shown, 2)
	assert.Equal(t, "rtl", tried.Shown[1].Payload.Direction)
	_, err = c.Origin(ctx, "life-tide")
	assert.Equal(t, "origin-not-found", problem(t, err).Code)
	released, err := c.ReleaseAs(ctx, "life-tide", wire.NewRelease{Draft: true, Note: "First"})
	require.NoError(t, err)
	assert.Equal(t, "First", released.Note)
	differs, err := c.Differences(ctx, "life-tide")
	require.NoError(t, err)
	assert.Equal(t, []int{1, 0}, []int{differs.Since, len(differs.Files)}, "the draft is what was released")
	differs, err = c.ReleaseDifferences(ctx, "life-tide", 1)
	require.NoError(t, err)
	assert.Len(t, differs.Files, len(changed.Files))
	old, err := c.ReleaseFolder(ctx, "life-tide", 0)
	require.NoError(t, err)
	assert.Equal(t, 1, old.Number)
	shown, err := c.PreviewRelease(ctx, "life-tide", 1, []widget.Case{{}})
	require.NoError(t, err)
	require.NotNil(t, shown.Shown[0].Payload)
	yes := true
	_, err = c.MakePocket(ctx, wire.NewPocket{Key: "life-tide", Customer: "kelp-and-kiln", Widget: "life-tide"})
	require.NoError(t, err)
	_, err = c.Publish(ctx, "life-tide", wire.Publish{Follow: &yes})
	require.NoError(t, err)
	run, err := c.StartDryRun(ctx, "life-tide", wire.NewDryRun{Draft: true})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		run, err = c.DryRun(ctx, "life-tide", run.ID, "")
		return err == nil && run.Finished
	}, browser.Patience, time.Millisecond)
	assert.Equal(t, 1, run.Identical)
	both, err := c.BeforeAndAfter(ctx, "life-tide", run.ID, "life-tide")
	require.NoError(t, err)
	assert.Equal(t, both.Before.Payload.Markup, both.After.Payload.Markup)
	require.NoError(t, c.CancelDryRun(ctx, "life-tide", run.ID))
	_, err = c.ShareRelease(ctx, "life-tide", 1, 100)
	require.NoError(t, err)
	drafts, err := c.WidgetDrafts(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, drafts)
	packed, err := c.PackWidgetDraft(ctx, "life-tide")
	require.NoError(t, err)
	assert.Equal(t, "life-tide.zip", packed.File)
	unpacked, faults, err := folder.Unpack(packed.Base64)
	require.NoError(t, err)
	assert.Empty(t, faults)
	assert.Len(t, unpacked, len(changed.Files))
	require.NoError(t, c.DeleteWidgetDraft(ctx, "life-tide"))
	_, err = c.WidgetDraft(ctx, "life-tide")
	assert.Equal(t, "draft-not-found", problem(t, err).Code)

	publishingLife(t, c)
	customersLife(t, c, watch)
	installLife(t, c)
	tasksLife(t, c)
	sourcesLife(t, c)

	watch.seen["signIn"], watch.seen["signOut"] = true, true // SignIn goes through a client of its own
	for path, item := range doc.Paths.Map() {
		for method, op := range item.Operations() {
			assert.True(t, watch.seen[op.OperationID], "%s %s was never called here", method, path)
		}
	}
}

func send(t *testing.T, method, address, body string, headers ...string) (*http.Response, string) {
	t.Helper()
	req, err := http.NewRequestWithContext(context.Background(), method, address, strings.NewReader(body))
	require.NoError(t, err)
	for i := 0; i+1 < len(headers); i += 2 {
		if headers[i] == "Host" {
			req.Host = headers[i+1]
		}
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := (&http.Client{Transport: &http.Transport{DisableCompression: true, DisableKeepAlives: true}}).Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res, string(text)
}

// What must not get through the manage door, and with which words.
func TestManageRefusals(t *testing.T) {
	_, body := send(t, "POST", demo.Manage+"/api/v1/session", `{"name":"`+demo.Name+`","password":"`+demo.Password+`"}`, "Content-Type", "application/json", "Origin", demo.Manage)
	assert.Contains(t, body, `"role":"operator-admin"`)
	res, _ := send(t, "POST", demo.Manage+"/api/v1/session", `{"name":"`+demo.Name+`","password":"`+demo.Password+`"}`, "Content-Type", "application/json", "Origin", demo.Manage)
	cookie := res.Header.Get("Set-Cookie")
	assert.Regexp(t, `^glass-session=[^;]+; .*HttpOnly; SameSite=Strict`, cookie)
	assert.NotContains(t, strings.ToLower(cookie), "domain=")
	session := strings.Split(cookie, ";")[0]
	bearer := "Bearer " + demo.Token
	const json = "application/json"
	// A few hundred bytes that decompress to 32 MiB.
	var packed bytes.Buffer
	w := brotli.NewWriterLevel(&packed, 9)
	_, err := w.Write(make([]byte, 32<<20))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	compressed := packed.String()
	require.Less(t, len(compressed), 1000)
	res, body = send(t, "GET", demo.Public+"/s/demo-countdown.json", compressed, "Content-Encoding", "br")
	assert.Equal(t, 415, res.StatusCode, body)
	assert.Equal(t, "identity", res.Header.Get("Accept-Encoding"))
	for _, c := range []struct {
		name, method, path, body string
		headers                  []string
		status                   int
		code                     string
	}{
		{"nobody", "GET", "/pockets", "", nil, 401, "account-needed"},
		{"unknown token", "GET", "/pockets", "", []string{"Authorization", "Bearer x"}, 401, "token-unknown"},
		{"wrong password", "POST", "/session", `{"name":"a","password":"b"}`, []string{"Content-Type", json, "Origin", demo.Manage}, 401, "wrong-sign-in"},
		{"cookie from another origin", "POST", "/customers", `{"name":"x"}`, []string{"Cookie", session, "Content-Type", json, "Origin", demo.Sites}, 403, "other-origin"},
		{"cookie, another site", "POST", "/customers", `{"name":"x"}`, []string{"Cookie", session, "Content-Type", json, "Sec-Fetch-Site", "same-site", "Origin", demo.Manage}, 403, "other-origin"},
		{"cookie, no origin", "DELETE", "/session", "", []string{"Cookie", session}, 403, "other-origin"},
		{"a plain form", "POST", "/customers", "name=x", []string{"Authorization", bearer, "Content-Type", "application/x-www-form-urlencoded"}, 415, "body-not-json"},
		{"a compressed body", "POST", "/session", compressed, []string{"Content-Encoding", "br", "Content-Type", json, "Origin", demo.Manage}, 415, "body-compressed"},
		{"too many settings", "PATCH", "/pockets/demo-night/draft", `{"accent":"` + strings.Repeat("x", 1<<20) + `"}`, []string{"Authorization", bearer, "Content-Type", json, "If-Match", `"1"`}, 413, "body-too-large"},
		{"another host name", "GET", "/pockets", "", []string{"Authorization", bearer, "Host", "evil.example"}, 403, "host-unknown"},
		{"no If-Match", "PATCH", "/pockets/demo-night/draft", `{"accent":"#000000"}`, []string{"Authorization", bearer, "Content-Type", json}, 428, "if-match-missing"},
		{"odd If-Match", "PATCH", "/pockets/demo-night/draft", `{"accent":"#000000"}`, []string{"Authorization", bearer, "Content-Type", json, "If-Match", `W/"2"`}, 412, "if-match-faulty"},
		{"stale If-Match", "PATCH", "/pockets/demo-night/draft", `{"accent":"#000000"}`, []string{"Authorization", bearer, "Content-Type", json, "If-Match", `"1"`}, 412, "draft-changed"},
		{"misspelt key", "POST", "/customers", `{"nam":"x"}`, []string{"Authorization", bearer, "Content-Type", json}, 422, "body-faulty"},
		{"half a body", "POST", "/customers", `{"name":`, []string{"Authorization", bearer, "Content-Type", json}, 422, "body-faulty"},
		{"unknown pocket", "GET", "/pockets/nope", "", []string{"Authorization", bearer}, 404, "pocket-not-found"},
		{"unknown address", "GET", "/nothing", "", []string{"Authorization", bearer}, 404, "no-such-address"},
		{"unknown method", "PUT", "/customers", "{}", []string{"Authorization", bearer, "Content-Type", json}, 405, "method-not-allowed"},
		{"limit", "GET", "/pockets?limit=9999", "", []string{"Authorization", bearer}, 422, "limit-faulty"},
	} {
		t.Run(c.name, func(t *testing.T) {
			res, body := send(t, c.method, demo.Manage+"/api/v1"+c.path, c.body, c.headers...)
			assert.Equal(t, c.status, res.StatusCode, body)
			assert.Contains(t, body, `"code":"`+c.code+`"`)
			assert.Contains(t, res.Header.Get("Content-Type"), "application/problem+json")
		})
	}
	for range 6 {
		res, body = send(t, "POST", demo.Manage+"/api/v1/session", `{"name":"guessed","password":"b"}`, "Content-Type", json, "Origin", demo.Manage)
	}
	assert.Equal(t, 429, res.StatusCode, body)
	wait, err := strconv.Atoi(res.Header.Get("Retry-After"))
	assert.NoError(t, err)
	assert.True(t, wait > 0 && wait <= 300, wait)
}

// A body over the limit is refused by its announced length, before any of it is read.
func TestBodyLimit(t *testing.T) {
	at := strings.TrimPrefix(demo.Manage, "http://")
	conn, err := net.Dial("tcp", at)
	require.NoError(t, err)
	defer conn.Close()
	fmt.Fprintf(conn, "POST /api/v1/checks HTTP/1.1\r\nHost: %s\r\nAuthorization: Bearer %s\r\nContent-Type: application/json\r\nContent-Length: %d\r\n\r\n", at, demo.Token, 10<<30)
	res, err := http.ReadResponse(bufio.NewReader(conn), nil)
	require.NoError(t, err)
	text, _ := io.ReadAll(res.Body)
	assert.Equal(t, 413, res.StatusCode)
	assert.Contains(t, string(text), `"code":"body-too-large"`)
}

// Nobody has the service hold a large body before they are signed in.
func TestLargeBodiesNeedASignIn(t *testing.T) {
	at := strings.TrimPrefix(demo.Manage, "http://")
	for _, c := range []struct {
		name, headers, body string
		status              int
		code                string
	}{
		{"nobody", "Host: " + at + "\r\nOrigin: " + demo.Manage + "\r\nContent-Length: 28000000", "", 401, "account-needed"},
		{"nobody, in pieces", "Host: " + at + "\r\nOrigin: " + demo.Manage + "\r\nTransfer-Encoding: chunked", "20000\r\n" + strings.Repeat("x", 0x20000), 401, "account-needed"},
		{"a wrong token", "Host: " + at + "\r\nAuthorization: Bearer made-up\r\nContent-Length: 28000000", "", 401, "token-unknown"},
		{"a wrong session", "Host: " + at + "\r\nOrigin: " + demo.Manage + "\r\nCookie: glass-session=made-up\r\nContent-Length: 28000000", "", 401, "session-ended"},
		{"another host", "Host: evil.example\r\nAuthorization: Bearer " + demo.Token + "\r\nContent-Length: 28000000", "", 413, "body-too-large"},
		{"somebody", "Host: " + at + "\r\nAuthorization: Bearer " + demo.Token + "\r\nContent-Length: 100000", strings.Repeat("x", 100000), 422, "body-faulty"},
	} {
		conn, err := net.Dial("tcp", at)
		require.NoError(t, err)
		defer conn.Close()
		conn.SetDeadline(time.Now().Add(10 * time.Second)) // far less than a body is waited for
		fmt.Fprintf(conn, "POST /api/v1/checks HTTP/1.1\r\nContent-Type: application/json\r\n%s\r\n\r\n%s", c.headers, c.body)
		res, err := http.ReadResponse(bufio.NewReader(conn), nil)
		require.NoError(t, err, c.name)
		text, _ := io.ReadAll(res.Body)
		assert.Equal(t, c.status, res.StatusCode, "%s: %s", c.name, text)
		assert.Contains(t, string(text), `"code":"`+c.code+`"`, c.name)
	}
}

// Lists come page by page, each row once, in order.
func TestPaging(t *testing.T) {
	var seen []string
	for cursor, rounds := "", 0; rounds < 50; rounds++ {
		_, body := send(t, "GET", demo.Manage+"/api/v1/pockets?limit=2&cursor="+cursor, "", "Authorization", "Bearer "+demo.Token)
		var page wire.Pockets
		require.NoError(t, json.Unmarshal([]byte(body), &page))
		require.LessOrEqual(t, len(page.Pockets), 2)
		for _, p := range page.Pockets {
			seen = append(seen, p.Key)
		}
		if cursor = page.Next; cursor == "" {
			break
		}
	}
	all, err := api.Pockets(t.Context(), "")
	require.NoError(t, err)
	require.Equal(t, len(all), len(seen))
	for i, p := range all {
		assert.Equal(t, p.Key, seen[i])
	}
	assert.True(t, slices.IsSorted(seen))
}

// Twenty publish the same pocket at once: each gets a number of its own, none is left out.
func TestPublishAllAtOnce(t *testing.T) {
	newPocket(t, "all-at-once", "2099-01-01T00:00[UTC]", nil)
	numbers := make([]int, 20)
	var wg sync.WaitGroup
	for i := range numbers {
		wg.Go(func() {
			p, err := api.Publish(t.Context(), "all-at-once", wire.Publish{})
			assert.NoError(t, err)
			numbers[i] = p.Number
		})
	}
	wg.Wait()
	slices.Sort(numbers)
	for i, n := range numbers {
		assert.Equal(t, i+2, n)
	}
	_, body := send(t, "GET", demo.Public+"/s/all-at-once.json", "")
	assert.Contains(t, body, `"publication":21,`)
}
