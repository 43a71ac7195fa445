package app

import (
	ordered "container/list"
	"net/netip"
	"sync"
	"time"
)

// attempts limits failed tries by whom they are of: guessing one person's password is slow, and so
// is trying one password on many names.
type attempts struct {
	mu      sync.Mutex
	done    *sync.Cond                  // broadcast when a try ends
	seen    map[string]*ordered.Element // of *tries
	order   ordered.List                // the most recent ones at the end
	waiting int
}

type tries struct {
	whose  string
	failed []time.Time
	open   int // started and not yet ended
}

// limit is how many failed tries somebody may have within attemptsWithin.
type limit struct {
	whose string
	most  int
}

const (
	nameAttempts    = 5
	addressAttempts = 30
	attemptsWithin  = 5 * time.Minute
	attemptsKept    = 10_000 // a flood of made-up names must not fill the memory
	attemptsWaiting = 64
)

type admission int

const (
	admitted admission = iota
	blocked            // by failed tries
	crowded            // too many tries wait for others to end
)

// start admits a try unless failed ones reach a limit. A try counts against its limits from its
// start, so that of many at once none slips through while others are checked. If the open ones
// might reach a limit, the try waits until they have ended: correct ones at once all succeed.
// When it is blocked, wait is until the first failure that blocks it expires.
func (t *attempts) start(now time.Time, limits ...limit) (is admission, wait time.Duration) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.seen == nil {
		t.seen, t.done = map[string]*ordered.Element{}, sync.NewCond(&t.mu)
	}
	for {
		room := true
		for _, l := range limits {
			of := t.recent(now, l.whose)
			if of == nil {
				continue
			}
			if len(of.failed) >= l.most {
				t.order.MoveToBack(t.seen[l.whose]) // still blocked, however many others try
				return blocked, of.failed[len(of.failed)-l.most].Add(attemptsWithin).Sub(now)
			}
			room = room && len(of.failed)+of.open < l.most
		}
		if room {
			break
		}
		if t.waiting >= attemptsWaiting {
			return crowded, 0
		}
		t.waiting++
		t.done.Wait()
		t.waiting--
	}
	for _, l := range limits {
		e := t.seen[l.whose]
		if e == nil {
			e = t.order.PushBack(&tries{whose: l.whose})
			t.seen[l.whose] = e
		}
		t.order.MoveToBack(e)
		e.Value.(*tries).open++
	}
	for e := t.order.Front(); len(t.seen) > attemptsKept && e != nil; {
		next := e.Next()
		if e.Value.(*tries).open == 0 { // open ones are few: hashing bounds them
			t.drop(e)
		}
		e = next
	}
	return admitted, 0
}

// try makes a try within its limits, or returns refusal.
func (t *attempts) try(now time.Time, refusal *Error, check func() (failed bool, err error), limits ...limit) error {
	switch is, wait := t.start(now, limits...); is {
	case blocked:
		refusal.Wait = wait
		return refusal
	case crowded:
		return tooManyHashes()
	}
	failed := false
	defer func() { t.finish(now, failed, limits...) }()
	var err error
	failed, err = check()
	return err
}

// finish records the result of an admitted try.
func (t *attempts) finish(now time.Time, failed bool, limits ...limit) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, l := range limits {
		e := t.seen[l.whose]
		of := e.Value.(*tries)
		of.open--
		if failed {
			of.failed = append(of.failed, now)
		} else if of.open == 0 && len(of.failed) == 0 {
			t.drop(e)
		}
	}
	t.done.Broadcast()
}

// recent expires old failures; nil means that there is nothing to count.
func (t *attempts) recent(now time.Time, whose string) *tries {
	e := t.seen[whose]
	if e == nil {
		return nil
	}
	of := e.Value.(*tries)
	kept := of.failed[:0]
	for _, at := range of.failed {
		if since := now.Sub(at); since < attemptsWithin && since > -attemptsWithin { // a clock that jumps back blocks nobody for long
			kept = append(kept, at)
		}
	}
	if of.failed = kept; len(kept) == 0 && of.open == 0 {
		t.drop(e)
		return nil
	}
	return of
}

func (t *attempts) drop(e *ordered.Element) {
	delete(t.seen, e.Value.(*tries).whose)
	t.order.Remove(e)
}

// networkOf is what limits count an address as.
func networkOf(address string) string {
	at, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	return NetworkOf(at).String()
}

// NetworkOf is the network that limits count an address as: people have a whole /64 of IPv6, and
// often several addresses of one /24 of IPv4.
func NetworkOf(at netip.Addr) netip.Prefix {
	bits := 64
	if at = at.Unmap(); at.Is4() {
		bits = 24
	}
	network, _ := at.Prefix(bits)
	return network
}
