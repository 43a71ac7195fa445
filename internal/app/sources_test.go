package app_test

import (
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/app/source"
	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/paging"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

// outside is an outside service with one feed.
type outside struct {
	entries []string // title, or "title until RFC 3339"
	fails   *feed.Failure
	fresh   time.Duration
	asked   []feed.Ask
	posted  []url.Values
}

func (o *outside) Ask(_ context.Context, a feed.Ask) (*feed.Answer, error) {
	o.asked = append(o.asked, a)
	if o.fails != nil {
		return nil, o.fails
	}
	if strings.Contains(a.Address, "closed") && a.Secret.Value == "" {
		return nil, &feed.Failure{Status: 401, What: "It requires a token."}
	}
	list := []map[string]string{}
	for _, e := range o.entries {
		title, until, _ := strings.Cut(e, " until ")
		list = append(list, map[string]string{"id": title, "title": title, "expires": until})
	}
	body, _ := json.Marshal(map[string]any{"notices": list})
	tag := fmt.Sprintf(`"%x"`, body)
	return &feed.Answer{Document: feed.Document{Address: a.Address, Body: body, Links: []string{`<https://hub.example/>; rel="hub"`}}, Status: 200, ETag: tag, Unchanged: a.ETag == tag, Fresh: o.fresh}, nil
}

func (o *outside) Post(_ context.Context, _ string, form url.Values) error {
	o.posted = append(o.posted, form)
	return nil
}

func withSource(t *testing.T) (w *world, o *outside, id string) {
	w, o = newWorld(t), &outside{entries: []string{"Fog", "Storm"}}
	w.web = o
	w.open()
	folder, err := widgets.Folder("ticker")
	require.NoError(t, err)
	files, _, err := widget.Collect(folder)
	require.NoError(t, err)
	_, _, _, err = w.Rollouts.Release(ctx, operator, "ticker", rollout.NewRelease{Files: files})
	require.NoError(t, err)
	src, err := w.Sources.Connect(ctx, operator, "kelp", source.Chosen{Name: "Board", Reader: "json", Address: "https://board.example/n.json", Options: feed.Options{Kind: item.Notice, Mapping: map[string]string{"items": "/notices", "id": "/id", "title": "/title", "expires": "/expires"}}})
	require.NoError(t, err)
	p, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "kelp", Widget: "ticker", Key: "kelp-ticker"})
	require.NoError(t, err)
	lists := content.Lists{"notices": {From: []item.From{{Source: src.ID}}, Rules: item.Rules{Words: item.Terms{None: []string{"secret"}}}}}
	_, err = w.Pockets.Change(ctx, operator, p.Key, p.Revision, pocket.Change{Change: content.Change{Sources: &lists}})
	require.NoError(t, err)
	_, err = w.Publishing.Publish(ctx, operator, p.Key, publish.Draft{})
	require.NoError(t, err)
	w.works(t)
	return w, o, src.ID
}

// works does all background work that is due for sources.
func (w *world) works(t *testing.T) int {
	n, err := w.Work.Drain(ctx, source.FetchTask, source.RenewTask, "items-due")
	require.NoError(t, err)
	return n
}

// later sets the clock to when the source is due, and fetches it. It returns the time that passed.
func (w *world) later(t *testing.T, id string) time.Duration {
	src, err := w.Sources.Get(ctx, operator, id)
	require.NoError(t, err)
	was := w.clock
	w.clock = src.Next
	w.works(t)
	return w.clock.Sub(was)
}

func TestSourceReachesVisitors(t *testing.T) {
	w, o, id := withSource(t)
	assert.Contains(t, w.markup(t, "kelp-ticker"), "Fog")

	// Unchanged: conditional, no write besides the next time, no rendering, and the visitor's copy
	// stays valid.
	_, loads := w.gets(t, "kelp-ticker")
	require.Zero(t, loads)
	stored, all := w.rendering(t), w.rows(t)
	waited := w.later(t, id)
	assert.Equal(t, all, w.rows(t))
	assert.InDelta(t, 31.5, waited.Minutes(), 1.5, "half an hour with jitter")
	assert.NotEmpty(t, o.asked[len(o.asked)-1].ETag)
	_, loads = w.gets(t, "kelp-ticker")
	assert.Zero(t, loads)
	assert.Equal(t, stored, w.rendering(t))
	src, err := w.Sources.Get(ctx, operator, id)
	require.NoError(t, err)
	assert.Equal(t, [2]any{1, w.clock.UTC()}, [2]any{src.Progress.Unchanged, src.Progress.CheckedAt.UTC()})

	// Items that the rules drop change the source, but not the rendering.
	o.entries = append(o.entries, "A secret")
	w.later(t, id)
	assert.Equal(t, stored, w.rendering(t))
	// New items replace what visitors receive, without a request of theirs.
	o.entries = []string{"Fog is over", "Storm"}
	w.later(t, id)
	assert.NotEqual(t, stored, w.rendering(t))
	markup := w.markup(t, "kelp-ticker")
	assert.Contains(t, markup, "Fog is over")
	assert.Equal(t, 1, strings.Count(markup, "Fog"))
	history, err := w.Sources.Fetches(ctx, operator, id)
	require.NoError(t, err)
	assert.Equal(t, [3]int{1, 0, 2}, [3]int{history[0].Added, history[0].Changed, history[0].Removed})

	// An item expires by itself, at the second.
	until := w.clock.Add(10 * time.Minute)
	o.entries = []string{"Boarding until " + until.Format(time.RFC3339), "Storm"}
	_, err = w.Sources.Refresh(ctx, operator, id)
	require.NoError(t, err)
	w.works(t)
	assert.Contains(t, w.markup(t, "kelp-ticker"), "Boarding")
	w.clock = until.Add(-time.Second)
	w.works(t)
	assert.Contains(t, w.markup(t, "kelp-ticker"), "Boarding")
	w.clock = until.Add(6 * time.Second)
	w.works(t)
	assert.NotContains(t, w.markup(t, "kelp-ticker"), "Boarding")
	assert.Contains(t, w.markup(t, "kelp-ticker"), "Storm")
	// A pocket without sources never gets a time.
	_, err = w.Publishing.Publish(ctx, operator, "kelp-pocket", publish.Draft{})
	require.NoError(t, err)
	due := func() []string {
		keys, err := w.store.KeysDue(ctx, w.clock.AddDate(10, 0, 0), 9)
		require.NoError(t, err)
		return keys
	}
	assert.Empty(t, due())
	// In another time zone, dates are on other days.
	kelp, err := w.Customers.Get(ctx, operator, "kelp")
	require.NoError(t, err)
	zone := "Pacific/Auckland"
	_, err = w.Customers.Change(ctx, operator, "kelp", kelp.Revision, customer.Change{Zone: &zone})
	require.NoError(t, err)
	assert.Equal(t, []string{"kelp-ticker"}, due())
	w.clock = w.clock.Add(6 * time.Second)
	w.works(t)
	assert.Empty(t, due())
}

// rows are all rows of all tables except the tasks.
func (w *world) rows(t *testing.T) map[string][][]any {
	var tables []string
	require.NoError(t, w.db.Read.Select(&tables, "SELECT name FROM sqlite_schema WHERE type = 'table' AND name <> 'tasks' AND name NOT LIKE 'sqlite_%'"))
	require.Contains(t, tables, "renderings")
	all := map[string][][]any{}
	for _, table := range tables {
		rows, err := w.db.Read.Queryx(fmt.Sprintf("SELECT * FROM %q", table))
		require.NoError(t, err)
		for rows.Next() {
			row, err := rows.SliceScan()
			require.NoError(t, err)
			all[table] = append(all[table], row)
		}
		require.NoError(t, rows.Close())
	}
	return all
}

// rendering is what is stored for the ticker.
func (w *world) rendering(t *testing.T) delivery.Current {
	c, err := w.store.Current(ctx, "kelp-ticker", render.JSON)
	require.NoError(t, err)
	return c
}

func TestSourceFails(t *testing.T) {
	w, o, id := withSource(t)
	shown := w.markup(t, "kelp-ticker")
	o.fails = &feed.Failure{Status: 503, What: "It is down.", Hint: "Wait."}
	var waits []time.Duration
	began := w.clock
	for i := range 14 {
		if i == 2 {
			list, err := w.Sources.Failing(ctx, operator)
			require.NoError(t, err)
			assert.Empty(t, list, "many failures pass by themselves")
		}
		waits = append(waits, w.later(t, id))
		assert.Equal(t, shown, w.markup(t, "kelp-ticker"))
	}
	for i := 2; i < 9; i++ {
		assert.Greater(t, waits[i], waits[i-1], "longer each time")
	}
	src, err := w.Sources.Get(ctx, operator, id)
	require.NoError(t, err)
	assert.Equal(t, [3]any{"failing", "It is down.", 2}, [3]any{src.State(), src.Why, src.Items})
	assert.Less(t, src.FailingSince.Sub(began), time.Hour, "since the first failure")
	require.Greater(t, w.clock.Sub(began), source.NoticeAfter)
	notices, err := w.Sources.Failing(ctx, operator)
	require.NoError(t, err)
	assert.Equal(t, [3]any{1, id, "It is down."}, [3]any{len(notices), notices[0].ID, notices[0].Why})
	notices, err = w.Sources.Failing(ctx, access.Scope{Role: access.CustomerEditor, CustomerID: "another"})
	require.NoError(t, err)
	assert.Empty(t, notices, "another customer's")
	history, err := w.Sources.Fetches(ctx, operator, id)
	require.NoError(t, err)
	assert.Equal(t, [2]any{14, "It is down."}, [2]any{history[0].Times, history[0].Why}, "one entry")
	o.fails = &feed.Failure{Status: 429, What: "Too many.", After: 20 * time.Hour}
	w.later(t, id)
	o.fails = nil
	assert.GreaterOrEqual(t, w.later(t, id), 20*time.Hour, "as long as it asks")
	src, err = w.Sources.Get(ctx, operator, id)
	require.NoError(t, err)
	assert.Equal(t, "current", src.State(), "it recovers by itself")
	o.fresh = 3 * time.Hour
	w.later(t, id)
	assert.GreaterOrEqual(t, w.later(t, id), 3*time.Hour, "what it allows")

	o.fails = &feed.Failure{Status: 410, What: "Gone.", Gone: true}
	w.later(t, id)
	asked := len(o.asked)
	w.clock = w.clock.AddDate(1, 0, 0)
	w.works(t)
	assert.Len(t, o.asked, asked, "it is not fetched any more")
	assert.Equal(t, shown, w.markup(t, "kelp-ticker"))
	o.fails = nil
	r, err := w.Sources.Refresh(ctx, operator, id)
	require.NoError(t, err)
	assert.Equal(t, "current", r.Source.State())
	assert.False(t, r.Source.Next.IsZero(), "a refresh starts it again")
}

func TestPush(t *testing.T) {
	w, o, id := withSource(t)
	require.Len(t, o.posted, 1)
	form := o.posted[0]
	token := strings.TrimPrefix(form.Get("hub.callback"), "https://pockets.example/hub/")
	assert.Equal(t, [2]string{"subscribe", "https://board.example/n.json"}, [2]string{form.Get("hub.mode"), form.Get("hub.topic")})
	assert.False(t, w.Sources.ConfirmPush(ctx, token, "subscribe", "https://other.example/", 86400), "another topic")
	assert.False(t, w.Sources.ConfirmPush(ctx, token, "unsubscribe", form.Get("hub.topic"), 0))
	require.True(t, w.Sources.ConfirmPush(ctx, token, "subscribe", form.Get("hub.topic"), 864000))
	src, err := w.Sources.Get(ctx, operator, id)
	require.NoError(t, err)
	assert.True(t, src.Pushed())
	assert.NotContains(t, fmt.Sprint(src), form.Get("hub.secret"))
	w.later(t, id)
	assert.GreaterOrEqual(t, w.later(t, id), 12*time.Hour, "it reports its changes")

	o.entries = []string{"Pushed"}
	body := []byte("anything")
	assert.True(t, w.Sources.ReceivePush(ctx, token, "sha256=00", body))
	w.clock = w.clock.Add(10 * time.Second)
	w.works(t)
	assert.NotContains(t, w.markup(t, "kelp-ticker"), "Pushed", "a wrong signature is ignored")
	assert.True(t, w.Sources.ReceivePush(ctx, token, signature(form.Get("hub.secret"), body), body))
	w.works(t)
	assert.Contains(t, w.markup(t, "kelp-ticker"), "Pushed")
	assert.False(t, w.Sources.ReceivePush(ctx, "nobody", "", nil))
}

// A source's secret is stored encrypted, and belongs to its source.
func TestSourceSecret(t *testing.T) {
	w, o, _ := withSource(t)
	src, err := w.Sources.Connect(ctx, operator, "kelp", source.Chosen{Reader: "json", Address: "https://closed.example/n.json", Options: feed.Options{Mapping: map[string]string{"items": "/notices", "title": "/title"}}, Secret: feed.Secret{In: feed.Bearer, Value: "seven quiet kilns"}})
	require.NoError(t, err)
	assert.Equal(t, "seven quiet kilns", o.asked[len(o.asked)-1].Secret.Value)
	assert.False(t, bytes.Contains(src.Secret, []byte("quiet")))
	assert.Empty(t, o.posted[1:], "a hub could not read it")
	for secret, says := range map[feed.Secret]string{
		{In: "body", Value: "x"}: "no way", {In: feed.Bearer}: "1 to 4000", {In: feed.InField, Name: "Host", Value: "x"}: "cannot hold", {In: feed.InField, Name: "a b", Value: "x"}: "not the name", {In: feed.Bearer, Value: "a\nb"}: "one line",
	} {
		_, err := w.Sources.Connect(ctx, operator, "kelp", source.Chosen{Reader: "json", Address: "https://closed.example/n.json", Secret: secret})
		assert.ErrorContains(t, err, says)
	}
	address := "https://elsewhere.example/n.json"
	_, err = w.Sources.Change(ctx, operator, src.ID, src.Revision, source.Changed{Address: &address})
	assert.ErrorContains(t, err, "must not get the present token")
}

func signature(secret string, body []byte) string {
	h := hmac.New(sha256.New, []byte(secret))
	h.Write(body)
	return "sha256=" + hex.EncodeToString(h.Sum(nil))
}

// A pocket's sources go with it to another customer, except for tokens, and keep what was hidden by
// hand.
func TestSourcesOnTheMove(t *testing.T) {
	w, o, id := withSource(t)
	upload, err := w.Sources.Connect(ctx, operator, "kelp", source.Chosen{Name: "List", Reader: "table", File: []byte("Said\nRegatta\n"), FileName: "l.csv", Options: feed.Options{Kind: item.Notice, Mapping: map[string]string{"title": "Said"}}})
	require.NoError(t, err)
	closed, err := w.Sources.Connect(ctx, operator, "kelp", source.Chosen{Name: "Closed", Reader: "json", Address: "https://closed.example/n.json", Options: feed.Options{Kind: item.Notice, Mapping: map[string]string{"items": "/notices", "title": "/title"}}, Secret: feed.Secret{In: feed.Bearer, Value: "eleven quiet kilns"}})
	require.NoError(t, err)
	_, items, err := w.Sources.Items(ctx, operator, id, "")
	require.NoError(t, err)
	p, _, err := w.Pockets.Draft(ctx, operator, "kelp-ticker")
	require.NoError(t, err)
	lists := content.Lists{"notices": {From: []item.From{{Source: id}, {Source: upload.ID}, {Source: closed.ID}}, Hidden: []string{items[0].ID}, Corrections: map[string]map[string]any{items[1].ID: {"title": "Gale"}}}}
	_, err = w.Pockets.Change(ctx, operator, p.Key, p.Revision, pocket.Change{Change: content.Change{Sources: &lists}})
	require.NoError(t, err)

	file, err := w.Files.Export(ctx, operator, "kelp-ticker", true)
	require.NoError(t, err)
	text, err := json.Marshal(file)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "quiet")
	for key, make := range map[string]func() (pocket.Pocket, error){
		"ferry-file": func() (pocket.Pocket, error) { return w.Files.Import(ctx, operator, "ferry", text, "ferry-file") },
		"ferry-copy": func() (pocket.Pocket, error) {
			return w.Files.Duplicate(ctx, operator, "kelp-ticker", "ferry", "ferry-copy")
		},
	} {
		o.asked = nil
		_, err := make()
		require.NoError(t, err)
		w.works(t)
		_, err = w.Publishing.Publish(ctx, operator, key, publish.Draft{})
		require.NoError(t, err)
		markup := w.markup(t, key)
		assert.Contains(t, markup, "Gale", key)
		assert.Contains(t, markup, "Regatta", key)
		assert.NotContains(t, markup, "Fog", key)
		for _, a := range o.asked {
			assert.Empty(t, a.Secret, a.Address)
		}
	}
	list, err := w.Sources.List(ctx, operator, "ferry", paging.Page{Limit: 9})
	require.NoError(t, err)
	var names []string
	for _, s := range list {
		names = append(names, s.Name)
	}
	assert.Equal(t, []string{"Board", "Closed", "List", "List"}, names, "what has an address is connected once")

	// Without its bytes, an upload is left out. Back at its customer, everything is used again.
	file, err = w.Files.Export(ctx, operator, "kelp-ticker", false)
	require.NoError(t, err)
	text, err = json.Marshal(file)
	require.NoError(t, err)
	there, err := w.Files.Import(ctx, operator, "ferry", text, "ferry-thin")
	require.NoError(t, err)
	assert.Len(t, there.Sources["notices"].From, 2)
	back, err := w.Files.Import(ctx, operator, "kelp", text, "kelp-again")
	require.NoError(t, err)
	assert.Equal(t, lists, back.Sources)
}
