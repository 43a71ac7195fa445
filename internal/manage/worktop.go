package manage

import (
	"strconv"
	"strings"

	"glasspocket/internal/app/workshop"
	"glasspocket/internal/fault"
	"glasspocket/internal/folder"
	"glasspocket/internal/intake"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func widgetDraftOut(d workshop.Draft) wire.WidgetDraft {
	return wire.WidgetDraft{Widget: d.Widget, Revision: d.Revision, Release: d.Release, CreatedAt: d.CreatedAt, ChangedAt: d.ChangedAt, ChangedBy: d.ChangedBy}
}

func (d *door) workpieceOut(w *workshop.Workpiece) wire.WidgetDraft {
	out := widgetDraftOut(w.Draft)
	out.Files = []wire.DraftFile{}
	for _, f := range w.Files {
		file := wire.DraftFileOf(f.Path, f.Bytes, f.Made, d.App.Base())
		file.ChangedBy = f.ChangedBy
		out.Files = append(out.Files, file)
	}
	return out
}

func (d *door) listDrafts(k *call) (any, error) {
	p, err := k.page()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Workshop.List(k, k.scope, p)
	out := wire.WidgetDrafts{Drafts: []wire.WidgetDraft{}}
	list, out.Next = cut(list, p.Limit, func(w workshop.Draft) string { return w.Widget })
	for _, w := range list {
		out.Drafts = append(out.Drafts, widgetDraftOut(w))
	}
	return out, err
}

func (d *door) startDraft(k *call) (any, error) {
	var in wire.NewWidgetDraft
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	n := workshop.NewDraft{Widget: k.Params("name"), From: in.From, Release: in.Release}
	switch {
	case in.Files != nil:
		n.Files = files(wire.Folder{Files: in.Files})
	case in.From != "":
		n.Title = strings.TrimSpace(in.Title)
	case in.Blank:
		title := strings.TrimSpace(in.Title)
		if title == "" {
			title = n.Widget
		}
		n.Files = widget.Blank(n.Widget, title, "en")
	}
	w, err := d.App.Workshop.Add(k, k.scope, n)
	if err != nil {
		return nil, err
	}
	return d.workpieceOut(w), nil
}

func (d *door) readWidgetDraft(k *call) (any, error) {
	w, err := d.App.Workshop.Get(k, k.scope, k.Params("name"))
	if err != nil {
		return nil, err
	}
	return d.workpieceOut(w), nil
}

func (d *door) saveWidgetDraft(k *call) (any, error) {
	var in wire.DraftFiles
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	w, err := d.App.Workshop.Save(k, k.scope, k.Params("name"), wire.Changes(in.Files))
	if err != nil {
		return nil, err
	}
	return d.workpieceOut(w), nil
}

func (d *door) packWidgetDraft(k *call) (any, error) {
	w, err := d.App.Workshop.Get(k, k.scope, k.Params("name"))
	if err != nil {
		return nil, err
	}
	all, _ := w.Folder()
	packed, err := folder.Pack(w.Widget, all)
	return wire.Packed{File: w.Widget + ".zip", Base64: packed}, err
}

func (d *door) deleteWidgetDraft(k *call) (any, error) {
	return nil, d.App.Workshop.Delete(k, k.scope, k.Params("name"))
}

func (d *door) checkWidgetDraft(k *call) (any, error) {
	var in wire.DraftFiles
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	r, faults, err := d.App.Workshop.CheckDraft(k, k.scope, k.Params("name"), wire.Changes(in.Files))
	out := wire.Checked{Faults: append([]fault.Fault{}, faults...)}
	if r != nil {
		out.Widget, out.Digest = r.Manifest.Name, r.Digest
	}
	return out, err
}

func (d *door) previewWidgetDraft(k *call) (any, error) {
	var in wire.PreviewWidget
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	t, err := d.App.Workshop.Preview(k, k.scope, k.Params("name"), wire.Changes(in.Files), in.Cases)
	if err != nil {
		return nil, err
	}
	return wire.PreviewedWidgetOf(t, d.App.Base()), nil
}

func (d *door) importPage(k *call) (any, error) {
	var in wire.Page
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	ask := intake.Ask{Page: []byte(in.HTML), Name: in.Name, Part: in.Part, Keep: in.Keep, Copies: map[string]intake.Copy{}}
	for _, c := range in.Copies {
		ask.Copies[c.Address] = intake.Copy{Path: c.Path, Bytes: c.Base64}
	}
	for _, l := range in.Leave {
		ask.Leave = append(ask.Leave, intake.Repair(l))
	}
	m, err := d.App.Workshop.ImportPage(k.scope, ask)
	if err != nil {
		return nil, err
	}
	out := wire.ImportedPage{Title: m.Title, Files: []wire.File{}, Notes: append([]intake.Note{}, m.Notes...), Remotes: append([]intake.Remote{}, m.Remotes...), Parts: append([]intake.PagePart{}, m.Parts...), Faults: append([]fault.Fault{}, m.Faults...)}
	out.Files = append(out.Files, wire.FilesOf(m.Files)...)
	return out, nil
}

func (d *door) releaseFiles(k *call) (any, error) {
	number, err := strconv.Atoi(k.Params("number"))
	if err != nil && k.Params("number") != "newest" {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "number-faulty", Field: "number", What: "The release's number is missing.", Hint: "Use a number, as in /releases/3/files, or “newest”."}
	}
	info, files, err := d.App.Releases.ReleaseFolder(k, k.scope, k.Params("name"), number)
	if err != nil {
		return nil, err
	}
	return wire.ReleaseFolder{Release: releaseOut(info, false), Files: wire.FilesOf(files)}, nil
}
