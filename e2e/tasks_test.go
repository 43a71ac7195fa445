package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// tasksLife calls every route of background tasks.
func tasksLife(t *testing.T, c *client.Client) {
	ctx := t.Context()
	list, err := c.Tasks(ctx, client.TaskQuery{State: "waiting", Kind: "guest-sweep"})
	require.NoError(t, err)
	require.Len(t, list.Tasks, 1)
	sweep := list.Tasks[0]
	ran, err := c.RunTask(ctx, sweep.ID)
	require.NoError(t, err)
	assert.Equal(t, sweep.ID, ran.ID)
	assert.Equal(t, "task-recurs", problem(t, c.CancelTask(ctx, sweep.ID)).Code)
	require.NotEmpty(t, list.Kinds)
	_, err = c.Tasks(ctx, client.TaskQuery{State: "asleep"})
	assert.Equal(t, "state-unknown", problem(t, err).Code)
	_, err = c.Tasks(ctx, client.TaskQuery{Kind: "guest-swep"})
	assert.Contains(t, problem(t, err).Hint, "guest-sweep")
}

// Operators see what waits and what has failed and why, run a task now, and cancel one; what the
// task was for follows.
func TestTasks(t *testing.T) {
	ctx := t.Context()
	for _, key := range []string{"task-one", "task-two"} {
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: plain, Widget: "countdown"})
		require.NoError(t, err)
		set(t, key, map[string]any{"target": "2099-04-01T09:00[UTC]"})
		publish(t, key)
	}
	schedule := func() {
		_, err := api.Schedule(ctx, "task-one", wire.NewSchedule{Does: "unpublish", At: "2099-01-01T00:00[UTC]"})
		require.NoError(t, err)
	}
	of := func(key, state string) (found wire.Task) {
		list, err := api.Tasks(ctx, client.TaskQuery{State: state})
		require.NoError(t, err)
		for _, each := range list.Tasks {
			if each.Of == key {
				return each
			}
		}
		return wire.Task{}
	}
	schedule()
	first := of("task-one", "waiting")
	assert.Equal(t, [3]any{"schedule", plain, 2099}, [3]any{first.Kind, first.Customer, first.Due.Year()})
	require.NoError(t, api.CancelTask(ctx, first.ID))
	list, err := api.Schedules(ctx, "task-one")
	require.NoError(t, err)
	assert.Equal(t, "cancelled", list.Schedules[0].Outcome, "the schedule is cancelled with its task")
	assert.ErrorContains(t, api.CancelTask(ctx, first.ID), "has already ended")
	_, err = api.RunTask(ctx, first.ID)
	assert.ErrorContains(t, err, "neither waiting nor failed")

	// In the console: what is due in many years is done now, and a failed one again.
	schedule()
	second := of("task-one", "waiting")
	_, err = api.StartJob(ctx, wire.NewJob{Does: "delete", Keys: []string{"task-two"}})
	require.NoError(t, err)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/work"))
	press := func(label string) {
		t.Helper()
		require.NoError(t, p.Wait(fmt.Sprintf(`(b => b && (b.click(), true))(document.querySelector('main button[aria-label=%q]'))`, label)), label)
	}
	press(fmt.Sprintf("Run task %d now", second.ID))
	require.Eventually(t, func() bool {
		list, err := api.Schedules(ctx, "task-one")
		return err == nil && list.Schedules[0].Outcome == "done"
	}, 20*time.Second, 10*time.Millisecond)
	gone, err := api.Pocket(ctx, "task-one")
	require.NoError(t, err)
	assert.Zero(t, gone.Publication)

	var failed wire.Task
	require.Eventually(t, func() bool { failed = of("task-two", "failed"); return failed.ID != 0 }, 20*time.Second, 10*time.Millisecond)
	assert.Contains(t, failed.Why, "is published, and pages show it")
	require.NoError(t, p.Wait(`(r => r && (r.click(), true))([...document.querySelectorAll("main [role=radio]")].find(e => e.innerText == "Failed"))`))
	require.NoError(t, p.Wait(`document.querySelector("main").innerText.includes("task-two is published, and pages show it.")`))
	_, err = api.Unpublish(ctx, "task-two", 0)
	require.NoError(t, err)
	press(fmt.Sprintf("Run task %d now", failed.ID))
	require.Eventually(t, func() bool { _, err := api.Pocket(ctx, "task-two"); return err != nil }, 20*time.Second, 10*time.Millisecond)
	job, err := api.Job(ctx, failed.Job)
	require.NoError(t, err)
	assert.Equal(t, [3]any{"done", 1, 0}, [3]any{job.State, job.Done, job.Failed})
	recurring := of("", "waiting")
	assert.True(t, recurring.Recurs)
	assert.ErrorContains(t, api.CancelTask(ctx, recurring.ID), "It stops with the service")
}
