package signal

import (
	"fmt"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWatch(t *testing.T) {
	s := New()
	kelp, ferry := Object{Pocket, "kelp"}, Object{Widget, "kelp"}
	before := s.Now()
	both, none := s.Watch(before, kelp, ferry), s.Watch(before)
	assert.False(t, both.Moved())
	s.Emit(Change{Object{Customer, "kelp"}, 1})
	assert.False(t, both.Moved(), "another kind with the same ID")
	s.Emit(Change{ferry, 2})
	assert.True(t, both.Moved())
	assert.False(t, none.Moved())
	assert.True(t, s.Watch(before, ferry).Moved(), "it moved between the instant and the watch")
	assert.False(t, s.Watch(s.Now(), kelp, ferry).Moved())
}

// A reader that takes the instant, then the value, never takes a value for current that is older
// than one whose change has been reported.
func TestNoChangeIsMissed(t *testing.T) {
	s := New()
	o := Object{Pocket, "k"}
	var value, reported atomic.Int64
	var all sync.WaitGroup
	all.Go(func() {
		for n := range int64(20_000) {
			value.Store(n)
			s.Emit(Change{o, n})
			reported.Store(n)
		}
	})
	for range 4 {
		all.Go(func() {
			for range 20_000 {
				since := s.Now()
				read := value.Load()
				w := s.Watch(since, o)
				if n := reported.Load(); !w.Moved() && read < n {
					assert.Fail(t, "stale", "read %d, reported %d", read, n)
				}
			}
		})
		all.Go(func() {
			for range 5_000 {
				s.Emit(Change{Object{Customer, "other"}, 0})
			}
		})
	}
	all.Wait()
	assert.False(t, s.Watch(s.Now(), o).Moved())
}

func TestSubscribe(t *testing.T) {
	s := New()
	var told []string
	cancel := s.Subscribe(func(c Change) { told = append(told, fmt.Sprint("first ", c.ID, c.Revision)) })
	s.Subscribe(func(c Change) { told = append(told, "second "+string(c.Kind)) })
	s.Emit(Change{Object{Pocket, "k"}, 7})
	cancel()
	s.Emit(Change{Object{Widget, "w"}, 1})
	assert.Equal(t, []string{"first k7", "second pocket", "second widget"}, told)
}
