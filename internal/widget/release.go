// Package widget turns a folder that a platform developer wrote into a release, and
// reports everything that is wrong with the folder at once.
package widget

import (
	"fmt"
	"path"
	"regexp"
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

// Release is a widget folder, read and built. It is immutable and safe for concurrent use.
type Release struct {
	Manifest Manifest
	Schema   *setting.Schema
	Messages map[string]message.Catalogue // by language
	Starters []Starter                    // by name
	Built    Built
	Files    Files
	Digest   string // of Files
	// Warnings are what will bite later and stops nothing now.
	Warnings fault.List

	view   *view.View
	folder setting.Folder
	sample *jsondoc.Value // the sample's settings object, or nil
}

// Built is what a release needs besides its files: the outcome of the Builder.
type Built struct {
	Style string // minified stylesheet, "" without one
	Mount string // the mount module as statements that call $mount(function), "" without one
	// Assets are what was made of the files under assets/, by their path. The bytes are there
	// when it has just been built.
	Assets map[string]asset.Made
}

// Starter is a named set of settings to begin from.
type Starter struct {
	Name     string         `json:"name"`
	Title    message.Words  `json:"title"`
	Summary  message.Words  `json:"summary,omitempty"`
	Heights  []Height       `json:"heights,omitempty"` // the manifest's when empty
	Settings setting.Values `json:"settings"`
}

// Builder bundles what a browser runs. Faults carry their path and place.
type Builder interface {
	Style(path string, css []byte) (string, fault.List)
	Mount(files Files, entry string) (string, fault.List)
	Asset(path string, src []byte) (*asset.Made, fault.List)
	// Weight is how many bytes of a script travel to a visitor, 0 when that is not looked at.
	Weight(code string) int
}

// Opened is a Builder for a stored release, which has been built and checked before.
type Opened struct {
	Built  Built
	Digest string // of the folder, whose assets need not be there; "" takes it of the files
}

// Style returns the stored stylesheet.
func (o Opened) Style(string, []byte) (string, fault.List) { return o.Built.Style, nil }

// Mount returns the stored mount module.
func (o Opened) Mount(Files, string) (string, fault.List) { return o.Built.Mount, nil }

// Asset returns what is stored of an asset, without its bytes.
func (o Opened) Asset(path string, _ []byte) (*asset.Made, fault.List) {
	made, ok := o.Built.Assets[path]
	if !ok {
		return nil, fault.List{{Code: fault.FileMissing, What: "The stored asset is gone.", Mend: "Release the folder again."}}
	}
	return &made, nil
}

// Weight looks at nothing: it has been looked at.
func (o Opened) Weight(string) int { return 0 }

// The keys of a starter and of sample.json.
var (
	StarterKeys = []jsondoc.Key{
		{Name: "title", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "what people call it, by language"},
		{Name: "summary", Is: []jsondoc.Kind{jsondoc.Object}, About: "one sentence, by language"},
		{Name: "heights", Is: []jsondoc.Kind{jsondoc.Array}, About: "as in the manifest; they go before it"},
		{Name: "settings", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "values by setting, those for small screens under `small`"},
	}
	SampleKeys = []jsondoc.Key{{Name: "settings", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "values by setting; a moment may be a duration from now with a zone, `P12DT4H[Europe/Berlin]`, with a minus sign before now"}}
)

// Read reads and builds a folder's files. With faults there is no release.
func Read(files Files, b Builder) (*Release, fault.List) {
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
	o, stored := b.(Opened)
	if stored && o.Digest != "" {
		r.Digest = o.Digest
	}
	readView := view.Parse
	if stored {
		readView = view.Open
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
		r.Schema, more = setting.ReadSchema(src, r.folder)
		add(SchemaFile, more)
	}
	r.readMessages(manifest, add)
	if src := files[ViewFile]; src != nil {
		var types map[string]*shape.Type // nil, any, while there is no schema to hold fields against
		if r.Schema != nil {
			types = viewTypes(r.Schema)
		}
		var more fault.List
		r.view, more = readView(src, types)
		add(ViewFile, more)
		if r.view != nil {
			add(ViewFile, r.missingSays())
		}
	}
	if src := files[StyleFile]; src != nil {
		add(StyleFile, checkStyle(src))
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
	if r.view != nil && manifest.doc != nil {
		r.checkPlaces(manifest, add)
	}
	if r.Schema != nil {
		add(ManifestFile, r.checkPasses(manifest))
		if r.view != nil {
			add(SchemaFile, r.unused())
		}
		r.readStarters(add)
		r.readSample(add)
	}
	// What is stored was sound when it was released. A rule that came later must not take it
	// from the pages that have it.
	if stored && r.Schema != nil && r.view != nil && len(r.Manifest.Languages) > 0 {
		return r, nil
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

// readAssets makes what is offered of the folder's assets.
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
			add(file, fault.List{{Code: fault.BadLanguage, What: fmt.Sprintf("The manifest does not list the language %q.", lang), Mend: "Add it to \"languages\", or remove this file."}})
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
			add(ManifestFile, fault.List{m.doc.Get("languages").Items[i].Fault(fault.BadLanguage, "languages", fmt.Sprintf("There is no %s.", file), "Add the file; {} is enough for a widget that says nothing.")})
			continue
		}
		for _, key := range first.Keys() {
			if c := r.Messages[lang]; c != nil && c[key] == nil {
				add(file, fault.List{{Line: 1, Column: 1, Field: key, Code: fault.MessageMissing, What: fmt.Sprintf("The message %q, which %s has, is missing.", key, m.Languages[0]), Mend: "Add it."}})
			}
		}
	}
}

func (r *Release) missingSays() (faults fault.List) {
	for _, s := range r.view.Says() {
		for _, lang := range r.Manifest.Languages {
			if c := r.Messages[lang]; c != nil && c[s.Key] == nil {
				faults = append(faults, fault.Fault{Line: s.Line, Column: s.Column, Field: s.Key, Code: fault.MessageMissing,
					What: fmt.Sprintf("There is no message %q in %s.", s.Key, lang), Mend: "Add it to messages/" + lang + ".json. " + fault.DidYouMean(s.Key, c.Keys())})
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
			faults = append(faults, mount.Get("settings").Items[i].Fault(fault.SettingUnknown, key, fmt.Sprintf("No setting %q is declared.", key), fault.DidYouMean(key, r.Schema.Keys())))
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

// unused reports the settings that make no difference to anything.
func (r *Release) unused() (faults fault.List) {
	style := string(r.Files[StyleFile])
	for _, s := range r.Schema.Settings {
		name := setting.Kebab(s.Key)
		switch {
		case r.view.Uses(s.Key), slices.Contains(r.Manifest.Mount.Settings, s.Key):
		case s.Look && regexp.MustCompile(`(--|\[data-)`+name+`\b`).MatchString(style):
		case r.decides(s.Key):
		default:
			f := fault.Fault{Field: s.Key, Line: s.Line, Column: s.Column, Code: fault.SettingUnused, What: fmt.Sprintf("Nothing uses the setting %q.", s.Key),
				Mend: "Use it in the view, or list it in the manifest's \"mount\", or remove it."}
			if s.Look {
				f.Mend = fmt.Sprintf("Use var(--%s) or [data-%[1]s=…] in style.css, or remove it.", name)
			}
			faults = append(faults, f)
		}
	}
	return faults
}

// decides tells whether another setting's "when" stands on this one.
func (r *Release) decides(key string) bool {
	return slices.ContainsFunc(r.Schema.Settings, func(s *setting.Setting) bool { return s.When[key] != nil })
}

func (r *Release) readStarters(add func(string, fault.List)) {
	for _, name := range r.Files.under(startersDir) {
		file := path.Join(startersDir, name+".json")
		doc, faults := jsondoc.Read(r.Files[file])
		if doc != nil {
			more := doc.Expect("a starter", StarterKeys)
			faults = append(faults, more...)
			if !NameForm.MatchString(name) {
				faults = append(faults, fault.Fault{Code: fault.BadName, What: fmt.Sprintf("%q cannot be a starter's name.", name), Mend: "Rename the file: lower-case letters, digits and hyphens."})
			}
			if len(more) == 0 {
				s := Starter{Name: name}
				s.Title, more = message.ReadWords(doc.Get("title"), "title")
				faults = append(faults, more...)
				if v := doc.Get("summary"); v != nil {
					s.Summary, more = message.ReadWords(v, "summary")
					faults = append(faults, more...)
				}
				s.Heights, more = readHeights(doc.Get("heights"))
				faults = append(faults, more...)
				s.Settings, more = r.Schema.Check(doc.Get("settings"))
				faults = append(faults, more...)
				r.Starters = append(r.Starters, s)
			}
		}
		add(file, faults)
	}
}

func (r *Release) readSample(add func(string, fault.List)) {
	src := r.Files[SampleFile]
	if src == nil {
		return
	}
	doc, faults := jsondoc.Read(src)
	if doc != nil {
		more := doc.Expect("the sample", SampleKeys)
		faults = append(faults, more...)
		if len(more) == 0 {
			r.sample = doc.Get("settings")
			_, more = r.Sample(time.Now())
			faults = append(faults, more...)
		}
	}
	add(SampleFile, faults)
}

// Sample returns the sample content, its relative moments resolved against now.
func (r *Release) Sample(now time.Time) (setting.Values, fault.List) {
	if r.sample == nil {
		return setting.Values{}, nil
	}
	fresh := r.sample.Clone() // CheckSample resolves in place
	return r.Schema.CheckSample(fresh, now)
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
					missing[i].What += " The folder cannot be tried out without it."
					missing[i].Mend = "Give it in sample.json."
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

// Preview completes values for a preview: what is not set comes from the sample, then
// from the defaults. Faults name required settings that nothing gives.
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

// Language returns the widget's language that fits lang best: the same, the same base
// language, else the widget's first.
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

// Starter returns the starter called name, or false.
func (r *Release) Starter(name string) (Starter, bool) {
	for _, s := range r.Starters {
		if s.Name == name {
			return s, true
		}
	}
	return Starter{}, false
}

// StarterNames lists the starters.
func (r *Release) StarterNames() []string {
	names := make([]string, len(r.Starters))
	for i, s := range r.Starters {
		names[i] = s.Name
	}
	return names
}

// HeightsFor returns the room to reserve for a pocket that began from starter (may be "").
func (r *Release) HeightsFor(starter string) []Height {
	if s, ok := r.Starter(starter); ok && len(s.Heights) > 0 {
		return s.Heights
	}
	return r.Manifest.Heights
}
