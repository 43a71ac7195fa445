package e2e

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// publishingLife goes through what becomes of a pocket from its name to its end, through the
// client.
func publishingLife(t *testing.T, c *client.Client) {
	t.Helper()
	ctx := t.Context()
	p, err := c.MakePocket(ctx, wire.NewPocket{Key: "life-of-publishing", Customer: "saltmarsh-ferry", Widget: "countdown", Starter: "harbour", Title: "Crossing"})
	require.NoError(t, err)
	d, err := c.ChangeDraft(ctx, p.Key, p.Revision, raw(map[string]any{"target": "2099-01-01T00:00[UTC]", "accent": "#112233"}))
	require.NoError(t, err)
	assert.Equal(t, demo.Name, d.ChangedBy)
	d, err = c.ChangePocket(ctx, p.Key, d.Revision, wire.ChangePocket{Title: "The late crossing", Language: "de"})
	require.NoError(t, err)
	assert.Equal(t, [2]string{"The late crossing", "de"}, [2]string{d.Title, d.Language})
	_, err = c.ChangePocket(ctx, p.Key, d.Revision, wire.ChangePocket{Language: "tlh"})
	assert.Equal(t, "language-unknown", problem(t, err).Code)

	// Another starter: what was typed stays, and it is said before.
	other, err := c.StarterDifferences(ctx, p.Key, "observatory", nil)
	require.NoError(t, err)
	var changes, kept []string
	for _, each := range other.Changes {
		changes = append(changes, each.Key)
	}
	for _, each := range other.Kept {
		kept = append(kept, each.Key)
	}
	assert.Contains(t, changes, "layout")
	assert.NotContains(t, changes, "accent")
	assert.Equal(t, []string{"accent"}, kept)
	_, err = c.StarterDifferences(ctx, p.Key, "observatorium", nil)
	assert.Equal(t, "starter-not-found", problem(t, err).Code)
	d, err = c.ChangeStarter(ctx, p.Key, d.Revision, wire.ChangeStarter{Starter: "observatory", Replace: []string{"accent"}})
	require.NoError(t, err)
	var settings map[string]any
	require.NoError(t, json.Unmarshal(d.Settings, &settings))
	assert.Equal(t, []any{"#8fd3ff", "dials", "2099-01-01T00:00[UTC]"}, []any{settings["accent"], settings["layout"], settings["target"]})

	// In conditions of its own, and with the marks of what makes each part.
	seen, err := c.Preview(ctx, p.Key, wire.Preview{Conditions: pocket.Conditions{Moment: "2098-12-31T23:59:50[UTC]", Frozen: true, Turned: true, Language: "en"}})
	require.NoError(t, err)
	assert.Equal(t, [2]string{"en", "rtl"}, [2]string{seen.Language, seen.Direction})
	at, err := time.Parse(time.RFC3339, "2098-12-31T23:59:50Z")
	require.NoError(t, err)
	assert.Equal(t, at.UnixMilli(), seen.Built)
	assert.Contains(t, seen.Markup, "data-glass-part=")
	assert.NotEmpty(t, seen.Parts)
	for _, wrong := range []pocket.Conditions{{Width: 12}, {Page: "moon"}, {Content: "lots"}, {Visitor: "old"}, {Moment: "2099-01-01T00:00[Mars/Olympus]"}} {
		_, err = c.Preview(ctx, p.Key, wire.Preview{Conditions: wrong})
		assert.Equal(t, "conditions-faulty", problem(t, err).Code, "%+v", wrong)
	}
	_, err = c.SavePreviewCase(ctx, p.Key, "Last ten / seconds?", pocket.Conditions{Moment: "2098-12-31T23:59:50[UTC]"})
	require.NoError(t, err)
	cases, err := c.PreviewCases(ctx, p.Key)
	require.NoError(t, err)
	require.Len(t, cases.Cases, 1)
	assert.Equal(t, "Last ten / seconds?", cases.Cases[0].Name)
	require.NoError(t, c.DeletePreviewCase(ctx, p.Key, "Last ten / seconds?"))
	assert.Equal(t, "case-not-found", problem(t, c.DeletePreviewCase(ctx, p.Key, "Last ten / seconds?")).Code)

	// What will change is told before it is public, and what has changed afterwards.
	_, err = c.Publish(ctx, p.Key, wire.Publish{})
	require.NoError(t, err)
	_, err = c.ChangeDraft(ctx, p.Key, d.Revision, raw(map[string]any{"heading": "Last boat"}))
	require.NoError(t, err)
	differs, err := c.PocketDifferences(ctx, p.Key, 0, 0)
	require.NoError(t, err)
	require.Len(t, differs.Changes, 1)
	assert.Equal(t, [4]string{"heading", "Heading", "", "Last boat"}, [4]string{differs.Changes[0].Key, differs.Changes[0].Label, differs.Changes[0].Before, differs.Changes[0].After})
	published, err := c.Publish(ctx, p.Key, wire.Publish{})
	require.NoError(t, err)
	assert.Equal(t, time.Minute, published.EverybodyAt.Sub(published.At))
	old, err := c.Preview(ctx, p.Key, wire.Preview{Publication: 1})
	require.NoError(t, err)
	assert.NotContains(t, old.Markup, "Last boat")
	differs, err = c.PocketDifferences(ctx, p.Key, 2, 1)
	require.NoError(t, err)
	assert.Equal(t, "Last boat", differs.Changes[0].Before)

	// Planned, with a moment that a change of clocks skips; taken back; unpublished.
	list, err := c.Schedule(ctx, p.Key, wire.NewSchedule{Does: "restore", Number: 1, At: "2098-03-30T02:30[Europe/Berlin]", Back: "2098-10-26T02:30[Europe/Berlin]"})
	require.NoError(t, err)
	require.Len(t, list.Schedules, 2)
	assert.Contains(t, list.Schedules[0].Odd, "because the clocks go forward then. The service uses 03:30")
	assert.Contains(t, list.Schedules[1].Odd, "02:30 happens twice")
	require.NoError(t, c.CancelSchedule(ctx, p.Key, list.Schedules[0].ID))
	scheduled, err := c.Schedules(ctx, p.Key)
	require.NoError(t, err)
	assert.Equal(t, [2]string{"", "cancelled"}, [2]string{scheduled.Schedules[0].Outcome, scheduled.Schedules[1].Outcome})
	_, err = c.Unpublish(ctx, p.Key, published.Number-1)
	assert.Equal(t, "published-meanwhile", problem(t, err).Code)

	// Where it was installed is proposed for the next: the last used first, one for each site.
	for _, n := range []wire.NewPlace{{Host: "blog", Where: "site"}, {Address: "https://Ferry.example/times?x", Host: "rich-text", Where: "home"}, {Address: "ferry.example", Host: "blog", Where: "home"}} {
		_, err = c.RememberPlace(ctx, "saltmarsh-ferry", n)
		require.NoError(t, err)
	}
	places, err := c.Places(ctx, "saltmarsh-ferry")
	require.NoError(t, err)
	require.Len(t, places.Places, 2)
	assert.Equal(t, [3]string{"ferry.example", "blog", "home"}, [3]string{places.Places[0].Site, places.Places[0].Host, places.Places[0].Where})
	for code, n := range map[string]wire.NewPlace{"where-unknown": {Host: "blog", Where: "moon"}, "no-such-host": {Host: "moon", Where: "home"}, "address-form": {Address: "ftp://x", Host: "blog", Where: "home"}} {
		_, err = c.RememberPlace(ctx, "saltmarsh-ferry", n)
		assert.Equal(t, code, problem(t, err).Code)
	}
	ended, err := c.Unpublish(ctx, p.Key, 0)
	require.NoError(t, err)
	assert.True(t, ended.Unpublished)
	_, gone := send(t, "GET", demo.Public+"/s/"+p.Key+".js", "")
	assert.Contains(t, gone, "is not published")
	audit, err := c.Audit(ctx, client.AuditQuery{Kind: "pocket", Of: p.Key})
	require.NoError(t, err)
	assert.Equal(t, "unpublished pocket life-of-publishing", audit.Entries[0].Sentence)
	assert.Equal(t, "made pocket life-of-publishing: Crossing", audit.Entries[len(audit.Entries)-1].Sentence)
}

// What is scheduled really happens, in a service that runs, at its moment.
func TestScheduleInTime(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	newPocket(t, "in-time", "2099-01-01T00:00[UTC]", map[string]any{"heading": "On the dot"})
	soon := time.Now().UTC().Add(2 * time.Second).Truncate(time.Second)
	list, err := api.Schedule(ctx, "in-time", wire.NewSchedule{Does: "unpublish", At: soon.Format("2006-01-02T15:04:05") + "[UTC]"})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		_, text := send(t, "GET", demo.Public+"/s/in-time.js", "")
		return !time.Now().Before(soon) && !strings.Contains(text, "On the dot")
	}, 10*time.Second, 20*time.Millisecond)
	after, err := api.Schedules(ctx, "in-time")
	require.NoError(t, err)
	assert.Equal(t, [2]any{list.Schedules[0].ID, "done"}, [2]any{after.Schedules[0].ID, after.Schedules[0].Outcome})
}
