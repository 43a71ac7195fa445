package remote

import (
	"net/netip"
	"runtime"

	"github.com/maypok86/otter/v2"
	"golang.org/x/time/rate"
)

// Limits bounds what people without an account may ask for where each answer is made anew: so
// many a second for one network, and no more at once than the machine has processors.
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

// NewLimits makes limits of which nothing has been used.
func NewLimits() *Limits {
	return &Limits{otter.Must(&otter.Options[netip.Prefix, *rate.Limiter]{MaximumSize: networksKept}), make(chan struct{}, max(answersAtATime, runtime.NumCPU()))}
}

// Allow tells whether a network may ask once more now.
func (l *Limits) Allow(network netip.Prefix) bool {
	limiter, _ := l.networks.ComputeIfAbsent(network, func() (*rate.Limiter, bool) {
		return rate.NewLimiter(answersSecond, answersBurst), false
	})
	return limiter.Allow()
}

// Turn waits until an answer may be made; done has to be called after it, also after a panic.
func (l *Limits) Turn() (done func()) {
	l.turns <- struct{}{}
	return func() { <-l.turns }
}
