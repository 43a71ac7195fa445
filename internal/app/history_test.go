package app_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/compare"
	"glasspocket/internal/problem"
)

// History says of each publication what it changed, across what was ended in between and across
// the edge of a page, and any of it can be held against any other.
func TestHistory(t *testing.T) {
	w := newWorld(t)
	const key = "kelp-pocket"
	publish := func(change string) {
		t.Helper()
		if change != "" {
			w.set(t, key, change)
		}
		_, err := w.Publishing.Publish(ctx, kelpEditor, key, publish.Draft{})
		require.NoError(t, err)
	}
	_, err := w.Publishing.Unpublish(ctx, kelpEditor, key, 0)
	assert.Equal(t, "not-published", refusal(t, err).Code)
	publish("")
	publish(`{"heading": "Tide", "accent": "#102030"}`)
	// Undo refuses if somebody has published since then.
	_, err = w.Publishing.Unpublish(ctx, kelpEditor, key, 1)
	assert.Equal(t, "published-meanwhile", refusal(t, err).Code)
	_, err = w.Publishing.Restore(ctx, kelpEditor, key, 1, 1)
	assert.Equal(t, "published-meanwhile", refusal(t, err).Code)
	_, err = w.Publishing.Unpublish(ctx, kelpEditor, key, 2)
	require.NoError(t, err)
	assert.Empty(t, w.markup(t, key), "nothing is shown")
	_, err = w.Publishing.Unpublish(ctx, kelpEditor, key, 0)
	assert.Equal(t, "not-published", refusal(t, err).Code)
	publish(`{"accent": "#405060"}`)
	_, err = w.Publishing.Restore(ctx, operator, key, 1, 0)
	require.NoError(t, err)
	_, err = w.Publishing.Restore(ctx, operator, key, 3, 0)
	assert.Equal(t, problem.Conflict, refusal(t, err).Kind, "nothing to bring back of when it was ended")
	_, err = w.Publishing.Restore(ctx, operator, key, 9, 0)
	assert.Equal(t, problem.NotFound, refusal(t, err).Kind)

	lines := func(before, limit int) (lines []string) {
		t.Helper()
		list, err := w.Publishing.History(ctx, kelpEditor, key, before, limit)
		require.NoError(t, err)
		for _, p := range list {
			lines = append(lines, fmt.Sprintf("%d by %s ends %v first %v restores %d %v", p.Number, p.By, p.Unpublished, p.First, p.Restores, p.Changed))
		}
		return lines
	}
	whole := []string{
		"5 by op ends false first false restores 1 [Heading Accent]",
		"4 by ida ends false first false restores 0 [Accent]",
		"3 by ida ends true first false restores 0 []",
		"2 by ida ends false first false restores 0 [Heading Accent]",
		"1 by ida ends false first true restores 0 []",
	}
	assert.Equal(t, whole, lines(0, 9))
	assert.Equal(t, whole[:2], lines(0, 2)[:2])
	assert.Equal(t, whole[3:], lines(3, 9))

	labels := func(from, to int) (list []string) {
		t.Helper()
		d, err := w.Publishing.Differences(ctx, kelpEditor, key, from, to)
		require.NoError(t, err)
		for _, c := range d.Changes {
			list = append(list, sentence(c))
		}
		return list
	}
	assert.Equal(t, []string{`Heading: "Tide" → ""`, `Accent: "#102030" → "#0b6b63"`}, labels(2, 5))
	assert.Equal(t, []string{`Accent: "#102030" → "#405060"`}, labels(2, 4))
	assert.Empty(t, labels(1, 5), "restored as it was")
	assert.Equal(t, []string{`Heading: "" → "Tide"`, `Accent: "#0b6b63" → "#405060"`}, labels(0, 0), "from what visitors get to the draft")
	p, err := w.Pockets.Get(ctx, operator, key)
	require.NoError(t, err)
	_, err = w.Pockets.Change(ctx, operator, key, p.Revision, pocket.Change{Title: "Another name", Language: "de"})
	require.NoError(t, err)
	assert.Equal(t, []string{`Name: "Countdown" → "Another name"`, `Language: "en" → "de"`}, labels(4, 0))
	_, err = w.Publishing.Differences(ctx, kelpEditor, "ferry-pocket", 0, 0)
	assert.Equal(t, "pocket-not-found", refusal(t, err).Code)
	_, err = w.Publishing.Differences(ctx, kelpEditor, key, 77, 0)
	assert.Equal(t, problem.NotFound, refusal(t, err).Kind)
}

func sentence(c compare.ValueChange) string {
	return fmt.Sprintf("%s: %q → %q", c.Label, c.Before, c.After)
}
