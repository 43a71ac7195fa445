package remote

import (
	"net/netip"
	"runtime"

	"github.com/maypok86/otter/v2"
	"golang.org/x/time/rate"
)

// Limits limits requests without an account whose responses are not cached: so many a second per
// network, and only as many at once as the machine has processors.
type Limits struct {
	networks *otter.Cache[netip.Prefix, *rate.Limiter]
	turns    chan struct{}
}

const (
	answersSecond  = 5
	answersBurst   = 60
	networksKept   = 10_000
	answersAtATime = 4
)

// NewLimits returns unused limits.
func NewLimits() *Limits {
	return &Limits{otter.Must(&otter.Options[netip.Prefix, *rate.Limiter]{MaximumSize: networksKept}), make(chan struct{}, max(answersAtATime, runtime.NumCPU()))}
}

// Allow reports whether a network may make another request now.
func (l *Limits) Allow(network netip.Prefix) bool {
	limiter, _ := l.networks.ComputeIfAbsent(network, func() (*rate.Limiter, bool) {
		return rate.NewLimiter(answersSecond, answersBurst), false
	})
	return limiter.Allow()
}

// Turn waits until a response may be made. Call done afterwards, also after a panic.
func (l *Limits) Turn() (done func()) {
	l.turns <- struct{}{}
	return func() { <-l.turns }
}
