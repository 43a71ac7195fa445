// Package slots limits costly work.
package slots

import (
	"context"
	"sync"
)

// Slots limits costly work: only so much at once, and one piece per customer, so that one
// customer's queue does not delay others.
type Slots struct {
	all  chan struct{}
	mu   sync.Mutex
	each map[string]*slot
}

type slot struct {
	turn chan struct{}
	uses int // those that have it or wait for it
}

func New(most int) *Slots {
	return &Slots{all: make(chan struct{}, most), each: map[string]*slot{}}
}

// acquire waits for a slot of a customer. Call release when the work is done, also after a panic.
func (s *Slots) acquire(ctx context.Context, whose string) (release func(), err error) {
	s.mu.Lock()
	own := s.each[whose]
	if own == nil {
		own = &slot{turn: make(chan struct{}, 1)}
		s.each[whose] = own
	}
	own.uses++
	s.mu.Unlock()
	leave := func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		if own.uses--; own.uses == 0 {
			delete(s.each, whose)
		}
	}
	select {
	case own.turn <- struct{}{}:
	case <-ctx.Done():
		leave()
		return nil, ctx.Err()
	}
	select {
	case s.all <- struct{}{}:
	case <-ctx.Done():
		<-own.turn
		leave()
		return nil, ctx.Err()
	}
	return func() { <-s.all; <-own.turn; leave() }, nil
}

// Do runs work of a customer in a slot. The error is the context's: the work was not started.
func (s *Slots) Do(ctx context.Context, whose string, work func()) error {
	release, err := s.acquire(ctx, whose)
	if err != nil {
		return err
	}
	defer release()
	work()
	return nil
}
