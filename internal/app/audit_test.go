package app_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/publish"
)

// Each change has its line, changes of one draft in a row have one, and a change that was
// refused has none.
func TestAudit(t *testing.T) {
	w := newWorld(t)
	const key = "kelp-pocket"
	editor := access.Scope{Role: access.CustomerEditor, CustomerID: "kelp", Name: "ida", Client: "console"}
	w.clock = w.clock.Add(time.Hour)
	for i, change := range []string{`{"heading": "a"}`, `{"heading": "ab", "accent": "#102030"}`} {
		_, err := w.Pockets.SaveDraft(ctx, editor, key, 2+i, []byte(change), false)
		require.NoError(t, err)
		w.clock = w.clock.Add(time.Minute)
	}
	_, err := w.Pockets.SaveDraft(ctx, editor, key, 2, []byte(`{"heading": "late"}`), false)
	assert.Equal(t, "draft-changed", refusal(t, err).Code)
	_, err = w.Publishing.Publish(ctx, editor, key, publish.Draft{})
	require.NoError(t, err)
	w.set(t, key, `{"heading": "b"}`) // somebody else
	list, err := w.Audit.List(ctx, editor, audit.Query{Limit: 9})
	require.NoError(t, err)
	var lines []string
	for _, e := range list {
		assert.Equal(t, "kelp", e.CustomerID)
		lines = append(lines, fmt.Sprintf("%s %s", e.By, e.Sentence()))
	}
	assert.Equal(t, []string{
		"op changed pocket kelp-pocket: heading",
		"ida published pocket kelp-pocket as number 1",
		"ida changed pocket kelp-pocket: heading, accent",
		"op changed pocket kelp-pocket: target",
		"op made pocket kelp-pocket: Countdown",
		"op made customer kelp: kelp",
	}, lines)
	assert.Equal(t, time.Minute, list[2].At.Sub(list[2].Since))
	_, err = w.Audit.List(ctx, editor, audit.Query{CustomerID: "ferry", Limit: 9})
	assert.Equal(t, "customer-not-found", refusal(t, err).Code)
	one, err := w.Audit.List(ctx, operator, audit.Query{Kind: "widget", Of: "countdown", Limit: 9})
	require.NoError(t, err)
	require.Len(t, one, 1)
	assert.Equal(t, "released number 1 of widget countdown", one[0].Sentence())
}
