package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// A token that was made with another ends with it, and does not outlive it.
func TestChildTokens(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	as := func(maker *client.Client, days int) (*client.Client, wire.Token) {
		token, err := maker.MakeToken(ctx, wire.NewToken{Name: "of a family", Days: days})
		require.NoError(t, err)
		return &client.Client{Server: demo.Manage, Token: token.Secret}, token
	}
	parent, p := as(api, 2)
	child, c := as(parent, 366)
	grandchild, _ := as(child, 1)
	assert.Equal(t, p.ExpiresAt, c.ExpiresAt)
	for _, each := range []*client.Client{parent, child, grandchild} {
		_, err := each.WhoAmI(ctx)
		require.NoError(t, err)
	}
	require.NoError(t, api.RevokeToken(ctx, p.ID))
	for _, each := range []*client.Client{parent, child, grandchild} {
		_, err := each.WhoAmI(ctx)
		assert.Equal(t, "token-unknown", problem(t, err).Code)
	}
}

// Withholding a customer takes their uploads offline, too, and bringing them back brings them back.
func TestWithheldUploads(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	made, err := api.MakeCustomer(ctx, wire.NewCustomer{Name: "Withheld Uploads"})
	require.NoError(t, err)
	a, err := api.Upload(ctx, made.ID, "tide.jpg", photo(321, 123))
	require.NoError(t, err)
	status := func() int { res, _ := send(t, "GET", a.Address, ""); return res.StatusCode }
	assert.Equal(t, 200, status())
	_, err = api.WithholdCustomer(ctx, made.ID, "A complaint", false)
	require.NoError(t, err)
	assert.Equal(t, 404, status())
	_, err = api.WithholdCustomer(ctx, made.ID, "", true)
	require.NoError(t, err)
	assert.Equal(t, 200, status())
	// What another customer has as well stays online.
	_, err = api.Upload(ctx, "saltmarsh-ferry", "tide.jpg", photo(321, 123))
	require.NoError(t, err)
	_, err = api.WithholdCustomer(ctx, made.ID, "A complaint", false)
	require.NoError(t, err)
	assert.Equal(t, 200, status())
}

// An asset that only a sealed script still shows cannot be deleted.
func TestSealedKeepsItsAssets(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	a, err := api.Upload(ctx, plain, "sealed-bowl.jpg", photo(400, 222))
	require.NoError(t, err)
	filled(t, "sealed-asset", "section", "timetable", "en", map[string]any{"picture": map[string]any{"asset": a.Digest, "alt": "A bowl"}})
	_, err = api.Seal(ctx, "sealed-asset")
	require.NoError(t, err)
	set(t, "sealed-asset", map[string]any{"picture": map[string]any{"asset": ""}})
	publish(t, "sealed-asset")
	refusal := problem(t, api.DeleteAsset(ctx, plain, a.Digest))
	assert.Equal(t, "asset-in-use", refusal.Code)
	assert.Contains(t, refusal.Detail+refusal.Hint, "sealed-asset")
	res, _ := send(t, "GET", a.Address, "")
	assert.Equal(t, 200, res.StatusCode)
	_, err = api.Unpublish(ctx, "sealed-asset", 0)
	require.NoError(t, err)
	require.NoError(t, api.DeletePocket(ctx, "sealed-asset"))
	require.NoError(t, api.DeleteAsset(ctx, plain, a.Digest))
}

// The heights of a publication keep the rules of those in a manifest.
func TestPublishedHeights(t *testing.T) {
	t.Parallel()
	newPocket(t, "odd-heights", "2099-01-01T00:00[UTC]", nil)
	many := []widget.Height{}
	for i := range 400_000 {
		many = append(many, widget.Height{From: i, Height: 100})
	}
	for _, heights := range [][]widget.Height{{{Height: -7}}, {{Height: 2_000_000_000}}, {{From: 10, Height: 100}}, {{Height: 100}, {Height: 90}}, {{Height: 100, Above: 101}}, many} {
		_, err := api.Publish(t.Context(), "odd-heights", wire.Publish{Heights: heights})
		refusal := problem(t, err)
		assert.Equal(t, [2]string{"heights-faulty", "heights"}, [2]string{refusal.Code, refusal.Field})
	}
	_, err := api.Publish(t.Context(), "odd-heights", wire.Publish{Heights: []widget.Height{{Height: 5000, Above: 10}, {From: 480, Height: 1}}})
	assert.NoError(t, err)
}

// Without an account only so many requests a second are answered, and saving what is kept already
// leaves no trace.
func TestGuestsAreLimited(t *testing.T) {
	t.Parallel()
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	res, _ := send(t, "POST", d.Manage+"/api/v1/guest-pockets", `{"widget":"countdown","starter":"harbour"}`, "Content-Type", "application/json", "Origin", d.Manage)
	require.Equal(t, 201, res.StatusCode)
	cookie := strings.Split(res.Header.Get("Set-Cookie"), ";")[0]
	var begun wire.GuestPocket
	_, text := send(t, "GET", d.Manage+"/api/v1/pockets?limit=9", "", "Cookie", cookie)
	assert.Contains(t, text, "account-needed")
	res, text = send(t, "POST", d.Manage+"/api/v1/guest-pockets/visits", `{"secret":"`+strings.SplitN(cookie, "=", 2)[1]+`"}`, "Content-Type", "application/json", "Origin", d.Manage)
	require.Equal(t, 200, res.StatusCode, text)
	require.NoError(t, json.Unmarshal([]byte(text), &begun))
	c := d.Client()
	lines := func() int {
		audit, err := c.Audit(t.Context(), client.AuditQuery{Kind: "pocket", Of: begun.Pocket.Key})
		require.NoError(t, err)
		return len(audit.Entries)
	}
	save := func(width int) int {
		res, _ := send(t, "PUT", d.Manage+"/api/v1/pockets/"+begun.Pocket.Key+"/cases/Phone", fmt.Sprintf(`{"width":%d}`, width), "Cookie", cookie, "Content-Type", "application/json", "Origin", d.Manage)
		if res.StatusCode == 429 {
			assert.Equal(t, "1", res.Header.Get("Retry-After"))
		}
		return res.StatusCode
	}
	require.Equal(t, 200, save(360))
	before := lines()
	for range 5 {
		require.Equal(t, 200, save(360))
	}
	assert.Equal(t, before, lines())
	require.Equal(t, 200, save(380))
	assert.Equal(t, before, lines(), "a change by the same person goes on the line before")
	statuses := map[int]int{}
	for range 150 {
		statuses[save(380)]++
	}
	assert.Less(t, statuses[200], 100, "%v", statuses)
	assert.Positive(t, statuses[429])
	visitors(t, d, "beside a flood of guests")
}

// A draft has no paths that a folder cannot have, so nobody fetches them.
func TestPlantedPaths(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	_, err := api.StartWidgetDraft(ctx, "tide-planted", wire.NewWidgetDraft{Files: tide("tide-planted")})
	require.NoError(t, err)
	for _, path := range []string{".git/config", ".envrc", ".vscode/tasks.json", "package.json", "a\x00.ts", strings.Repeat("a", 65_535) + ".ts", "../out.ts"} {
		_, err := api.ChangeWidgetDraft(ctx, "tide-planted", []wire.DraftFile{{Path: path, Text: "x"}})
		refusal := problem(t, err)
		assert.Equal(t, "widget-faulty", refusal.Code, "%.40q", path)
		assert.Less(t, len(refusal.Faults[0].Path), 300)
	}
	dir := t.TempDir() + "/fetched"
	code, _, errs := glasspocket(t, "", "fetch", "tide-planted", dir)
	require.Equal(t, 0, code, errs)
	entries, err := os.ReadDir(dir)
	require.NoError(t, err)
	for _, e := range entries {
		assert.True(t, e.Name() == ".glass-pocket" || widget.PathFault(e.Name()) == nil || e.IsDir(), e.Name())
	}
	_, err = api.PackWidgetDraft(ctx, "tide-planted")
	require.NoError(t, err)
}
