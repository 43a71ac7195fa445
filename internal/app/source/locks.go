package source

import "sync"

// locks lets one goroutine at a time work on each source.
type locks struct {
	mu   sync.Mutex
	held map[string]*held
}

type held struct {
	sync.Mutex
	wanted int // by how many, with the one that has it
}

// lock waits for the lock of a source.
func (l *locks) lock(id string) (unlock func()) {
	l.mu.Lock()
	h := l.held[id]
	if h == nil {
		h = &held{}
		l.held[id] = h
	}
	h.wanted++
	l.mu.Unlock()
	h.Lock()
	return func() { l.unlock(id, h) }
}

// try is lock, unless somebody has the lock.
func (l *locks) try(id string) (unlock func(), ok bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.held[id] != nil {
		return nil, false
	}
	h := &held{wanted: 1}
	h.Lock()
	l.held[id] = h
	return func() { l.unlock(id, h) }, true
}

func (l *locks) unlock(id string, h *held) {
	h.Unlock()
	l.mu.Lock()
	defer l.mu.Unlock()
	if h.wanted--; h.wanted == 0 {
		delete(l.held, id)
	}
}
