package publish

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/content"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"
)

// Draft has the options for publishing a draft.
type Draft struct {
	Revision int             // the draft's current one, or 0 for any
	Heights  []widget.Height // measured in a browser; empty for the starter's
	Follow   *bool           // whether it follows the widget's newest release; nil for unchanged
}

// Publish makes an immutable snapshot of a pocket's draft and makes it live. When it returns, the
// snapshot is durable, and the next request receives it.
func (a *Publishing) Publish(ctx context.Context, s access.Scope, key string, ask Draft) (delivery.Publication, error) {
	return a.put(ctx, s, key, "publish", func(p pocket.Pocket) (delivery.Publication, error) { return a.snapshot(ctx, p, ask) })
}

// snapshot returns what publishing a draft would make, without author and time.
func (a *Publishing) snapshot(ctx context.Context, p pocket.Pocket, ask Draft) (pub delivery.Publication, err error) {
	if ask.Revision != 0 && ask.Revision != p.Revision {
		return pub, pocket.ChangedMeanwhile(p)
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return pub, err
	}
	if w.WithdrawnAt != nil {
		return pub, &problem.Error{Kind: problem.Conflict, Code: "release-withdrawn", What: fmt.Sprintf("All releases of %s have been withdrawn, so nothing can be published with it.", p.Widget), Hint: "Publish once the operator has put a release back into use. Until then, nothing changes for visitors."}
	}
	values, _ := w.Release.Schema.Carried(p.Settings)
	full, faults := w.Release.Schema.Complete(p.Sources.Given(values))
	if len(faults) > 0 {
		return pub, problem.Faulty("settings-missing", pocket.Unpublishable, faults)
	}
	if _, faults, err := a.customers.Shown(ctx, p.CustomerID, w.Release.Schema, full); err != nil {
		return pub, err
	} else if len(faults) > 0 {
		return pub, problem.Faulty("settings-faulty", "The pocket cannot be published, because an asset is missing.", faults)
	}
	if !widget.HeightsFit(ask.Heights) {
		return pub, &problem.Error{Kind: problem.Invalid, Code: "heights-faulty", Field: "heights", What: "Heights are at most 50 whole numbers of pixels from 1 to 5000. The first is for width 0, and each next one for a greater width.", Hint: "Correct them, or leave them out to use the starter's heights."}
	}
	if len(ask.Heights) == 0 {
		ask.Heights = w.Release.HeightsFor(p.Starter)
	}
	pub = delivery.Publication{ReleaseID: w.ID, Release: w.Number, Content: p.Content, Revision: p.Revision, References: content.References(w.Release.Schema, full, p.Sources)}
	pub.Settings = full
	if ask.Follow != nil {
		pub.Follow = *ask.Follow
	}
	pub.Heights, _ = json.Marshal(ask.Heights)
	return pub, nil
}

// Restore publishes an older publication again: the same settings with the same release or, if it
// followed, with the newest. The draft stays unchanged. after is the number of the newest
// publication, if it must still be that one; 0 for any.
func (a *Publishing) Restore(ctx context.Context, s access.Scope, key string, number, after int) (delivery.Publication, error) {
	return a.put(ctx, s, key, "restore", func(p pocket.Pocket) (pub delivery.Publication, err error) {
		if err := still(p, after); err != nil {
			return pub, err
		}
		return a.again(ctx, p, number)
	})
}

// still refuses to undo a publication that is not the newest any more.
func still(p pocket.Pocket, after int) error {
	if after == 0 || p.Newest == after {
		return nil
	}
	return &problem.Error{Kind: problem.Conflict, Code: "published-meanwhile", What: fmt.Sprintf("Number %d has been published since then, so number %d was not undone.", p.Newest, after), Hint: "Check the live version. The history has every version."}
}

// again returns an older publication for publishing again.
func (a *Publishing) again(ctx context.Context, p pocket.Pocket, number int) (delivery.Publication, error) {
	pub, err := a.delivery.Publication(ctx, p.Key, number)
	if err != nil {
		return pub, err
	}
	if number == p.Publication {
		return pub, &problem.Error{Kind: problem.Conflict, Code: "published-already", Field: "number", What: fmt.Sprintf("Number %d is already the live version.", number), Hint: "Choose an older number."}
	}
	if pub.Unpublished {
		return pub, &problem.Error{Kind: problem.Conflict, Code: "nothing-to-restore", Field: "number", What: fmt.Sprintf("Number %d unpublished the pocket, so there is nothing to restore.", number), Hint: "Choose another number."}
	}
	if err := a.usable(ctx, p.Widget, pub); err != nil {
		return pub, err
	}
	pub.Restores = number
	pub.References, err = a.references(ctx, pub)
	return pub, err
}

// references lists what a publication refers to.
func (a *Publishing) references(ctx context.Context, pub delivery.Publication) ([]content.Reference, error) {
	r, err := a.releases.Open(ctx, pub.ReleaseID)
	if err != nil {
		return nil, err
	}
	values, _ := r.Schema.Carried(pub.Settings)
	return content.References(r.Schema, values, pub.Sources), nil
}

// usable refuses a publication whose release has been withdrawn, unless it follows.
func (a *Publishing) usable(ctx context.Context, name string, pub delivery.Publication) error {
	info, err := a.store.ReleaseByNumber(ctx, name, pub.Release)
	if err != nil {
		return err
	}
	if info.WithdrawnAt != nil && !pub.Follow {
		return &problem.Error{Kind: problem.Conflict, Code: "release-withdrawn", Field: "number", What: fmt.Sprintf("It uses release %d, which has been withdrawn.", pub.Release), Hint: "Choose one that uses another release, or put the release back into use."}
	}
	return nil
}

// Unpublish takes a pocket offline: from the next request on, nothing is under its key. Draft,
// history and snippet stay. after is as in Restore.
func (a *Publishing) Unpublish(ctx context.Context, s access.Scope, key string, after int) (delivery.Publication, error) {
	return a.put(ctx, s, key, "unpublish", func(p pocket.Pocket) (delivery.Publication, error) {
		if err := still(p, after); err != nil {
			return delivery.Publication{}, err
		}
		if p.Publication == 0 {
			return delivery.Publication{}, pocket.NotPublished(key)
		}
		return a.unpublished(ctx, p)
	})
}

// unpublished returns the publication that takes a pocket offline: it shows nothing.
func (a *Publishing) unpublished(ctx context.Context, p pocket.Pocket) (delivery.Publication, error) {
	live, err := a.delivery.Publication(ctx, p.Key, p.Publication)
	pub := delivery.Publication{ReleaseID: live.ReleaseID, Release: live.Release, Content: live.Content, Heights: []byte("[]"), Unpublished: true}
	pub.Settings, pub.Extras = setting.Values{}, content.Extras{}
	return pub, err
}

// put stores the publication that prepare returns for a pocket as its next one. Publications of a
// pocket are serialised.
func (a *Publishing) put(ctx context.Context, s access.Scope, key, did string, prepare func(pocket.Pocket) (delivery.Publication, error)) (delivery.Publication, error) {
	if err := s.Require(access.PublishPockets); err != nil {
		return delivery.Publication{}, err
	}
	lock := a.delivery.Lock(key)
	lock.Lock()
	defer lock.Unlock()
	p, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return delivery.Publication{}, err
	}
	pub, err := prepare(p)
	if err != nil {
		return delivery.Publication{}, err
	}
	pub.Key, pub.Number, pub.CustomerID, pub.At, pub.By, pub.Client = key, p.Newest+1, p.CustomerID, a.now(), s.Name, s.Client
	entry := audit.Entry{CustomerID: p.CustomerID, Did: did, Kind: "pocket", Of: key, Number: pub.Number}
	if pub.Restores > 0 {
		entry.Note = fmt.Sprint(pub.Restores)
	}
	rec := audit.NewRecord(s, a.now(), entry)
	if pub.Unpublished {
		if err := a.store.Publish(ctx, pub, delivery.Rendering{}, rec); err != nil {
			return delivery.Publication{}, meanwhile(key, err)
		}
		a.moved(pub)
		return pub, nil
	}
	releaseID := pub.ReleaseID
	if pub.Follow {
		if newest, err := a.store.NewestReleaseFor(ctx, p.Widget, p.Lot); err == nil {
			releaseID = newest.ID
		}
	}
	to := delivery.Target{Widget: p.Widget, Lot: p.Lot}
	_, rendering, err := a.delivery.Build(ctx, releaseID, to, pub)
	if releaseID != pub.ReleaseID && err != nil {
		// Visitors must not receive a withdrawn release, so publishing fails.
		own, ownErr := a.store.ReleaseByNumber(ctx, p.Widget, pub.Release)
		var why *problem.Error
		switch {
		case ownErr == nil && own.WithdrawnAt != nil && errors.As(err, &why):
			err = &problem.Error{Kind: problem.Conflict, Code: "release-withdrawn", Field: "number", What: fmt.Sprintf("It uses release %d, which has been withdrawn, and the newest release cannot use its settings.", pub.Release), Hint: "Choose another publication, or publish the draft.", Faults: why.Faults}
		case a.delivery.Refused(err, pub, releaseID):
			_, rendering, err = a.delivery.Build(ctx, pub.ReleaseID, to, pub)
			rendering.Refused = releaseID
		}
	}
	if err != nil {
		return delivery.Publication{}, err
	}
	if err := a.store.Publish(ctx, pub, rendering, rec); err != nil {
		return delivery.Publication{}, meanwhile(key, err)
	}
	a.moved(pub)
	a.delivery.RenewSoon(ctx, rendering)
	return pub, nil
}

// moved reports a new publication, so that the next request receives it.
func (a *Publishing) moved(pub delivery.Publication) {
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Pocket, ID: pub.Key}, Revision: int64(pub.Number)})
}

func meanwhile(key string, err error) error {
	if errors.Is(err, problem.ErrChanged) {
		return &problem.Error{Kind: problem.Conflict, Code: "published-meanwhile", What: fmt.Sprintf("Somebody else published %s at the same time.", key), Hint: "Check the live version, then publish again."}
	}
	return err
}
