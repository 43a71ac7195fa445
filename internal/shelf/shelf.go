// Package shelf holds what visitors are served in memory, and loads what it does not hold.
package shelf

import (
	"context"
	"strconv"
	"strings"
	"sync/atomic"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"

	"glasspocket/internal/app"
	"glasspocket/internal/render"
)

// Bytes is how much the shelf may hold.
const Bytes = 160 << 20

// Load fetches one part of what is served under key.
type Load func(ctx context.Context, key string, part render.Part) (*app.Served, error)

// place is where a part of a key stands on the shelf. Most visitors take the script, so
// the parts stand apart and each is loaded by itself.
type place struct {
	key  string
	part render.Part
}

// Shelf is a bounded cache of what is served, and of keys that have nothing, so that
// neither a large store nor a flood of made-up keys fills the memory. It is safe for
// concurrent use.
type Shelf struct {
	cache *otter.Cache[place, *app.Served]
	load  Load
	group singleflight.Group
	stats Stats
}

// Stats counts what the shelf was asked.
type Stats struct{ Hits, Loads, Failures atomic.Int64 }

// New makes an empty shelf of at most bytes, usually Bytes.
func New(load Load, bytes uint64) *Shelf {
	return &Shelf{load: load, cache: otter.Must(&otter.Options[place, *app.Served]{
		MaximumWeight: bytes,
		Weigher: func(at place, e *app.Served) uint32 {
			w := 256 + len(at.key)
			if e.Document != nil {
				w += 2 * len(e.Document.Brotli) // gzip, should anybody ask for it, comes out near brotli's size
			}
			return uint32(w)
		},
	})}
}

// Stats returns the counters.
func (s *Shelf) Stats() *Stats { return &s.stats }

// Len is how many parts of keys are held, and Weight about how many bytes they take.
func (s *Shelf) Len() int       { return s.cache.EstimatedSize() }
func (s *Shelf) Weight() uint64 { return s.cache.WeightedSize() }

// Put makes served what the next request for key gets, unless something newer stands there.
func (s *Shelf) Put(key string, part render.Part, served *app.Served) {
	s.cache.Compute(place{key, part}, func(old *app.Served, found bool) (*app.Served, otter.ComputeOp) {
		if found && old.Publication > served.Publication {
			return old, otter.CancelOp
		}
		return served, otter.WriteOp
	})
}

func (s *Shelf) held(at place) *app.Served {
	if e, ok := s.cache.GetIfPresent(at); ok && e.Fresh() {
		return e
	}
	return nil
}

// Get returns one part of what is served under key, which need not outlive the call. Requests for one missing key share a load. When
// the store fails, what was last served goes on being served.
func (s *Shelf) Get(ctx context.Context, key string, part render.Part) (*app.Served, error) {
	if e := s.held(place{key, part}); e != nil {
		s.stats.Hits.Add(1)
		return e, nil
	}
	key = strings.Clone(key) // it may lie in a request that will be over
	at := place{key, part}
	loaded, err, _ := s.group.Do(strconv.Itoa(int(part))+key, func() (any, error) {
		// Whoever looked just before an earlier load ended comes here just after it.
		if e := s.held(at); e != nil {
			return e, nil
		}
		s.stats.Loads.Add(1)
		served, err := s.load(context.WithoutCancel(ctx), key, part)
		if err != nil {
			s.stats.Failures.Add(1)
			if e, ok := s.cache.GetIfPresent(at); ok && !e.Withheld {
				return e, nil
			}
			return nil, err
		}
		// A publish may have put a newer one while this was loading: Put keeps the newer.
		s.Put(key, part, served)
		return served, nil
	})
	if err != nil {
		return nil, err
	}
	if e := s.held(at); e != nil {
		return e, nil
	}
	return loaded.(*app.Served), nil
}
