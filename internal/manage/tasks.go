package manage

import (
	"strconv"

	"glasspocket/internal/app/task"
	"glasspocket/internal/problem"
	"glasspocket/internal/wire"
	"glasspocket/internal/work"
)

func taskOut(t work.Task, kinds []work.Kind) wire.Task {
	out := wire.Task{ID: t.ID, Kind: t.Kind, Of: t.Of, Customer: t.CustomerID, Job: t.Job, State: t.State(), Attempts: t.Attempts, Due: t.Due, CreatedAt: t.CreatedAt, EndedAt: t.EndedAt, By: t.By, Why: t.Why, Hint: t.Hint}
	for _, k := range kinds {
		out.Recurs = out.Recurs || k.Name == t.Kind && k.Every > 0
	}
	return out
}

func (d *door) listTasks(k *call) (any, error) {
	p, err := k.page()
	if err != nil {
		return nil, err
	}
	before := int64(0)
	if p.After != "" {
		if before, err = strconv.ParseInt(p.After, 10, 64); err != nil {
			return nil, &problem.Error{Kind: problem.Invalid, Code: "cursor-faulty", Field: "cursor", What: "This cursor does not belong to this list.", Hint: "Send the value of “next” from the last response."}
		}
	}
	list, err := d.App.Tasks.List(k, k.scope, task.Query{State: k.Query("state"), Kind: k.Query("kind"), Before: before, Limit: p.Limit})
	if err != nil {
		return nil, err
	}
	kinds, counts, err := d.App.Tasks.Kinds(k, k.scope)
	if err != nil {
		return nil, err
	}
	out := wire.Tasks{Tasks: []wire.Task{}}
	list, out.Next = cut(list, p.Limit, func(t work.Task) string { return strconv.FormatInt(t.ID, 10) })
	for _, t := range list {
		out.Tasks = append(out.Tasks, taskOut(t, kinds))
	}
	for _, kind := range kinds {
		one := wire.TaskKind{Name: kind.Name, About: kind.About}
		for _, c := range counts {
			if c.Kind == kind.Name {
				*map[string]*int{work.Waiting: &one.Waiting, work.Running: &one.Running, work.Failed: &one.Failed}[c.State] = c.Count
			}
		}
		out.Kinds = append(out.Kinds, one)
	}
	return out, nil
}

// task returns the number in the address.
func (k *call) task() (int64, error) {
	id, err := strconv.ParseInt(k.Params("id"), 10, 64)
	if err != nil {
		return 0, problem.Missing("task", k.Params("id"), "List the tasks to see their numbers.")
	}
	return id, nil
}

func (d *door) runTask(k *call) (any, error) {
	id, err := k.task()
	if err != nil {
		return nil, err
	}
	t, err := d.App.Tasks.Run(k, k.scope, id)
	return taskOut(t, d.App.Work.Kinds()), err
}

func (d *door) cancelTask(k *call) (any, error) {
	id, err := k.task()
	if err != nil {
		return nil, err
	}
	return nil, d.App.Tasks.Cancel(k, k.scope, id)
}
