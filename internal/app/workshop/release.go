package workshop

import (
	"context"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/asset"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

// ToRelease reads what to release: files, or the draft of a widget if files is nil.
func (a *Workshop) ToRelease(ctx context.Context, s access.Scope, name string, files widget.Files) (*widget.Release, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	builder := a.builder
	if files == nil {
		w, err := a.Workpiece(ctx, name)
		if err != nil {
			return nil, err
		}
		var assets map[string]asset.Made
		files, assets = w.Folder()
		builder = MadeBefore{a.builder, assets}
	}
	r, faults := widget.Read(files, builder)
	if r == nil {
		return nil, problem.Faulty("widget-faulty", "The widget folder has faults.", faults)
	}
	if r.Manifest.Name != name {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "widget-name", Field: "name", What: fmt.Sprintf("The manifest says the widget is %q, but the address says %q.", r.Manifest.Name, name), Hint: "Send it to the address with the widget's own name."}
	}
	return r, nil
}
