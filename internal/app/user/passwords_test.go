package user

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A hash does not say what it cost: with another cost nobody could sign in any more.
func TestHashesOfEarlierBuildsFit(t *testing.T) {
	// argon2id of RFC 9106: 3 passes, 64 MiB, 4 lanes, the salt "marrow isles, 16", 32 bytes.
	const kept = "bWFycm93IGlzbGVzLCAxNg$mP8yuIpHXdJFxHJsEWyivDMLVtFrlyEMNWbQTaZ5hWk"
	for password, want := range map[string]bool{"lamps along the pier": true, "lamps along the quay": false} {
		fits, err := newHasher(UsualCost).fits(password, kept)
		assert.NoError(t, err)
		assert.Equal(t, want, fits, password)
	}
}
