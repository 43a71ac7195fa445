package store

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/render"
)

// A script that was sealed before assets were noted is read at the next start.
func TestAssetsOfScriptsSealedBefore(t *testing.T) {
	folder := as(t, 6)
	s, err := Open(ctx, folder)
	require.NoError(t, err)
	asset := strings.Repeat("0a", 32)
	script := render.Encode([]byte("…src=https://pockets.example/a/" + asset + "/bowl-640.jpg …"))
	_, err = s.write.db.Exec("UPDATE sealed SET script = ?, read = 0", script.Brotli)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s, err = Open(ctx, folder)
	require.NoError(t, err)
	defer s.Close()
	keys, err := s.AssetUses(ctx, "kelp-and-kiln", asset)
	require.NoError(t, err)
	assert.Equal(t, []string{"demo-countdown"}, keys)
}
