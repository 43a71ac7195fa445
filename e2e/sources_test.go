package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/demo/standin"
	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/wire"
)

// control presses a button on a stand-in's control page: mode or change.
func control(t *testing.T, standIn, button, value string) {
	t.Helper()
	res, err := http.PostForm(standIn+"/control", url.Values{button: {value}})
	require.NoError(t, err)
	res.Body.Close()
	require.Equal(t, 200, res.StatusCode, value)
}

// asked returns the requests that a stand-in got for a path.
func asked(t *testing.T, standIn, path string) (list []standin.Request) {
	t.Helper()
	res, err := http.Get(standIn + "/control")
	require.NoError(t, err)
	defer res.Body.Close()
	var out struct{ Requests []standin.Request }
	require.NoError(t, json.NewDecoder(res.Body).Decode(&out))
	for _, r := range out.Requests {
		if r.Path == path {
			list = append(list, r)
		}
	}
	return list
}

// visited returns the markup that visitors of a pocket receive.
func visited(t *testing.T, d *service.Demo, key string) string {
	t.Helper()
	res, err := http.Get(d.Public + "/s/" + key + ".json")
	require.NoError(t, err)
	defer res.Body.Close()
	var p struct{ Markup string }
	require.NoError(t, json.NewDecoder(res.Body).Decode(&p))
	return p.Markup
}

// soon waits for something that the service does in the background.
func soon(t *testing.T, what string, is func() bool) {
	t.Helper()
	require.Eventually(t, is, 30*time.Second, 20*time.Millisecond, what)
}

func listOf(t *testing.T, c *client.Client, key, list string, change func(l *item.Listing)) {
	t.Helper()
	draft, err := c.Draft(t.Context(), key)
	require.NoError(t, err)
	l := draft.Sources[list]
	change(&l)
	lists := content.Lists{list: l}
	_, err = c.ChangePocket(t.Context(), key, draft.Revision, wire.ChangePocket{Change: content.Change{Sources: &lists}})
	require.NoError(t, err)
	_, err = c.Publish(t.Context(), key, wire.Publish{})
	require.NoError(t, err)
}

// The way of content from an outside service to a visitor, whatever happens to that service.
func TestSources(t *testing.T) {
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Stop()
	c, ctx := d.Client(), t.Context()
	const kelp = "kelp-and-kiln"
	sources, err := c.Sources(ctx, kelp)
	require.NoError(t, err)
	voices := sources[0]
	require.Equal(t, "Kelp & Kiln on Marrow Voices", voices.Name)

	// The demo's reviews are live, with images of our own alone.
	soon(t, "the images are fetched", func() bool {
		return strings.Contains(visited(t, d, "demo-reviews"), "eske-lindqvist-moor-160.png")
	})
	markup := visited(t, d, "demo-reviews")
	assert.Contains(t, markup, "from 213 reviews in total")
	assert.NotContains(t, markup, "Cold room", "two stars")
	for _, part := range strings.Split(markup, "src=\"")[1:] {
		assert.True(t, strings.HasPrefix(part, d.Public+"/a/"), "%.80s", part)
	}

	// A hub reports a change, and it reaches visitors without anybody asking.
	soon(t, "the subscription is confirmed", func() bool {
		s, err := c.Source(ctx, voices.ID)
		return err == nil && s.Pushed
	})
	control(t, d.Voices, "change", "add")
	soon(t, "the new review is shown", func() bool { return strings.Contains(visited(t, d, "demo-reviews"), "Review number 1 of today") })
	control(t, d.Voices, "change", "edit")
	soon(t, "the edited review is shown", func() bool { return strings.Contains(visited(t, d, "demo-reviews"), "still warm. Edited.") })
	res, err := http.Post(d.Public+"/hub/nobody", "text/html", strings.NewReader("x"))
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusGone, res.StatusCode)

	// Whatever happens to the source, visitors keep what they have, and the customer sees why.
	before := visited(t, d, "demo-reviews")
	for mode, says := range map[string]string{
		standin.Failing: "has a problem of its own (503)", standin.Limited: "limits the number of requests (429)", standin.Gone: "removed permanently (410 Gone)",
		standin.SignIn: "none of the content that it had before", standin.Broken: "none of the content that it had before", standin.Huge: "more than 20 MB",
	} {
		control(t, d.Voices, "mode", mode)
		r, err := c.RefreshSource(ctx, voices.ID)
		require.NoError(t, err, mode)
		assert.True(t, r.Failed, mode)
		assert.Contains(t, r.Source.Why, says, mode)
		assert.NotEmpty(t, r.Source.Hint, mode)
		assert.Equal(t, voices.Items+1, r.Source.Items, mode)
		switch mode {
		case standin.Gone:
			assert.Equal(t, "ended", r.Source.State)
			assert.Nil(t, r.Source.NextAt)
			failing, err := c.FailingSources(ctx)
			require.NoError(t, err)
			assert.Equal(t, [3]any{1, voices.ID, true}, [3]any{len(failing), failing[0].ID, failing[0].Ended})
			p, err := c.Pocket(ctx, "demo-reviews")
			require.NoError(t, err)
			assert.Equal(t, failing, p.Failing)
		case standin.Limited:
			assert.Greater(t, time.Until(*r.Source.NextAt), standin.RetryAfter-10*time.Second, "as long as it asks")
		default:
			assert.Equal(t, "failing", r.Source.State)
		}
		assert.Equal(t, before, visited(t, d, "demo-reviews"), mode)
	}
	control(t, d.Voices, "mode", standin.Moved)
	r, err := c.RefreshSource(ctx, voices.ID)
	require.NoError(t, err)
	assert.Equal(t, [3]any{false, "current", d.Voices + "/moved/b/kelp-and-kiln"}, [3]any{r.Failed, r.Source.State, r.Source.Address}, "it recovers, and follows a permanent redirect")
	control(t, d.Voices, "mode", standin.Normal)
	fetches, err := c.SourceFetches(ctx, voices.ID)
	require.NoError(t, err)
	assert.Greater(t, len(fetches.Fetches), 8)

	// Publishing does not freeze items, and restoring does not bring old ones back.
	_, err = c.Publish(ctx, "demo-reviews", wire.Publish{})
	require.NoError(t, err)
	control(t, d.Voices, "change", "delete")
	_, err = c.RefreshSource(ctx, voices.ID)
	require.NoError(t, err)
	soon(t, "the deleted review is not shown", func() bool { return !strings.Contains(visited(t, d, "demo-reviews"), "Review number 1") })
	_, err = c.Restore(ctx, "demo-reviews", wire.Restore{Number: 1})
	require.NoError(t, err)
	assert.NotContains(t, visited(t, d, "demo-reviews"), "Review number 1")

	// By hand: hidden, pinned and corrected; and why anything is not shown.
	chosen, err := c.Selection(ctx, "demo-reviews", "reviews", wire.NewSelection{})
	require.NoError(t, err)
	ids := map[string]string{}
	for _, it := range chosen.Shown {
		ids[fmt.Sprint(it.Values["title"])] = it.ID
	}
	why := map[string]string{}
	for _, each := range chosen.Dropped {
		ids[fmt.Sprint(each.Item.Values["title"])], why[fmt.Sprint(each.Item.Values["title"])] = each.Item.ID, each.Reasons[0].Why
	}
	assert.Equal(t, "Its rating is 2 of 5, below 3 of 5.", why["Cold room"])
	listOf(t, c, "demo-reviews", "reviews", func(l *item.Listing) {
		l.Pinned, l.Hidden = []string{ids["Cold room"]}, []string{ids["Worth the crossing"]}
		l.Corrections = map[string]map[string]any{ids["Good tea, hard stools"]: {"title": "Good tea, harder stools"}}
		l.Average = item.ShownRatings
	})
	markup = visited(t, d, "demo-reviews")
	assert.Less(t, strings.Index(markup, "Cold room"), strings.Index(markup, "My bowl"))
	assert.NotContains(t, markup, "Worth the crossing")
	assert.Contains(t, markup, "Good tea, harder stools")
	assert.Contains(t, markup, "from 10 reviews<")

	// Every form that the stand-ins speak, as somebody enters it.
	for _, each := range []struct{ text, form, name, first string }{
		{"@kiln@" + strings.TrimPrefix(d.Skerry, "http://"), "activity", "Kelp & Kiln", "The sea-green batch"},
		{d.Skerry + "/@kiln", "activity", "Kelp & Kiln", "The sea-green batch"},
		{d.Skerry + "/@kiln.rss", "rss", "Kelp & Kiln", "The sea-green batch"},
		{d.Skerry + "/tags/clay", "activity", "#clay", "The sea-green batch"},
		{d.Skerry + "/lists/harbour", "activity", "Around the harbour", "Aurora over"},
		{d.Voices + "/b/northbeck-observatory", "page", "Northbeck Observatory: reviews", "Saturn has rings"},
		{d.Harbour + "/notices", "page", "Harbour Board: notices", "Fog in the sound"},
		{d.Harbour + "/notices.json", "json", "", "Fog in the sound"},
		{d.Harbour + "/", "jsonfeed", "Harbour Board", "Fog in the sound"},
		{d.Harbour + "/calendars/choir.ics", "ical", "Teasel Hall Choir", "Open rehearsal"},
	} {
		found, err := c.LookForSource(ctx, kelp, wire.SourceLook{Text: each.text})
		require.NoError(t, err, each.text)
		first := found.Candidates[0]
		text, _ := json.Marshal(first.Items[0].Values)
		assert.Equal(t, each.form, first.Reader, each.text)
		assert.Contains(t, first.Name, each.name, each.text)
		assert.Contains(t, string(text), each.first, each.text)
		made, err := c.ConnectSource(ctx, kelp, wire.NewSource{Name: each.text, Reader: first.Reader, Address: first.Address, Options: first.Options})
		require.NoError(t, err, each.text)
		assert.Equal(t, first.Count, made.Items)
	}
	found, err := c.LookForSource(ctx, kelp, wire.SourceLook{Text: "Kelp"})
	require.NoError(t, err)
	assert.Equal(t, []wire.Business{
		{Name: "Kelp & Kiln", Place: "Pier 2, Marrow Town", Address: d.Voices + "/b/kelp-and-kiln", Directory: "Marrow Voices", Rating: 4.6, Reviews: 213},
		{Name: "Kelp & Kiln Café", Place: "Harbour Steps 9, Northbeck", Address: d.Voices + "/b/kelp-and-kiln-cafe", Directory: "Marrow Voices", Rating: 3.4, Reviews: 31},
	}, rounded(found.Businesses))
	for text, says := range map[string]string{"http://10.0.0.1/feed": "private network", "http://127.0.0.1:1/": "private network", "Nobody & Sons": "No directory has", d.Public + "/loader.js": "private network", d.Harbour + "/none": "nothing at this address"} {
		_, err := c.LookForSource(ctx, kelp, wire.SourceLook{Text: text})
		assert.ErrorContains(t, err, says, text)
	}

	// A file, mapped, replaced, and in use.
	file := []byte("Who;Stars;Said\nIsa;5;Lovely\nOla;2;Cold\n")
	upload, err := c.ConnectSource(ctx, kelp, wire.NewSource{Reader: "table", File: file, FileName: "voices.csv", Options: feed.Options{Kind: item.Review, Mapping: map[string]string{"authorName": "Who", "rating": "Stars", "text": "Said"}}})
	require.NoError(t, err)
	assert.Equal(t, [3]any{"voices", "file", 2}, [3]any{upload.Name, upload.State, upload.Items})
	_, err = c.ChangeSource(ctx, upload.ID, upload.Revision, wire.ChangeSource{File: []byte("Who;Said\nIsa;Lovely\n")})
	assert.ErrorContains(t, err, "has no column “Stars”")
	listOf(t, c, "demo-reviews", "reviews", func(l *item.Listing) { l.From = append(l.From, item.From{Source: upload.ID}) })
	assert.Contains(t, visited(t, d, "demo-reviews"), "Lovely<")
	_, err = c.ChangeSource(ctx, upload.ID, upload.Revision, wire.ChangeSource{File: append(file, "Tjark;4;Second thoughts\n"...)})
	require.NoError(t, err)
	soon(t, "the new row is shown", func() bool { return strings.Contains(visited(t, d, "demo-reviews"), "Second thoughts") })
	assert.ErrorContains(t, c.DeleteSource(ctx, upload.ID), "used by demo-reviews")

	// A token is sent, never shown, and not sent to another host.
	secret, err := c.ConnectSource(ctx, kelp, wire.NewSource{Name: "Closed", Reader: "jsonfeed", Address: d.Harbour + "/notices/feed.json", Secret: &wire.SourceSecret{In: "header", Name: "X-Key", Value: "seven quiet kilns"}})
	require.NoError(t, err)
	text, _ := json.Marshal(secret)
	assert.NotContains(t, string(text), "quiet")
	assert.True(t, slices.ContainsFunc(asked(t, d.Harbour, "/notices/feed.json"), func(r standin.Request) bool { return r.Header.Get("X-Key") == "seven quiet kilns" }))
	elsewhere := d.Skerry + "/@kiln.rss"
	_, err = c.ChangeSource(ctx, secret.ID, secret.Revision, wire.ChangeSource{Address: &elsewhere})
	assert.ErrorContains(t, err, "must not get the present token")
	require.NoError(t, c.DeleteSource(ctx, secret.ID))
	_, err = c.Source(ctx, secret.ID)
	assert.ErrorContains(t, err, "There is no source")
}

// sourcesLife calls every operation about sources.
func sourcesLife(t *testing.T, c *client.Client) {
	ctx := t.Context()
	found, err := c.LookForSource(ctx, "teasel-hall-choir", wire.SourceLook{Text: demo.Harbour + "/notices.json"})
	require.NoError(t, err)
	first := found.Candidates[0]
	src, err := c.ConnectSource(ctx, "teasel-hall-choir", wire.NewSource{Name: "Board", Reader: first.Reader, Address: first.Address, Options: first.Options})
	require.NoError(t, err)
	other := first.Options
	other.Mapping = map[string]string{"items": "/notices", "title": "/body"}
	found, err = c.LookAtSource(ctx, src.ID, wire.SourceLook{Options: &other})
	require.NoError(t, err)
	assert.Equal(t, "The 17:20 crossing may leave up to 30 minutes late.", found.Candidates[0].Items[0].Values["title"])
	name := "Notices"
	src, err = c.ChangeSource(ctx, src.ID, src.Revision, wire.ChangeSource{Name: &name})
	require.NoError(t, err)
	_, err = c.ChangeSource(ctx, src.ID, 1, wire.ChangeSource{Name: &name})
	assert.Equal(t, "source-changed", problem(t, err).Code)
	list, err := c.Sources(ctx, "teasel-hall-choir")
	require.NoError(t, err)
	assert.Equal(t, []string{"Concerts", "Notices"}, []string{list[0].Name, list[1].Name})
	failing, err := c.FailingSources(ctx)
	require.NoError(t, err)
	assert.Empty(t, failing)
	refreshed, err := c.RefreshSource(ctx, src.ID)
	require.NoError(t, err)
	assert.Equal(t, [4]any{0, 0, 0, false}, [4]any{refreshed.Added, refreshed.Changed, refreshed.Removed, refreshed.Failed})
	items, more, err := c.SourceItems(ctx, src.ID, "FOG", 9)
	require.NoError(t, err)
	assert.Equal(t, [2]any{1, false}, [2]any{len(items), more})
	fetches, err := c.SourceFetches(ctx, src.ID)
	require.NoError(t, err)
	assert.Equal(t, "lantern-quay", fetches.Fetches[0].By)
	chosen, err := c.Selection(ctx, "demo-ticker", "notices", wire.NewSelection{List: &item.Listing{Most: 1}})
	require.NoError(t, err)
	assert.Empty(t, chosen.Shown)
	_, err = c.Selection(ctx, "demo-ticker", "notices", wire.NewSelection{List: &item.Listing{From: []item.From{{Source: src.ID}}}})
	assert.Equal(t, "source-not-found", problem(t, err).Code, "another customer's")
	_, err = c.Source(ctx, src.ID)
	require.NoError(t, err)
	require.NoError(t, c.DeleteSource(ctx, src.ID))
}

func rounded(list []wire.Business) []wire.Business {
	for i := range list {
		list[i].Rating = float64(int(list[i].Rating*10+0.5)) / 10
	}
	return list
}
