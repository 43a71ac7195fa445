package access

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// The table of tries is bounded, and a flood of others unblocks nobody who goes on trying.
func TestAFloodUnblocksNobody(t *testing.T) {
	var a Attempts
	now := time.Now()
	fail := func(now time.Time, l Limit) admission {
		got, _ := a.start(now, l)
		if got == admitted {
			a.finish(now, true, l)
		}
		return got
	}
	victim := Limit{"from here", 2}
	assert.Equal(t, admitted, fail(now, victim))
	assert.Equal(t, admitted, fail(now, victim))
	for i := range 2 * attemptsKept {
		assert.Equal(t, admitted, fail(now, Limit{fmt.Sprint(i), 1}))
		if i%1000 == 0 {
			assert.Equal(t, blocked, fail(now, victim), "after %d others", i)
		}
	}
	assert.Len(t, a.seen, attemptsKept)
	assert.Equal(t, attemptsKept, a.order.Len())
	assert.Equal(t, blocked, fail(now, Limit{fmt.Sprint(2*attemptsKept - 1), 1}), "the newest are kept")
	assert.Equal(t, admitted, fail(now.Add(attemptsWithin), victim))
}
