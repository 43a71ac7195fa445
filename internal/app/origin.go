package app

import (
	"bytes"
	"context"

	"glasspocket/internal/compare"
	"glasspocket/internal/fault"
	"glasspocket/internal/merge"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Differences compares a widget's draft with its newest release, or, for a number, that release
// with the one before it.
func (a *App) Differences(ctx context.Context, s Scope, name string, number int) (compare.Changes, int, error) {
	if err := s.require(releaseWidgets); err != nil {
		return compare.Changes{}, 0, err
	}
	var after widget.Files
	since := number - 1
	if number == 0 {
		w, err := a.workpiece(ctx, name)
		if err != nil {
			return compare.Changes{}, 0, err
		}
		after, _ = w.Folder()
		if since, err = a.newestNumber(ctx, name); err != nil {
			return compare.Changes{}, 0, err
		}
	} else {
		var err error
		if _, after, err = a.releaseFolder(ctx, name, number); err != nil {
			return compare.Changes{}, 0, err
		}
	}
	before := widget.Files{}
	if since > 0 {
		var err error
		if _, before, err = a.releaseFolder(ctx, name, since); err != nil {
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
func (a *App) OriginOf(ctx context.Context, s Scope, name string) (o Origin, err error) {
	w, err := a.WidgetDraft(ctx, s, name)
	if err != nil {
		return o, err
	}
	mine, _ := w.Folder()
	from := widget.OriginOf(mine)
	if from == nil {
		return o, notFound("origin", name, "This widget is not a copy of another one.")
	}
	o.From = *from
	_, base, err := a.releaseFolder(ctx, from.Widget, from.Release)
	if err != nil {
		return o, err
	}
	info, theirs, err := a.releaseFolder(ctx, from.Widget, 0)
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
func (a *App) PreviewRelease(ctx context.Context, s Scope, name string, number int, cases []widget.Case) (PreviewedWidget, error) {
	if err := s.require(releaseWidgets); err != nil {
		return PreviewedWidget{}, err
	}
	if len(cases) > CasesMost {
		return PreviewedWidget{}, &Error{Kind: Invalid, Code: "too-many-cases", Field: "cases", What: "At most 24 preview cases can be shown at once.", Hint: "Request fewer."}
	}
	info, files, err := a.releaseFolder(ctx, name, number)
	if err != nil {
		return PreviewedWidget{}, err
	}
	r, err := a.open(ctx, info.ID)
	if err != nil {
		return PreviewedWidget{}, err
	}
	return Try(a.site, a.trials, files, r.Built.Assets, cases, a.now()), nil
}
