package app

import (
	"errors"
	"sync"
	"time"

	"glasspocket/internal/fault"
)

// refusals remembers which followers a newer release does not take, so that a visitor whose
// document has left memory gets the stored one instead of one more try.
type refusals struct {
	mu  sync.Mutex
	key map[string]refusal
}

type refusal struct {
	publication int
	release     int64
	at          time.Time
}

const (
	refusalsKept = 10_000    // pockets; then all are forgotten
	refusedFor   = time.Hour // then tried again: a busy machine stops views as well
)

func (r *refusals) has(key string, publication int, release int64, now time.Time) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	was, ok := r.key[key]
	return ok && was.publication == publication && was.release == release && now.Sub(was.at).Abs() < refusedFor
}

func (r *refusals) add(key string, it refusal) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.key == nil || len(r.key) >= refusalsKept {
		r.key = map[string]refusal{}
	}
	r.key[key] = it
}

// refused tells whether err says that a release does not take a publication. If so it is
// remembered, and the operator is told that the pocket stays with an older one.
func (a *App) refused(err error, pub Publication, release int64) bool {
	var why *Error
	if !errors.As(err, &why) {
		return false
	}
	a.refusals.add(pub.Key, refusal{pub.Number, release, a.now()})
	a.notice("a following pocket keeps its release, because the newest one cannot use its settings", "pocket", pub.Key, "publication", pub.Number, "why", why.Error(), "faults", fault.List(why.Faults).Error())
	return true
}
