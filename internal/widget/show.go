package widget

import (
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
)

// viewTypes are the types of the settings as a view sees them.
func viewTypes(schema *setting.Schema) map[string]*view.Type {
	types := map[string]*view.Type{}
	for _, s := range schema.Settings {
		switch {
		case s.Type == "moment":
			types[s.Key] = view.Moment
		case s.Type == "number":
			types[s.Key] = &view.Type{Kind: view.NumberKind}
		case s.Type == "switch":
			types[s.Key] = &view.Type{Kind: view.SwitchKind}
		case s.Format == "uri":
			types[s.Key] = &view.Type{Kind: view.LinkKind}
		default:
			types[s.Key] = &view.Type{Kind: view.TextKind}
		}
	}
	return types
}

// Shown is one showing of a release: everything that a page needs besides style and script.
type Shown struct {
	Language  string
	Direction string // "ltr" or "rtl"
	Markup    string
	Look      setting.Look
	Settings  map[string]any           // what the mount module gets
	Messages  map[string]message.Forms // what the mount module gets
}

// Show is the one place where settings become markup. values must be complete. Preview,
// script, page and frame all come from here, so they cannot disagree.
func (r *Release) Show(values setting.Values, lang string, now time.Time) (Shown, fault.List) {
	lang = r.Language(lang)
	seen := make(map[string]any, len(values))
	for _, s := range r.Schema.Settings {
		v := s.View(values[s.Key])
		if link, ok := values[s.Key].(string); ok && s.Format == "uri" {
			v = view.Link(link) // a checked setting: http(s), mailto or tel
		}
		seen[s.Key] = v
	}
	markup, faults := r.view.Render(view.Data{Settings: seen, Messages: r.Messages[lang], Language: lang, Now: now})
	if len(faults) > 0 {
		return Shown{}, faults.In(ViewFile)
	}
	shown := Shown{Language: lang, Direction: message.Direction(lang), Markup: markup, Look: r.Schema.Look(values),
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
