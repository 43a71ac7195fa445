package slots

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// One customer's queue leaves the other slot free for others, and a slot is released after a panic.
func TestSlots(t *testing.T) {
	s := New(2)
	release, err := s.acquire(t.Context(), "kelp")
	require.NoError(t, err)
	over, cancel := context.WithCancel(t.Context())
	waiting := make(chan error)
	for range 5 { // kelp's others wait behind the first
		go func() { _, err := s.acquire(over, "kelp"); waiting <- err }()
	}
	assert.Eventually(t, func() bool { s.mu.Lock(); defer s.mu.Unlock(); return s.each["kelp"].uses == 6 }, 5*time.Second, time.Millisecond)
	other, err := s.acquire(t.Context(), "saltmarsh")
	require.NoError(t, err)
	assert.Len(t, s.all, 2)
	cancel()
	for range 5 {
		assert.ErrorIs(t, <-waiting, context.Canceled)
	}
	other()
	func() {
		defer func() { assert.Equal(t, "broken image", recover()) }()
		defer release()
		panic("broken image")
	}()
	assert.Empty(t, s.each)
	assert.Empty(t, s.all)
}
