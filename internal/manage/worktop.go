package manage

import (
	"strings"
	"unicode/utf8"

	"glasspocket/internal/app"
	"glasspocket/internal/fault"
	"glasspocket/internal/intake"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func widgetDraftOut(d app.WidgetDraft) wire.WidgetDraft {
	out := wire.WidgetDraft{Widget: d.Widget, Revision: d.Revision, Release: d.Release, CreatedAt: d.CreatedAt, ChangedAt: d.ChangedAt, ChangedBy: d.ChangedBy}
	if d.FromWidget != "" {
		out.From = &wire.ReleaseOf{Widget: d.FromWidget, Release: d.FromRelease}
	}
	return out
}

func (d *door) workpieceOut(w *app.Workpiece) wire.WidgetDraft {
	out := widgetDraftOut(w.WidgetDraft)
	out.Files = []wire.DraftFile{}
	for _, f := range w.Files {
		file := wire.DraftFile{Path: f.Path, Digest: f.Digest}
		if utf8.Valid(f.Bytes) {
			file.Text = string(f.Bytes)
		} else {
			file.Base64 = f.Bytes
		}
		if f.Made != nil {
			file.Picture = &wire.Picture{Kind: f.Made.Kind, Name: f.Made.Name, Address: d.App.AssetAddress(f.Made.Info)}
		}
		out.Files = append(out.Files, file)
	}
	return out
}

func changes(in []wire.DraftFile) (list []app.FileChange) {
	for _, f := range in {
		c := app.FileChange{Path: f.Path, Bytes: []byte(f.Text), Removed: f.Removed, Was: f.Was}
		if f.Base64 != nil {
			c.Bytes = f.Base64
		}
		list = append(list, c)
	}
	return list
}

func (d *door) listDrafts(k *call) (any, error) {
	p, err := k.page()
	if err != nil {
		return nil, err
	}
	list, err := d.App.WidgetDrafts(k, k.scope, p)
	out := wire.WidgetDrafts{Drafts: []wire.WidgetDraft{}}
	list, out.Next = cut(list, p.Limit, func(w app.WidgetDraft) string { return w.Widget })
	for _, w := range list {
		out.Drafts = append(out.Drafts, widgetDraftOut(w))
	}
	return out, err
}

func (d *door) beginDraft(k *call) (any, error) {
	var in wire.NewWidgetDraft
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	n := app.NewWidgetDraft{Widget: k.Params("name"), From: in.From, Release: in.Release}
	switch {
	case in.Files != nil:
		n.Files = files(wire.Folder{Files: in.Files})
	case in.Blank:
		title := strings.TrimSpace(in.Title)
		if title == "" {
			title = n.Widget
		}
		n.Files = widget.Blank(n.Widget, title, "en")
	}
	w, err := d.App.AddWidgetDraft(k, k.scope, n)
	if err != nil {
		return nil, err
	}
	return d.workpieceOut(w), nil
}

func (d *door) readWidgetDraft(k *call) (any, error) {
	w, err := d.App.WidgetDraft(k, k.scope, k.Params("name"))
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
	w, err := d.App.SaveWidgetDraft(k, k.scope, k.Params("name"), changes(in.Files))
	if err != nil {
		return nil, err
	}
	return d.workpieceOut(w), nil
}

func (d *door) endWidgetDraft(k *call) (any, error) {
	return nil, d.App.EndWidgetDraft(k, k.scope, k.Params("name"))
}

func (d *door) checkWidgetDraft(k *call) (any, error) {
	var in wire.DraftFiles
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	r, faults, err := d.App.CheckWidgetDraft(k, k.scope, k.Params("name"), changes(in.Files))
	out := wire.Checked{Faults: append([]fault.Fault{}, faults...)}
	if r != nil {
		out.Widget, out.Digest = r.Manifest.Name, r.Digest
	}
	return out, err
}

func (d *door) tryWidgetDraft(k *call) (any, error) {
	var in wire.TryDraft
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	t, err := d.App.TryWidgetDraft(k, k.scope, k.Params("name"), changes(in.Files), in.Cases)
	if err != nil {
		return nil, err
	}
	return Tried(t, d.App.Base()), nil
}

// Tried writes what a trial has given, with the addresses of its pictures below base.
func Tried(t app.Tried, base string) wire.Tried {
	out := wire.Tried{Revision: t.Revision, Faults: append([]fault.Fault{}, t.Faults...), Shown: []wire.Shown{}, Elements: []view.Element{}}
	if t.Trial == nil {
		return out
	}
	for _, s := range t.Shown {
		shown := wire.Shown{Script: s.Script, ScriptLine: s.ScriptLine, Faults: s.Faults}
		if len(s.Faults) == 0 {
			shown.Payload = &s.Payload
		}
		out.Shown = append(out.Shown, shown)
	}
	r := t.Trial
	out.Map, out.Elements = r.Map, append(out.Elements, r.Elements...)
	out.Widget = &wire.TriedWidget{Title: r.Manifest.Title, Languages: r.Manifest.Languages, Starters: append([]widget.Starter{}, r.Starters...), Settings: r.Schema.Settings,
		Floats: r.Manifest.Floats, Messages: append([]string{}, r.Messages[r.Manifest.Languages[0]].Keys()...), Mount: append([]string{}, r.Manifest.Mount.Settings...), Functions: view.FunctionNames(), Types: setting.TypeNames(), Pictures: map[string]wire.Picture{}}
	for path, made := range r.Built.Assets {
		if len(made.Forms) > 0 {
			out.Widget.Pictures[path] = wire.Picture{Kind: made.Kind, Name: made.Name, Address: base + made.Address(made.Forms[len(made.Forms)-1])}
		}
	}
	return out
}

func (d *door) takePage(k *call) (any, error) {
	var in wire.Page
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	ask := intake.Ask{Page: []byte(in.HTML), Name: in.Name, Part: in.Part, Keep: in.Keep, Copies: map[string]intake.Copy{}}
	for _, c := range in.Copies {
		ask.Copies[c.Address] = intake.Copy{Path: c.Path, Bytes: c.Base64}
	}
	for _, l := range in.Leave {
		ask.Leave = append(ask.Leave, intake.Mending(l))
	}
	m, err := d.App.TakePage(k.scope, ask)
	if err != nil {
		return nil, err
	}
	out := wire.TakenPage{Title: m.Title, Files: []wire.File{}, Notes: append([]intake.Note{}, m.Notes...), Remotes: append([]intake.Remote{}, m.Remotes...), Parts: append([]intake.PagePart{}, m.Parts...), Faults: append([]fault.Fault{}, m.Faults...)}
	for _, p := range m.Files.Paths() {
		f := wire.File{Path: p}
		if utf8.Valid(m.Files[p]) {
			f.Text = string(m.Files[p])
		} else {
			f.Base64 = m.Files[p]
		}
		out.Files = append(out.Files, f)
	}
	return out, nil
}
