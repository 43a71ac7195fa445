package app_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/bundle"
	"glasspocket/internal/signal"
)

// endless never comes to the end of a widget's followers.
type endless struct{ app.Store }

func (s endless) Followers(ctx context.Context, name, after string, limit int) ([]rollout.Follower, error) {
	<-ctx.Done()
	return nil, ctx.Err()
}

// What a dry run has not looked at may break: one that is under way, or was stopped, answers
// for nothing.
func TestStoppedDryRun(t *testing.T) {
	w := newWorld(t)
	a := app.New(app.Options{Store: endless{w.store}, Signals: signal.New(), Site: w.site, Builder: bundle.Builder{}, Trier: bundle.Builder{}})
	working, stop := context.WithCancel(ctx)
	ended := make(chan bool)
	go func() { a.Work.Run(working); close(ended) }()
	defer func() { stop(); <-ended }()
	files := countdown(t)
	files["view.html"] = append(files["view.html"], "<p></p>\n"...)
	run, err := a.Rollouts.Start(ctx, operator, "countdown", files)
	require.NoError(t, err)
	code := func() string {
		_, _, _, err := a.Rollouts.Release(ctx, operator, "countdown", rollout.NewRelease{Files: files, DryRun: run.ID})
		return refusal(t, err).Code
	}
	assert.Equal(t, "dry-run-under-way", code())
	require.NoError(t, a.Rollouts.Cancel(ctx, operator, "countdown", run.ID))
	assert.Equal(t, "dry-run-stopped", code())
	p, err := a.Rollouts.Progress(ctx, operator, "countdown", run.ID, 0, 0)
	require.NoError(t, err)
	assert.True(t, p.Cancelled)
	assert.False(t, p.Finished)
}
