package wire

import (
	"encoding/json"
	"unicode/utf8"

	"glasspocket/internal/app/workshop"
	"glasspocket/internal/asset"
	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

// FilesOf converts a folder's files, sorted by path.
func FilesOf(files widget.Files) (list []File) {
	for _, p := range files.Paths() {
		f := File{Path: p}
		if utf8.Valid(files[p]) {
			f.Text = string(files[p])
		} else {
			f.Base64 = files[p]
		}
		list = append(list, f)
	}
	return list
}

// DraftFileOf converts a file of a draft. made is the processed asset, or nil.
func DraftFileOf(path string, content []byte, made *asset.Made, base string) DraftFile {
	f := DraftFile{Path: path, Digest: digest.Of(content)}
	if utf8.Valid(content) {
		f.Text = string(content)
	} else {
		f.Base64 = content
	}
	if made != nil && len(made.Forms) > 0 {
		p := imageOf(*made, base)
		f.Image = &p
	}
	return f
}

func imageOf(made asset.Made, base string) Image {
	return Image{Kind: made.Kind, Name: made.Name, Address: base + made.Address(made.Forms[len(made.Forms)-1])}
}

// Bytes returns the content of a draft's file.
func (f DraftFile) Bytes() []byte {
	if f.Base64 != nil {
		return f.Base64
	}
	return []byte(f.Text)
}

// Changes converts requested changes to a draft's files.
func Changes(in []DraftFile) (list []workshop.FileChange) {
	for _, f := range in {
		list = append(list, workshop.FileChange{Path: f.Path, Bytes: f.Bytes(), Removed: f.Removed, Was: f.Was})
	}
	return list
}

// PreviewedWidgetOf converts the result of a trial. Addresses of its images start with base.
func PreviewedWidgetOf(t workshop.PreviewedWidget, base string) PreviewedWidget {
	out := PreviewedWidget{Revision: t.Revision, Faults: append([]fault.Fault{}, t.Faults...), Shown: []Shown{}, Elements: []view.Element{}}
	if t.Trial == nil {
		return out
	}
	for _, s := range t.Shown {
		shown := Shown{Script: s.Script, ScriptLine: s.ScriptLine, Faults: s.Faults}
		if len(s.Faults) == 0 {
			shown.Payload = &s.Payload
		}
		out.Shown = append(out.Shown, shown)
	}
	r := t.Trial
	out.Map, out.Elements = r.Map, append(out.Elements, r.Elements...)
	out.Widget = &PreviewedFolder{ReadsPage: r.ReadsPage(), Title: r.Manifest.Title, Languages: r.Manifest.Languages, Starters: append([]widget.Starter{}, r.Starters...), Settings: append([]*setting.Setting{}, r.Schema.Settings...),
		Floats: r.Manifest.Floats, Messages: append([]string{}, r.Messages[r.Manifest.Languages[0]].Keys()...), Mount: append([]string{}, r.Manifest.Mount.Settings...), Functions: view.FunctionNames(), Types: setting.TypeNames(), Images: map[string]Image{}}
	for path, made := range r.Built.Assets {
		if len(made.Forms) > 0 {
			out.Widget.Images[path] = imageOf(made, base)
		}
	}
	return out
}

// SettingsOf converts settings, an empty object for none.
func SettingsOf(values setting.Values) json.RawMessage {
	if values == nil {
		values = setting.Values{}
	}
	text, _ := json.Marshal(values) // values are in the types of encoding/json
	return text
}
