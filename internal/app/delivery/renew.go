package delivery

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"glasspocket/internal/app/source"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
	"glasspocket/internal/work"
)

// renewAtOnce is how many pockets a task renders before others get their turn.
const renewAtOnce = 100

// RenewTask is the kind of task that renders the pockets of a source again, after its items have
// changed. Visitors keep what they have until then.
func (a *Delivery) RenewTask() work.Kind {
	return work.Kind{Name: source.RenewTask, About: "Renderings with new items of a source", Limit: 1, Lasts: 5 * time.Minute, Tries: 20, Run: a.renewSource, Keep: 24 * time.Hour}
}

func (a *Delivery) renewSource(ctx context.Context, t work.Task) error {
	var about source.Renewal
	if err := json.Unmarshal(t.About, &about); err != nil {
		return err
	}
	if about.Pocket != "" {
		return a.Renew(ctx, about.Pocket)
	}
	keys, err := a.store.KeysOfSource(ctx, t.CustomerID, about.Source, about.After, renewAtOnce)
	if err != nil {
		return err
	}
	for _, key := range keys {
		if err := a.Renew(ctx, key); err != nil {
			return err
		}
	}
	if len(keys) < renewAtOnce {
		return nil
	}
	about.After = keys[len(keys)-1]
	next, _ := json.Marshal(about)
	return work.Later{About: next}
}

// DueTask is the kind of recurring task that renders pockets again whose items have changed by
// themselves: a notice has expired, a date is over.
func (a *Delivery) DueTask() work.Kind {
	return work.Kind{Name: "items-due", About: "Renderings whose items have expired", Limit: 1, Lasts: 5 * time.Minute, Every: 5 * time.Second, Run: func(ctx context.Context, _ work.Task) error {
		for {
			keys, err := a.store.KeysDue(ctx, a.now(), renewAtOnce)
			if err != nil || len(keys) == 0 {
				return err
			}
			for _, key := range keys {
				if err := a.Renew(ctx, key); err != nil {
					return err
				}
			}
		}
	}}
}

// RenewSoon renders a pocket again that has just been published, if a source has got new items
// while it was rendered.
func (a *Delivery) RenewSoon(ctx context.Context, r Rendering) {
	if r.items == nil || !r.items.Moved() {
		return
	}
	about, _ := json.Marshal(source.Renewal{Pocket: r.Key})
	if err := a.store.AddTask(ctx, work.Task{Kind: source.RenewTask, Key: r.Key, CustomerID: r.CustomerID, Of: r.Key, About: about, CreatedAt: a.now(), Due: a.now()}); err != nil {
		a.notice("a pocket is not rendered with its newest items until its source changes again", "pocket", r.Key, "error", err)
	}
}

// Renew renders a published pocket again if its items have changed. A pocket that cannot be
// rendered stays as it is.
func (a *Delivery) Renew(ctx context.Context, key string) error {
	lock := a.Lock(key)
	lock.Lock()
	defer lock.Unlock()
	_, was, _, err := a.current(ctx, key, render.JSON)
	if err != nil || was.Key == "" {
		return err
	}
	pub, err := a.store.Publication(ctx, key, was.Publication)
	if err != nil {
		return err
	}
	releaseID := was.under(&a.refusals, a)
	before, _ := was.Inputs.Of(render.FromItems)
	_, r, err := a.Build(ctx, releaseID, was.Target, pub)
	var why *problem.Error
	if errors.As(err, &why) {
		a.notice("a pocket cannot be rendered with its new items and stays unchanged", "pocket", key, "why", why.Error())
		return a.store.KeepRendering(ctx, key, nil)
	}
	if err != nil {
		return err
	}
	if after, _ := r.Inputs.Of(render.FromItems); after == before && releaseID == was.release() {
		return a.store.KeepRendering(ctx, key, r.Until)
	}
	if releaseID != was.wanted {
		r.Refused = was.wanted
	}
	if err := a.store.SaveRendering(ctx, r); err != nil {
		return err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Pocket, ID: key}, Revision: int64(pub.Number)})
	return nil
}
