package work

import (
	"context"
	"math/rand/v2"
	"time"
)

// Kind is a kind of task. To add one, write it in a file of its own, and add it to the list of
// kinds in internal/app.
type Kind struct {
	Name  string
	About string // for operators: what such a task is, as a heading
	// Run does a task. It may run more than once for a task, so it either writes its effect
	// together with Task.Done, or has an effect that is the same however often it happens.
	//
	// A *problem.Error fails the task, except one of kind Unavailable. Any other error is tried
	// again.
	Run   func(ctx context.Context, t Task) error
	Limit int           // how many may run at once
	Gap   time.Duration // at least, between the starts of two: a burst would take all processors from visitors
	Lasts time.Duration // the longest attempt; its context ends then
	Tries int           // attempts; after the last, the task fails. A recurring one is tried for ever
	Every time.Duration // how long after its end it starts again; 0 for a task that happens once
	Final string        // why a failed one cannot run again, and what to do instead; "" if it can
	Keep  time.Duration // how long finished ones are kept; 0 for ever
}

// may reports whether an attempt of a task may start. A recurring task is tried for ever.
func (k Kind) may(t Task) bool { return t.Attempts <= k.Tries || k.Every > 0 }

// Waits between attempts.
const (
	firstWait   = time.Second
	longestWait = 15 * time.Minute
)

// backoff returns the wait after an attempt, from 1: twice as long each time, and up to a quarter
// more or less, so that what failed together does not come back together.
func backoff(attempt int) time.Duration {
	wait := longestWait
	if attempt < 12 {
		wait = min(firstWait<<(attempt-1), longestWait)
	}
	return wait*3/4 + rand.N(wait/2)
}
