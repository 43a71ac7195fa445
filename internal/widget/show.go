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

// Seen is what the view of a release sees of a pocket's settings. values must be complete.
func (r *Release) Seen(values setting.Values, lang string, now time.Time, w setting.World) view.Data {
	lang = r.Language(lang)
	w.Folder = r.folder
	seen := make(map[string]any, len(values))
	for _, s := range r.Schema.Settings {
		seen[s.Key] = s.View(values[s.Key], w)
	}
	return view.Data{Settings: seen, Messages: r.Messages[lang], Language: lang, Now: now}
}

// Show is the one place where settings become markup. values must be complete. Preview,
// script, page and frame all come from here, so they cannot disagree.
func (r *Release) Show(values setting.Values, lang string, now time.Time, w setting.World) (Shown, fault.List) {
	shown, faults := r.show(values, lang, now, w, false)
	if len(faults) > 0 {
		return shown, faults
	}
	if on := r.onSmall(values); on != nil {
		small, faults := r.show(on, lang, now, w, true)
		if len(faults) > 0 {
			return shown, faults
		}
		shown.Small = &small
	}
	return shown, nil
}

func (r *Release) show(values setting.Values, lang string, now time.Time, w setting.World, small bool) (Shown, fault.List) {
	data := r.Seen(values, lang, now, w)
	data.Small = small
	lang = data.Language
	seen := data.Settings
	run := r.view.Render
	if r.marked != nil {
		run = r.marked.RenderMarked
	}
	made, faults := run(data)
	if len(faults) > 0 {
		return Shown{}, faults.In(ViewFile)
	}
	shown := Shown{Language: lang, Direction: message.Direction(lang), Markup: made.Markup, Style: made.Style, Look: r.Schema.Look(values, w),
		Settings: map[string]any{}, Messages: map[string]message.Forms{}}
	for _, key := range r.Manifest.Mount.Settings {
		if r.Schema.Get(key).Matters(values) {
			shown.Settings[key] = seen[key]
		}
	}
	for _, key := range r.Manifest.Mount.Messages {
		shown.Messages[key] = r.Messages[lang][key]
	}
	return shown, nil
}
