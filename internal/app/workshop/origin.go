package workshop

import (
	"bytes"
	"context"

	"glasspocket/internal/app/access"
	"glasspocket/internal/compare"
	"glasspocket/internal/fault"
	"glasspocket/internal/merge"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Differences compares a widget's draft with its newest release, or, for a number, that release
// with the one before it.
func (a *Workshop) Differences(ctx context.Context, s access.Scope, name string, number int) (compare.Changes, int, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return compare.Changes{}, 0, err
	}
	var after widget.Files
	since := number - 1
	if number == 0 {
		w, err := a.Workpiece(ctx, name)
		if err != nil {
			return compare.Changes{}, 0, err
		}
		after, _ = w.Folder()
		if since, err = a.releases.NewestNumber(ctx, name); err != nil {
			return compare.Changes{}, 0, err
		}
	} else {
		var err error
		if _, after, err = a.releases.Folder(ctx, name, number); err != nil {
			return compare.Changes{}, 0, err
		}
	}
	before := widget.Files{}
	if since > 0 {
		var err error
		if _, before, err = a.releases.Folder(ctx, name, since); err != nil {
			return compare.Changes{}, 0, err
		}
	}
	return compare.Folders(before, after, schemaOf(before), schemaOf(after)), since, nil
}

func schemaOf(files widget.Files) *setting.Schema {
	if files[widget.SchemaFile] == nil {
		return nil
	}
	schema, faults := setting.ReadSchema(files[widget.SchemaFile], nil)
	for _, f := range faults {
		if f.Code == fault.JSONSyntax {
			return nil
		}
	}
	return schema
}

// Origin describes the widget from which a draft was copied.
type Origin struct {
	From       widget.Origin
	Newest     int
	Changes    compare.Changes // in the original, since the copy
	Files      map[string]FileChange
	Collisions []merge.Collision
}

// OriginOf compares a draft with its original, and merges what changed in either since the copy. It
// saves nothing.
func (a *Workshop) OriginOf(ctx context.Context, s access.Scope, name string) (o Origin, err error) {
	w, err := a.Get(ctx, s, name)
	if err != nil {
		return o, err
	}
	mine, _ := w.Folder()
	from := widget.OriginOf(mine)
	if from == nil {
		return o, problem.Missing("origin", name, "This widget is not a copy of another one.")
	}
	o.From = *from
	_, base, err := a.releases.Folder(ctx, from.Widget, from.Release)
	if err != nil {
		return o, err
	}
	info, theirs, err := a.releases.Folder(ctx, from.Widget, 0)
	if err != nil {
		return o, err
	}
	o.Newest = info.Number
	o.Changes = compare.Folders(base, theirs, schemaOf(base), schemaOf(theirs))
	if info.Number == from.Release {
		return o, nil
	}
	// copyOf is updated after the merge: a changed title on the next line would conflict with it.
	merged, collisions := merge.Folders(widget.CopyOf(base, name, *from), mine, widget.CopyOf(theirs, name, *from))
	merged = widget.CopyOf(merged, name, widget.Origin{Widget: from.Widget, Release: info.Number})
	o.Collisions, o.Files = collisions, map[string]FileChange{}
	for p, content := range merged {
		if was, there := mine[p]; !there || !bytes.Equal(was, content) {
			o.Files[p] = FileChange{Path: p, Bytes: content}
		}
	}
	for p := range mine {
		if _, there := merged[p]; !there {
			o.Files[p] = FileChange{Path: p, Removed: true}
		}
	}
	return o, nil
}

// PreviewRelease renders a release in several cases.
func (a *Workshop) PreviewRelease(ctx context.Context, s access.Scope, name string, number int, cases []widget.Case) (PreviewedWidget, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return PreviewedWidget{}, err
	}
	if len(cases) > CasesMost {
		return PreviewedWidget{}, &problem.Error{Kind: problem.Invalid, Code: "too-many-cases", Field: "cases", What: "At most 24 preview cases can be shown at once.", Hint: "Request fewer."}
	}
	info, files, err := a.releases.Folder(ctx, name, number)
	if err != nil {
		return PreviewedWidget{}, err
	}
	r, err := a.releases.Open(ctx, info.ID)
	if err != nil {
		return PreviewedWidget{}, err
	}
	return Try(a.site, a.trials, files, r.Built.Assets, cases, a.now()), nil
}
