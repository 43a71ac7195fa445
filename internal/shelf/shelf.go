// Package shelf holds what visitors are served in memory, and loads what it does not hold.
package shelf

import (
	"context"
	"sync/atomic"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"

	"glasspocket/internal/app"
	"glasspocket/internal/render"
)

// Bytes is how much the shelf may hold.
const Bytes = 160 << 20

// Load fetches what is served under key.
type Load func(ctx context.Context, key string) (*app.Served, error)

// Shelf is a bounded cache of what is served, and of keys that have nothing, so that
// neither a large store nor a flood of made-up keys fills the memory. It is safe for
// concurrent use.
type Shelf struct {
	cache *otter.Cache[string, *app.Served]
	load  Load
	group singleflight.Group
	stats Stats
}

// Stats counts what the shelf was asked.
type Stats struct{ Hits, Loads, Failures atomic.Int64 }

// New makes an empty shelf of at most bytes, usually Bytes.
func New(load Load, bytes uint64) *Shelf {
	return &Shelf{load: load, cache: otter.Must(&otter.Options[string, *app.Served]{
		MaximumWeight: bytes,
		Weigher: func(key string, e *app.Served) uint32 {
			w := 256 + len(key)
			if d := e.Delivery; d != nil {
				for _, part := range []render.Encoded{d.Script, d.JSON, d.Page} {
					w += 2 * len(part.Brotli) // gzip, should anybody ask for it, comes out near brotli's size
				}
			}
			return uint32(w)
		},
	})}
}

// Stats returns the counters.
func (s *Shelf) Stats() *Stats { return &s.stats }

// Len is how many keys are held, and Weight about how many bytes they take.
func (s *Shelf) Len() int       { return s.cache.EstimatedSize() }
func (s *Shelf) Weight() uint64 { return s.cache.WeightedSize() }

// Put makes served what the next request for key gets, unless something newer stands there.
func (s *Shelf) Put(key string, served *app.Served) {
	s.cache.Compute(key, func(old *app.Served, found bool) (*app.Served, otter.ComputeOp) {
		if found && old.Publication > served.Publication {
			return old, otter.CancelOp
		}
		return served, otter.WriteOp
	})
}

func (s *Shelf) held(key string) *app.Served {
	if e, ok := s.cache.GetIfPresent(key); ok && e.Fresh() {
		return e
	}
	return nil
}

// Get returns what is served under key. Requests for one missing key share a load. When
// the store fails, what was last served goes on being served.
func (s *Shelf) Get(ctx context.Context, key string) (*app.Served, error) {
	if e := s.held(key); e != nil {
		s.stats.Hits.Add(1)
		return e, nil
	}
	loaded, err, _ := s.group.Do(key, func() (any, error) {
		// Whoever looked just before an earlier load ended comes here just after it.
		if e := s.held(key); e != nil {
			return e, nil
		}
		s.stats.Loads.Add(1)
		served, err := s.load(context.WithoutCancel(ctx), key)
		if err != nil {
			s.stats.Failures.Add(1)
			if e, ok := s.cache.GetIfPresent(key); ok && !e.Withheld {
				return e, nil
			}
			return nil, err
		}
		// A publish may have put a newer one while this was loading: Put keeps the newer.
		s.Put(key, served)
		return served, nil
	})
	if err != nil {
		return nil, err
	}
	if e := s.held(key); e != nil {
		return e, nil
	}
	return loaded.(*app.Served), nil
}
