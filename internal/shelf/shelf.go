// Package shelf caches what is served to visitors in memory, and loads what is missing.
package shelf

import (
	"context"
	"strconv"
	"strings"
	"sync/atomic"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

// Bytes is the size limit of the shelf.
const Bytes = 160 << 20

// Load loads one part of what is served under key.
type Load func(ctx context.Context, key string, part render.Part) (*delivery.Served, error)

// place identifies a part of a key. Most visitors load only the script, so parts are cached and
// loaded separately.
type place struct {
	key  string
	part render.Part
}

// Shelf is a bounded cache of what is served, including keys with nothing to serve, so that neither
// a large store nor a flood of invented keys fills the memory. It is safe for concurrent use.
type Shelf struct {
	cache   *otter.Cache[place, *entry]
	load    Load
	signals *signal.Signals
	group   singleflight.Group
	stats   Stats
}

// entry is current until its watch has moved.
type entry struct {
	*delivery.Served
	watch signal.Watch
}

// Stats counts requests to the shelf.
type Stats struct{ Hits, Loads, Failures atomic.Int64 }

// New returns an empty shelf of at most bytes bytes, usually Bytes. It loads again what signals say
// has changed.
func New(load Load, signals *signal.Signals, bytes uint64) *Shelf {
	return &Shelf{load: load, signals: signals, cache: otter.Must(&otter.Options[place, *entry]{
		MaximumWeight: bytes,
		Weigher: func(at place, e *entry) uint32 {
			w := 256 + len(at.key)
			if e.Document != nil {
				w += len(e.Document.Brotli)
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

func (s *Shelf) held(at place) *delivery.Served {
	if e, ok := s.cache.GetIfPresent(at); ok && !e.watch.Moved() {
		return e.Served
	}
	return nil
}

// Get returns one part of what is served under key. key need not outlive the call. Concurrent
// requests for a missing part share a load. If the store fails, the last version continues to be
// served.
func (s *Shelf) Get(ctx context.Context, key string, part render.Part) (*delivery.Served, error) {
	if e := s.held(place{key, part}); e != nil {
		s.stats.Hits.Add(1)
		return e, nil
	}
	at := place{strings.Clone(key), part} // the key's memory may belong to the request
	var got *entry
	// The first load may have started before this request, and before a change that this request
	// must see. The second one cannot have.
	for range 2 {
		loaded, err, _ := s.group.Do(strconv.Itoa(int(part))+at.key, func() (any, error) { return s.fetch(ctx, at) })
		if err != nil {
			return nil, err
		}
		if got = loaded.(*entry); !got.watch.Moved() {
			break
		}
	}
	return got.Served, nil
}

// fetch loads a part that is missing or has moved.
func (s *Shelf) fetch(ctx context.Context, at place) (*entry, error) {
	// Another load may have finished since the last check.
	last, ok := s.cache.GetIfPresent(at)
	if ok && !last.watch.Moved() {
		return last, nil
	}
	s.stats.Loads.Add(1)
	since := s.signals.Now()
	served, err := s.load(context.WithoutCancel(ctx), at.key, at.part)
	if err != nil {
		s.stats.Failures.Add(1)
		if ok && !last.Withheld {
			return &entry{Served: last.Served}, nil
		}
		return nil, err
	}
	e := &entry{served, s.signals.Watch(since, served.Inputs...)}
	s.cache.Set(at, e)
	return e, nil
}
