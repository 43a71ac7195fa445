package release

import (
	"context"
	"errors"
	"fmt"

	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

// Open returns a stored release, which is read once.
func (a *Releases) Open(ctx context.Context, id int64) (*widget.Release, error) {
	if r, ok := a.opened.GetIfPresent(id); ok {
		return r, nil
	}
	r, err, _ := a.openings.Do(fmt.Sprint(id), func() (any, error) {
		files, opened, err := a.store.ReleaseFiles(ctx, id)
		if err != nil {
			return nil, err
		}
		r, faults := widget.Open(files, opened)
		if len(faults) > 0 { // newer rules refuse what an older program accepted
			return nil, fmt.Errorf("stored release %d cannot be opened: %w", id, faults)
		}
		a.opened.Set(id, r)
		return r, nil
	})
	if err != nil {
		return nil, err
	}
	return r.(*widget.Release), nil
}

// Keep caches a release that has just been stored.
func (a *Releases) Keep(id int64, r *widget.Release) { a.opened.Set(id, r) }

// ByDigest returns a release by its digest.
func (a *Releases) ByDigest(ctx context.Context, digest string) (*widget.Release, error) {
	for _, r := range a.opened.All() {
		if r.Digest == digest {
			return r, nil
		}
	}
	id, err := a.store.ReleaseByDigest(ctx, digest)
	if errors.Is(err, problem.ErrNotFound) {
		return nil, problem.Missing("release", digest, "Use the address from a payload.")
	}
	if err != nil {
		return nil, err
	}
	return a.Open(ctx, id)
}
