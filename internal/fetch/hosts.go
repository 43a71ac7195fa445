package fetch

import (
	"context"

	"github.com/maypok86/otter/v2"
	"golang.org/x/time/rate"
)

// Limits of the requests to one host, so that the service is a good guest there, whatever its
// customers ask for.
const (
	hostSecond = 2 // requests a second, on average
	hostBurst  = 10
	hostAtOnce = 2
	hostsKept  = 10_000
)

// hosts limits the requests to each host.
type hosts struct {
	known *otter.Cache[string, *host]
}

type host struct {
	limiter *rate.Limiter
	open    chan struct{}
}

func newHosts() *hosts {
	return &hosts{otter.Must(&otter.Options[string, *host]{MaximumSize: hostsKept})}
}

// turn waits for the turn of a request to a host. Call done after it. An own host has no limit per
// second.
func (h *hosts) turn(ctx context.Context, name string, own bool) (done func(), err error) {
	to, _ := h.known.ComputeIfAbsent(name, func() (*host, bool) {
		return &host{rate.NewLimiter(hostSecond, hostBurst), make(chan struct{}, hostAtOnce)}, false
	})
	select {
	case to.open <- struct{}{}:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	if own {
		return func() { <-to.open }, nil
	}
	if err := to.limiter.Wait(ctx); err != nil {
		<-to.open
		return nil, err
	}
	return func() { <-to.open }, nil
}
