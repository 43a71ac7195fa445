package app

import (
	"sync"
	"time"
)

// attempts limits failed sign-ins by name and by address: guessing one person's password
// is slow, and so is trying one password on many names.
type attempts struct {
	mu   sync.Mutex
	seen map[string][]time.Time
}

const (
	nameAttempts    = 5
	addressAttempts = 30
	attemptsWithin  = 5 * time.Minute
	attemptsKept    = 10_000 // a flood of made-up names must not fill the memory
)

// blocked tells whether whose has failed most times lately.
func (t *attempts) blocked(now time.Time, whose string, most int) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	recent := t.seen[whose][:0]
	for _, at := range t.seen[whose] {
		if since := now.Sub(at); since < attemptsWithin && since > -attemptsWithin { // a clock that jumps back blocks nobody for long
			recent = append(recent, at)
		}
	}
	if len(recent) == 0 {
		delete(t.seen, whose)
	} else {
		t.seen[whose] = recent
	}
	return len(recent) >= most
}

func (t *attempts) failed(now time.Time, whose ...string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.seen) > attemptsKept {
		t.seen = map[string][]time.Time{}
	}
	for _, w := range whose {
		t.seen[w] = append(t.seen[w], now)
	}
}
