package e2e

import (
	"database/sql"
	"fmt"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"

	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/store"
	"glasspocket/internal/wire"
	"glasspocket/widgets"
)

// Killed in the middle of background tasks of every kind, again and again, the service finishes them
// after its next start, and does nothing twice.
func TestKilledWhileWorking(t *testing.T) {
	t.Parallel()
	const rounds, pockets, schedules = 20, 24, 4
	ctx, data := t.Context(), t.TempDir()
	d, err := service.StartDemo(data)
	require.NoError(t, err)
	defer func() { d.Kill() }()
	keys, follow := make([]string, pockets), true
	for i := range keys {
		keys[i] = fmt.Sprintf("work-%d", i)
		_, err := d.Client().MakePocket(ctx, wire.NewPocket{Key: keys[i], Customer: "kelp-and-kiln", Widget: "countdown"})
		require.NoError(t, err)
		draft, err := d.Client().Draft(ctx, keys[i])
		require.NoError(t, err)
		draft, err = d.Client().ChangeDraft(ctx, keys[i], draft.Revision, raw(map[string]any{"target": "2099-01-01T00:00[UTC]"}))
		require.NoError(t, err)
		if i >= schedules {
			_, err = d.Client().Publish(ctx, keys[i], wire.Publish{Revision: draft.Revision, Follow: &follow})
			require.NoError(t, err)
		}
	}
	mine, err := d.Client().Pockets(ctx, "saltmarsh-ferry")
	require.NoError(t, err)
	before := len(mine)
	folder, err := widgets.Folder("countdown")
	require.NoError(t, err)
	var files []wire.File
	require.NoError(t, fs.WalkDir(folder, ".", func(path string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() {
			return err
		}
		text, err := fs.ReadFile(folder, path)
		files = append(files, wire.File{Path: path, Text: string(text)})
		return err
	}))
	eventually := func(what string, done func() bool) {
		t.Helper()
		require.Eventually(t, done, 30*time.Second, 5*time.Millisecond, what)
	}
	sweep := func(c *client.Client) {
		waiting, err := c.Tasks(ctx, client.TaskQuery{State: "waiting", Kind: "guest-sweep"})
		require.NoError(t, err)
		for _, task := range waiting.Tasks {
			_, _ = c.RunTask(ctx, task.ID) // it may have started by itself
		}
	}
	cut := map[string]int{} // rounds in which a kind of task was cut short
	for round := range rounds {
		c := d.Client()
		guest, err := (&client.Client{Server: d.Manage}).StartGuestPocket(ctx, wire.NewGuestPocket{Widget: "countdown"})
		require.NoError(t, err)
		for _, key := range keys[:schedules] {
			_, err := c.Schedule(ctx, key, wire.NewSchedule{Does: "publish", At: "2099-01-01T00:00[UTC]"})
			require.NoError(t, err)
		}
		waiting, err := c.Tasks(ctx, client.TaskQuery{State: "waiting", Kind: "schedule"})
		require.NoError(t, err)
		job, err := c.StartJob(ctx, wire.NewJob{Does: "duplicate", Keys: keys, Customer: "saltmarsh-ferry"})
		require.NoError(t, err)
		publishNow := func() {
			due := 0
			for _, task := range waiting.Tasks {
				if strings.HasPrefix(task.Of, "work-") {
					_, err := c.RunTask(ctx, task.ID)
					require.NoError(t, err)
					due++
				}
			}
			assert.Equal(t, schedules, due)
		}
		// In some rounds right before the kill, because publishing is soon over.
		late := round%4 == 2
		if !late {
			publishNow()
		}
		sweep(c)
		run, err := c.StartDryRun(ctx, "countdown", wire.NewDryRun{Files: changed(t, files, "style.css", ".pocket {", fmt.Sprintf(".pocket { order: %d;", round+1))})
		require.NoError(t, err)
		eventually("some of the job", func() bool {
			now, err := c.Job(ctx, job.ID)
			return err == nil && now.Done >= round%2*round*pockets/rounds
		})
		if late {
			publishNow()
		}
		d.Kill()

		db, err := sql.Open("sqlite", filepath.Join(data, store.File))
		require.NoError(t, err)
		rows, err := db.Query("SELECT DISTINCT kind FROM tasks WHERE ended_at IS NULL AND (lease <> '' OR key = '' OR julianday(due) < julianday('now'))")
		require.NoError(t, err)
		for rows.Next() {
			var kind string
			require.NoError(t, rows.Scan(&kind))
			cut[kind]++
		}
		require.NoError(t, rows.Err())
		_, err = db.Exec("UPDATE guest_pockets SET expires_at = '2026-01-01 00:00:00+00:00'")
		require.NoError(t, err)
		require.NoError(t, db.Close())

		require.NoError(t, d.Restart())
		eventually("the job", func() bool {
			now, err := c.Job(ctx, job.ID)
			return err == nil && now.State == "done"
		})
		ended, err := c.Job(ctx, job.ID)
		require.NoError(t, err)
		assert.Equal(t, [2]int{pockets, 0}, [2]int{ended.Done, ended.Failed})
		copies, err := c.Pockets(ctx, "saltmarsh-ferry")
		require.NoError(t, err)
		assert.Len(t, copies, before+(round+1)*pockets, "each was duplicated once")
		eventually("the schedules", func() bool {
			for _, key := range keys[:schedules] {
				list, err := c.Schedules(ctx, key)
				if err != nil || list.Schedules[0].Outcome == "" {
					return false
				}
			}
			return true
		})
		for _, key := range keys[:schedules] {
			p, err := c.Pocket(ctx, key)
			require.NoError(t, err)
			assert.Equal(t, round+1, p.Publication, "published once")
		}
		eventually("the dry run", func() bool {
			now, err := c.DryRun(ctx, "countdown", run.ID, "")
			return err == nil && now.Finished
		})
		dry, err := c.DryRun(ctx, "countdown", run.ID, "")
		require.NoError(t, err)
		assert.Equal(t, dry.Of, dry.Identical+dry.Changed+dry.Broken)
		assert.NotZero(t, dry.Changed)
		eventually("the sweep", func() bool {
			sweep(c)
			_, err := c.Pocket(ctx, guest.Pocket.Key)
			return isCode(err, "pocket-not-found")
		})
	}
	t.Log("cut short:", cut)
	for _, kind := range []string{"pocket", "schedule", "dry-run"} {
		assert.NotZero(t, cut[kind], kind)
	}
}
