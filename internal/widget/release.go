// Package widget builds a release from a platform developer's folder, and reports everything that
// is wrong with the folder at once.
package widget

import (
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
)

// Release is a widget folder that was read and built. It is immutable and safe for concurrent use.
type Release struct {
	Manifest Manifest
	Schema   *setting.Schema
	Messages map[string]message.Catalogue // by language
	Starters []Starter                    // by name
	Built    Built
	Files    Files
	Digest   string // of Files
	// Warnings are what will cause problems later. They prevent nothing.
	Warnings fault.List

	view   *view.View
	marked *view.Marked // only in a trial or a preview
	folder setting.Folder
	sample *jsondoc.Value // the sample's settings object, or nil

	capabilities []string // see Can
}

// Built is the result of the Builder.
type Built struct {
	Style string // minified stylesheet, "" for none
	Mount string // the mount module as statements that call $mount(function), "" for none
	// Assets are the processed files of assets/ by their paths. They have bytes only right after
	// building.
	Assets map[string]asset.Made
}

// Read reads, checks and builds a folder's files. If there are faults, there is no release.
func Read(files Files, b Builder) (*Release, fault.List) {
	return read(files, b, mode{view: view.Parse, schema: setting.ReadSchema, style: checkNewStyle})
}

// Open reads the folder of a stored release.
func Open(files Files, o Opened) (*Release, fault.List) {
	return read(files, o, mode{view: view.Open, schema: setting.ReadSchema, style: checkStyle, stored: true, digest: o.Digest})
}

// mode is how a folder is read.
type mode struct {
	view   func([]byte, map[string]*shape.Type) (*view.View, fault.List)
	schema func([]byte, setting.Folder) (*setting.Schema, fault.List)
	style  func([]byte) fault.List
	// stored says that the folder was valid when it was released. Rules that were added later must
	// not take it from pages that use it.
	stored bool
	digest string // of a stored folder; "" computes it
	trial  bool   // a folder with faults is shown as far as possible
}

func read(files Files, b Builder, m mode) (*Release, fault.List) {
	faults := append(files.Limits(), files.strangers()...)
	r := &Release{Files: files, Digest: files.Digest(), Messages: map[string]message.Catalogue{}}
	add := func(file string, more fault.List) {
		for _, f := range more {
			if f.Path == "" {
				f.Path = file
			}
			faults = append(faults, f)
		}
	}
	if m.digest != "" {
		r.Digest = m.digest
	}
	var manifest manifestDoc
	if src := files[ManifestFile]; src != nil {
		var more fault.List
		manifest, more = readManifest(src)
		add(ManifestFile, more)
		r.Manifest = manifest.Manifest
	}
	r.folder = r.readAssets(b, add)
	if src := files[SchemaFile]; src != nil {
		var more fault.List
		r.Schema, more = m.schema(src, r.folder)
		add(SchemaFile, more)
	}
	r.readMessages(manifest, add)
	if src := files[ViewFile]; src != nil {
		var types map[string]*shape.Type // nil, which allows any field, without a schema
		if r.Schema != nil {
			types = viewTypes(r.Schema)
		}
		var more fault.List
		r.view, more = m.view(src, types)
		add(ViewFile, more)
		if r.view != nil {
			add(ViewFile, r.missingSays())
		}
	}
	if src := files[StyleFile]; src != nil {
		add(StyleFile, m.style(src))
		var more fault.List
		r.Built.Style, more = b.Style(StyleFile, src)
		add(StyleFile, more)
	}
	for _, entry := range mountFiles {
		if files[entry] != nil {
			var more fault.List
			r.Built.Mount, more = b.Mount(files, entry)
			add(entry, more)
			break
		}
	}
	if manifest.doc != nil {
		r.readCapabilities(manifest, !m.stored, add)
	}
	if r.view != nil && manifest.doc != nil {
		r.checkPlaces(manifest, add)
	}
	if r.Schema != nil {
		add(ManifestFile, r.checkPasses(manifest))
		if r.view != nil {
			add(SchemaFile, r.unused())
			add(SchemaFile, r.unmarked())
		}
		r.readStarters(add)
		r.readSample(add)
	}
	whole := r.Schema != nil && r.view != nil && len(r.Manifest.Languages) > 0
	if m.stored && whole {
		return r, nil
	}
	if m.trial {
		faults.Sort()
		files.measure(faults)
		if !whole {
			return nil, faults
		}
		return r, faults
	}
	if len(faults) == 0 {
		r.tryAll(add)
	}
	r.warn(b)
	faults.Sort()
	r.Warnings.Sort()
	files.measure(faults)
	files.measure(r.Warnings)
	if len(faults) > 0 {
		return nil, append(faults, r.Warnings...)
	}
	return r, nil
}

// readAssets processes the folder's assets.
func (r *Release) readAssets(b Builder, add func(string, fault.List)) setting.Folder {
	folder := setting.Folder{}
	for _, p := range r.Files.Paths() {
		if !strings.HasPrefix(p, asset.Folder) || asset.NameFault(p) != "" {
			continue
		}
		made, faults := b.Asset(p, r.Files[p])
		add(p, faults)
		if made == nil {
			continue
		}
		if r.Built.Assets == nil {
			r.Built.Assets = map[string]asset.Made{}
		}
		r.Built.Assets[p] = *made
		folder[p] = made.Info
	}
	return folder
}

func (r *Release) readMessages(m manifestDoc, add func(string, fault.List)) {
	for _, lang := range r.Files.under(messagesDir) {
		file := path.Join(messagesDir, lang+".json")
		if m.doc != nil && !slices.Contains(m.Languages, lang) {
			add(file, fault.List{{Code: fault.BadLanguage, What: fmt.Sprintf("The manifest does not list the language %q.", lang), Fix: "Add it to \"languages\", or delete this file."}})
			continue
		}
		c, faults := message.Read(r.Files[file], lang)
		add(file, faults)
		if c != nil {
			r.Messages[lang] = c
		}
	}
	if len(m.Languages) == 0 {
		return
	}
	first := r.Messages[m.Languages[0]]
	for i, lang := range m.Languages {
		file := path.Join(messagesDir, lang+".json")
		if r.Files[file] == nil {
			add(ManifestFile, fault.List{m.doc.Get("languages").Items[i].Fault(fault.BadLanguage, "languages", fmt.Sprintf("There is no %s.", file), "Add the file. For a widget without messages, {} is enough.")})
			continue
		}
		for _, key := range first.Keys() {
			if c := r.Messages[lang]; c != nil && c[key] == nil {
				add(file, fault.List{{Line: 1, Column: 1, Field: key, Code: fault.MessageMissing, What: fmt.Sprintf("The message %q is missing, although %s has it.", key, m.Languages[0]), Fix: "Add it."}})
			}
		}
	}
}

func (r *Release) missingSays() (faults fault.List) {
	for _, s := range r.view.Says() {
		for _, lang := range r.Manifest.Languages {
			if c := r.Messages[lang]; c != nil && c[s.Key] == nil {
				faults = append(faults, fault.Fault{Line: s.Line, Column: s.Column, Field: s.Key, Code: fault.MessageMissing,
					What: fmt.Sprintf("There is no message %q in %s.", s.Key, lang), Fix: "Add it to messages/" + lang + ".json. " + fault.DidYouMean(s.Key, c.Keys())})
			}
		}
	}
	return faults
}

func (r *Release) checkPasses(m manifestDoc) (faults fault.List) {
	if m.doc == nil {
		return nil
	}
	mount := m.doc.Get("mount")
	for i, key := range m.Mount.Settings {
		if r.Schema.Get(key) == nil {
			faults = append(faults, mount.Get("settings").Items[i].Fault(fault.SettingUnknown, key, fmt.Sprintf("There is no setting %q in this schema.", key), fault.DidYouMean(key, r.Schema.Keys())))
		}
	}
	for i, key := range m.Mount.Messages {
		for _, lang := range m.Languages {
			if c := r.Messages[lang]; c != nil && c[key] == nil {
				faults = append(faults, mount.Get("messages").Items[i].Fault(fault.MessageMissing, key, fmt.Sprintf("There is no message %q in %s.", key, lang), fault.DidYouMean(key, c.Keys())))
			}
		}
	}
	return faults
}

// unused reports settings that have no effect on anything.
func (r *Release) unused() (faults fault.List) {
	style := string(r.Files[StyleFile])
	for _, s := range r.Schema.Settings {
		name := setting.Kebab(s.Key)
		switch {
		case r.view.Uses(s.Key), slices.Contains(r.Manifest.Mount.Settings, s.Key):
		case s.Look && (HasWord(style, "--"+name) || HasWord(style, "[data-"+name)):
		case r.decides(s.Key):
		default:
			f := fault.Fault{Field: s.Key, Line: s.Line, Column: s.Column, Code: fault.SettingUnused, What: fmt.Sprintf("Nothing uses the setting %q.", s.Key),
				Fix: "Use it in the view, list it in the manifest's \"mount\", or delete it."}
			if s.Look {
				f.Fix = fmt.Sprintf("Use var(--%s) or [data-%[1]s=…] in style.css, or delete it.", name)
			}
			faults = append(faults, f)
		}
	}
	return faults
}

// unmarked reports lists with pages whose items the view does not mark.
func (r *Release) unmarked() (faults fault.List) {
	for _, s := range r.Schema.Paged() {
		if mark := fmt.Sprintf("%s=%q", view.ItemsMark, s.Key); !strings.Contains(string(r.Files[ViewFile]), mark) {
			faults = append(faults, fault.Fault{Field: s.Key, Line: s.Line, Column: s.Column, Code: fault.SchemaUnusable, What: fmt.Sprintf("The list %q has pages, but the view does not mark the element that contains its items.", s.Key), Fix: "Add " + mark + " to that element."})
		}
	}
	return faults
}

// decides reports whether another setting's "when", "sortBy" or "page" names this one.
func (r *Release) decides(key string) bool {
	return slices.ContainsFunc(r.Schema.Settings, func(s *setting.Setting) bool { return s.When[key] != nil || s.SortBy == key || s.Page == key })
}

// tryAll renders the defaults and every starter with the sample, in every language.
func (r *Release) tryAll(add func(string, fault.List)) {
	now := time.Now()
	starters := append([]Starter{{}}, r.Starters...)
	for _, s := range starters {
		for _, lang := range r.Manifest.Languages {
			values, missing := r.Preview(s.Settings, now)
			if len(missing) > 0 {
				file := SampleFile
				for i := range missing {
					missing[i].What += " The folder cannot be previewed without it."
					missing[i].Fix = "Set it in sample.json."
				}
				add(file, missing)
				return
			}
			if _, faults := r.Show(values, lang, now, setting.World{}); len(faults) > 0 {
				for i := range faults {
					if s.Name != "" {
						faults[i].What = fmt.Sprintf("With the starter %q in %s: %s", s.Name, lang, faults[i].What)
					}
				}
				add(ViewFile, faults)
				return
			}
		}
	}
}

// Preview completes values for a preview with the sample and then with defaults. Faults name
// required settings that still have no value.
func (r *Release) Preview(values setting.Values, now time.Time) (setting.Values, fault.List) {
	sample, _ := r.Sample(now)
	merged := setting.Values{}
	for k, v := range sample {
		merged[k] = v
	}
	for k, v := range values {
		merged[k] = v
	}
	return r.Schema.Complete(merged)
}

// SampleEntries returns the sample's lists of entries, by key.
func (r *Release) SampleEntries(now time.Time) map[string]any {
	sample, _ := r.Sample(now)
	lists := map[string]any{}
	for _, s := range r.Schema.Settings {
		if list, ok := sample[s.Key].([]any); ok && len(s.Fields) > 0 && len(list) > 0 {
			lists[s.Key] = list
		}
	}
	return lists
}

// Sampled lists the keys of visible settings that Preview takes from the sample, in the schema's
// order.
func (r *Release) Sampled(values setting.Values, now time.Time) (keys []string) {
	sample, _ := r.Sample(now)
	full, _ := r.Preview(values, now)
	for _, s := range r.Schema.Settings {
		_, set := values[s.Key]
		if _, has := sample[s.Key]; has && !set && s.Matters(full) {
			keys = append(keys, s.Key)
		}
	}
	return keys
}

// Language returns the widget's language that fits lang best: the same, or one with the same base,
// or the widget's first.
func (r *Release) Language(lang string) string {
	for _, l := range r.Manifest.Languages {
		if l == lang {
			return l
		}
	}
	for _, l := range r.Manifest.Languages {
		if message.Base(l) == message.Base(lang) {
			return l
		}
	}
	return r.Manifest.Languages[0]
}
