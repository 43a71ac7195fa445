package app_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app"
	"glasspocket/internal/app/access"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
	"glasspocket/internal/work"
)

// cut is a store that stops working after some items of a job, as a power cut would stop it.
type cut struct {
	app.Store
	left int
}

var errCut = errors.New("cut")

func (c *cut) ClaimTasks(ctx context.Context, kind, after string, most int, lease string, now, until time.Time) ([]work.Task, error) {
	if kind != bulk.PocketTask {
		return c.Store.ClaimTasks(ctx, kind, after, most, lease, now, until)
	}
	if c.left == 0 {
		return nil, errCut
	}
	list, err := c.Store.ClaimTasks(ctx, kind, after, min(most, c.left), lease, now, until)
	c.left -= len(list)
	return list, err
}

// works lets an app work on jobs until there are none, or its store is cut.
func works(t *testing.T, a *app.App, id string) bulk.Job {
	t.Helper()
	ctx, stop := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { a.Work.Run(ctx); close(done) }()
	var j bulk.Job
	require.Eventually(t, func() bool {
		var err error
		j, err = a.Jobs.Get(ctx, operator, id)
		require.NoError(t, err)
		return j.State != bulk.Running
	}, 10*time.Second, time.Millisecond)
	stop()
	<-done
	return j
}

// A job that was interrupted goes on where it was, and does nothing twice; what fails is told,
// and what was asked to stop stops.
func TestJobGoesOn(t *testing.T) {
	w := newWorld(t)
	var keys []string
	for i := range 6 {
		key := fmt.Sprintf("job-%d", i)
		_, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "kelp", Widget: "countdown", Key: key})
		require.NoError(t, err)
		if i != 2 { // one lacks what it needs
			w.set(t, key, `{"target": "2027-04-01T09:00[UTC]"}`)
		}
		keys = append(keys, key)
	}
	j, err := w.Jobs.Start(ctx, operator, bulk.Ask{Does: bulk.JobPublish, Keys: keys})
	require.NoError(t, err)
	assert.Equal(t, 6, j.Of)

	half := &cut{Store: w.store, left: 4}
	first := app.New(app.Options{Store: half, Signals: signal.New(), Site: w.site, Builder: nil, Now: func() time.Time { return w.clock }})
	cutting, stop := context.WithCancel(ctx)
	stopped := make(chan struct{})
	go func() { first.Work.Run(cutting); close(stopped) }()
	require.Eventually(t, func() bool { j, err = w.Jobs.Get(ctx, operator, j.ID); return err == nil && j.Done+j.Failed == 4 }, 10*time.Second, time.Millisecond)
	stop()
	<-stopped

	w.open() // the service starts again
	j = works(t, w.App, j.ID)
	assert.Equal(t, [3]any{bulk.JobDone, 5, 1}, [3]any{j.State, j.Done, j.Failed})
	for i, key := range keys {
		p, err := w.Pockets.Get(ctx, operator, key)
		require.NoError(t, err)
		assert.Equal(t, map[bool]int{true: 0, false: 1}[i == 2], p.Publication, "%s is published once", key)
	}
	failed, err := w.Jobs.Items(ctx, operator, j.ID, work.Failed, 0, 9)
	require.NoError(t, err)
	require.Len(t, failed, 1)
	assert.Equal(t, "job-2", failed[0].Of)
	assert.Contains(t, failed[0].Why, "has no value")
	assert.Equal(t, "job-ended", refusal(t, w.Jobs.Cancel(ctx, operator, j.ID)).Code)

	j, err = w.Jobs.Start(ctx, operator, bulk.Ask{Does: bulk.JobUnpublish, Query: &pocket.Query{CustomerID: "kelp"}})
	require.NoError(t, err)
	assert.Equal(t, 7, j.Of)
	require.NoError(t, w.Jobs.Cancel(ctx, operator, j.ID))
	j = works(t, w.App, j.ID)
	assert.Equal(t, [2]any{work.Cancelled, 0}, [2]any{j.State, j.Done})
	_, err = w.Jobs.Start(ctx, access.Scope{Role: access.CustomerEditor, CustomerID: "ferry", Name: "x"}, bulk.Ask{Does: bulk.JobUnpublish, Keys: keys})
	assert.Equal(t, "pocket-not-found", refusal(t, err).Code, "somebody else's")
}

// What was begun without an account is kept from its last change on, and then goes.
func TestGuestPocketsAreSwept(t *testing.T) {
	w := newWorld(t)
	_, _, err := w.Guests.Start(ctx, "countdown", "harbour", "", "192.0.2.1")
	assert.Equal(t, "not-signed-in", refusal(t, err).Code, "the operator has not opened the gallery")
	w.App = app.New(app.Options{Store: w.store, Signals: signal.New(), Site: w.site, Builder: nil, Now: func() time.Time { return w.clock }, Open: true, Keeps: 48 * time.Hour})
	p, secret, err := w.Guests.Start(ctx, "countdown", "harbour", "", "192.0.2.1")
	require.NoError(t, err)
	idle, _, err := w.Guests.Start(ctx, "countdown", "", "", "192.0.2.1")
	require.NoError(t, err)
	guest, err := w.Guests.Scope(ctx, secret)
	require.NoError(t, err)
	w.clock = w.clock.Add(40 * time.Hour)
	_, err = w.Pockets.SaveDraft(ctx, guest, p.Key, 1, []byte(`{"heading": "Still here"}`), false)
	require.NoError(t, err)
	w.clock = w.clock.Add(10 * time.Hour)
	swept, err := w.Guests.Sweep(ctx)
	require.NoError(t, err)
	assert.Equal(t, 1, swept)
	_, err = w.store.Pocket(ctx, idle.Key)
	assert.ErrorIs(t, err, problem.ErrNotFound)
	_, err = w.Guests.Scope(ctx, secret)
	require.NoError(t, err)
	w.clock = w.clock.Add(48 * time.Hour)
	_, err = w.Guests.Scope(ctx, secret)
	assert.Equal(t, "draft-not-found", refusal(t, err).Code, "its time is over, swept or not")
	for range 40 {
		_, _, err = w.Guests.Start(ctx, "countdown", "", "", "192.0.2.7")
	}
	assert.Equal(t, "too-many-begun", refusal(t, err).Code)
}

// A change of brand reaches what is stored, what is on the shelf and what is followed, and
// nothing that does not refer to it.
func TestBrandReachesVisitors(t *testing.T) {
	w := newWorld(t)
	c, err := w.Customers.Get(ctx, operator, "kelp")
	require.NoError(t, err)
	brand := func(revision int, accent string) {
		t.Helper()
		_, err := w.Customers.ChangeBrand(ctx, operator, "kelp", revision, fmt.Appendf(nil, `[{"name": "accent", "type": "colour", "value": %q}]`, accent))
		require.NoError(t, err)
	}
	brand(c.Revision, "#aa0000")
	p, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "kelp", Widget: "countdown", Key: "branded", Starter: "harbour"})
	require.NoError(t, err)
	assert.Equal(t, map[string]any{"brand": "accent"}, p.Settings["accent"])
	w.set(t, "branded", `{"target": "2027-04-01T09:00[UTC]"}`)
	for _, key := range []string{"branded", "kelp-pocket"} {
		_, err := w.Publishing.Publish(ctx, operator, key, publish.Draft{})
		require.NoError(t, err)
	}
	assert.Contains(t, w.markup(t, "branded"), `"--accent":"#aa0000"`)
	plain, _ := w.gets(t, "kelp-pocket")
	brand(c.Revision+1, "#00bb00")
	assert.Contains(t, w.markup(t, "branded"), `"--accent":"#00bb00"`)
	again, _ := w.gets(t, "kelp-pocket")
	assert.Equal(t, plain.Document.ETag, again.Document.ETag)
	w.open()
	_, loads := w.gets(t, "branded")
	assert.Equal(t, int64(1), loads, "it was kept, so a restart renders nothing")
	assert.Contains(t, w.markup(t, "branded"), `"--accent":"#00bb00"`)
	// Without the value the setting has its own default, and nothing breaks.
	_, err = w.Customers.ChangeBrand(ctx, operator, "kelp", c.Revision+2, []byte(`[]`))
	require.NoError(t, err)
	assert.NotContains(t, w.markup(t, "branded"), "#00bb00")
	differences, err := w.Publishing.Differences(ctx, operator, "branded", 0, 0)
	require.NoError(t, err)
	assert.Empty(t, differences.Changes)
}

// A long job of one customer's does not keep another's waiting, and one customer can have only so
// much.
func TestJobsTakeTurns(t *testing.T) {
	w := newWorld(t)
	ferry := access.Scope{Role: access.CustomerEditor, CustomerID: "ferry", Name: "ebba"}
	_, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "ferry", Widget: "countdown", Key: "ferry-one"})
	require.NoError(t, err)
	file, err := w.Files.Export(ctx, operator, "kelp-pocket", false)
	require.NoError(t, err)
	text, err := json.Marshal(file)
	require.NoError(t, err)
	files := func(n int) bulk.Ask {
		return bulk.Ask{Does: bulk.JobImport, Customer: "kelp", Files: slices.Repeat([]json.RawMessage{text}, n)}
	}
	_, err = w.Jobs.Start(ctx, kelpEditor, files(20_000))
	assert.Equal(t, "too-many-pockets", refusal(t, err).Code)
	long, err := w.Jobs.Start(ctx, kelpEditor, files(500))
	require.NoError(t, err)
	short, err := w.Jobs.Start(ctx, ferry, bulk.Ask{Does: bulk.JobDuplicate, Keys: []string{"ferry-one"}})
	require.NoError(t, err)
	for range customer.RunningJobsMost - 1 {
		_, err = w.Jobs.Start(ctx, kelpEditor, files(1))
		require.NoError(t, err)
	}
	_, err = w.Jobs.Start(ctx, kelpEditor, files(1))
	assert.Equal(t, "too-many-jobs", refusal(t, err).Code)

	running, stop := context.WithCancel(ctx)
	stopped := make(chan struct{})
	go func() { w.Work.Run(running); close(stopped) }()
	require.Eventually(t, func() bool {
		j, err := w.Jobs.Get(ctx, operator, short.ID)
		return err == nil && j.State == bulk.JobDone
	}, 10*time.Second, time.Millisecond)
	stop()
	<-stopped
	j, err := w.Jobs.Get(ctx, operator, long.ID)
	require.NoError(t, err)
	assert.Equal(t, bulk.Running, j.State)
	assert.Less(t, j.Done, 400)
}
