package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/work"
)

// set changes one setting of a draft.
func (w *world) set(t testing.TB, key, change string) pocket.Pocket {
	t.Helper()
	p, err := w.Pockets.Get(ctx, operator, key)
	require.NoError(t, err)
	p, err = w.Pockets.SaveDraft(ctx, operator, key, p.Revision, []byte(change), false)
	require.NoError(t, err)
	return p
}

func (w *world) due(t *testing.T) int {
	t.Helper()
	n, err := w.Work.Drain(ctx, publish.ScheduleTask)
	require.NoError(t, err)
	return n
}

// markup is what visitors get under kelp's key, "" for nothing.
func (w *world) markup(t *testing.T, key string) string {
	t.Helper()
	served, _ := w.gets(t, key)
	if served.Document == nil {
		return ""
	}
	return string(served.Document.Plain())
}

// What is scheduled happens at its moment, as it was scheduled, whatever becomes of the draft, of
// the program and of the clock; and once.
func TestSchedule(t *testing.T) {
	w := newWorld(t)
	const key = "kelp-pocket"
	w.set(t, key, `{"heading": "Winter"}`)
	_, err := w.Publishing.Publish(ctx, operator, key, publish.Draft{})
	require.NoError(t, err)
	w.set(t, key, `{"heading": "Spring"}`)
	list, err := w.Publishing.Schedule(ctx, operator, key, publish.NewSchedule{Does: publish.DoPublish, At: "2027-03-02T10:00[Europe/Berlin]", Back: "2027-03-03T10:00[Europe/Berlin]"})
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, time.Date(2027, 3, 2, 9, 0, 0, 0, time.UTC), list[0].Due.UTC())
	assert.Equal(t, publish.DoRestore, list[1].Does)
	w.set(t, key, `{"heading": "Not yet"}`)

	w.clock = list[0].Due.Add(-time.Second)
	assert.Zero(t, w.due(t))
	assert.Contains(t, w.markup(t, key), "Winter")
	w.open() // a restart in between
	w.clock = list[0].Due
	assert.Equal(t, 1, w.due(t))
	assert.Contains(t, w.markup(t, key), "Spring", "as it was scheduled, not as the draft is now")
	w.clock = list[0].Due.Add(-2 * time.Hour) // somebody sets the clock back
	assert.Zero(t, w.due(t), "nothing happens twice")
	w.clock = list[1].Due.Add(30 * 24 * time.Hour) // the service was down for a month
	w.open()
	assert.Equal(t, 1, w.due(t))
	assert.Contains(t, w.markup(t, key), "Winter")
	all, err := w.Publishing.Schedules(ctx, operator, key, 0, 9)
	require.NoError(t, err)
	assert.Equal(t, [2]string{work.Done, work.Done}, [2]string{all[0].Outcome, all[1].Outcome})
	assert.Equal(t, [2]int{3, 2}, [2]int{all[0].Made, all[1].Made})
	pubs, err := w.Publishing.History(ctx, operator, key, 0, 9)
	require.NoError(t, err)
	assert.Equal(t, []string{"schedule", "schedule", ""}, []string{pubs[0].Client, pubs[1].Client, pubs[2].Client})
	assert.Equal(t, 1, pubs[0].Restores)
	assert.Equal(t, []string{"Heading"}, pubs[1].Changed)
	assert.True(t, pubs[2].First)
}

// What cannot be is refused when it is scheduled; what has become impossible fails, is told, and
// stops nothing else.
func TestScheduleThatCannotBe(t *testing.T) {
	w := newWorld(t)
	const key = "kelp-pocket"
	for _, c := range []struct {
		ask  publish.NewSchedule
		code string
	}{
		{publish.NewSchedule{Does: "explode", At: "2027-03-02T10:00[UTC]"}, "does-unknown"},
		{publish.NewSchedule{Does: publish.DoPublish, At: "2027-03-02T10:00[Mars/Olympus]"}, "moment-faulty"},
		{publish.NewSchedule{Does: publish.DoPublish, At: "2027-02-01T10:00[UTC]"}, "moment-past"},
		{publish.NewSchedule{Does: publish.DoPublish, At: "2027-03-02T10:00[UTC]", Back: "2027-03-02T09:00[UTC]"}, "back-too-early"},
		{publish.NewSchedule{Does: publish.DoRestore, Number: 7, At: "2027-03-02T10:00[UTC]"}, "publication-not-found"},
	} {
		_, err := w.Publishing.Schedule(ctx, operator, key, c.ask)
		assert.Equal(t, c.code, refusal(t, err).Code)
	}
	// Two fail: one for a release that is withdrawn, one since there is nothing to end. The
	// third is done all the same, and the fourth was taken back.
	w.release(t, "widget.json", "Countdown", "Count down")
	at := func(minute string) string { return "2027-03-02T10:" + minute + "[UTC]" }
	for _, ask := range []publish.NewSchedule{{Does: publish.DoPublish, At: at("00")}, {Does: publish.DoUnpublish, At: at("01")}} {
		_, err := w.Publishing.Schedule(ctx, operator, key, ask)
		require.NoError(t, err)
	}
	_, err := w.Publishing.Schedule(ctx, operator, "ferry-pocket", publish.NewSchedule{Does: publish.DoPublish, At: at("02"), Draft: publish.Draft{Follow: new(true)}})
	require.NoError(t, err)
	last, err := w.Publishing.Schedule(ctx, operator, key, publish.NewSchedule{Does: publish.DoPublish, At: at("03")})
	require.NoError(t, err)
	require.NoError(t, w.Publishing.CancelSchedule(ctx, operator, key, last[0].ID))
	assert.Equal(t, "schedule-not-found", refusal(t, w.Publishing.CancelSchedule(ctx, operator, key, last[0].ID)).Code)
	_, _, err = w.Rollouts.Withdraw(ctx, operator, "countdown", 2, true)
	require.NoError(t, err)
	w.clock = w.clock.Add(48 * time.Hour)
	assert.Equal(t, 3, w.due(t))
	all, err := w.Publishing.Schedules(ctx, operator, key, 0, 9)
	require.NoError(t, err)
	assert.Equal(t, []string{work.Cancelled, work.Done, work.Failed}, []string{all[0].Outcome, all[1].Outcome, all[2].Outcome})
	assert.Contains(t, all[2].Why, "release 2, which has been withdrawn")
	assert.Len(t, w.notices, 1, "there was nothing to unpublish, so that has not failed")
	served, _ := w.gets(t, "ferry-pocket")
	assert.Equal(t, 1, served.Publication, "it follows, so it is shown by the release that is left")
}

// After unpublishing there is nothing from the next request on; history and numbers go on.
func TestUnpublish(t *testing.T) {
	w := newWorld(t)
	const key = "kelp-pocket"
	_, err := w.Publishing.Unpublish(ctx, operator, key, 0)
	assert.Equal(t, "not-published", refusal(t, err).Code)
	_, err = w.Publishing.Publish(ctx, operator, key, publish.Draft{})
	require.NoError(t, err)
	require.NotEmpty(t, w.markup(t, key))
	ended, err := w.Publishing.Unpublish(ctx, operator, key, 0)
	require.NoError(t, err)
	assert.Equal(t, 2, ended.Number)
	assert.Empty(t, w.markup(t, key))
	w.open()
	assert.Empty(t, w.markup(t, key), "nor after a restart")
	_, err = w.Publishing.Restore(ctx, operator, key, 2, 0)
	assert.Equal(t, "nothing-to-restore", refusal(t, err).Code)
	back, err := w.Publishing.Restore(ctx, operator, key, 1, 0)
	require.NoError(t, err)
	assert.Equal(t, [2]int{3, 1}, [2]int{back.Number, back.Restores})
	assert.NotEmpty(t, w.markup(t, key))
}
