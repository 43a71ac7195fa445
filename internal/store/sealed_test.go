package store_test

import (
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/render"
)

// A script that was sealed before assets were noted is read at the next start.
func TestAssetsOfScriptsSealedBefore(t *testing.T) {
	folder := as(t, 6)
	s, err := open(folder)
	require.NoError(t, err)
	asset := strings.Repeat("0a", 32)
	script := render.Encode([]byte("…src=https://pockets.example/a/" + asset + "/bowl-640.jpg …"))
	err = s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.Exec("UPDATE sealed SET script = ?, read = 0", script.Brotli)
		return err
	})
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s, err = open(folder)
	require.NoError(t, err)
	defer s.Close()
	keys, err := s.AssetUses(ctx, "kelp-and-kiln", asset)
	require.NoError(t, err)
	assert.Equal(t, []string{"demo-countdown"}, keys)
}
