package access

import (
	ordered "container/list"
	"net/netip"
	"sync"
	"time"

	"glasspocket/internal/problem"
)

// Attempts limits failed attempts by name and by network: guessing one person's password is slow,
// and so is trying one password with many names.
type Attempts struct {
	mu      sync.Mutex
	done    *sync.Cond                  // broadcast when an attempt finishes
	seen    map[string]*ordered.Element // elements of order, by name or network
	order   ordered.List                // of *tries, the most recent at the end
	waiting int
}

type tries struct {
	whose  string
	failed []time.Time
	open   int // started and not finished
}

// Limit is how many failed attempts are allowed within attemptsWithin.
type Limit struct {
	Whose string
	Most  int
}

const (
	NameAttempts    = 5
	AddressAttempts = 30
	attemptsWithin  = 5 * time.Minute
	attemptsKept    = 10_000 // so that a flood of invented names cannot fill the memory
	attemptsWaiting = 64
)

type admission int

const (
	admitted admission = iota
	blocked            // by failed attempts
	crowded            // too many attempts are waiting for others
)

// start admits an attempt unless failed ones have reached a limit. An attempt counts from its
// start, so that none of many concurrent ones passes while others are being checked. If the open
// ones might reach a limit, the attempt waits for them, so concurrent correct ones all succeed.
// When it is blocked, wait is the time until the first failure expires.
func (t *Attempts) start(now time.Time, limits ...Limit) (is admission, wait time.Duration) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.seen == nil {
		t.seen, t.done = map[string]*ordered.Element{}, sync.NewCond(&t.mu)
	}
	for {
		room := true
		for _, l := range limits {
			of := t.recent(now, l.Whose)
			if of == nil {
				continue
			}
			if len(of.failed) >= l.Most {
				t.order.MoveToBack(t.seen[l.Whose]) // it stays blocked, however many others try
				return blocked, of.failed[len(of.failed)-l.Most].Add(attemptsWithin).Sub(now)
			}
			room = room && len(of.failed)+of.open < l.Most
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
		e := t.seen[l.Whose]
		if e == nil {
			e = t.order.PushBack(&tries{whose: l.Whose})
			t.seen[l.Whose] = e
		}
		t.order.MoveToBack(e)
		e.Value.(*tries).open++
	}
	for e := t.order.Front(); len(t.seen) > attemptsKept && e != nil; {
		next := e.Next()
		if e.Value.(*tries).open == 0 { // there are few open ones, because hashing limits them
			t.drop(e)
		}
		e = next
	}
	return admitted, 0
}

// Try runs check as an attempt within its limits, or returns refusal.
func (t *Attempts) Try(now time.Time, refusal *problem.Error, check func() (failed bool, err error), limits ...Limit) error {
	switch is, wait := t.start(now, limits...); is {
	case blocked:
		refusal.Wait = wait
		return refusal
	case crowded:
		return TooManySignIns()
	}
	failed := false
	defer func() { t.finish(now, failed, limits...) }()
	var err error
	failed, err = check()
	return err
}

// finish records the result of an admitted try.
func (t *Attempts) finish(now time.Time, failed bool, limits ...Limit) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, l := range limits {
		e := t.seen[l.Whose]
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

// recent expires old failures. It returns nil if there is nothing to count.
func (t *Attempts) recent(now time.Time, whose string) *tries {
	e := t.seen[whose]
	if e == nil {
		return nil
	}
	of := e.Value.(*tries)
	kept := of.failed[:0]
	for _, at := range of.failed {
		if since := now.Sub(at); since < attemptsWithin && since > -attemptsWithin { // so that a clock that jumps back does not block anybody for long
			kept = append(kept, at)
		}
	}
	if of.failed = kept; len(kept) == 0 && of.open == 0 {
		t.drop(e)
		return nil
	}
	return of
}

func (t *Attempts) drop(e *ordered.Element) {
	delete(t.seen, e.Value.(*tries).whose)
	t.order.Remove(e)
}

// From returns the network as which limits count an address, as text.
func From(address string) string {
	at, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	return NetworkOf(at).String()
}

// NetworkOf returns the network as which limits count an address: people have a whole /64 of IPv6,
// and often several addresses in one /24 of IPv4.
func NetworkOf(at netip.Addr) netip.Prefix {
	bits := 64
	if at = at.Unmap(); at.Is4() {
		bits = 24
	}
	network, _ := at.Prefix(bits)
	return network
}

func TooManyLinks() *problem.Error {
	return &problem.Error{Kind: problem.TooMany, Code: "too-many-sign-ins", What: "There were too many failed attempts from this network.", Hint: "Wait five minutes."}
}

// TooManySignIns is the error when too many people sign in at once: hashing a password takes much
// memory, so few may run and few may wait.
func TooManySignIns() *problem.Error {
	return &problem.Error{Kind: problem.Unavailable, Code: "too-many-hashes", What: "Too many people are signing in at the moment.", Hint: "Try again in a few seconds.", Wait: 5 * time.Second}
}
