package app

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What those pay who sign in.
var shippedTime, shippedMemory = hashTime, hashMemory

// A hash as dear as that would be most of what this package's tests do.
func init() { hashTime, hashMemory = 1, 64 }

// A hash does not say what it cost: with another cost nobody could sign in any more.
func TestHashesOfEarlierBuildsFit(t *testing.T) {
	time, memory := hashTime, hashMemory
	hashTime, hashMemory = shippedTime, shippedMemory
	defer func() { hashTime, hashMemory = time, memory }()
	// argon2id of RFC 9106: 3 passes, 64 MiB, 4 lanes, the salt "marrow isles, 16", 32 bytes.
	const kept = "bWFycm93IGlzbGVzLCAxNg$mP8yuIpHXdJFxHJsEWyivDMLVtFrlyEMNWbQTaZ5hWk"
	assert.True(t, passwordFits("lamps along the pier", kept))
	assert.False(t, passwordFits("lamps along the quay", kept))
}
