package release

import (
	"context"
	"errors"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

// ReleaseFolder returns the files of a release; number 0 is the newest in use.
func (a *Releases) ReleaseFolder(ctx context.Context, s access.Scope, name string, number int) (Info, widget.Files, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return Info{}, nil, err
	}
	return a.Folder(ctx, name, number)
}

// Folder returns the files of a release with the bytes of its assets; number 0 is the newest
// in use.
func (a *Releases) Folder(ctx context.Context, name string, number int) (info Info, files widget.Files, err error) {
	if number == 0 {
		info, err = a.store.NewestReleaseFor(ctx, name, LotLast)
	} else {
		info, err = a.store.ReleaseByNumber(ctx, name, number)
	}
	if errors.Is(err, problem.ErrNotFound) && number > 0 {
		return info, nil, problem.Missing("release", fmt.Sprintf("%s %d", name, number), "List the widget's releases to see their numbers.")
	}
	if errors.Is(err, problem.ErrNotFound) {
		return info, nil, NoWidget(name)
	}
	if err != nil {
		return info, nil, err
	}
	files, err = a.store.ReleaseFolder(ctx, info.ID)
	return info, files, err
}
