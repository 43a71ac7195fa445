package delivery

import (
	"errors"
	"sync"
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
)

// refusals remembers followers whose settings a newer release does not accept, so that requests
// receive the stored document instead of causing another attempt when it is no longer cached.
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
	refusalsKept = 10_000    // pockets; beyond that all are forgotten
	refusedFor   = time.Hour // then it is tried again, because views can also be stopped on a busy machine
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

// Refused reports whether err means that a release does not accept a publication. If so, it
// remembers that, and tells the operator that the pocket keeps an older release.
func (a *Delivery) Refused(err error, pub Publication, release int64) bool {
	var why *problem.Error
	if !errors.As(err, &why) {
		return false
	}
	a.refusals.add(pub.Key, refusal{pub.Number, release, a.now()})
	a.notice("a following pocket keeps its release, because the newest one cannot use its settings", "pocket", pub.Key, "publication", pub.Number, "why", why.Error(), "faults", fault.List(why.Faults).Error())
	return true
}
