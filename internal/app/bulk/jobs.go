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
	jobs       chan struct{} // signals that a job is waiting
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
	Notice     func(what string, about ...any) // see delivery.Options
	Now        func() time.Time
}

// New returns Jobs.
func New(o Options) *Jobs {
	return &Jobs{store: o.Store, customers: o.Customers, pockets: o.Pockets, publishing: o.Publishing, files: o.Files, jobs: make(chan struct{}, 1), notice: o.Notice, now: o.Now}
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
	Running   = "running"
	JobDone   = "done"
	JobFailed = "failed" // the whole job
)

// Job processes many pockets, one after another. It continues after a restart.
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
	var items []work.Item
	switch {
	case ask.Does == JobImport:
		for i, file := range ask.Files {
			about := struct{ Title string }{}
			_ = json.Unmarshal(file, &about) // faults in it are reported for the item
			if about.Title == "" {
				about.Title = fmt.Sprintf("file %d", i+1)
			}
			items = append(items, work.Item{Key: about.Title, Ask: file})
		}
	case ask.Query != nil:
		q := *ask.Query
		for q.Limit = 1000; ; {
			list, err := a.pockets.List(ctx, s, q)
			if err != nil {
				return Job{}, err
			}
			for _, p := range list {
				items = append(items, work.Item{Key: p.Key})
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
			items = append(items, work.Item{Key: key})
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
		items[i].Job, items[i].Number = j.ID, i+1
	}
	ask.Keys = nil
	j.Ask, _ = json.Marshal(ask)
	err := a.store.AddJob(ctx, j, items, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: s.Only(), Did: "start", Kind: "job", Of: j.ID, Note: ask.Does + ", " + problem.Counted(len(items), "pocket")}))
	if err == nil {
		a.wakeJobs()
	}
	return j, err
}

func (a *Jobs) wakeJobs() {
	select {
	case a.jobs <- struct{}{}:
	default:
	}
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
func (a *Jobs) Items(ctx context.Context, s access.Scope, id, outcome string, after, limit int) ([]work.Item, error) {
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
	err = a.store.FinishJob(ctx, id, work.Cancelled, "", a.now(), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: j.CustomerID, Did: "stop", Kind: "job", Of: id}))
	if errors.Is(err, problem.ErrChanged) {
		return &problem.Error{Kind: problem.Conflict, Code: "job-ended", What: "The job has already finished.", Hint: "Read the job to see its result."}
	}
	return err
}

// jobShare is how many items of a job are processed before it is another customer's turn.
const jobShare = 20

// Run processes jobs until ctx is done, in turn for each customer, so that a long job does not
// delay others. Jobs that a stop interrupted come first.
func (a *Jobs) Run(ctx context.Context) {
	for {
		list, err := a.store.RunningJobs(ctx)
		for _, j := range list {
			if err == nil {
				err = a.runJob(ctx, j)
			}
		}
		wait := time.Minute
		if err != nil && ctx.Err() == nil {
			a.notice("a job cannot continue and is retried", "error", err)
			wait = time.Second
		}
		if err == nil && len(list) > 0 {
			continue
		}
		select {
		case <-a.jobs:
		case <-time.After(wait):
		case <-ctx.Done():
			return
		}
	}
}

// runJob processes a share of a job's remaining items. The error is the store's.
func (a *Jobs) runJob(ctx context.Context, j Job) error {
	var ask Ask
	if err := json.Unmarshal(j.Ask, &ask); err != nil {
		return a.store.FinishJob(ctx, j.ID, JobFailed, "The file cannot be read.", a.now(), nil)
	}
	s := access.Scope{Role: j.Role, CustomerID: j.CustomerID, Name: j.By, Client: "job"}
	for range jobShare {
		if ctx.Err() != nil {
			break
		}
		item, err := a.store.NextJobItem(ctx, j.ID)
		if errors.Is(err, problem.ErrNotFound) {
			err := a.store.FinishJob(ctx, j.ID, JobDone, "", a.now(), nil)
			if errors.Is(err, problem.ErrChanged) {
				return nil // cancelled in the meantime
			}
			return err
		}
		if err != nil {
			return err
		}
		current, err := a.store.Job(ctx, j.ID)
		if err != nil || current.State != Running {
			return err
		}
		item.Outcome = work.Done
		err = a.doItem(ctx, s.Finishing(&item), ask, &item)
		var refused *problem.Error
		switch {
		case err == nil:
			continue // the change finished the item
		case errors.As(err, &refused) && refused.Kind != problem.Unavailable:
			item.Outcome, item.Made, item.Why, item.Hint = work.Failed, "", refused.What, refused.Hint
			if len(refused.Faults) > 0 {
				item.Why = refused.Faults[0].What
			}
		default:
			return err
		}
		if err := a.store.FinishJobItem(ctx, item); err != nil {
			return err
		}
	}
	return ctx.Err()
}

// doItem processes an item of a job. The change that it makes also finishes the item.
func (a *Jobs) doItem(ctx context.Context, s access.Scope, ask Ask, item *work.Item) error {
	switch ask.Does {
	case JobPublish:
		_, err := a.publishing.Publish(ctx, s, item.Key, publish.Draft{Follow: ask.Follow})
		return err
	case JobUnpublish:
		_, err := a.publishing.Unpublish(ctx, s, item.Key)
		return err
	case JobMove:
		_, err := a.publishing.Move(ctx, s, item.Key, ask.Release, ask.Follow)
		return err
	case JobDelete:
		return a.pockets.Delete(ctx, s, item.Key)
	case JobDuplicate:
		item.Made = pocket.NewKey()
		_, err := a.files.Duplicate(ctx, s, item.Key, ask.Customer, item.Made)
		return err
	case JobImport:
		item.Made = pocket.NewKey()
		_, err := a.files.Import(ctx, s, ask.Customer, item.Ask, item.Made)
		return err
	}
	return &problem.Error{Kind: problem.Invalid, Code: "does-unknown", What: "This program does not know this kind of job.", Hint: "Start the job again."}
}
