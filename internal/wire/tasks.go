package wire

import "time"

// Task is a piece of background work.
type Task struct {
	ID        int64      `json:"id"`
	Kind      string     `json:"kind"`
	Of        string     `json:"of,omitempty"` // what it is about: a pocket's key, a name
	Customer  string     `json:"customer,omitempty"`
	Job       string     `json:"job,omitempty"`
	State     string     `json:"state"` // waiting, running, failed, done or cancelled
	Attempts  int        `json:"attempts"`
	Due       time.Time  `json:"due"`
	CreatedAt time.Time  `json:"createdAt"`
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	By        string     `json:"by,omitempty"`
	Why       string     `json:"why,omitempty"` // it failed, or the last attempt did
	Hint      string     `json:"hint,omitempty"`
	Recurs    bool       `json:"recurs,omitempty"`
}

// Tasks is a page of tasks, with all kinds.
type Tasks struct {
	Tasks []Task     `json:"tasks"`
	Next  string     `json:"next,omitempty"`
	Kinds []TaskKind `json:"kinds"`
}

// TaskKind is a kind of task, with the numbers of its tasks.
type TaskKind struct {
	Name    string `json:"name"`
	About   string `json:"about"`
	Waiting int    `json:"waiting"`
	Running int    `json:"running"`
	Failed  int    `json:"failed"`
}
