package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"

	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// Publish makes an immutable snapshot of a pocket's draft and points visitors at it. When
// it returns, the snapshot is durable and the next request gets it. A revision other than 0
// must be the draft's current one. Heights measured in a browser replace the starter's.
func (a *App) Publish(ctx context.Context, s Scope, key string, revision int, heights []widget.Height) (Publication, error) {
	if err := s.require(editPockets); err != nil {
		return Publication{}, err
	}
	lock := &a.publishing[hash(key)%uint32(len(a.publishing))]
	lock.Lock()
	defer lock.Unlock()
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return Publication{}, err
	}
	if revision != 0 && revision != p.Revision {
		return Publication{}, changedMeanwhile(p)
	}
	w, err := a.widget(ctx, p.Widget)
	if err != nil {
		return Publication{}, err
	}
	full, faults := w.Release.Schema.Complete(a.values(p, w.Release.Schema))
	if len(faults) > 0 {
		return Publication{}, faulty("settings-missing", "The pocket cannot be published yet: some settings have no value.", faults)
	}
	if len(heights) == 0 {
		heights = w.Release.HeightsFor(p.Starter)
	}
	now := a.now()
	pub := Publication{Key: key, Number: p.Publication + 1, CustomerID: p.CustomerID, ReleaseID: w.ID, Release: w.Number,
		Language: p.Language, Title: p.Title, Revision: p.Revision, At: now, By: s.Name, Client: s.Client}
	pub.Settings, _ = json.Marshal(full)
	pub.Heights, _ = json.Marshal(heights)
	delivery, rendering, err := a.build(w.Release, pub)
	if err != nil {
		return Publication{}, err
	}
	if err := a.store.Publish(ctx, pub, rendering); errors.Is(err, ErrChanged) {
		return Publication{}, &Error{Kind: Conflict, Code: "published-meanwhile", What: fmt.Sprintf("%s was published by somebody else at this very moment.", key), Hint: "Look at it, then publish again."}
	} else if err != nil {
		return Publication{}, err
	}
	a.shelf.Put(key, pub.Number, delivery)
	return pub, nil
}

func (a *App) build(r *widget.Release, p Publication) (*render.Delivery, Rendering, error) {
	values, faults := r.Schema.CheckJSON(p.Settings)
	if len(faults) > 0 {
		return nil, Rendering{}, faulty("settings-faulty", "A published setting is not valid any more.", faults)
	}
	d, faults := a.site.Deliver(render.Subject{Key: p.Key, Title: p.Title, Publication: p.Number, Release: r, Settings: values, Language: p.Language, Now: a.now()})
	if len(faults) > 0 {
		return nil, Rendering{}, faulty("view-stopped", "The widget's view stopped.", faults)
	}
	return d, Rendering{Key: p.Key, Publication: p.Number, Identity: a.site.Identity, Script: d.Script.Brotli, JSON: d.JSON.Brotli, Page: d.Page.Brotli}, nil
}

// Delivery loads what visitors get under key, for a shelf that does not hold it: stored
// bytes, or, once after the program has changed, a new rendering. A nil delivery means
// that nothing is published there.
func (a *App) Delivery(ctx context.Context, key string) (*render.Delivery, int, error) {
	if !KeyForm.MatchString(key) {
		return nil, 0, nil
	}
	stored, err := a.store.Rendering(ctx, key)
	if errors.Is(err, ErrNotFound) {
		return nil, 0, nil
	}
	if err != nil {
		return nil, 0, err
	}
	if stored.Identity == a.site.Identity {
		d := &render.Delivery{}
		for _, part := range []struct {
			from []byte
			to   *render.Encoded
		}{{stored.Script, &d.Script}, {stored.JSON, &d.JSON}, {stored.Page, &d.Page}} {
			if *part.to, err = render.Decode(part.from); err != nil {
				return nil, 0, fmt.Errorf("the stored rendering of %s is damaged: %w", key, err)
			}
		}
		return d, stored.Publication, nil
	}
	pub, err := a.store.Publication(ctx, key, stored.Publication)
	if err != nil {
		return nil, 0, err
	}
	r, err := a.open(ctx, pub.ReleaseID)
	if err != nil {
		return nil, 0, err
	}
	d, fresh, err := a.build(r, pub)
	if err != nil {
		return nil, 0, err
	}
	// Should saving fail, visitors still get the new one; the next start renders once more.
	_ = a.store.SaveRendering(ctx, fresh)
	return d, pub.Number, nil
}

// Publications lists a pocket's publications, newest first, those before a number (0 for all).
func (a *App) Publications(ctx context.Context, s Scope, key string, before, limit int) ([]Publication, error) {
	if _, err := a.Pocket(ctx, s, key); err != nil {
		return nil, err
	}
	return a.store.Publications(ctx, key, before, limit)
}

// Current returns a pocket's current publication.
func (a *App) Current(ctx context.Context, s Scope, key string) (Pocket, Publication, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return p, Publication{}, err
	}
	if p.Publication == 0 {
		return p, Publication{}, &Error{Kind: Conflict, Code: "not-published", What: fmt.Sprintf("%s has not been published yet.", key), Hint: "Publish it first; a snippet needs something to show."}
	}
	pub, err := a.store.Publication(ctx, key, p.Publication)
	return p, pub, err
}

func hash(key string) uint32 {
	h := fnv.New32a()
	h.Write([]byte(key))
	return h.Sum32()
}
