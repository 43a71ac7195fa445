// Package task shows operators the background work, and lets them run a task now or cancel it.
package task

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/work"
)

// Store is the storage that Tasks needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	Task(ctx context.Context, id int64) (work.Task, error)                            // problem.ErrNotFound
	Tasks(ctx context.Context, q Query) ([]work.Task, error)                          // newest first
	CountTasks(ctx context.Context) ([]Count, error)                                  // by kind and state, without those that are done or cancelled
	RunTask(ctx context.Context, id int64, now time.Time, rec *audit.Record) error    // problem.ErrChanged if it is neither waiting nor failed
	CancelTask(ctx context.Context, id int64, now time.Time, rec *audit.Record) error // problem.ErrChanged if it has ended
}

// Engine does the tasks.
type Engine interface {
	Kinds() []work.Kind
	Wake()
	Stop(id int64)
}

// Tasks shows and controls background work. It is safe for concurrent use.
type Tasks struct {
	store  Store
	engine Engine
	now    func() time.Time
}

// New returns Tasks.
func New(store Store, engine Engine, now func() time.Time) *Tasks { return &Tasks{store, engine, now} }

// Query filters a list of tasks.
type Query struct {
	State  string // one of States, "" for all
	Kind   string // "" for all
	Before int64  // ID of a task; 0 for the newest
	Limit  int
}

// States are those by which a list can be filtered.
var States = []string{work.Waiting, work.Running, work.Failed, work.Done, work.Cancelled}

// Count is how many tasks of a kind are in a state.
type Count struct {
	Kind  string `db:"kind"`
	State string `db:"state"`
	Count int    `db:"count"`
}

// List lists tasks, the newest first.
func (a *Tasks) List(ctx context.Context, s access.Scope, q Query) ([]work.Task, error) {
	if err := s.Require(access.ManageTasks); err != nil {
		return nil, err
	}
	if q.State != "" && !slices.Contains(States, q.State) {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "state-unknown", Field: "state", What: fmt.Sprintf("There is no state %q.", q.State), Hint: fault.DidYouMean(q.State, States)}
	}
	var names []string
	for _, k := range a.engine.Kinds() {
		names = append(names, k.Name)
	}
	if q.Kind != "" && !slices.Contains(names, q.Kind) {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "kind-unknown", Field: "kind", What: fmt.Sprintf("There is no kind of task %q.", q.Kind), Hint: fault.DidYouMean(q.Kind, names)}
	}
	return a.store.Tasks(ctx, q)
}

// Kinds lists the kinds of tasks, with the numbers of those that wait, run and have failed.
func (a *Tasks) Kinds(ctx context.Context, s access.Scope) ([]work.Kind, []Count, error) {
	if err := s.Require(access.ManageTasks); err != nil {
		return nil, nil, err
	}
	counts, err := a.store.CountTasks(ctx)
	return a.engine.Kinds(), counts, err
}

// Counts returns the numbers of tasks for the metrics.
func (a *Tasks) Counts(ctx context.Context) ([]Count, error) { return a.store.CountTasks(ctx) }

func (a *Tasks) get(ctx context.Context, s access.Scope, id int64) (work.Task, error) {
	if err := s.Require(access.ManageTasks); err != nil {
		return work.Task{}, err
	}
	t, err := a.store.Task(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return t, problem.Missing("task", fmt.Sprint(id), "List the tasks to see their numbers. Finished ones are deleted after a while.")
	}
	return t, err
}

func (a *Tasks) kind(name string) (k work.Kind) {
	for _, k = range a.engine.Kinds() {
		if k.Name == name {
			return k
		}
	}
	return work.Kind{}
}

// Run runs a waiting task now, or a failed one again. If it runs already, nothing changes.
func (a *Tasks) Run(ctx context.Context, s access.Scope, id int64) (work.Task, error) {
	t, err := a.get(ctx, s, id)
	if err != nil {
		return t, err
	}
	if t.State() == work.Failed && a.kind(t.Kind).Final != "" {
		return t, &problem.Error{Kind: problem.Conflict, Code: "task-final", What: "This task has failed and cannot run again.", Hint: a.kind(t.Kind).Final}
	}
	err = a.store.RunTask(ctx, id, a.now(), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: t.CustomerID, Did: "run", Kind: "task", Of: fmt.Sprint(id), Note: t.Kind + " " + t.Of}))
	if errors.Is(err, problem.ErrChanged) {
		if t, err := a.get(ctx, s, id); err != nil || t.State() == work.Running {
			return t, err // it runs already
		}
		return t, &problem.Error{Kind: problem.Conflict, Code: "task-not-waiting", What: fmt.Sprintf("Task %d is neither waiting nor failed.", id), Hint: "Read the list again. It may be running, or have ended."}
	}
	if err != nil {
		return t, err
	}
	a.engine.Wake()
	return a.get(ctx, s, id)
}

// Cancel cancels a task that waits or runs.
func (a *Tasks) Cancel(ctx context.Context, s access.Scope, id int64) error {
	t, err := a.get(ctx, s, id)
	if err != nil {
		return err
	}
	if k := a.kind(t.Kind); k.Every > 0 {
		return &problem.Error{Kind: problem.Conflict, Code: "task-recurs", What: "This task recurs, so it cannot be cancelled.", Hint: "It stops with the service."}
	}
	err = a.store.CancelTask(ctx, id, a.now(), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: t.CustomerID, Did: "stop", Kind: "task", Of: fmt.Sprint(id), Note: t.Kind + " " + t.Of}))
	if errors.Is(err, problem.ErrChanged) {
		return &problem.Error{Kind: problem.Conflict, Code: "task-ended", What: fmt.Sprintf("Task %d has already ended.", id), Hint: "Read the list again to see its result."}
	}
	a.engine.Stop(id)
	return err
}
