package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"
	"sync"

	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// Publish asks for a publication of a draft.
type Publish struct {
	Revision int             // the draft's current one, or 0 for whichever it is
	Heights  []widget.Height // measured in a browser; the starter's when empty
	Follow   *bool           // whether it follows the widget's newest release; nil as before
}

// Publish makes an immutable snapshot of a pocket's draft and points visitors at it. When
// it returns, the snapshot is durable and the next request gets it.
func (a *App) Publish(ctx context.Context, s Scope, key string, ask Publish) (Publication, error) {
	return a.put(ctx, s, key, func(p Pocket) (Publication, error) {
		if ask.Revision != 0 && ask.Revision != p.Revision {
			return Publication{}, changedMeanwhile(p)
		}
		w, err := a.widgetFor(ctx, p)
		if err != nil {
			return Publication{}, err
		}
		full, faults := w.Release.Schema.Complete(a.values(p, w.Release.Schema))
		if len(faults) > 0 {
			return Publication{}, faulty("settings-missing", "The pocket cannot be published yet: some settings have no value.", faults)
		}
		if _, faults, err := a.shown(ctx, p.CustomerID, w.Release.Schema, full); err != nil {
			return Publication{}, err
		} else if len(faults) > 0 {
			return Publication{}, faulty("settings-faulty", "The pocket cannot be published: an asset is gone.", faults)
		}
		if len(ask.Heights) == 0 {
			ask.Heights = w.Release.HeightsFor(p.Starter)
		}
		pub := Publication{ReleaseID: w.ID, Release: w.Number, Language: p.Language, Title: p.Title, Revision: p.Revision, Follow: p.Follow}
		if ask.Follow != nil {
			pub.Follow = *ask.Follow
		}
		pub.Settings, _ = json.Marshal(full)
		pub.Heights, _ = json.Marshal(ask.Heights)
		return pub, nil
	})
}

// Restore publishes an older publication again: the same settings under the same release,
// or, if it followed, under the newest. The draft stays as it is.
func (a *App) Restore(ctx context.Context, s Scope, key string, number int) (Publication, error) {
	return a.put(ctx, s, key, func(p Pocket) (Publication, error) {
		pub, err := a.store.Publication(ctx, key, number)
		if errors.Is(err, ErrNotFound) {
			return pub, notFound("publication", fmt.Sprintf("%s %d", key, number), "List the publications to see which there are.")
		}
		if err != nil {
			return pub, err
		}
		if number == p.Publication {
			return pub, &Error{Kind: Conflict, Code: "published-already", Field: "number", What: fmt.Sprintf("Number %d is what visitors get now.", number), Hint: "Choose an older one."}
		}
		info, err := a.store.ReleaseByNumber(ctx, p.Widget, pub.Release)
		if err != nil {
			return pub, err
		}
		if info.WithdrawnAt != nil && !pub.Follow {
			return pub, &Error{Kind: Conflict, Code: "release-withdrawn", Field: "number", What: fmt.Sprintf("Number %d was made with release %d, which has been withdrawn.", number, pub.Release), Hint: "Choose one made with another release, or bring the release back."}
		}
		pub.Restores = number
		return pub, nil
	})
}

// put stores what prepare makes of a pocket as its next publication. One pocket is
// published by one at a time.
func (a *App) put(ctx context.Context, s Scope, key string, prepare func(Pocket) (Publication, error)) (Publication, error) {
	if err := s.require(editPockets); err != nil {
		return Publication{}, err
	}
	lock := a.publishingOf(key)
	lock.Lock()
	defer lock.Unlock()
	marks := [3]mark{a.marks.see(ofPocket, key)}
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return Publication{}, err
	}
	marks[1], marks[2] = a.marks.see(ofCustomer, p.CustomerID), a.marks.see(ofWidget, p.Widget)
	owner, err := a.store.Customer(ctx, p.CustomerID)
	if err != nil {
		return Publication{}, err
	}
	pub, err := prepare(p)
	if err != nil {
		return Publication{}, err
	}
	pub.Key, pub.Number, pub.CustomerID, pub.At, pub.By, pub.Client = key, p.Publication+1, p.CustomerID, a.now(), s.Name, s.Client
	releaseID := pub.ReleaseID
	if pub.Follow {
		if newest, err := a.store.NewestReleaseFor(ctx, p.Widget, p.Lot); err == nil {
			releaseID = newest.ID
		}
	} else {
		marks[2] = mark{}
	}
	delivery, rendering, err := a.build(ctx, releaseID, pub)
	if releaseID != pub.ReleaseID && a.refused(err, pub, releaseID) {
		delivery, rendering, err = a.build(ctx, pub.ReleaseID, pub)
	}
	if err != nil {
		return Publication{}, err
	}
	if err := a.store.Publish(ctx, pub, rendering); errors.Is(err, ErrChanged) {
		return Publication{}, &Error{Kind: Conflict, Code: "published-meanwhile", What: fmt.Sprintf("%s was published by somebody else at this very moment.", key), Hint: "Look at it, then publish again."}
	} else if err != nil {
		return Publication{}, err
	}
	for _, part := range render.Parts {
		one := &Served{Publication: pub.Number, Document: delivery.Part(part), marks: marks}
		if p.Withheld.At != nil || owner.Withheld.At != nil {
			one.Document, one.Withheld = nil, true
		}
		a.shelf.Put(key, part, one)
	}
	return pub, nil
}

// Publications lists a pocket's publications, newest first, those before a number (0 for all).
func (a *App) Publications(ctx context.Context, s Scope, key string, before, limit int) ([]Publication, error) {
	if _, err := a.Pocket(ctx, s, key); err != nil {
		return nil, err
	}
	return a.store.Publications(ctx, key, before, limit)
}

// Current returns a pocket's current publication, and the manifest of the release that
// visitors get it with.
func (a *App) Current(ctx context.Context, s Scope, key string) (Pocket, Publication, widget.Manifest, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return p, Publication{}, widget.Manifest{}, err
	}
	if p.Publication == 0 {
		return p, Publication{}, widget.Manifest{}, &Error{Kind: Conflict, Code: "not-published", What: fmt.Sprintf("%s has not been published yet.", key), Hint: "Publish it first; a snippet needs something to show."}
	}
	pub, err := a.store.Publication(ctx, key, p.Publication)
	if err != nil {
		return p, pub, widget.Manifest{}, err
	}
	r, err := a.open(ctx, pub.ReleaseID)
	if err != nil {
		return p, pub, widget.Manifest{}, err
	}
	return p, pub, r.Manifest, nil
}

// publishingOf is held by whoever publishes or builds a pocket.
func (a *App) publishingOf(key string) *sync.Mutex {
	return &a.publishing[hash(key)%uint32(len(a.publishing))]
}

func hash(key string) uint32 {
	h := fnv.New32a()
	h.Write([]byte(key))
	return h.Sum32()
}
