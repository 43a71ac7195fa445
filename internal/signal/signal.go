// Package signal reports changes: an object, named by its kind and ID, has moved to a revision.
// Whoever changes an object emits a Change after the change is stored. Caches ask whether something
// they have read has moved since (Watch); streams and other processes are told (Subscribe).
package signal

import (
	"hash/maphash"
	"slices"
	"sync"
	"sync/atomic"
)

// Kind is the kind of an object.
type Kind string

// The kinds.
const (
	Pocket   Kind = "pocket"   // by key: published, unpublished, withheld or deleted
	Customer Kind = "customer" // by ID: brand, sites, or withheld
	Widget   Kind = "widget"   // by name: its releases in use
	Source   Kind = "source"   // by ID: its items
)

// Object is something that changes.
type Object struct {
	Kind Kind
	ID   string
}

// Change says that an object has moved to a revision. Revisions of an object grow. 0 means that the
// revision is unknown.
type Change struct {
	Object
	Revision int64
}

// counters is how many counters there are. Objects share them, which costs an unnecessary read now
// and then but needs neither a table of all objects nor a search for everything that a change
// affects.
const counters = 1 << 14

// Signals passes changes on. Use New. It is safe for concurrent use.
type Signals struct {
	clock atomic.Uint64 // counts the changes
	moved [counters]atomic.Uint64
	seed  maphash.Seed

	mu          sync.RWMutex
	subscribers []*func(Change)
}

// New returns Signals without subscribers.
func New() *Signals { return &Signals{seed: maphash.MakeSeed()} }

// Instant is a position in the sequence of changes.
type Instant uint64

// Now returns the present instant. Call it before reading what a Watch is for.
func (s *Signals) Now() Instant { return Instant(s.clock.Load()) }

func (s *Signals) counter(o Object) *atomic.Uint64 {
	var h maphash.Hash
	h.SetSeed(s.seed)
	h.WriteString(string(o.Kind))
	h.WriteByte(0)
	h.WriteString(o.ID)
	return &s.moved[h.Sum64()%counters]
}

// Emit reports a change that is stored. When it returns, every Watch of the object has moved, and
// every subscriber has been called.
func (s *Signals) Emit(c Change) {
	at, now := s.counter(c.Object), s.clock.Add(1)
	for was := at.Load(); was < now && !at.CompareAndSwap(was, now); was = at.Load() {
	}
	s.mu.RLock()
	list := s.subscribers
	s.mu.RUnlock()
	for _, tell := range list {
		(*tell)(c)
	}
}

// Subscribe calls tell with every change from now on, in the goroutine that emits it. tell must
// return quickly. After cancel, no further call starts.
func (s *Signals) Subscribe(tell func(Change)) (cancel func()) {
	at := &tell
	s.mu.Lock()
	defer s.mu.Unlock()
	s.subscribers = append(slices.Clone(s.subscribers), at) // Emit reads the old one without a lock
	return func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.subscribers = slices.DeleteFunc(slices.Clone(s.subscribers), func(each *func(Change)) bool { return each == at })
	}
}

// Watch tells whether any of some objects has moved since an instant.
type Watch struct {
	since uint64
	at    []*atomic.Uint64
}

// Watch returns a Watch of objects. Values that were read after since are current until it has
// moved.
func (s *Signals) Watch(since Instant, objects ...Object) Watch {
	w := Watch{uint64(since), make([]*atomic.Uint64, len(objects))}
	for i, o := range objects {
		w.at[i] = s.counter(o)
	}
	return w
}

// Moved reports whether an object may have moved. A Watch of nothing never moves.
func (w Watch) Moved() bool {
	for _, at := range w.at {
		if at.Load() > w.since {
			return true
		}
	}
	return false
}
