package render

import (
	"encoding/json"
	"slices"
	"strings"

	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// A kitPart is a file of the kit, and when a release needs it.
type kitPart struct {
	name   string
	needed func(*widget.Release, kitTable) bool
}

// kitParts are in the order in which they are called.
var kitParts = []kitPart{
	{"sites", func(_ *widget.Release, t kitTable) bool { return t.Sites != nil }},
	{"here", func(_ *widget.Release, t kitTable) bool { return t.Here != nil }},
	{"small", func(_ *widget.Release, t kitTable) bool { return t.small }},
	{"once", func(r *widget.Release, _ kitTable) bool { return r.Manifest.Floats }},
	{"asked", func(_ *widget.Release, t kitTable) bool { return t.Asked != nil }},
	{"overrides", func(_ *widget.Release, t kitTable) bool { return t.Overrides != nil }},
	{"items", func(r *widget.Release, t kitTable) bool { return r.Can(widget.Items) && t.Items != "" }},
	{"facts", func(_ *widget.Release, t kitTable) bool { return t.Facts != nil }},
	{"fonts", func(_ *widget.Release, t kitTable) bool { return t.Fonts != nil }},
	{"events", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Events) }},
	{"reading", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Reading) }},
	{"edges", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Edges) }},
	{"carousel", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Carousel) }},
	{"fold", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Fold) }},
	{"ago", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Ago) }},
	{"panel", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Panel) }},
	{"photos", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.Photos) }},
	{"more", func(r *widget.Release, _ kitTable) bool { return r.Can(widget.More) }},
}

// kitTable is the data for the kit of a release; see loader/kit/types.ts.
type kitTable struct {
	Key       string            `json:"key,omitempty"`
	Items     string            `json:"items,omitempty"`
	Facts     map[string]string `json:"facts,omitempty"`
	Overrides []override        `json:"overrides,omitempty"`
	Asked     []string          `json:"asked,omitempty"` // names of settings whose overrides the service renders
	From      string            `json:"from,omitempty"`  // the service's address, if there are any
	Here      *addresses        `json:"here,omitempty"`
	Sites     []string          `json:"sites,omitzero"` // an empty list is kept: the pocket shows nowhere
	Local     bool              `json:"local,omitempty"`
	Fonts     []setting.Face    `json:"fonts,omitempty"`
	// Ago has the relative times by language: the pocket's, or all of the release's.
	Ago map[string]*message.Relative `json:"ago,omitempty"`

	small bool // small screens have, or can have, their own rendering
}

// addresses are where a pocket shows, or does not.
type addresses struct {
	Only []string `json:"only,omitempty"`
	Not  []string `json:"not,omitempty"`
}

type override struct {
	setting.InPage
	Mount bool `json:"mount,omitempty"`
}

// bound adds the rules for where a pocket shows to a table.
func (t kitTable) bound(base string, s Subject) kitTable {
	if s.Cues.Chooses() {
		t.Here, t.From = &addresses{s.Cues.Only, s.Cues.Not}, base
	}
	if s.Cues.OwnSites {
		t.Sites, t.Local, t.From = append([]string{}, s.Sites...), s.Cues.Local, base
	}
	return t
}

// table returns the table of a release, and of a pocket's payload if there is one.
func (site *Site) table(r *widget.Release, p *Payload) kitTable {
	t := kitTable{Items: r.Items(), small: r.MayDiffer(), Ago: relatives(r, r.Manifest.Languages...)}
	if len(r.Manifest.Facts) > 0 {
		t.Facts = map[string]string{}
		for _, f := range r.Manifest.Facts {
			t.Facts[f.Name] = f.Type
		}
	}
	for _, s := range r.Schema.Settings {
		mount := slices.Contains(r.Manifest.Mount.Settings, s.Key)
		switch {
		case s.Override && r.Asks(s):
			t.Asked, t.From = append(t.Asked, setting.Kebab(s.Key)), site.Base
		case s.Override:
			t.Overrides = append(t.Overrides, override{s.InPage(), mount})
		}
	}
	if p != nil {
		t.Key, t.Fonts, t.small = p.Key, p.Look.Fonts, p.Small != nil
		t.Ago = relatives(r, p.Language)
	}
	return t
}

func relatives(r *widget.Release, languages ...string) map[string]*message.Relative {
	if !r.Can(widget.Ago) {
		return nil
	}
	all := map[string]*message.Relative{}
	for _, lang := range languages {
		if words := message.RelativeIn(lang); words != nil {
			all[lang] = words
		}
	}
	return all
}

// parts lists the parts of the kit that a release and its table need.
func parts(r *widget.Release, t kitTable) (list []string) {
	for _, p := range kitParts {
		if p.needed(r, t) {
			list = append(list, p.name)
		}
	}
	return list
}

func allParts() (names []string) {
	for _, p := range kitParts {
		names = append(names, p.name)
	}
	return names
}

// mount returns the body of the function that the loader calls as a pocket's module: the kit's
// parts, then the widget's own code; "" if there is neither.
func (s *Site) mount(r *widget.Release, t kitTable) string {
	list := parts(r, t)
	if len(list) == 0 {
		return r.Built.Mount
	}
	name := strings.Join(list, " ")
	code, ok := s.kits.Load(name)
	if !ok {
		built, err := s.kit(list)
		if err != nil {
			panic(err) // cannot happen: the whole kit was built at start
		}
		code, _ = s.kits.LoadOrStore(name, built)
	}
	told, _ := json.Marshal(t)
	if !slices.Contains(list, "events") && !slices.Contains(list, "overrides") && !slices.Contains(list, "sites") {
		t.Key = ""
		told, _ = json.Marshal(t)
	}
	module := "var $k,$kit=f=>$k=f;" + code.(string)
	if strings.TrimSpace(r.Built.Mount) == "" {
		return module + "$mount(p=>$k(p," + string(told) + "))"
	}
	return module + "(function($mount){" + r.Built.Mount + "})(f=>$mount(p=>$k(p," + string(told) + ",f)))"
}

// ModuleName returns the name of a release's script below /a/, or "" if it has none. The name
// changes with the kit, since files below /a/ never change.
func (s *Site) ModuleName(r *widget.Release) string {
	if s.mount(r, s.table(r, nil)) == "" {
		return ""
	}
	return r.Digest + "/mount-" + s.kitSum + ".js"
}

// Module returns the script of a release as an ES module, for a preview.
func (s *Site) Module(r *widget.Release) []byte {
	return []byte("export default function($mount){" + s.mount(r, s.table(r, nil)) + "}\n")
}
