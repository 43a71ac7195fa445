package vault

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestVault(t *testing.T) {
	path := filepath.Join(t.TempDir(), File)
	v, err := Open(path)
	require.NoError(t, err)
	about, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), about.Mode().Perm(), "nobody else can read it")
	sealed := v.Seal("nine quiet kilns", "src-a")
	assert.NotContains(t, string(sealed), "quiet")
	assert.NotEqual(t, sealed, v.Seal("nine quiet kilns", "src-a"))

	again, err := Open(path)
	require.NoError(t, err)
	secret, err := again.Unseal(sealed, "src-a")
	require.NoError(t, err)
	assert.Equal(t, "nine quiet kilns", secret)

	_, err = again.Unseal(sealed, "src-b")
	assert.ErrorIs(t, err, ErrSealed, "of another source")
	for i := range sealed {
		broken := append([]byte{}, sealed...)
		broken[i] ^= 1
		_, err = again.Unseal(broken, "src-a")
		require.ErrorIs(t, err, ErrSealed)
		_, err = again.Unseal(sealed[:i], "src-a")
		require.ErrorIs(t, err, ErrSealed)
	}
	require.NoError(t, os.WriteFile(path, []byte("cafe"), 0o600))
	_, err = Open(path)
	assert.ErrorContains(t, err, "64 hexadecimal digits. Restore it from a backup")
	other, err := Open(filepath.Join(t.TempDir(), File))
	require.NoError(t, err)
	_, err = other.Unseal(sealed, "src-a")
	assert.ErrorIs(t, err, ErrSealed, "another key")
}
