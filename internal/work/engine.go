package work

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"runtime/debug"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"glasspocket/internal/problem"
)

// Engine does tasks. Use New. It is safe for concurrent use.
type Engine struct {
	store  Store
	kinds  []*running
	lease  string // of this engine
	wake   chan struct{}
	freed  chan struct{} // like wake, only for the kinds of ended attempts
	notice func(what string, about ...any)
	now    func() time.Time

	mu      sync.Mutex
	cancels map[int64]context.CancelFunc // of running attempts
}

// running is a kind with what runs of it.
type running struct {
	Kind
	free    chan struct{} // one for each attempt that may start
	after   string        // the customer whose turn was last
	again   atomic.Bool   // an attempt has ended
	next    time.Time     // before that none starts
	claimed time.Time     // when the last ones were claimed
}

// New returns an engine for kinds of tasks. notice tells the operator what nobody else can be told;
// about has keys and values alternately.
func New(store Store, now func() time.Time, notice func(what string, about ...any), kinds ...Kind) *Engine {
	e := &Engine{store: store, lease: rand.Text(), wake: make(chan struct{}, 1), freed: make(chan struct{}, 1), notice: notice, now: now, cancels: map[int64]context.CancelFunc{}}
	for _, k := range kinds {
		r := &running{Kind: k, free: make(chan struct{}, k.Limit)}
		for range k.Limit {
			r.free <- struct{}{}
		}
		e.kinds = append(e.kinds, r)
	}
	return e
}

// Kinds returns the kinds.
func (e *Engine) Kinds() []Kind {
	list := make([]Kind, len(e.kinds))
	for i, k := range e.kinds {
		list[i] = k.Kind
	}
	return list
}

// Wake makes the engine look for due tasks. Call it after adding one that should start at once.
func (e *Engine) Wake() {
	select {
	case e.wake <- struct{}{}:
	default:
	}
}

// Stop cancels the running attempt of a task that somebody has cancelled.
func (e *Engine) Stop(id int64) {
	e.mu.Lock()
	defer e.mu.Unlock()
	if cancel := e.cancels[id]; cancel != nil {
		cancel()
	}
}

// How often the engine looks for due tasks, whatever the clock does, and for leases that have ended;
// and how long a lease lasts.
const (
	lookEvery   = time.Second
	lookAgain   = 100 * time.Millisecond // while there are due tasks: many that come one by one start so, and not all in a burst
	expireEvery = 30 * time.Second
	leaseLasts  = 2 * time.Minute
	pruneEvery  = time.Hour
)

// Run does tasks until ctx is done, and then waits for the running attempts, which are cancelled. It
// takes over the tasks of an earlier engine: only one may use a store at a time.
func (e *Engine) Run(ctx context.Context) {
	var all sync.WaitGroup
	defer all.Wait()
	told, only := false, false
	note := func(err error) {
		if err != nil && ctx.Err() == nil && !told {
			e.notice("background work cannot continue at the moment and is retried", "error", err)
		}
		told = err != nil
	}
	note(e.begin(ctx))
	look, next := time.NewTimer(lookEvery), time.Now().Add(lookEvery)
	defer look.Stop()
	within := func(d time.Duration) { // only earlier, or tasks that end all the time would put it off for ever
		if at := time.Now().Add(d); at.Before(next) {
			next = at
			look.Reset(d)
		}
	}
	expire := time.NewTicker(expireEvery)
	defer expire.Stop()
	prune := time.NewTicker(pruneEvery)
	defer prune.Stop()
	for ctx.Err() == nil {
		started, err := e.start(ctx, &all, only)
		note(err)
		if started {
			within(lookAgain)
		}
		only = false
		select {
		case <-e.wake:
		case <-e.freed:
			only = true
		case <-look.C:
			next = time.Now().Add(lookEvery)
			look.Reset(lookEvery)
		case <-expire.C:
			note(errors.Join(e.store.RenewLease(ctx, e.lease, e.now().Add(leaseLasts)), e.store.ExpireLeases(ctx, e.now(), e.lease)))
		case <-prune.C:
			note(e.prune(ctx))
		case <-ctx.Done():
		}
	}
}

// ended makes the engine look for the next tasks of a kind, after an attempt.
func (e *Engine) ended(k *running) {
	k.free <- struct{}{}
	k.again.Store(true)
	select {
	case e.freed <- struct{}{}:
	default:
	}
}

// begin takes back what an earlier engine was doing when it stopped, and adds the recurring tasks.
func (e *Engine) begin(ctx context.Context) error {
	if err := e.store.ExpireLeases(ctx, time.Time{}, e.lease); err != nil {
		return err
	}
	for _, k := range e.kinds {
		if k.Every == 0 {
			continue
		}
		if err := e.store.AddTask(ctx, Task{Kind: k.Name, Key: k.Name, CreatedAt: e.now(), Due: e.now()}); err != nil {
			return err
		}
	}
	return nil
}

func (e *Engine) prune(ctx context.Context) error {
	for _, k := range e.kinds {
		if k.Keep == 0 {
			continue
		}
		if err := e.store.PruneTasks(ctx, k.Name, e.now().Add(-k.Keep)); err != nil {
			return err
		}
	}
	return nil
}

// start starts due tasks, as many as may run, of every kind, or only of those of which an attempt
// has ended. Tasks that start with a gap are claimed together, in few writes.
func (e *Engine) start(ctx context.Context, all *sync.WaitGroup, only bool) (started bool, err error) {
	for _, k := range e.kinds {
		free, again := len(k.free), k.again.Swap(false)
		if free == 0 || only && !again {
			continue
		}
		if k.Gap > 0 && time.Since(k.claimed) < lookAgain {
			started = true // it is looked at again soon
			continue
		}
		now := e.now()
		list, err := e.store.ClaimTasks(ctx, k.Name, k.after, free, e.lease, now, now.Add(leaseLasts))
		if err != nil {
			return started, err
		}
		if len(list) > 0 {
			started, k.claimed = true, time.Now()
		}
		for _, t := range list {
			k.after = t.CustomerID
			<-k.free
			at := time.Now()
			if at.Before(k.next) {
				at = k.next
			}
			k.next = at.Add(k.Gap)
			all.Go(func() {
				defer e.ended(k)
				select {
				case <-time.After(time.Until(at)):
				case <-ctx.Done():
				}
				e.attempt(ctx, k.Kind, t)
			})
		}
	}
	return started, nil
}

// Drain does everything of some kinds that is due, one task after another, and returns how many
// attempts it made. Do not call it while Run runs.
func (e *Engine) Drain(ctx context.Context, kinds ...string) (attempts int, err error) {
	if err := e.begin(ctx); err != nil {
		return 0, err
	}
	for {
		before := attempts
		for _, k := range e.kinds {
			if !slices.Contains(kinds, k.Name) {
				continue
			}
			list, err := e.store.ClaimTasks(ctx, k.Name, k.after, 1, e.lease, e.now(), e.now().Add(leaseLasts))
			if err != nil {
				return attempts, err
			}
			for _, t := range list {
				k.after = t.CustomerID
				e.attempt(ctx, k.Kind, t)
				attempts++
			}
		}
		if attempts == before {
			return attempts, nil
		}
	}
}

// attempt does a task once, and records what came of it.
func (e *Engine) attempt(ctx context.Context, k Kind, t Task) {
	running, cancel := context.WithTimeout(ctx, k.Lasts)
	defer cancel()
	e.mu.Lock()
	e.cancels[t.ID] = cancel
	e.mu.Unlock()
	defer func() {
		e.mu.Lock()
		delete(e.cancels, t.ID)
		e.mu.Unlock()
	}()
	err := errors.New("the service stopped in the middle of it")
	if k.may(t) {
		err = safely(running, k, t)
	}
	// Also after a stop, so that the task is not done again for nothing.
	if err := e.record(context.WithoutCancel(ctx), ctx.Err() != nil, k, t, err); err != nil && !errors.Is(err, problem.ErrChanged) {
		e.notice("the result of a task cannot be stored, so it is done again", "task", t.ID, "kind", t.Kind, "error", err)
	}
}

// safely turns a panic into an error, because one task must not stop the service.
func safely(ctx context.Context, k Kind, t Task) (err error) {
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("panic: %v\n%s", r, debug.Stack())
		}
	}()
	return k.Run(ctx, t)
}

// record stores the result of an attempt. problem.ErrChanged means that the attempt itself has
// finished the task, or that somebody has cancelled it.
func (e *Engine) record(ctx context.Context, stopped bool, k Kind, t Task, err error) error {
	var refused *problem.Error
	var later Later
	failed := Completion{Task: t.ID, Lease: t.Lease, Outcome: Failed}
	switch {
	case errors.Is(err, ErrRecorded):
		return nil
	case err == nil && k.Every > 0:
		return e.store.PostponeTask(ctx, Postponed{Task: t.ID, Lease: t.Lease, Due: e.now().Add(k.Every)})
	case err == nil:
		return e.store.CompleteTask(ctx, *t.Done(""), e.now())
	case errors.As(err, &later):
		return e.store.PostponeTask(ctx, Postponed{Task: t.ID, Lease: t.Lease, Due: e.now().Add(later.After), Attempts: t.Attempts - 1, About: later.About})
	case stopped && k.may(t): // the attempt does not count
		return e.store.PostponeTask(ctx, Postponed{Task: t.ID, Lease: t.Lease, Due: t.Due, Attempts: t.Attempts - 1, Why: t.Why})
	case errors.As(err, &refused) && refused.Kind != problem.Unavailable && k.Every == 0:
		failed.Why, failed.Hint = refused.What, refused.Hint
		if len(refused.Faults) > 0 {
			failed.Why = refused.Faults[0].What
		}
		return e.store.CompleteTask(ctx, failed, e.now())
	case t.Attempts < k.Tries || k.Every > 0:
		e.notice("a task failed and is tried again", "task", t.ID, "kind", t.Kind, "of", t.Of, "attempt", t.Attempts, "error", err)
		return e.store.PostponeTask(ctx, Postponed{Task: t.ID, Lease: t.Lease, Due: e.now().Add(backoff(t.Attempts)), Attempts: t.Attempts, Why: firstLine(err)})
	}
	e.notice("a task failed", "task", t.ID, "kind", t.Kind, "of", t.Of, "error", err)
	failed.Why, failed.Hint = firstLine(err), "Find the cause in the log, then run the task again."
	return e.store.CompleteTask(ctx, failed, e.now())
}

// whyMost is the longest reason that is stored, in bytes.
const whyMost = 500

func firstLine(err error) string {
	text := err.Error()
	for i, r := range text {
		if r == '\n' || i >= whyMost {
			return text[:i]
		}
	}
	return text
}
