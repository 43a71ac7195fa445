package app

import (
	"fmt"
	"testing"
	"time"

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
	for password, want := range map[string]bool{"lamps along the pier": true, "lamps along the quay": false} {
		fits, err := passwordFits(password, kept)
		assert.NoError(t, err)
		assert.Equal(t, want, fits, password)
	}
}

// The table of tries is bounded, and a flood of others unblocks nobody who goes on trying.
func TestAFloodUnblocksNobody(t *testing.T) {
	var a attempts
	now := time.Now()
	fail := func(now time.Time, l limit) admission {
		got, _ := a.start(now, l)
		if got == admitted {
			a.finish(now, true, l)
		}
		return got
	}
	victim := limit{"from here", 2}
	assert.Equal(t, admitted, fail(now, victim))
	assert.Equal(t, admitted, fail(now, victim))
	for i := range 2 * attemptsKept {
		assert.Equal(t, admitted, fail(now, limit{fmt.Sprint(i), 1}))
		if i%1000 == 0 {
			assert.Equal(t, blocked, fail(now, victim), "after %d others", i)
		}
	}
	assert.Len(t, a.seen, attemptsKept)
	assert.Equal(t, attemptsKept, a.order.Len())
	assert.Equal(t, blocked, fail(now, limit{fmt.Sprint(2*attemptsKept - 1), 1}), "the newest are kept")
	assert.Equal(t, admitted, fail(now.Add(attemptsWithin), victim))
}
