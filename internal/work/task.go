// Package work does what takes time or can fail in the background. A task is stored before anything
// is done, and finished in the write that has its effect, so that a crash neither loses it nor does
// it twice.
package work

import (
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// Task is a piece of background work.
type Task struct {
	ID   int64  `db:"id"`
	Kind string `db:"kind"`
	// Key, unless "", is what the task does: while one of a kind waits or runs, no other with the
	// same key is added.
	Key         string          `db:"key"`
	CustomerID  string          `db:"customer_id"` // whose turn it takes, "" for the operator
	Job         string          `db:"job"`         // ID of the job that it is a part of, or ""
	Number      int             `db:"number"`      // within the job, from 1
	Of          string          `db:"of"`          // what it is about, for people: a pocket's key, a name
	About       json.RawMessage `db:"about"`       // in the kind's own form
	CreatedAt   time.Time       `db:"created_at"`
	By          string          `db:"by"`  // who asked for it, "" for the service
	Due         time.Time       `db:"due"` // not before that
	Attempts    int             `db:"attempts"`
	Lease       string          `db:"lease"`        // of the attempt that is running, or ""
	LeasedUntil *time.Time      `db:"leased_until"` // then somebody else may try
	EndedAt     *time.Time      `db:"ended_at"`
	Outcome     string          `db:"outcome"`
	Why         string          `db:"why"`  // it failed, or the last attempt did
	Hint        string          `db:"hint"` // what to do about it
	Made        string          `db:"made"` // name of the result
}

// The outcomes of a task, of a schedule, and of a pocket in a job.
const (
	Waits     = ""
	Done      = "done"
	Cancelled = "cancelled"
	Failed    = "failed"
)

// The states of a task, for lists.
const (
	Waiting = "waiting"
	Running = "running"
)

// State returns the outcome, or whether the task is waiting or running.
func (t Task) State() string {
	switch {
	case t.EndedAt != nil:
		return t.Outcome
	case t.Lease != "":
		return Running
	}
	return Waiting
}

// Completion finishes a task. A write with a Completion has its effect and finishes the task, or
// neither: if another attempt has taken over, or somebody has cancelled the task, the write fails
// with problem.ErrChanged.
type Completion struct {
	Task    int64
	Lease   string
	Outcome string
	Made    string
	Why     string
	Hint    string
}

// Done returns the completion of an attempt that succeeds; made names its result, or is "".
func (t Task) Done(made string) *Completion {
	return &Completion{Task: t.ID, Lease: t.Lease, Outcome: Done, Made: made}
}

// Later is the error of an attempt that has to be repeated after a time, without having failed. About,
// unless nil, replaces the task's, so that the next attempt continues from there.
type Later struct {
	After time.Duration
	About json.RawMessage
}

func (l Later) Error() string { return fmt.Sprintf("again after %v", l.After) }

// ErrRecorded is the error of an attempt that has stored its own result: its task is finished, or waits.
var ErrRecorded = errors.New("the attempt has stored its own result")
