package manage

import (
	"strconv"

	"glasspocket/internal/app/rollout"
	"glasspocket/internal/merge"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func dryRunOut(p rollout.Progress, first, limit int) wire.DryRun {
	out := wire.DryRun{ID: p.ID, Widget: p.Widget, Digest: p.Digest, After: p.After, Of: p.Of, Identical: p.Counts[rollout.Identical], Changed: p.Counts[rollout.Altered], Broken: p.Counts[rollout.Broken],
		Finished: p.Finished, Cancelled: p.Cancelled, Stale: p.Stale, Pockets: []wire.DryPocket{}}
	out.Done = out.Identical + out.Changed + out.Broken
	list, next := cut(p.Outcomes, limit, func(rollout.Outcome) string { return strconv.Itoa(first + limit - 1) })
	out.Next = next
	for _, o := range list {
		out.Pockets = append(out.Pockets, wire.DryPocket{Key: o.Key, Customer: o.CustomerID, Title: o.Title, Verdict: string(o.Verdict), What: o.What, Why: o.Why, Faults: o.Faults})
	}
	return out
}

func (d *door) startDryRun(k *call) (any, error) {
	var in wire.NewDryRun
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	var given widget.Files
	if !in.Draft {
		given = files(wire.Folder{Files: in.Files})
	}
	run, err := d.App.Rollouts.Start(k, k.scope, k.Params("name"), given)
	if err != nil {
		return nil, err
	}
	return d.dryRunPage(k, run.ID, paging.Page{Limit: pageUsual + 1}, 0) // with few pockets, it may have finished already
}

func (d *door) dryRunPage(k *call, id string, page paging.Page, first int) (any, error) {
	p, err := d.App.Rollouts.Progress(k, k.scope, k.Params("name"), id, first, page.Limit)
	if err != nil {
		return nil, err
	}
	return dryRunOut(p, first, page.Limit), nil
}

func (d *door) readDryRun(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	first, err := strconv.Atoi("0" + page.After)
	if err != nil {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "cursor-faulty", Field: "cursor", What: "This cursor does not belong to this list.", Hint: "Send the value of “next” from the last response."}
	}
	return d.dryRunPage(k, k.Params("id"), page, first)
}

func (d *door) cancelDryRun(k *call) (any, error) {
	return nil, d.App.Rollouts.Cancel(k, k.scope, k.Params("name"), k.Params("id"))
}

func (d *door) beforeAndAfter(k *call) (any, error) {
	before, after, err := d.App.Rollouts.BeforeAndAfter(k, k.scope, k.Params("name"), k.Params("id"), k.Params("key"))
	if err != nil {
		return nil, err
	}
	picked := func(w *render.Whole) *wire.Picked {
		if w == nil {
			return nil
		}
		return &wire.Picked{Payload: w.Payload, Script: w.Script}
	}
	return wire.BeforeAndAfter{Before: picked(before), After: picked(after)}, nil
}

func (d *door) draftDifferences(k *call) (any, error) {
	c, since, err := d.App.Workshop.Differences(k, k.scope, k.Params("name"), 0)
	return wire.Differences{Since: since, Changes: c}, err
}

func (d *door) releaseDifferences(k *call) (any, error) {
	number, err := k.numbered()
	if err != nil {
		return nil, err
	}
	c, since, err := d.App.Workshop.Differences(k, k.scope, k.Params("name"), number)
	return wire.Differences{Since: since, Changes: c}, err
}

func (d *door) previewRelease(k *call) (any, error) {
	var in wire.PreviewWidget
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	number, err := k.numbered()
	if err != nil {
		return nil, err
	}
	t, err := d.App.Workshop.PreviewRelease(k, k.scope, k.Params("name"), number, in.Cases)
	if err != nil {
		return nil, err
	}
	return wire.PreviewedWidgetOf(t, d.App.Base()), nil
}

func (d *door) origin(k *call) (any, error) {
	o, err := d.App.Workshop.OriginOf(k, k.scope, k.Params("name"))
	if err != nil {
		return nil, err
	}
	out := wire.Origin{Widget: o.From.Widget, Release: o.From.Release, Newest: o.Newest, Changes: o.Changes, Files: []wire.DraftFile{}, Collisions: append([]merge.Collision{}, o.Collisions...)}
	taken := widget.Files{}
	for p, c := range o.Files {
		if c.Removed {
			out.Files = append(out.Files, wire.DraftFile{Path: p, Removed: true})
		} else {
			taken[p] = c.Bytes
		}
	}
	for _, p := range taken.Paths() {
		out.Files = append(out.Files, wire.DraftFileOf(p, taken[p], nil, ""))
	}
	return out, nil
}
