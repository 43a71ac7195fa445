package bulk

import (
	"context"
	"encoding/json"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/problem"
	"glasspocket/internal/work"
)

// PocketTask is the name of the kind of task for one pocket of a job.
const PocketTask = "pocket"

// Task is the kind of task for one pocket of a job. The change that it makes also finishes it.
func (a *Jobs) Task() work.Kind {
	return work.Kind{Name: PocketTask, About: "One pocket of a job", Limit: 2, Lasts: time.Minute, Tries: 20, Run: a.run}
}

func (a *Jobs) run(ctx context.Context, t work.Task) error {
	j, err := a.store.Job(ctx, t.Job)
	if err != nil {
		return err
	}
	var ask Ask
	if err := json.Unmarshal(j.Ask, &ask); err != nil {
		return err
	}
	done := t.Done("")
	s := access.Scope{Role: j.Role, CustomerID: j.CustomerID, Name: j.By, Client: "job"}.Completing(done)
	switch ask.Does {
	case JobPublish:
		_, err = a.publishing.Publish(ctx, s, t.Of, publish.Draft{Follow: ask.Follow})
	case JobUnpublish:
		_, err = a.publishing.Unpublish(ctx, s, t.Of, 0)
	case JobMove:
		_, err = a.publishing.Move(ctx, s, t.Of, ask.Release, ask.Follow)
	case JobDelete:
		err = a.pockets.Delete(ctx, s, t.Of)
	case JobDuplicate:
		done.Made = pocket.NewKey()
		_, err = a.files.Duplicate(ctx, s, t.Of, ask.Customer, done.Made)
	case JobImport:
		done.Made = pocket.NewKey()
		_, err = a.files.Import(ctx, s, ask.Customer, t.About, done.Made)
	default:
		err = &problem.Error{Kind: problem.Invalid, Code: "does-unknown", What: "This program does not know this kind of job.", Hint: "Start the job again."}
	}
	return err
}
