package app_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// digests are those of a draft's files, by path.
func digests(w *workshop.Workpiece) map[string]string {
	all := map[string]string{}
	for _, f := range w.Files {
		all[f.Path] = f.Digest
	}
	return all
}

func textOf(w *workshop.Workpiece, path string) string {
	for _, f := range w.Files {
		if f.Path == path {
			return string(f.Bytes)
		}
	}
	return ""
}

// Whoever writes files of their own waits for nobody and loses nothing; of many who change one
// file at once, one succeeds and all others are told who it was.
func TestManyHandsOnOneDraft(t *testing.T) {
	w := newWorld(t)
	begun, err := w.Workshop.Add(ctx, operator, workshop.NewDraft{Widget: "countdown"})
	require.NoError(t, err)
	_, err = w.Workshop.Add(ctx, operator, workshop.NewDraft{Widget: "countdown"})
	assert.Equal(t, "draft-exists", refusal(t, err).Code)
	const hands, saves = 8, 6
	var all sync.WaitGroup
	for hand := range hands {
		all.Go(func() {
			path, was := fmt.Sprintf("part-%d.ts", hand), ""
			for n := range saves {
				saved, err := w.Workshop.Save(ctx, operator, "countdown", []workshop.FileChange{{Path: path, Bytes: fmt.Appendf(nil, "export const n = %d;\n", n), Was: was}})
				if !assert.NoError(t, err) {
					return
				}
				was = digests(saved)[path]
			}
		})
	}
	all.Wait()
	now, err := w.Workshop.Get(ctx, operator, "countdown")
	require.NoError(t, err)
	assert.Equal(t, begun.Revision+hands*saves, now.Revision)
	for hand := range hands {
		assert.Equal(t, fmt.Sprintf("export const n = %d;\n", saves-1), textOf(now, fmt.Sprintf("part-%d.ts", hand)))
	}

	var won atomic.Int32
	was := digests(now)["style.css"]
	for hand := range hands {
		all.Go(func() {
			who := operator
			who.Name = fmt.Sprintf("hand-%d", hand)
			_, err := w.Workshop.Save(ctx, who, "countdown", []workshop.FileChange{
				{Path: "style.css", Bytes: fmt.Appendf(nil, "/* %d */", hand), Was: was},
				{Path: fmt.Sprintf("of-%d.ts", hand), Bytes: []byte("export {};\n")},
			})
			if err == nil {
				won.Add(1)
				return
			}
			refused := refusal(t, err)
			assert.Equal(t, "draft-changed", refused.Code)
			assert.Regexp(t, `^style\.css was changed by hand-\d\.$`, refused.What)
			assert.Equal(t, []string{"style.css"}, []string{refused.Faults[0].Path})
		})
	}
	all.Wait()
	assert.Equal(t, int32(1), won.Load())
	after, err := w.Workshop.Get(ctx, operator, "countdown")
	require.NoError(t, err)
	assert.Equal(t, now.Revision+1, after.Revision)
	var n int
	_, err = fmt.Sscanf(textOf(after, "style.css"), "/* %d */", &n)
	require.NoError(t, err)
	assert.Len(t, after.Files, len(now.Files)+1, "all of a change is kept, or nothing")
	assert.NotEmpty(t, digests(after)[fmt.Sprintf("of-%d.ts", n)])
	// Who has come to the same by another way has changed nothing.
	_, err = w.Workshop.Save(ctx, operator, "countdown", []workshop.FileChange{{Path: "style.css", Bytes: []byte(textOf(after, "style.css")), Was: was}})
	assert.NoError(t, err)
}

func TestDraftAndItsRelease(t *testing.T) {
	w := newWorld(t)
	d, err := w.Workshop.Add(ctx, operator, workshop.NewDraft{Widget: "countdown"})
	require.NoError(t, err)
	assert.Equal(t, 1, d.Release)
	changes, since, err := w.Workshop.Differences(ctx, operator, "countdown", 0)
	require.NoError(t, err)
	assert.Equal(t, 1, since)
	assert.Empty(t, changes.Files)

	style := textOf(d, "style.css") + "\n.more { gap: 2px; }\n"
	_, err = w.Workshop.Save(ctx, operator, "countdown", []workshop.FileChange{{Path: "style.css", Bytes: []byte(style), Was: digests(d)["style.css"]}})
	require.NoError(t, err)
	info, fresh, _, err := w.Rollouts.Release(ctx, operator, "countdown", rollout.NewRelease{Note: "More", Share: 40})
	require.NoError(t, err)
	assert.Equal(t, []any{2, true, "More", 40}, []any{info.Number, fresh, info.Note, info.Share})
	d, err = w.Workshop.Get(ctx, operator, "countdown")
	require.NoError(t, err)
	assert.Equal(t, 2, d.Release, "it is the same as that release")
	changes, since, err = w.Workshop.Differences(ctx, operator, "countdown", 2)
	require.NoError(t, err)
	assert.Equal(t, 1, since)
	require.Len(t, changes.Files, 1)
	assert.Equal(t, []any{"style.css", 2, 0}, []any{changes.Files[0].Path, changes.Files[0].More, changes.Files[0].Fewer})

	// Each pocket draws a lot once, and is in or out for good.
	in := 0
	for i := range 200 {
		p, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "kelp", Widget: "countdown", Key: fmt.Sprintf("lot-%d", i)})
		require.NoError(t, err)
		if p.Lot < 40 {
			in++
		}
		require.LessOrEqual(t, p.Lot, release.LotLast)
	}
	assert.InDelta(t, 80, in, 45, "about forty of a hundred")
	for name, share := range map[string]int{"share-faulty": 0, "release-not-found": 100} {
		_, _, err := w.Rollouts.Share(ctx, operator, "countdown", 9, share)
		assert.Equal(t, name, refusal(t, err).Code)
	}
	for code, n := range map[string]rollout.NewRelease{"share-faulty": {Share: 101}, "note-too-long": {Note: strings.Repeat("é", 2001)}, "dry-run-not-found": {DryRun: "none", Files: countdown(t)}} {
		_, _, _, err = w.Rollouts.Release(ctx, operator, "countdown", n)
		assert.Equal(t, code, refusal(t, err).Code)
	}

	require.NoError(t, w.Workshop.Delete(ctx, operator, "countdown"))
	_, err = w.Workshop.Get(ctx, operator, "countdown")
	assert.Equal(t, "draft-not-found", refusal(t, err).Code)
	assert.Equal(t, "draft-not-found", refusal(t, w.Workshop.Delete(ctx, operator, "countdown")).Code)
	again, err := w.Workshop.Add(ctx, operator, workshop.NewDraft{Widget: "countdown"})
	require.NoError(t, err)
	assert.Equal(t, "", textOf(again, "part.ts"))
	assert.Equal(t, []any{1, 1}, []any{again.Revision, again.Release}, "the newest release that all have")
}

// A dry run tells of each follower what it would get, and whom it lists first.
func TestWhatADryRunSays(t *testing.T) {
	w := newWorld(t)
	follow := true
	for key, heading := range map[string]string{"same": "Plain", "other": "Odd", "breaks-b": "Even", "breaks-a": "Even", "pinned": "Even", "never": "Even"} {
		_, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: "ferry", Widget: "countdown", Key: key, Title: "The " + key})
		require.NoError(t, err)
		settings, _ := json.Marshal(map[string]any{"target": "2027-04-01T09:00[UTC]", "heading": heading})
		_, err = w.Pockets.SaveDraft(ctx, operator, key, 1, settings, false)
		require.NoError(t, err)
		if key != "never" {
			ask := publish.Draft{}
			if key != "pinned" {
				ask.Follow = &follow
			}
			_, err = w.Publishing.Publish(ctx, operator, key, ask)
			require.NoError(t, err)
		}
	}
	files := countdown(t)
	files["view.html"] = append([]byte(`{{if eq .settings.heading "Odd"}}<hr>{{else if eq .settings.heading "Even"}}{{say .settings.typeface}}{{end}}`), files["view.html"]...)
	ends := func(files widget.Files) (*rollout.DryRun, rollout.Progress) {
		run, err := w.Rollouts.Start(ctx, operator, "countdown", files)
		require.NoError(t, err)
		n, err := w.Work.Drain(ctx, rollout.DryRunTask)
		require.NoError(t, err)
		require.Equal(t, 1, n)
		p, err := w.Rollouts.Progress(ctx, operator, "countdown", run.ID, 0, 10)
		require.NoError(t, err)
		require.True(t, p.Finished)
		return run, p
	}
	run, p := ends(files)
	assert.Equal(t, 4, p.Of, "those that follow")
	assert.Equal(t, map[rollout.Verdict]int{rollout.Identical: 1, rollout.Altered: 1, rollout.Broken: 2}, p.Counts)
	var keys []string
	for _, o := range p.Outcomes {
		keys = append(keys, o.Key)
	}
	assert.Equal(t, []string{"breaks-a", "breaks-b", "other"}, keys)
	assert.Equal(t, "The breaks-a", p.Outcomes[0].Title)
	require.NotEmpty(t, p.Outcomes[0].Faults)
	assert.Equal(t, p.Outcomes[0].Faults[0].What, p.Outcomes[0].Why)
	assert.Equal(t, []string{"markup"}, p.Outcomes[2].What)
	before, after, err := w.Rollouts.BeforeAndAfter(ctx, operator, "countdown", run.ID, "other")
	require.NoError(t, err)
	assert.NotContains(t, before.Payload.Markup, "<hr>")
	assert.Contains(t, after.Payload.Markup, "<hr>")
	before, after, err = w.Rollouts.BeforeAndAfter(ctx, operator, "countdown", run.ID, "breaks-a")
	require.NoError(t, err)
	assert.NotNil(t, before)
	assert.Nil(t, after)
	for _, key := range []string{"never", "kelp-pocket"} {
		_, _, err = w.Rollouts.BeforeAndAfter(ctx, operator, "countdown", run.ID, key)
		assert.Equal(t, "pocket-not-found", refusal(t, err).Code, "%s was never published", key)
	}

	// It breaks two: that has to be meant. They stay where they are, and the others move on.
	_, _, _, err = w.Rollouts.Release(ctx, operator, "countdown", rollout.NewRelease{Files: files, DryRun: run.ID})
	refused := refusal(t, err)
	assert.Equal(t, "release-breaks", refused.Code)
	assert.Equal(t, []string{"breaks-a", "breaks-b"}, []string{refused.Faults[0].Field, refused.Faults[1].Field})
	_, _, _, err = w.Rollouts.Release(ctx, operator, "countdown", rollout.NewRelease{Files: files, DryRun: run.ID, Breaks: true})
	require.NoError(t, err)
	for key, want := range map[string]bool{"other": true, "same": false, "breaks-a": false, "pinned": false} {
		s, _ := w.gets(t, key)
		require.NotNil(t, s.Document, key)
		assert.Equal(t, want, strings.Contains(string(s.Document.Plain()), "<hr>"), key)
	}
	p, err = w.Rollouts.Progress(ctx, operator, "countdown", run.ID, 1, 1)
	require.NoError(t, err)
	assert.True(t, p.Stale)
	assert.Equal(t, "breaks-b", p.Outcomes[0].Key, "page by page")
	w.open() // after a restart, the result is still there
	stored, err := w.Rollouts.Progress(ctx, operator, "countdown", run.ID, 1, 1)
	require.NoError(t, err)
	assert.Equal(t, p, stored)
	_, next, err := w.Rollouts.BeforeAndAfter(ctx, operator, "countdown", run.ID, "other")
	require.NoError(t, err)
	assert.Contains(t, string(next.Payload.Markup), "<hr>")
	// What broke is compared with what it has, not with what it refused.
	_, p = ends(countdown(t))
	assert.Equal(t, map[rollout.Verdict]int{rollout.Identical: 3, rollout.Altered: 1}, p.Counts)
	assert.Equal(t, "other", p.Outcomes[0].Key)

	// The service keeps the last few only.
	for range 8 {
		ends(countdown(t))
	}
	_, err = w.Rollouts.Progress(ctx, operator, "countdown", run.ID, 0, 1)
	assert.Equal(t, "dry-run-not-found", refusal(t, err).Code)
}

// What is tried is the draft with what is not saved yet, and nothing of it is kept.
func TestTryingADraft(t *testing.T) {
	w := newWorld(t)
	d, err := w.Workshop.Add(ctx, operator, workshop.NewDraft{Widget: "lamp", From: "countdown"})
	require.NoError(t, err)
	view := "<p class=\"lamp\">{{.settings.heading}}</p>\n" + textOf(d, "view.html")
	cases := []widget.Case{{}, {Language: "ar", Settings: json.RawMessage(`{"heading": "Lamps"}`)}, {Turned: true}, {Content: "more"}, {Settings: json.RawMessage(`{"heading": 5}`)}}
	tried, err := w.Workshop.Preview(ctx, operator, "lamp", []workshop.FileChange{{Path: "view.html", Bytes: []byte(view)}, {Path: "number.ts", Removed: true}}, cases)
	require.NoError(t, err)
	require.NotNil(t, tried.Trial, tried.Faults)
	require.NotEmpty(t, tried.Faults, "a file that another imports is gone")
	assert.Contains(t, tried.Faults[0].What, "number")
	require.Len(t, tried.Shown, len(cases))
	assert.Contains(t, tried.Shown[1].Payload.Markup, `class="lamp"`)
	assert.Contains(t, tried.Shown[1].Payload.Markup, ">Lamps</p>")
	assert.Equal(t, []string{"ltr", "rtl", "rtl"}, []string{tried.Shown[0].Payload.Direction, tried.Shown[1].Payload.Direction, tried.Shown[2].Payload.Direction})
	assert.Equal(t, fault.ValueChoice, tried.Shown[3].Faults[0].Code)
	assert.Contains(t, tried.Shown[3].Faults[0].Fix, setting.Contents[0])
	assert.Equal(t, "heading", tried.Shown[4].Faults[0].Field)
	assert.Contains(t, tried.Shown[0].Payload.Markup, `data-glass-part="0"`)

	sound, faults, err := w.Workshop.CheckDraft(ctx, operator, "lamp", nil)
	require.NoError(t, err)
	require.NotNil(t, sound, faults)
	assert.Equal(t, "countdown", sound.Manifest.CopyOf.Widget)
	_, faults, err = w.Workshop.CheckDraft(ctx, operator, "lamp", []workshop.FileChange{{Path: "view.html", Bytes: []byte("{{")}})
	require.NoError(t, err)
	assert.Equal(t, "view.html", faults[0].Path)
	now, err := w.Workshop.Get(ctx, operator, "lamp")
	require.NoError(t, err)
	assert.Equal(t, []any{1, textOf(d, "view.html")}, []any{now.Revision, textOf(now, "view.html")})
	_, err = w.Workshop.Preview(ctx, operator, "lamp", nil, make([]widget.Case, workshop.CasesMost+1))
	assert.Equal(t, "too-many-cases", refusal(t, err).Code)
	_, err = w.Workshop.Preview(ctx, access.Scope{Role: access.CustomerEditor, CustomerID: "kelp"}, "lamp", nil, nil)
	assert.Equal(t, problem.Forbidden, refusal(t, err).Kind)
}
