package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"
	"sync"

	"glasspocket/internal/signal"
	"glasspocket/internal/widget"
)

// Publish has the options for publishing a draft.
type Publish struct {
	Revision int             // the draft's current one, or 0 for any
	Heights  []widget.Height // measured in a browser; empty for the starter's
	Follow   *bool           // whether it follows the widget's newest release; nil for unchanged
}

// Publish makes an immutable snapshot of a pocket's draft and makes it live. When it returns, the
// snapshot is durable, and the next request receives it.
func (a *App) Publish(ctx context.Context, s Scope, key string, ask Publish) (Publication, error) {
	return a.put(ctx, s, key, "publish", func(p Pocket) (Publication, error) { return a.snapshot(ctx, p, ask) })
}

const unpublishable = "The pocket cannot be published yet, because some settings have no value."

// snapshot returns what publishing a draft would make, without author and time.
func (a *App) snapshot(ctx context.Context, p Pocket, ask Publish) (pub Publication, err error) {
	if ask.Revision != 0 && ask.Revision != p.Revision {
		return pub, changedMeanwhile(p)
	}
	w, err := a.widgetFor(ctx, p.Widget, p.Lot)
	if err != nil {
		return pub, err
	}
	if w.WithdrawnAt != nil {
		return pub, &Error{Kind: Conflict, Code: "release-withdrawn", What: fmt.Sprintf("All releases of %s have been withdrawn, so nothing can be published with it.", p.Widget), Hint: "Publish once the operator has put a release back into use. Until then, nothing changes for visitors."}
	}
	full, faults := w.Release.Schema.Complete(a.values(p, w.Release.Schema))
	if len(faults) > 0 {
		return pub, faulty("settings-missing", unpublishable, faults)
	}
	if _, faults, err := a.shown(ctx, p.CustomerID, w.Release.Schema, full); err != nil {
		return pub, err
	} else if len(faults) > 0 {
		return pub, faulty("settings-faulty", "The pocket cannot be published, because an asset is missing.", faults)
	}
	if !widget.HeightsFit(ask.Heights) {
		return pub, &Error{Kind: Invalid, Code: "heights-faulty", Field: "heights", What: "Heights are at most 50 whole numbers of pixels from 1 to 5000. The first is for width 0, and each next one for a greater width.", Hint: "Correct them, or leave them out to use the starter's heights."}
	}
	if len(ask.Heights) == 0 {
		ask.Heights = w.Release.HeightsFor(p.Starter)
	}
	pub = Publication{ReleaseID: w.ID, Release: w.Number, Language: p.Language, Title: p.Title, Revision: p.Revision, Follow: p.Follow, Cues: p.Cues}
	if ask.Follow != nil {
		pub.Follow = *ask.Follow
	}
	pub.Settings, _ = json.Marshal(full)
	pub.Brand = spacedNames(w.Release.Schema.BrandUses(full))
	pub.Heights, _ = json.Marshal(ask.Heights)
	return pub, nil
}

// Restore publishes an older publication again: the same settings with the same release or, if it
// followed, with the newest. The draft stays unchanged.
func (a *App) Restore(ctx context.Context, s Scope, key string, number int) (Publication, error) {
	return a.put(ctx, s, key, "restore", func(p Pocket) (Publication, error) { return a.again(ctx, p, number) })
}

// again returns an older publication for publishing again.
func (a *App) again(ctx context.Context, p Pocket, number int) (Publication, error) {
	pub, err := a.publication(ctx, p.Key, number)
	if err != nil {
		return pub, err
	}
	if number == p.Publication {
		return pub, &Error{Kind: Conflict, Code: "published-already", Field: "number", What: fmt.Sprintf("Number %d is already the live version.", number), Hint: "Choose an older number."}
	}
	if pub.Unpublished {
		return pub, &Error{Kind: Conflict, Code: "nothing-to-restore", Field: "number", What: fmt.Sprintf("Number %d unpublished the pocket, so there is nothing to restore.", number), Hint: "Choose another number."}
	}
	if err := a.usable(ctx, p.Widget, pub); err != nil {
		return pub, err
	}
	if r, err := a.open(ctx, pub.ReleaseID); err == nil {
		values, _ := r.Schema.CarryJSON(pub.Settings)
		pub.Brand = spacedNames(r.Schema.BrandUses(values))
	}
	pub.Restores = number
	return pub, nil
}

// usable refuses a publication whose release has been withdrawn, unless it follows.
func (a *App) usable(ctx context.Context, name string, pub Publication) error {
	info, err := a.store.ReleaseByNumber(ctx, name, pub.Release)
	if err != nil {
		return err
	}
	if info.WithdrawnAt != nil && !pub.Follow {
		return &Error{Kind: Conflict, Code: "release-withdrawn", Field: "number", What: fmt.Sprintf("It uses release %d, which has been withdrawn.", pub.Release), Hint: "Choose one that uses another release, or put the release back into use."}
	}
	return nil
}

// Unpublish takes a pocket offline: from the next request on, nothing is under its key. Draft,
// history and snippet stay.
func (a *App) Unpublish(ctx context.Context, s Scope, key string) (Publication, error) {
	return a.put(ctx, s, key, "unpublish", func(p Pocket) (Publication, error) {
		if p.Publication == 0 {
			return Publication{}, notPublished(key)
		}
		return a.unpublished(ctx, p)
	})
}

// unpublished returns the publication that takes a pocket offline: it shows nothing.
func (a *App) unpublished(ctx context.Context, p Pocket) (Publication, error) {
	live, err := a.publication(ctx, p.Key, p.Publication)
	return Publication{ReleaseID: live.ReleaseID, Release: live.Release, Language: live.Language, Title: live.Title, Settings: []byte("{}"), Heights: []byte("[]"), Follow: live.Follow, Unpublished: true}, err
}

func (a *App) publication(ctx context.Context, key string, number int) (Publication, error) {
	pub, err := a.store.Publication(ctx, key, number)
	if errors.Is(err, ErrNotFound) {
		return pub, notFound("publication", fmt.Sprintf("%s %d", key, number), "List the publications to see their numbers.")
	}
	return pub, err
}

func notPublished(key string) *Error {
	return &Error{Kind: Conflict, Code: "not-published", What: fmt.Sprintf("%s is not published.", key), Hint: "Publish it first."}
}

// put stores the publication that prepare returns for a pocket as its next one. Publications of a
// pocket are serialised.
func (a *App) put(ctx context.Context, s Scope, key, did string, prepare func(Pocket) (Publication, error)) (Publication, error) {
	if err := s.require(publishPockets); err != nil {
		return Publication{}, err
	}
	lock := a.publishingOf(key)
	lock.Lock()
	defer lock.Unlock()
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return Publication{}, err
	}
	pub, err := prepare(p)
	if err != nil {
		return Publication{}, err
	}
	pub.Key, pub.Number, pub.CustomerID, pub.At, pub.By, pub.Client = key, p.Newest+1, p.CustomerID, a.now(), s.Name, s.Client
	entry := Entry{CustomerID: p.CustomerID, Did: did, Kind: "pocket", Of: key, Number: pub.Number}
	if pub.Restores > 0 {
		entry.Note = fmt.Sprint(pub.Restores)
	}
	rec := newRecord(s, a.now(), entry)
	if pub.Unpublished {
		if err := a.store.Publish(ctx, pub, Rendering{}, rec); err != nil {
			return Publication{}, meanwhile(key, err)
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
	_, rendering, err := a.build(ctx, releaseID, pub)
	if releaseID != pub.ReleaseID && err != nil {
		// Visitors must not receive a withdrawn release, so publishing fails.
		own, ownErr := a.store.ReleaseByNumber(ctx, p.Widget, pub.Release)
		var why *Error
		switch {
		case ownErr == nil && own.WithdrawnAt != nil && errors.As(err, &why):
			err = &Error{Kind: Conflict, Code: "release-withdrawn", Field: "number", What: fmt.Sprintf("It uses release %d, which has been withdrawn, and the newest release cannot use its settings.", pub.Release), Hint: "Choose another publication, or publish the draft.", Faults: why.Faults}
		case a.refused(err, pub, releaseID):
			_, rendering, err = a.build(ctx, pub.ReleaseID, pub)
			rendering.Refused = releaseID
		}
	}
	if err != nil {
		return Publication{}, err
	}
	if err := a.store.Publish(ctx, pub, rendering, rec); err != nil {
		return Publication{}, meanwhile(key, err)
	}
	a.moved(pub)
	return pub, nil
}

// moved reports a new publication, so that the next request receives it.
func (a *App) moved(pub Publication) {
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Pocket, ID: pub.Key}, Revision: int64(pub.Number)})
}

func meanwhile(key string, err error) error {
	if errors.Is(err, ErrChanged) {
		return &Error{Kind: Conflict, Code: "published-meanwhile", What: fmt.Sprintf("Somebody else published %s at the same time.", key), Hint: "Check the live version, then publish again."}
	}
	return err
}

// publishingOf returns the lock for publishing or building a pocket.
func (a *App) publishingOf(key string) *sync.Mutex {
	return &a.publishing[hash(key)%uint32(len(a.publishing))]
}

func hash(key string) uint32 {
	h := fnv.New32a()
	h.Write([]byte(key))
	return h.Sum32()
}
