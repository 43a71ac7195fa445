package app

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/fault"
)

// What a job can do to each of many pockets.
const (
	JobPublish   = "publish"
	JobUnpublish = "unpublish"
	JobMove      = "move"      // to a release
	JobDuplicate = "duplicate" // to a customer
	JobDelete    = "delete"    // take away what is not published
	JobImport    = "import"    // files that were exported
)

var jobsDo = []string{JobPublish, JobUnpublish, JobMove, JobDuplicate, JobDelete, JobImport}

// The states of a job.
const (
	Running   = "running"
	JobDone   = "done"
	JobFailed = "failed" // the whole of it
)

// Job is long work on many pockets, one after another. It goes on after a restart.
type Job struct {
	ID         string          `db:"id"`
	Does       string          `db:"does"`
	CustomerID string          `db:"customer_id"` // of who asked, "" for the operator's
	Ask        json.RawMessage `db:"ask"`         // JobAsk
	By         string          `db:"by"`
	Client     string          `db:"client"`
	Role       Role            `db:"role"`
	CreatedAt  time.Time       `db:"created_at"`
	EndedAt    *time.Time      `db:"ended_at"`
	State      string          `db:"state"`
	Why        string          `db:"why"`
	Of         int             `db:"of"`     // items
	Done       int             `db:"done"`   // of those
	Failed     int             `db:"failed"` // likewise
}

// JobItem is one pocket of a job.
type JobItem struct {
	Job     string          `db:"job"`
	Number  int             `db:"number"`  // from 1
	Key     string          `db:"key"`     // of the pocket; the title of what is imported
	Ask     json.RawMessage `db:"ask"`     // the file to import, or nil
	Outcome string          `db:"outcome"` // "", "done" or "failed"
	Made    string          `db:"made"`    // key of what came of it
	Why     string          `db:"why"`
	Hint    string          `db:"hint"`
}

// JobAsk says what shall be done to which pockets.
type JobAsk struct {
	Does     string            `json:"does"`
	Keys     []string          `json:"keys,omitempty"`
	Release  int               `json:"release,omitempty"`  // to move to; the newest when 0
	Follow   *bool             `json:"follow,omitempty"`   // from then on; as before when nil
	Customer string            `json:"customer,omitempty"` // to copy or to import to
	Files    []json.RawMessage `json:"-"`                  // to import
	// Query picks all pockets of a list instead of Keys.
	Query *PocketQuery `json:"-"`
}

// JobMost is how many pockets one job may have.
const JobMost = 100_000

// StartJob begins long work.
func (a *App) StartJob(ctx context.Context, s Scope, ask JobAsk) (Job, error) {
	if err := s.require(publishPockets); err != nil {
		return Job{}, err
	}
	if !slices.Contains(jobsDo, ask.Does) {
		return Job{}, &Error{Kind: Invalid, Code: "does-unknown", Field: "does", What: fmt.Sprintf("A job cannot do %q.", ask.Does), Hint: fault.DidYouMean(ask.Does, jobsDo)}
	}
	if ask.Does == JobDuplicate || ask.Does == JobImport {
		if ask.Customer == "" {
			ask.Customer = s.CustomerID
		}
		if err := a.reach(ctx, s, editPockets, ask.Customer); err != nil {
			return Job{}, err
		}
	}
	var items []JobItem
	switch {
	case ask.Does == JobImport:
		for i, file := range ask.Files {
			about := struct{ Title string }{}
			_ = json.Unmarshal(file, &about) // what is wrong with it is told of the item
			if about.Title == "" {
				about.Title = fmt.Sprintf("file %d", i+1)
			}
			items = append(items, JobItem{Key: about.Title, Ask: file})
		}
	case ask.Query != nil:
		q := *ask.Query
		for q.Limit = 1000; ; {
			list, err := a.Pockets(ctx, s, q)
			if err != nil {
				return Job{}, err
			}
			for _, p := range list {
				items = append(items, JobItem{Key: p.Key})
			}
			if len(list) < q.Limit || len(items) > JobMost {
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
			if _, err := a.Pocket(ctx, s, key); err != nil {
				return Job{}, err
			}
			named[key] = true
			items = append(items, JobItem{Key: key})
		}
	}
	if len(items) == 0 && ask.Query != nil {
		return Job{}, &Error{Kind: Invalid, Code: "nothing-to-do", Field: "list", What: "No pockets match that list.", Hint: "Check the list, or use fewer filters."}
	}
	if len(items) == 0 {
		return Job{}, &Error{Kind: Invalid, Code: "nothing-to-do", Field: "keys", What: "The job has no pockets.", Hint: "Name the pockets, or send a list."}
	}
	if ask.Does == JobDuplicate || ask.Does == JobImport {
		if err := a.roomFor(ctx, s, ask.Customer, len(items)); err != nil {
			return Job{}, err
		}
	}
	if len(items) > JobMost {
		return Job{}, &Error{Kind: Invalid, Code: "too-many-pockets", Field: "keys", What: fmt.Sprintf("A job can have at most %d pockets.", JobMost), Hint: "Use more filters."}
	}
	if err := a.roomForJob(ctx, s); err != nil {
		return Job{}, err
	}
	j := Job{ID: strings.ToLower(rand.Text()[:12]), Does: ask.Does, CustomerID: s.only(), By: s.Name, Client: s.Client, Role: s.Role, CreatedAt: a.now(), State: Running, Of: len(items)}
	for i := range items {
		items[i].Job, items[i].Number = j.ID, i+1
	}
	ask.Keys = nil
	j.Ask, _ = json.Marshal(ask)
	err := a.store.AddJob(a.noting(ctx, s, Entry{CustomerID: s.only(), Did: "start", Kind: "job", Of: j.ID, Note: ask.Does + ", " + counted(len(items), "pocket")}), j, items)
	if err == nil {
		a.wakeJobs()
	}
	return j, err
}

func (a *App) wakeJobs() {
	select {
	case a.jobs <- struct{}{}:
	default:
	}
}

// Job tells how far a job has come.
func (a *App) Job(ctx context.Context, s Scope, id string) (Job, error) {
	if err := s.require(seeLists); err != nil {
		return Job{}, err
	}
	j, err := a.store.Job(ctx, id)
	if err == nil && !s.Operator() && j.CustomerID != s.CustomerID {
		err = ErrNotFound
	}
	if errors.Is(err, ErrNotFound) {
		return j, notFound("job", id, "List the jobs to see their IDs.")
	}
	return j, err
}

// Jobs lists the newest jobs in reach.
func (a *App) Jobs(ctx context.Context, s Scope, limit int) ([]Job, error) {
	if err := s.require(seeLists); err != nil {
		return nil, err
	}
	return a.store.Jobs(ctx, s.only(), limit)
}

// JobItems lists the items of a job with an outcome, those after a number.
func (a *App) JobItems(ctx context.Context, s Scope, id, outcome string, after, limit int) ([]JobItem, error) {
	if _, err := a.Job(ctx, s, id); err != nil {
		return nil, err
	}
	return a.store.JobItems(ctx, id, outcome, after, limit)
}

// CancelJob ends a job before it is through. What it has done stays done.
func (a *App) CancelJob(ctx context.Context, s Scope, id string) error {
	j, err := a.Job(ctx, s, id)
	if err != nil {
		return err
	}
	if err := s.require(publishPockets); err != nil {
		return err
	}
	err = a.store.FinishJob(a.noting(ctx, s, Entry{CustomerID: j.CustomerID, Did: "stop", Kind: "job", Of: id}), id, Cancelled, "", a.now())
	if errors.Is(err, ErrChanged) {
		return &Error{Kind: Conflict, Code: "job-ended", What: "The job has already finished.", Hint: "Read the job to see its result."}
	}
	return err
}

// jobShare is how many items of one job are worked on before those of another customer's.
const jobShare = 20

// RunJobs works on jobs until ctx ends: on one of each customer's in turn, so that a long one does
// not keep others waiting. Those that a stop has interrupted come first.
func (a *App) RunJobs(ctx context.Context) {
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

// runJob does a share of what is left of a job. The error is one of the store's.
func (a *App) runJob(ctx context.Context, j Job) error {
	var ask JobAsk
	if err := json.Unmarshal(j.Ask, &ask); err != nil {
		return a.store.FinishJob(ctx, j.ID, JobFailed, "The file cannot be read.", a.now())
	}
	s := Scope{Role: j.Role, CustomerID: j.CustomerID, Name: j.By, Client: "job"}
	for range jobShare {
		if ctx.Err() != nil {
			break
		}
		item, err := a.store.NextJobItem(ctx, j.ID)
		if errors.Is(err, ErrNotFound) {
			err := a.store.FinishJob(ctx, j.ID, JobDone, "", a.now())
			if errors.Is(err, ErrChanged) {
				return nil // cancelled at the last moment
			}
			return err
		}
		if err != nil {
			return err
		}
		now, err := a.store.Job(ctx, j.ID)
		if err != nil || now.State != Running {
			return err
		}
		item.Outcome = Done
		err = a.doItem(doing(ctx, &item), s, ask, &item)
		var refused *Error
		switch {
		case err == nil:
			continue // the change has ended the item
		case errors.As(err, &refused) && refused.Kind != Unavailable:
			item.Outcome, item.Made, item.Why, item.Hint = Failed, "", refused.What, refused.Hint
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

// doItem does one item of a job; the change that it makes ends the item.
func (a *App) doItem(ctx context.Context, s Scope, ask JobAsk, item *JobItem) error {
	switch ask.Does {
	case JobPublish:
		_, err := a.Publish(ctx, s, item.Key, Publish{Follow: ask.Follow})
		return err
	case JobUnpublish:
		_, err := a.Unpublish(ctx, s, item.Key)
		return err
	case JobMove:
		_, err := a.Move(ctx, s, item.Key, ask.Release, ask.Follow)
		return err
	case JobDelete:
		return a.DeletePocket(ctx, s, item.Key)
	case JobDuplicate:
		item.Made = newKey()
		_, err := a.DuplicatePocket(ctx, s, item.Key, ask.Customer, item.Made)
		return err
	case JobImport:
		item.Made = newKey()
		_, err := a.ImportPocket(ctx, s, ask.Customer, item.Ask, item.Made)
		return err
	}
	return &Error{Kind: Invalid, Code: "does-unknown", What: "This program does not know this kind of job.", Hint: "Start the job again."}
}
