package widget

import (
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
)

// viewTypes are the types of the settings as a view sees them.
func viewTypes(schema *setting.Schema) map[string]*shape.Type {
	types := map[string]*shape.Type{}
	for _, s := range schema.Settings {
		types[s.Key] = s.Shape()
	}
	return types
}

// Shown is one showing of a release: everything that a page needs besides the release's
// style and script.
type Shown struct {
	Language  string
	Direction string // "ltr" or "rtl"
	Markup    string
	Style     string // rules for single elements of Markup, minified
	Look      setting.Look
	Settings  map[string]any           // what the mount module gets
	Messages  map[string]message.Forms // what the mount module gets
	Small     *Shown                   // on small screens; nil when the stylesheet alone makes the difference
}

// Sight is what a schema makes of a pocket's settings before any view has its say. Releases
// with the same schema and the same assets can share one.
type Sight struct {
	values setting.Values
	seen   map[string]any // what views and mount modules see, by key
	look   setting.Look
	world  setting.World
	small  *Sight // on small screens, made when a release asks for it
}

// See makes the sight of a pocket's settings. values must be complete.
func (r *Release) See(values setting.Values, w setting.World) *Sight {
	w.Folder = r.folder
	values = r.Schema.WithBrand(values, w.Brand)
	seen := make(map[string]any, len(values))
	for _, s := range r.Schema.Settings {
		seen[s.Key] = s.Seen(values, w)
	}
	return &Sight{values: values, seen: seen, look: r.Schema.Look(values, w), world: w}
}

// Seen is what the view of a release sees of a pocket's settings. values must be complete.
func (r *Release) Seen(values setting.Values, lang string, now time.Time, w setting.World) view.Data {
	return r.data(r.See(values, w), lang, now)
}

func (r *Release) data(s *Sight, lang string, now time.Time) view.Data {
	lang = r.Language(lang)
	return view.Data{Settings: s.seen, Messages: r.Messages[lang], Language: lang, Now: now}
}

// Show is the one place where settings become markup. values must be complete. Preview,
// script, page and frame all come from here, so they cannot disagree.
func (r *Release) Show(values setting.Values, lang string, now time.Time, w setting.World) (Shown, fault.List) {
	return r.ShowSight(r.See(values, w), lang, now)
}

// ShowSight shows what this release, or another with the same schema and the same assets,
// has seen.
func (r *Release) ShowSight(s *Sight, lang string, now time.Time) (Shown, fault.List) {
	shown, faults := r.show(s, lang, now, false)
	if len(faults) > 0 {
		return shown, faults
	}
	if on := r.onSmall(s.values); on != nil {
		if s.small == nil {
			s.small = r.See(on, s.world)
		}
		small, faults := r.show(s.small, lang, now, true)
		if len(faults) > 0 {
			return shown, faults
		}
		shown.Small = &small
	}
	return shown, nil
}

func (r *Release) show(s *Sight, lang string, now time.Time, small bool) (Shown, fault.List) {
	data := r.data(s, lang, now)
	data.Small = small
	lang = data.Language
	run := r.view.Render
	if r.marked != nil {
		run = r.marked.RenderMarked
	}
	made, faults := run(data)
	if len(faults) > 0 {
		return Shown{}, faults.In(ViewFile)
	}
	shown := Shown{Language: lang, Direction: message.Direction(lang), Markup: made.Markup, Style: made.Style, Look: s.look,
		Settings: map[string]any{}, Messages: map[string]message.Forms{}}
	for _, key := range r.Manifest.Mount.Settings {
		if r.Schema.Get(key).Matters(s.values) {
			shown.Settings[key] = s.seen[key]
		}
	}
	for _, key := range r.Manifest.Mount.Messages {
		shown.Messages[key] = r.Messages[lang][key]
	}
	return shown, nil
}
