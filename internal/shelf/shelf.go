// Package shelf caches what is served to visitors in memory, and loads what is missing.
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

// Bytes is the size limit of the shelf.
const Bytes = 160 << 20

// Load loads one part of what is served under key.
type Load func(ctx context.Context, key string, part render.Part) (*app.Served, error)

// place identifies a part of a key. Most visitors load only the script, so parts are cached and
// loaded separately.
type place struct {
	key  string
	part render.Part
}

// Shelf is a bounded cache of what is served, including keys with nothing to serve, so that neither
// a large store nor a flood of invented keys fills the memory. It is safe for concurrent use.
type Shelf struct {
	cache *otter.Cache[place, *app.Served]
	load  Load
	group singleflight.Group
	stats Stats
}

// Stats counts requests to the shelf.
type Stats struct{ Hits, Loads, Failures atomic.Int64 }

// New returns an empty shelf of at most bytes bytes, usually Bytes.
func New(load Load, bytes uint64) *Shelf {
	return &Shelf{load: load, cache: otter.Must(&otter.Options[place, *app.Served]{
		MaximumWeight: bytes,
		Weigher: func(at place, e *app.Served) uint32 {
			w := 256 + len(at.key)
			if e.Document != nil {
				w += 2 * len(e.Document.Brotli) // gzip, if anybody requests it, is about as large as brotli
			}
			return uint32(w)
		},
	})}
}

// Stats returns the counters.
func (s *Shelf) Stats() *Stats { return &s.stats }

// Len returns the number of cached parts, and Weight their approximate size in bytes.
func (s *Shelf) Len() int       { return s.cache.EstimatedSize() }
func (s *Shelf) Weight() uint64 { return s.cache.WeightedSize() }

// Put sets what the next request for key receives, unless the shelf has something newer.
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

// Get returns one part of what is served under key. key need not outlive the call. Concurrent
// requests for a missing part share a load. If the store fails, the last version continues to be
// served.
func (s *Shelf) Get(ctx context.Context, key string, part render.Part) (*app.Served, error) {
	if e := s.held(place{key, part}); e != nil {
		s.stats.Hits.Add(1)
		return e, nil
	}
	key = strings.Clone(key) // its memory may belong to the request
	at := place{key, part}
	loaded, err, _ := s.group.Do(strconv.Itoa(int(part))+key, func() (any, error) {
		// Another load may have finished since the last check.
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
		// Something newer may have been published during the load: Put keeps the newer.
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
