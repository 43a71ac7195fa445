// Package bulk does one thing to many pockets, as a job in the background.
package bulk

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/portable"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/work"
)

// Jobs runs jobs. It is safe for concurrent use.
type Jobs struct {
	store      Store
	customers  *customer.Customers
	pockets    *pocket.Pockets
	publishing *publish.Publishing
	files      *portable.Files
	wake       func() // starts waiting tasks
	notice     func(what string, about ...any)
	now        func() time.Time
}

// Options are the parts of Jobs. All are required.
type Options struct {
	Store      Store
	Customers  *customer.Customers
	Pockets    *pocket.Pockets
	Publishing *publish.Publishing
	Files      *portable.Files
	Wake       func()                          // starts waiting tasks at once
	Notice     func(what string, about ...any) // see delivery.Options
	Now        func() time.Time
}

// New returns Jobs.
func New(o Options) *Jobs {
	return &Jobs{store: o.Store, customers: o.Customers, pockets: o.Pockets, publishing: o.Publishing, files: o.Files, wake: o.Wake, notice: o.Notice, now: o.Now}
}

// The actions of a job on each pocket.
const (
	JobPublish   = "publish"
	JobUnpublish = "unpublish"
	JobMove      = "move"      // to a release
	JobDuplicate = "duplicate" // to a customer
	JobDelete    = "delete"    // only unpublished ones
	JobImport    = "import"    // exported files
)

var jobsDo = []string{JobPublish, JobUnpublish, JobMove, JobDuplicate, JobDelete, JobImport}

// The states of a job.
const (
	Running = "running"
	JobDone = "done"
)

// Job does one thing to many pockets. Each is a task.
type Job struct {
	ID         string          `db:"id"`
	Does       string          `db:"does"`
	CustomerID string          `db:"customer_id"` // the user's, "" for the operator
	Ask        json.RawMessage `db:"ask"`         // JobAsk
	By         string          `db:"by"`
	Client     string          `db:"client"`
	Role       access.Role     `db:"role"`
	CreatedAt  time.Time       `db:"created_at"`
	EndedAt    *time.Time      `db:"ended_at"`
	State      string          `db:"state"`
	Why        string          `db:"why"`
	Of         int             `db:"of"`     // number of items
	Done       int             `db:"done"`   // number of finished items
	Failed     int             `db:"failed"` // number of failed items
}

// Ask says what to do with which pockets.
type Ask struct {
	Does     string            `json:"does"`
	Keys     []string          `json:"keys,omitempty"`
	Release  int               `json:"release,omitempty"`  // target release; 0 for the newest
	Follow   *bool             `json:"follow,omitempty"`   // whether they follow afterwards; nil for unchanged
	Customer string            `json:"customer,omitempty"` // target of copies or imports
	Files    []json.RawMessage `json:"-"`                  // to import
	// Query selects all pockets of a list instead of Keys.
	Query *pocket.Query `json:"-"`
}

// Most is the largest number of pockets in a job.
const Most = 100_000

// Start starts a job.
func (a *Jobs) Start(ctx context.Context, s access.Scope, ask Ask) (Job, error) {
	if err := s.Require(access.PublishPockets); err != nil {
		return Job{}, err
	}
	if !slices.Contains(jobsDo, ask.Does) {
		return Job{}, &problem.Error{Kind: problem.Invalid, Code: "does-unknown", Field: "does", What: fmt.Sprintf("A job cannot do %q.", ask.Does), Hint: fault.DidYouMean(ask.Does, jobsDo)}
	}
	if ask.Does == JobDuplicate || ask.Does == JobImport {
		if ask.Customer == "" {
			ask.Customer = s.CustomerID
		}
		if err := a.customers.Reach(ctx, s, access.EditPockets, ask.Customer); err != nil {
			return Job{}, err
		}
	}
	var items []work.Task
	switch {
	case ask.Does == JobImport:
		for i, file := range ask.Files {
			about := struct{ Title string }{}
			_ = json.Unmarshal(file, &about) // faults in it are reported for the item
			if about.Title == "" {
				about.Title = fmt.Sprintf("file %d", i+1)
			}
			items = append(items, work.Task{Of: about.Title, About: file})
		}
	case ask.Query != nil:
		q := *ask.Query
		for q.Limit = 1000; ; {
			list, err := a.pockets.List(ctx, s, q)
			if err != nil {
				return Job{}, err
			}
			for _, p := range list {
				items = append(items, work.Task{Of: p.Key})
			}
			if len(list) < q.Limit || len(items) > Most {
				break
			}
			mark := q.Mark(list[len(list)-1])
			q.After = &mark
		}
	default:
		named := map[string]bool{}
		for _, key := range ask.Keys {
			if named[key] {
				continue
			}
			if _, err := a.pockets.Get(ctx, s, key); err != nil {
				return Job{}, err
			}
			named[key] = true
			items = append(items, work.Task{Of: key})
		}
	}
	if len(items) == 0 && ask.Query != nil {
		return Job{}, &problem.Error{Kind: problem.Invalid, Code: "nothing-to-do", Field: "list", What: "No pockets match that list.", Hint: "Check the list, or use fewer filters."}
	}
	if len(items) == 0 {
		return Job{}, &problem.Error{Kind: problem.Invalid, Code: "nothing-to-do", Field: "keys", What: "The job has no pockets.", Hint: "Name the pockets, or send a list."}
	}
	if ask.Does == JobDuplicate || ask.Does == JobImport {
		if err := a.customers.RoomFor(ctx, s, ask.Customer, len(items)); err != nil {
			return Job{}, err
		}
	}
	if len(items) > Most {
		return Job{}, &problem.Error{Kind: problem.Invalid, Code: "too-many-pockets", Field: "keys", What: fmt.Sprintf("A job can have at most %d pockets.", Most), Hint: "Use more filters."}
	}
	if err := a.customers.RoomForJob(ctx, s); err != nil {
		return Job{}, err
	}
	j := Job{ID: strings.ToLower(rand.Text()[:12]), Does: ask.Does, CustomerID: s.Only(), By: s.Name, Client: s.Client, Role: s.Role, CreatedAt: a.now(), State: Running, Of: len(items)}
	for i := range items {
		t := &items[i]
		t.Kind, t.Job, t.Number, t.CustomerID, t.By, t.CreatedAt, t.Due = PocketTask, j.ID, i+1, j.CustomerID, j.By, j.CreatedAt, j.CreatedAt
	}
	ask.Keys = nil
	j.Ask, _ = json.Marshal(ask)
	err := a.store.AddJob(ctx, j, items, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: s.Only(), Did: "start", Kind: "job", Of: j.ID, Note: ask.Does + ", " + problem.Counted(len(items), "pocket")}))
	if err == nil {
		a.wake()
	}
	return j, err
}

// Get returns a job with its progress.
func (a *Jobs) Get(ctx context.Context, s access.Scope, id string) (Job, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return Job{}, err
	}
	j, err := a.store.Job(ctx, id)
	if err == nil && !s.Operator() && j.CustomerID != s.CustomerID {
		err = problem.ErrNotFound
	}
	if errors.Is(err, problem.ErrNotFound) {
		return j, problem.Missing("job", id, "List the jobs to see their IDs.")
	}
	return j, err
}

// List lists the newest visible jobs.
func (a *Jobs) List(ctx context.Context, s access.Scope, limit int) ([]Job, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return nil, err
	}
	return a.store.Jobs(ctx, s.Only(), limit)
}

// Items lists the finished items of a job after a number.
func (a *Jobs) Items(ctx context.Context, s access.Scope, id, outcome string, after, limit int) ([]work.Task, error) {
	if _, err := a.Get(ctx, s, id); err != nil {
		return nil, err
	}
	return a.store.JobItems(ctx, id, outcome, after, limit)
}

// Cancel cancels a job. Finished items stay as they are.
func (a *Jobs) Cancel(ctx context.Context, s access.Scope, id string) error {
	j, err := a.Get(ctx, s, id)
	if err != nil {
		return err
	}
	if err := s.Require(access.PublishPockets); err != nil {
		return err
	}
	err = a.store.CancelJob(ctx, id, a.now(), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: j.CustomerID, Did: "stop", Kind: "job", Of: id}))
	if errors.Is(err, problem.ErrChanged) {
		return &problem.Error{Kind: problem.Conflict, Code: "job-ended", What: "The job has already finished.", Hint: "Read the job to see its result."}
	}
	return err
}
