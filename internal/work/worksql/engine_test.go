package worksql

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

// bench is an engine's surroundings: a store and a clock.
type bench struct {
	*WorkStore
	t     *testing.T
	mu    sync.Mutex
	clock time.Time
	told  []string
}

func newBench(t *testing.T) *bench {
	db, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	return &bench{WorkStore: New(db), t: t, clock: time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)}
}

func (b *bench) now() time.Time { b.mu.Lock(); defer b.mu.Unlock(); return b.clock }

func (b *bench) pass(d time.Duration) { b.mu.Lock(); defer b.mu.Unlock(); b.clock = b.clock.Add(d) }

func (b *bench) engine(kinds ...work.Kind) *work.Engine {
	return work.New(b, b.now, func(what string, about ...any) {
		b.mu.Lock()
		defer b.mu.Unlock()
		b.told = append(b.told, fmt.Sprint(append([]any{what}, about...)...))
	}, kinds...)
}

func (b *bench) add(list ...work.Task) {
	for i := range list {
		list[i].CreatedAt = b.now()
		if list[i].Due.IsZero() {
			list[i].Due = b.now()
		}
	}
	require.NoError(b.t, b.Write(b.t.Context(), func(tx *sqlx.Tx) error { return Add(tx, list...) }))
}

func (b *bench) task(id int64) (t work.Task) {
	require.NoError(b.t, b.Read.Get(&t, "SELECT * FROM tasks WHERE id = ?", id))
	return t
}

// One customer fills the queue; another one's only task is done in its turn.
func TestEveryCustomerHasATurn(t *testing.T) {
	b := newBench(t)
	const many = 100_000
	list := make([]work.Task, many, many+1)
	for i := range list {
		list[i] = work.Task{Kind: "job", CustomerID: "kelp", Of: fmt.Sprint(i)}
	}
	b.add(append(list, work.Task{Kind: "job", CustomerID: "saltmarsh", Of: "the one"})...)
	var order []string
	ctx, stop := context.WithCancel(t.Context())
	e := b.engine(work.Kind{Name: "job", Limit: 1, Lasts: time.Minute, Tries: 3, Run: func(_ context.Context, t work.Task) error {
		if order = append(order, t.CustomerID+" "+t.Of); len(order) == 9 {
			stop()
		}
		return nil
	}})
	e.Run(ctx)
	assert.Equal(t, []string{"kelp 0", "saltmarsh the one", "kelp 1", "kelp 2"}, order[:4])
}

// A claim goes round the customers, from the one after the last; each one's oldest task first. It does
// so too if there are more due tasks than it looks at.
func TestTurnsOfAClaim(t *testing.T) {
	for _, more := range []int{0, 2 * fewDue} {
		b := newBench(t)
		at := func(customer, of string, minutes int) work.Task {
			return work.Task{Kind: "job", CustomerID: customer, Of: of, Due: b.now().Add(time.Duration(minutes) * time.Minute)}
		}
		b.add(at("b", "b2", -1), at("b", "b1", -2), at("b", "b3", 0), at("c", "later", 1), at("d", "d1", 0), at("", "own", -9), at("a", "a1", -5),
			work.Task{Kind: "other", CustomerID: "e", Of: "other"})
		for i := range more {
			b.add(at("b", fmt.Sprint("more ", i), 0))
		}
		claim := func(after string, most int) (got []string) {
			list, err := b.ClaimTasks(t.Context(), "job", after, most, "mine", b.now(), b.now().Add(time.Hour))
			require.NoError(t, err)
			for _, t := range list {
				assert.Equal(b.t, [2]any{"mine", 1}, [2]any{t.Lease, t.Attempts})
				got = append(got, t.Of)
			}
			return got
		}
		assert.Equal(t, []string{"b1", "d1"}, claim("a", 2))
		assert.Equal(t, []string{"own", "a1", "b2", "b3"}, claim("d", 4))
		assert.Len(t, claim("b", 9), min(more, 9))
	}
}

func TestAttempts(t *testing.T) {
	b := newBench(t)
	fail := errors.New("no answer\nfrom the other side")
	kind := work.Kind{Name: "fetch", Limit: 1, Lasts: time.Minute, Tries: 3, Keep: time.Hour, Run: func(_ context.Context, t work.Task) error {
		switch t.Of {
		case "refused":
			return &problem.Error{Kind: problem.Invalid, What: "It is not a feed.", Hint: "Check the address."}
		case "later":
			if t.LeasedUntil != nil && b.now().Hour() == 9 {
				return work.Later{After: time.Hour}
			}
			return nil
		case "panics":
			panic("a broken feed")
		}
		return fail
	}}
	e := b.engine(kind)
	b.add(work.Task{Kind: "fetch", Of: "refused"}, work.Task{Kind: "fetch", Of: "later"}, work.Task{Kind: "fetch", Of: "panics"}, work.Task{Kind: "fetch", Of: "fails", Key: "once"}, work.Task{Kind: "fetch", Of: "again", Key: "once"})
	n, err := e.Drain(t.Context(), "fetch")
	require.NoError(t, err)
	assert.Equal(t, 4, n, "the same key is added once")
	got := b.task(1)
	assert.Equal(t, [4]string{work.Failed, "It is not a feed.", "Check the address.", ""}, [4]string{got.State(), got.Why, got.Hint, got.Lease})
	got = b.task(2)
	assert.Equal(t, [2]any{work.Waiting, 0}, [2]any{got.State(), got.Attempts}, "it has not failed")
	got = b.task(4)
	assert.Equal(t, [3]any{work.Waiting, 1, "no answer"}, [3]any{got.State(), got.Attempts, got.Why})
	assert.WithinDuration(t, b.now().Add(time.Second), got.Due, 300*time.Millisecond)
	for range 2 {
		b.pass(time.Minute)
		_, err = e.Drain(t.Context(), "fetch")
		require.NoError(t, err)
	}
	for _, id := range []int64{3, 4} {
		assert.Equal(t, [2]any{work.Failed, 3}, [2]any{b.task(id).State(), b.task(id).Attempts})
	}
	assert.Contains(t, b.task(3).Why, "a broken feed")
	b.pass(time.Hour)
	_, err = e.Drain(t.Context(), "fetch")
	require.NoError(t, err)
	assert.Equal(t, work.Done, b.task(2).State())
	b.add(work.Task{Kind: "fetch", Of: "after", Key: "once"})
	assert.Equal(t, work.Waiting, b.task(5).State(), "when one has ended, its key is free")
	require.NoError(t, b.PruneTasks(t.Context(), "fetch", b.now().Add(time.Second)))
	var left int
	require.NoError(t, b.Read.Get(&left, "SELECT count(*) FROM tasks"))
	assert.Equal(t, 1, left)
}

// A task whose engine has died is taken over; what the dead one still writes has no effect; and one
// that kills every engine fails at last.
func TestLeases(t *testing.T) {
	b := newBench(t)
	b.add(work.Task{Kind: "job", Of: "x"})
	claim := func(lease string) work.Task {
		list, err := b.ClaimTasks(t.Context(), "job", "", 5, lease, b.now(), b.now().Add(time.Minute))
		require.NoError(t, err)
		require.Len(t, list, 1)
		return list[0]
	}
	dead := claim("dead")
	list, err := b.ClaimTasks(t.Context(), "job", "", 5, "other", b.now(), b.now().Add(time.Minute))
	require.NoError(t, err)
	assert.Empty(t, list)
	b.pass(2 * time.Minute)
	require.NoError(t, b.ExpireLeases(t.Context(), b.now(), "other"))
	alive := claim("other")
	effect := func(c *work.Completion) error {
		return b.Write(t.Context(), func(tx *sqlx.Tx) error {
			if _, err := tx.Exec("INSERT INTO facts (name, value) VALUES ('effect', ?)", c.Lease); err != nil {
				return err
			}
			return Complete(tx, *c, b.now())
		})
	}
	assert.ErrorIs(t, effect(dead.Done("")), problem.ErrChanged)
	require.NoError(t, effect(alive.Done("")))
	assert.ErrorIs(t, b.CompleteTask(t.Context(), *alive.Done(""), b.now()), problem.ErrChanged, "it is finished once")
	var by string
	require.NoError(t, b.Read.Get(&by, "SELECT value FROM facts WHERE name = 'effect'"))
	assert.Equal(t, "other", by)

	b.add(work.Task{Kind: "job", Of: "poison"})
	for range 3 {
		claim("killed")
		require.NoError(t, b.ExpireLeases(t.Context(), time.Time{}, "next"))
	}
	_, err = b.engine(work.Kind{Name: "job", Limit: 1, Lasts: time.Minute, Tries: 3, Run: func(context.Context, work.Task) error { t.Error("it ran again"); return nil }}).Drain(t.Context(), "job")
	require.NoError(t, err)
	assert.Equal(t, [2]string{work.Failed, "the service stopped in the middle of it"}, [2]string{b.task(2).State(), b.task(2).Why})
}

// A stop cancels what runs, which does not count as an attempt; a recurring task runs again after
// its interval, also after it has failed; and no more run at once than may.
func TestRunAndStop(t *testing.T) {
	b := newBench(t)
	var ticks, most, now atomic.Int32
	started := make(chan bool, 9)
	kinds := []work.Kind{
		{Name: "tick", Limit: 1, Lasts: time.Minute, Every: time.Minute, Run: func(context.Context, work.Task) error {
			if ticks.Add(1) == 2 {
				return errors.New("not this time")
			}
			return nil
		}},
		{Name: "slow", Limit: 2, Lasts: time.Hour, Tries: 1, Run: func(ctx context.Context, _ work.Task) error {
			most.Store(max(most.Load(), now.Add(1)))
			defer now.Add(-1)
			started <- true
			<-ctx.Done()
			return ctx.Err()
		}},
	}
	b.add(work.Task{Kind: "slow", Of: "1"}, work.Task{Kind: "slow", Of: "2"}, work.Task{Kind: "slow", Of: "3"})
	run := func(until func() bool) {
		ctx, stop := context.WithCancel(t.Context())
		ended := make(chan bool)
		e := b.engine(kinds...)
		go func() { e.Run(ctx); close(ended) }()
		require.Eventually(t, func() bool { e.Wake(); return until() }, 10*time.Second, time.Millisecond)
		stop()
		<-ended
	}
	run(func() bool { return ticks.Load() == 1 && len(started) == 2 })
	for id := range int64(3) {
		got := b.task(id + 1)
		assert.Equal(t, [2]any{work.Waiting, 0}, [2]any{got.State(), got.Attempts})
	}
	assert.Equal(t, int32(2), most.Load())
	b.pass(time.Minute)
	run(func() bool { return ticks.Load() == 2 })
	b.pass(time.Minute)
	run(func() bool { return ticks.Load() == 3 })
	var count int
	require.NoError(t, b.Read.Get(&count, "SELECT count(*) FROM tasks WHERE kind = 'tick'"))
	assert.Equal(t, 1, count)
}

// An attempt can store its own result. The engine leaves the task as the attempt has left it.
func TestRecordedResult(t *testing.T) {
	b := newBench(t)
	later := b.now().Add(time.Hour)
	b.add(work.Task{Kind: "fetch", About: []byte("1")}, work.Task{Kind: "fetch", About: []byte("2")})
	e := b.engine(work.Kind{Name: "fetch", Limit: 4, Gap: time.Millisecond, Lasts: time.Minute, Tries: 3, Run: func(ctx context.Context, task work.Task) error {
		err := b.Write(ctx, func(tx *sqlx.Tx) error {
			return Postpone(ctx, tx, work.Postponed{Task: task.ID, Lease: task.Lease, Due: later, Attempts: task.Attempts - 1, About: []byte("next")})
		})
		return errors.Join(work.ErrRecorded, err)
	}})
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan bool)
	go func() { e.Run(ctx); close(ended) }()
	require.Eventually(t, func() bool { return string(b.task(1).About)+string(b.task(2).About) == "nextnext" }, 10*time.Second, time.Millisecond)
	stop()
	<-ended
	for id := range int64(2) {
		got := b.task(id + 1)
		assert.Equal(t, [3]any{work.Waiting, 0, true}, [3]any{got.State(), got.Attempts, got.Due.Equal(later)})
	}
	assert.Empty(t, b.told)
}

// A task that becomes due is done although those of another kind end and start all the time.
func TestBusyKindHoldsUpNoOther(t *testing.T) {
	b := newBench(t)
	ctx, stop := context.WithCancel(t.Context())
	const many = 2000
	var ended atomic.Int32
	before := int32(many)
	e := b.engine(
		work.Kind{Name: "short", Limit: 1, Lasts: time.Minute, Tries: 3, Run: func(context.Context, work.Task) error {
			b.pass(time.Second)
			if ended.Add(1) == many {
				stop()
			}
			return nil
		}},
		work.Kind{Name: "schedule", Limit: 1, Lasts: time.Minute, Tries: 3, Run: func(context.Context, work.Task) error {
			before = ended.Load()
			stop()
			return nil
		}})
	b.add(work.Task{Kind: "schedule", Due: b.now().Add(2 * time.Second)})
	b.add(slices.Repeat([]work.Task{{Kind: "short"}}, many)...)
	e.Run(ctx)
	assert.Less(t, before, int32(many))
}
