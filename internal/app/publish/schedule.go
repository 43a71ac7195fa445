package publish

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/work"
)

// The actions of a schedule.
const (
	DoPublish   = "publish"   // the draft as it was when it was scheduled
	DoRestore   = "restore"   // an older publication
	DoUnpublish = "unpublish" // take the pocket offline
)

// Schedule is an action for a pocket at a set time.
type Schedule struct {
	ID          int64           `db:"id"`
	Key         string          `db:"key"`
	CustomerID  string          `db:"customer_id"`
	Due         time.Time       `db:"due"`
	Moment      string          `db:"moment"` // as entered, with its zone
	Does        string          `db:"does"`
	Number      int             `db:"number"`      // number of the publication to restore
	Publication json.RawMessage `db:"publication"` // scheduled: what to publish
	// References are what it refers to. They are written with it, and not read.
	References []content.Reference `db:"-"`
	CreatedAt  time.Time           `db:"created_at"`
	By         string              `db:"by"`
	Client     string              `db:"client"`
	EndedAt    *time.Time          `db:"ended_at"`
	Outcome    string              `db:"outcome"`
	Why        string              `db:"why"`  // the reason why it failed
	Made       int                 `db:"made"` // number of the resulting publication
}

// scheduled is the stored form of a publication that waits for its time.
type scheduled struct {
	ReleaseID int64 `json:"releaseId"`
	Release   int   `json:"release"`
	content.Content
	Heights  json.RawMessage `json:"heights"`
	Revision int             `json:"revision"`
}

// NewSchedule has the options of a schedule.
type NewSchedule struct {
	Does   string
	Number int    // to restore
	Draft  Draft  // to publish
	At     string // a moment with its zone
	// Back, unless "", is the moment at which the current live version, or nothing, returns.
	Back string
}

// SchedulesMost is the largest number of waiting schedules of a pocket.
const SchedulesMost = 20

// Schedule schedules a pocket to be published, restored or unpublished. It stores the draft as it
// is now: later changes of the draft are not included.
func (a *Publishing) Schedule(ctx context.Context, s access.Scope, key string, n NewSchedule) ([]Schedule, error) {
	p, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return nil, err
	}
	if err := s.Require(access.PublishPockets); err != nil {
		return nil, err
	}
	now := a.now()
	due, err := ahead("at", n.At, now)
	if err != nil {
		return nil, err
	}
	first := Schedule{Key: key, CustomerID: p.CustomerID, Due: due.At, Moment: due.String(), Does: n.Does, CreatedAt: now, By: s.Name, Client: s.Client, Publication: []byte("{}")}
	switch n.Does {
	case DoPublish:
		pub, err := a.snapshot(ctx, p, n.Draft)
		if err != nil {
			return nil, err
		}
		// A draft that cannot be shown is refused now, not at the scheduled time.
		pub.Key, pub.CustomerID, pub.Number = key, p.CustomerID, p.Newest+1
		if _, _, err := a.delivery.Build(ctx, pub.ReleaseID, delivery.Target{Widget: p.Widget, Lot: p.Lot}, pub); err != nil {
			return nil, err
		}
		first.Publication, _ = json.Marshal(scheduled{pub.ReleaseID, pub.Release, pub.Content, pub.Heights, pub.Revision})
		first.References = pub.References
	case DoRestore:
		if n.Number == p.Publication {
			p.Publication = 0 // another one may be live by then
		}
		if _, err := a.again(ctx, p, n.Number); err != nil {
			return nil, err
		}
		first.Number = n.Number
	case DoUnpublish:
	default:
		return nil, &problem.Error{Kind: problem.Invalid, Code: "does-unknown", Field: "does", What: fmt.Sprintf("A schedule cannot do %q.", n.Does), Hint: fault.DidYouMean(n.Does, []string{DoPublish, DoRestore, DoUnpublish})}
	}
	list := []Schedule{first}
	if n.Back != "" {
		back, err := ahead("back", n.Back, now)
		if err != nil {
			return nil, err
		}
		if !back.At.After(due.At) {
			return nil, &problem.Error{Kind: problem.Invalid, Code: "back-too-early", Field: "back", What: "The end is before the start.", Hint: "Choose a later time."}
		}
		second := first
		second.Due, second.Moment, second.Publication, second.References, second.Does, second.Number = back.At, back.String(), []byte("{}"), nil, DoUnpublish, 0
		if p, err = a.pockets.Get(ctx, s, key); err != nil {
			return nil, err
		}
		if p.Publication > 0 {
			second.Does, second.Number = DoRestore, p.Publication
		}
		list = append(list, second)
	}
	waiting, err := a.store.WaitingSchedules(ctx, key)
	if err != nil {
		return nil, err
	}
	if len(waiting)+len(list) > SchedulesMost {
		return nil, &problem.Error{Kind: problem.Conflict, Code: "too-many-schedules", What: fmt.Sprintf("A pocket can have at most %d waiting schedules.", SchedulesMost), Hint: "Cancel some first."}
	}
	ids, err := a.store.AddSchedules(ctx, list, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "schedule", Kind: "pocket", Of: key, Note: n.Does + " at " + due.String()}))
	for i, id := range ids {
		list[i].ID = id
	}
	return list, err
}

// ahead reads a moment in the future. In an hour that a change of clocks skips, it counts from the
// hour before; in a repeated hour, the first one counts, unless the offset selects the second (see
// setting.ReadMoment).
func ahead(field, text string, now time.Time) (setting.Moment, error) {
	m, f := setting.ReadMoment(text)
	if f != nil {
		f.Field = field
		return m, problem.Faulty("moment-faulty", f.What, fault.List{*f})
	}
	if !m.At.After(now) {
		return m, &problem.Error{Kind: problem.Invalid, Code: "moment-past", Field: field, What: fmt.Sprintf("%s is in the past.", m), Hint: "Choose a time in the future, or do it now."}
	}
	return m, nil
}

// Schedules lists a pocket's schedules before an ID (0 for all), the newest first.
func (a *Publishing) Schedules(ctx context.Context, s access.Scope, key string, before int64, limit int) ([]Schedule, error) {
	if _, err := a.pockets.Get(ctx, s, key); err != nil {
		return nil, err
	}
	return a.store.Schedules(ctx, key, before, limit)
}

// CancelSchedule cancels a schedule.
func (a *Publishing) CancelSchedule(ctx context.Context, s access.Scope, key string, id int64) error {
	p, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.Require(access.PublishPockets); err != nil {
		return err
	}
	list, err := a.store.WaitingSchedules(ctx, key)
	if err != nil {
		return err
	}
	for _, each := range list {
		if each.ID == id {
			err := a.store.FinishSchedule(ctx, id, a.now(), work.Cancelled, "", audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "cancel-schedule", Kind: "pocket", Of: key, Note: each.Does + " at " + each.Moment}))
			if !errors.Is(err, problem.ErrChanged) {
				return err
			}
		}
	}
	return problem.Missing("schedule", fmt.Sprint(id), "List the schedules. It may already have happened.")
}

// Task is the kind of task that does what is scheduled. Only one runs at a time, so that schedules
// of a pocket that were due while the service was stopped happen in their order.
func (a *Publishing) Task() work.Kind {
	return work.Kind{Name: ScheduleTask, About: "Scheduled change of a pocket", Limit: 1, Lasts: time.Minute, Tries: 100, Final: "Schedule the pocket again.", Keep: 30 * 24 * time.Hour, Run: a.run}
}

// ScheduleTask is the name of the kind. The key of a task is the ID of its schedule.
const ScheduleTask = "schedule"

// run runs a schedule. It finishes in the same write as its action, whatever the clock does.
func (a *Publishing) run(ctx context.Context, t work.Task) error {
	id, err := strconv.ParseInt(t.Key, 10, 64)
	if err != nil {
		return err
	}
	each, err := a.store.WaitingSchedule(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return nil // it has been cancelled, or its pocket has been deleted
	}
	if err != nil {
		return err
	}
	scope := access.Scope{Role: access.OperatorAdmin, Name: each.By, Client: "schedule"}.Completing(t.Done(""))
	_, err = a.put(ctx, scope, each.Key, each.Does, func(p pocket.Pocket) (pub delivery.Publication, err error) {
		switch each.Does {
		case DoPublish:
			var plan scheduled
			if err := json.Unmarshal(each.Publication, &plan); err != nil {
				return pub, err
			}
			pub = delivery.Publication{ReleaseID: plan.ReleaseID, Release: plan.Release, Content: plan.Content, Heights: plan.Heights, Revision: plan.Revision}
			if err = a.usable(ctx, p.Widget, pub); err == nil {
				pub.References, err = a.references(ctx, pub)
			}
		case DoRestore:
			pub, err = a.again(ctx, p, each.Number)
		default:
			if p.Publication == 0 {
				return pub, pocket.NotPublished(each.Key)
			}
			pub, err = a.unpublished(ctx, p)
		}
		pub.Schedule = each.ID
		return pub, err
	})
	var refused *problem.Error
	if err == nil || !errors.As(err, &refused) || refused.Kind == problem.Unavailable {
		return err
	}
	done := t.Done("")
	if refused.Code != "published-already" && refused.Code != "not-published" { // it is so already
		a.notice("a schedule failed", "pocket", each.Key, "does", each.Does, "why", refused.What)
		done.Outcome, done.Why, done.Hint = work.Failed, refused.What, refused.Hint
	}
	return a.store.FinishSchedule(ctx, each.ID, a.now(), done.Outcome, cmp.Or(refused.What, refused.Code), &audit.Record{Entry: audit.Entry{At: a.now()}, Task: done})
}
