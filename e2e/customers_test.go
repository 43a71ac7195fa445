package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/client"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
	"time"
)

// visitor is a client with cookies instead of a token, as a browser is.
func visitor(t *testing.T, through http.RoundTripper) *client.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &client.Client{Server: demo.Manage, HTTP: &http.Client{Jar: jar, Transport: through}}
}

// through waits until a job is through.
func through(t *testing.T, c *client.Client, j wire.Job) wire.Job {
	t.Helper()
	require.Eventually(t, func() bool {
		now, err := c.Job(t.Context(), j.ID)
		require.NoError(t, err)
		j = now
		return j.State != "running"
	}, browser.Patience, 5*time.Millisecond)
	return j
}

// customersLife goes through what belongs to a customer, through the client.
func customersLife(t *testing.T, c *client.Client, watch http.RoundTripper) {
	t.Helper()
	ctx := t.Context()
	const id = "life-of-customers"
	_, err := c.MakeCustomer(ctx, wire.NewCustomer{ID: id, Name: "Hask Orchard"})
	require.NoError(t, err)
	zone, language := "Atlantic/Faroe", "de"
	changed, err := c.ChangeCustomer(ctx, id, 1, wire.ChangeCustomer{Zone: &zone, Language: &language, Sites: []string{"https://Hask.example/shop", "*.hask.example", "bücher.example:8080"}})
	require.NoError(t, err)
	assert.Equal(t, []string{"hask.example", "*.hask.example", "xn--bcher-kva.example:8080"}, changed.Sites)
	_, err = c.ChangeCustomer(ctx, id, 1, wire.ChangeCustomer{Zone: &zone})
	assert.Equal(t, "customer-changed", problem(t, err).Code)
	nowhere := "Mars/Olympus"
	_, err = c.ChangeCustomer(ctx, id, 2, wire.ChangeCustomer{Zone: &nowhere})
	assert.Equal(t, "zone-unknown", problem(t, err).Code)
	_, err = c.ChangeCustomer(ctx, id, 2, wire.ChangeCustomer{Sites: []string{"not a domain"}})
	assert.Equal(t, "sites/0", problem(t, err).Field)
	read, err := c.Customer(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, [3]any{2, zone, language}, [3]any{read.Revision, read.Zone, read.Language})

	// A brand: what new pockets start from, and what one change restyles.
	brand, err := c.Brand(ctx, id)
	require.NoError(t, err)
	assert.Empty(t, brand.Values)
	assert.Len(t, brand.Names, len(setting.BrandNames))
	values := func(accent string) []setting.BrandValue {
		return []setting.BrandValue{{Name: "accent", Type: "colour", Value: accent}, {Name: "ink", Type: "colour", Value: "#112233"}, {Name: "ground", Type: "colour", Value: "#fafafa"}}
	}
	_, err = c.ChangeBrand(ctx, id, brand.Revision, []setting.BrandValue{{Name: "accent", Type: "colour", Value: "red"}, {Name: "logo", Type: "colour", Value: "#000000"}})
	wrong := problem(t, err)
	assert.Equal(t, []string{"0/value", "1/type"}, []string{wrong.Faults[0].Field, wrong.Faults[1].Field})
	brand, err = c.ChangeBrand(ctx, id, brand.Revision, values("#aa3300"))
	require.NoError(t, err)
	assert.Equal(t, "Accent", brand.Values[0].Label)
	p, err := c.MakePocket(ctx, wire.NewPocket{Key: "life-branded", Customer: id, Widget: "countdown", Starter: "observatory"})
	require.NoError(t, err)
	assert.Equal(t, "de", p.Language)
	d, err := c.Draft(ctx, p.Key)
	require.NoError(t, err)
	var settings map[string]any
	require.NoError(t, json.Unmarshal(d.Settings, &settings))
	assert.Equal(t, []any{map[string]any{"brand": "accent"}, map[string]any{"brand": "ground"}, "dials"}, []any{settings["accent"], settings["surface"], settings["layout"]})
	_, err = c.ChangeDraft(ctx, p.Key, d.Revision, raw(map[string]any{"target": "2099-01-01T00:00[UTC]"}))
	require.NoError(t, err)
	_, err = c.Publish(ctx, p.Key, wire.Publish{})
	require.NoError(t, err)
	served := func() string { _, text := send(t, "GET", demo.Public+"/s/"+p.Key+".json", ""); return text }
	assert.Contains(t, served(), `"--accent":"#aa3300"`)
	trial, err := c.DryRunBrand(ctx, id, values("#00aa33"))
	require.NoError(t, err)
	require.Len(t, trial.Pockets, 1)
	assert.Equal(t, []string{"accent"}, trial.Names)
	shown, err := c.Preview(ctx, p.Key, wire.Preview{Brand: values("#00aa33")})
	require.NoError(t, err)
	assert.Equal(t, "#00aa33", shown.Look.Properties["--accent"])
	assert.Contains(t, served(), "#aa3300", "nothing was saved")
	_, err = c.ChangeBrand(ctx, id, brand.Revision, values("#00aa33"))
	require.NoError(t, err)
	assert.Contains(t, served(), `"--accent":"#00aa33"`, "the very next request")
	for search, there := range map[string]bool{"sk orch": true, "-OF-customers": true, "life_of": false, "%": false, "nobody": false} {
		found, err := c.Customers(ctx, search)
		require.NoError(t, err)
		assert.Equal(t, there, slices.ContainsFunc(found, func(c wire.Customer) bool { return c.ID == id }), search)
		assert.False(t, slices.ContainsFunc(found, func(c wire.Customer) bool { return c.ID == "saltmarsh-ferry" }), search)
	}
	w, err := c.WidgetOf(ctx, "countdown", p.Key)
	require.NoError(t, err)
	assert.Equal(t, "accent", w.FromBrand["observatory"]["accent"], "what the pocket began with, for the editor's dots")
	pictures, err := c.GalleryPreviews(ctx, "countdown", id)
	require.NoError(t, err)
	assert.Equal(t, "#00aa33", pictures.Previews[0].Payload.Look.Properties["--accent"])

	// People come by a link that is good once.
	link, err := c.Invite(ctx, id, wire.NewInvitation{Role: "customer-editor", Name: "Ola"})
	require.NoError(t, err)
	assert.Equal(t, demo.Manage+"/join#"+link.Secret, link.Link)
	ola := visitor(t, watch)
	invited, err := ola.Invited(ctx, link.Secret)
	require.NoError(t, err)
	assert.Equal(t, [2]string{"Hask Orchard", demo.Name}, [2]string{invited.Customer, invited.By})
	_, err = ola.Join(ctx, wire.Join{Secret: link.Secret, Name: "ola@hask.example", Password: "short"})
	assert.Equal(t, "password-length", problem(t, err).Code)
	who, err := ola.Join(ctx, wire.Join{Secret: link.Secret, Name: "ola@hask.example", Password: "cider in the evening"})
	require.NoError(t, err)
	assert.Equal(t, [2]string{"customer-editor", id}, [2]string{who.Role, who.Customer})
	_, err = visitor(t, watch).Join(ctx, wire.Join{Secret: link.Secret, Name: "second", Password: "cider in the evening"})
	used := problem(t, err)
	assert.Equal(t, "invitation-used", used.Code)
	assert.Contains(t, used.Detail, "by ola@hask.example")
	other, err := ola.Invite(ctx, id, wire.NewInvitation{Role: "customer-viewer"})
	require.NoError(t, err)
	require.NoError(t, ola.RevokeInvitation(ctx, id, other.ID))
	_, err = visitor(t, watch).Invited(ctx, other.Secret)
	assert.Equal(t, "invitation-not-found", problem(t, err).Code)
	assert.Equal(t, "oneself", problem(t, ola.RevokeAccess(ctx, id, "ola@hask.example")).Code)
	people, err := c.People(ctx, id)
	require.NoError(t, err)
	require.Len(t, people.People, 1)
	require.NoError(t, c.RevokeAccess(ctx, id, "ola@hask.example"))
	_, err = ola.People(ctx, id)
	assert.Equal(t, "session-ended", problem(t, err).Code)

	// Somebody without an account begins, goes on elsewhere, and signs up to publish.
	guest := visitor(t, watch)
	gallery, err := guest.Gallery(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, gallery.Widgets)
	begun, err := guest.StartGuestPocket(ctx, wire.NewGuestPocket{Widget: "countdown", Starter: "opening-night"})
	require.NoError(t, err)
	key := begun.Pocket.Key
	elsewhere := visitor(t, watch)
	_, err = elsewhere.Draft(ctx, key)
	assert.Equal(t, "account-needed", problem(t, err).Code)
	offers, err := guest.TrySource(ctx, wire.SourceLook{Text: demo.Skerry + "/@kiln", Kinds: []string{"post"}})
	require.NoError(t, err)
	assert.Greater(t, offers.Candidates[0].Fits, 2)
	_, err = elsewhere.ResumeGuestPocket(ctx, begun.Secret)
	require.NoError(t, err)
	d, err = elsewhere.Draft(ctx, key)
	require.NoError(t, err)
	_, err = elsewhere.ChangeDraft(ctx, key, d.Revision, raw(map[string]any{"target": "2099-01-01T00:00[UTC]", "heading": "Kept"}))
	require.NoError(t, err)
	_, err = elsewhere.Publish(ctx, key, wire.Publish{})
	assert.Equal(t, [2]any{401, "account-needed"}, [2]any{problem(t, err).Status, problem(t, err).Code})
	_, err = elsewhere.Pockets(ctx, "")
	assert.Equal(t, "account-needed", problem(t, err).Code)
	all, err := c.Pockets(ctx, "")
	require.NoError(t, err)
	assert.NotContains(t, fmt.Sprint(all), key, "the operator's list has no drafts of nobody")
	_, err = elsewhere.SignUp(ctx, wire.SignUp{Customer: "Tarn’s Boats", Name: demo.Name, Password: "boats in the morning"})
	assert.Equal(t, "user-exists", problem(t, err).Code)
	who, err = elsewhere.SignUp(ctx, wire.SignUp{Customer: "Tarn’s Boats", Name: "tarn@boats.example", Password: "boats in the morning"})
	require.NoError(t, err)
	assert.Equal(t, "tarn-s-boats", who.Customer)
	published, err := elsewhere.Publish(ctx, key, wire.Publish{})
	require.NoError(t, err)
	assert.Equal(t, 1, published.Number)
	_, err = guest.ResumeGuestPocket(ctx, begun.Secret)
	assert.Equal(t, "draft-not-found", problem(t, err).Code, "the link has done its work")
	again, err := guest.StartGuestPocket(ctx, wire.NewGuestPocket{Widget: "countdown"})
	require.NoError(t, err)
	taken, err := elsewhere.Claim(ctx, wire.Claim{Secret: again.Secret})
	require.NoError(t, err)
	assert.Equal(t, "tarn-s-boats", taken.Customer)

	// Many at once: copies, a move, publishing, ending, and files that come back.
	logo, err := c.Upload(ctx, id, "mark.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><path d="M0 0h8v8z"/></svg>`))
	require.NoError(t, err)
	pop, err := c.MakePocket(ctx, wire.NewPocket{Key: "life-popup", Customer: id, Widget: "popup", Title: "Ten per cent_off"})
	require.NoError(t, err)
	_, err = c.ChangeDraft(ctx, pop.Key, pop.Revision, raw(map[string]any{"title": "Off", "picture": map[string]any{"asset": logo.Digest, "alt": "Mark"}}))
	require.NoError(t, err)
	one, err := c.DuplicatePocket(ctx, pop.Key, "")
	require.NoError(t, err)
	assert.Equal(t, "Ten per cent_off (copy)", one.Title)
	list, err := c.ListPockets(ctx, client.PocketList{List: wire.List{Customer: id, Search: "CENT_"}, Order: "-title"})
	require.NoError(t, err)
	assert.Equal(t, []string{one.Key, pop.Key}, []string{list.Pockets[0].Key, list.Pockets[1].Key})
	assert.Equal(t, map[string]string{id: "Hask Orchard"}, list.Customers)
	job, err := c.StartJob(ctx, wire.NewJob{Does: "duplicate", Keys: []string{pop.Key, p.Key}, Customer: "saltmarsh-ferry"})
	require.NoError(t, err)
	job = through(t, c, job)
	assert.Equal(t, [3]any{"done", 2, 0}, [3]any{job.State, job.Done, job.Failed})
	require.Len(t, job.Made, 2)
	file, err := c.ExportPocket(ctx, job.Made[0].Made, true)
	require.NoError(t, err)
	require.Len(t, file.Assets, 1)
	assert.Equal(t, logo.Digest, file.Assets[0].Digest, "the other customer has the asset too")
	text, err := json.Marshal(file)
	require.NoError(t, err)
	job, err = c.StartJob(ctx, wire.NewJob{Does: "import", Customer: "teasel-hall-choir", Files: []json.RawMessage{text, []byte(`{"format":9,"title":"New"}`), []byte(strings.Replace(string(text), `"popup"`, `"nothing"`, 1))}})
	require.NoError(t, err)
	job = through(t, c, job)
	assert.Equal(t, [2]int{1, 2}, [2]int{job.Done, job.Failed})
	assert.Contains(t, job.Failures[0].Why, "format 9")
	imported, err := c.Preview(ctx, job.Made[0].Made, wire.Preview{})
	require.NoError(t, err)
	assert.Contains(t, imported.Markup, `alt="Mark"`)
	moved, err := c.MovePocket(ctx, p.Key, wire.Move{Follow: new(true)})
	require.NoError(t, err)
	assert.True(t, moved.Follow)
	assert.Equal(t, "published-still", problem(t, c.DeletePocket(ctx, p.Key)).Code)
	job, err = c.StartJob(ctx, wire.NewJob{Does: "unpublish", List: &wire.List{Customer: id}})
	require.NoError(t, err)
	job = through(t, c, job)
	assert.Equal(t, [3]int{3, 1, 2}, [3]int{job.Of, job.Done, job.Failed})
	assert.Equal(t, "conflict", map[bool]string{true: "conflict"}[problem(t, c.CancelJob(ctx, job.ID)).Status == 409])
	require.NoError(t, c.DeletePocket(ctx, p.Key))
	_, err = c.Pocket(ctx, p.Key)
	assert.Equal(t, "pocket-not-found", problem(t, err).Code)
	jobs, err := c.Jobs(ctx)
	require.NoError(t, err)
	assert.Equal(t, job.ID, jobs.Jobs[0].ID)
}
