// Package shelf holds what visitors are served in memory, and loads what it does not hold.
package shelf

import (
	"context"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"

	"glasspocket/internal/render"
)

// Bytes is how much the shelf may hold.
const Bytes = 160 << 20

// Load fetches what is published under key: nil for nothing. Publication counts upwards.
type Load func(ctx context.Context, key string) (d *render.Delivery, publication int, err error)

// Shelf is a bounded cache of deliveries, and of keys that have none, so that neither a
// large store nor a flood of made-up keys fills the memory. It is safe for concurrent use.
type Shelf struct {
	cache *otter.Cache[string, entry]
	load  Load
	group singleflight.Group
}

type entry struct {
	delivery    *render.Delivery // nil: nothing published
	publication int
}

// New makes an empty shelf.
func New(load Load) *Shelf {
	return &Shelf{load: load, cache: otter.Must(&otter.Options[string, entry]{
		MaximumWeight: Bytes,
		Weigher: func(key string, e entry) uint32 {
			w := 256 + len(key)
			if d := e.delivery; d != nil {
				for _, part := range []render.Encoded{d.Script, d.JSON, d.Page} {
					w += len(part.Plain) + 2*len(part.Brotli) // gzip comes out near brotli's size
				}
			}
			return uint32(w)
		},
	})}
}

// Put makes d what the next request for key gets, unless something newer stands there.
func (s *Shelf) Put(key string, publication int, d *render.Delivery) {
	s.cache.Compute(key, func(old entry, found bool) (entry, otter.ComputeOp) {
		if found && old.publication > publication {
			return old, otter.CancelOp
		}
		return entry{d, publication}, otter.WriteOp
	})
}

// Get returns what is published under key, or nil. Requests for one missing key share a load.
func (s *Shelf) Get(ctx context.Context, key string) (*render.Delivery, error) {
	if e, ok := s.cache.GetIfPresent(key); ok {
		return e.delivery, nil
	}
	loaded, err, _ := s.group.Do(key, func() (any, error) {
		// Whoever looked just before an earlier load ended comes here just after it.
		if e, ok := s.cache.GetIfPresent(key); ok {
			return e.delivery, nil
		}
		d, publication, err := s.load(context.WithoutCancel(ctx), key)
		if err != nil {
			return nil, err
		}
		// A publish may have put a newer one while this was loading: Put keeps the newer.
		s.Put(key, publication, d)
		return d, nil
	})
	if err != nil {
		return nil, err
	}
	if e, ok := s.cache.GetIfPresent(key); ok {
		return e.delivery, nil
	}
	return loaded.(*render.Delivery), nil
}
