package app

import (
	ordered "container/list"
	"net/netip"
	"sync"
	"time"
)

// attempts limits tries by whom they are of: guessing one person's password is slow, and so is
// trying one password on many names.
type attempts struct {
	mu    sync.Mutex
	seen  map[string]*ordered.Element // of *tries
	order ordered.List                // the ones tried last at the end
}

type tries struct {
	whose string
	at    []time.Time
}

// limit is how many tries somebody may make within attemptsWithin.
type limit struct {
	whose string
	most  int
}

const (
	nameAttempts    = 5
	addressAttempts = 30
	attemptsWithin  = 5 * time.Minute
	attemptsKept    = 10_000 // a flood of made-up names must not fill the memory
)

// take counts a try against each limit, unless it would exceed one. Tries are counted before they
// are made: of many at once, none slips through while the others are being checked.
func (t *attempts) take(now time.Time, limits ...limit) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.seen == nil {
		t.seen = map[string]*ordered.Element{}
	}
	for _, l := range limits {
		if e := t.recent(now, l.whose); e != nil && len(e.Value.(*tries).at) >= l.most {
			t.order.MoveToBack(e) // still blocked, however many others try
			return false
		}
	}
	for _, l := range limits {
		e := t.seen[l.whose]
		if e == nil {
			e = t.order.PushBack(&tries{whose: l.whose})
			t.seen[l.whose] = e
		}
		t.order.MoveToBack(e)
		of := e.Value.(*tries)
		of.at = append(of.at, now)
	}
	for len(t.seen) > attemptsKept {
		t.drop(t.order.Front())
	}
	return true
}

// succeeded takes a try back that was counted at that moment.
func (t *attempts) succeeded(at time.Time, limits ...limit) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, l := range limits {
		e := t.seen[l.whose]
		if e == nil {
			continue
		}
		of := e.Value.(*tries)
		for i, each := range of.at {
			if each.Equal(at) {
				of.at = append(of.at[:i], of.at[i+1:]...)
				break
			}
		}
		if len(of.at) == 0 {
			t.drop(e)
		}
	}
}

// recent forgets what is long ago.
func (t *attempts) recent(now time.Time, whose string) *ordered.Element {
	e := t.seen[whose]
	if e == nil {
		return nil
	}
	of := e.Value.(*tries)
	kept := of.at[:0]
	for _, at := range of.at {
		if since := now.Sub(at); since < attemptsWithin && since > -attemptsWithin { // a clock that jumps back blocks nobody for long
			kept = append(kept, at)
		}
	}
	if of.at = kept; len(kept) == 0 {
		t.drop(e)
		return nil
	}
	return e
}

func (t *attempts) drop(e *ordered.Element) {
	delete(t.seen, e.Value.(*tries).whose)
	t.order.Remove(e)
}

// networkOf is what limits count an address as: people have a whole /64 of IPv6, and often
// several addresses of one /24 of IPv4.
func networkOf(address string) string {
	at, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	bits := 64
	if at = at.Unmap(); at.Is4() {
		bits = 24
	}
	network, _ := at.Prefix(bits)
	return network.String()
}
