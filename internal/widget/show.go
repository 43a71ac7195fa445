package widget

import (
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
)

// viewTypes returns the types of the settings in a view.
func viewTypes(schema *setting.Schema) map[string]*shape.Type {
	types := map[string]*shape.Type{}
	for _, s := range schema.Settings {
		types[s.Key] = s.Shape()
	}
	return types
}

// Shown is a rendering of a release: everything that a page needs in addition to the release's
// style and script.
type Shown struct {
	Language  string
	Direction string // "ltr" or "rtl"
	Markup    string
	Style     string // rules for single elements of Markup, minified
	Look      setting.Look
	Settings  map[string]any           // for the mount module
	Messages  map[string]message.Forms // for the mount module
	Small     *Shown                   // for small screens; nil if they differ only in style
}

// Sight is a pocket's settings in the form for views, before any view has run. Releases with the
// same schema and the same assets can share one.
type Sight struct {
	values setting.Values
	seen   map[string]any // what views and mount modules see, by key
	look   setting.Look
	world  setting.World
	pages  map[string]setting.Page // of lists with pages, by key
	whole  map[string][]any        // those lists in whole, unless they come from sources
	Prefix string                  // of the classes in the rendering; see view.Data
	small  *Sight                  // for small screens, made when a release needs it
}

// See returns the sight of a pocket's settings. values must be complete.
func (r *Release) See(values setting.Values, w setting.World) *Sight {
	w.Folder = r.folder
	values = r.Schema.WithBrand(values, w.Brand)
	seen := make(map[string]any, len(values))
	for _, s := range r.Schema.Settings {
		seen[s.Key] = s.Seen(values, w)
	}
	s := &Sight{values: values, seen: seen, look: r.Schema.Look(values, w), world: w}
	for _, set := range r.Schema.Paged() {
		s.cut(set, r.Schema.PageSize(set, values))
	}
	return s
}

// cut leaves one page of a list.
func (s *Sight) cut(set *setting.Setting, size int) {
	list, _ := s.seen[set.Key].([]any)
	page, known := s.world.Pages[set.Key]
	if s.pages == nil {
		s.pages, s.whole = map[string]setting.Page{}, map[string][]any{}
	}
	if !known {
		s.whole[set.Key] = list
		page = setting.Page{Total: len(list), From: min(s.world.From[set.Key], len(list))}
		list = list[page.From:]
	}
	if page.Size = size; len(list) > size {
		list = list[:size]
	}
	if page.After = ""; known && len(list) > 0 {
		last, _ := list[len(list)-1].(map[string]any)
		page.After, _ = last[setting.IDKey].(string)
	}
	s.seen[set.Key], s.pages[set.Key] = list, page
}

// Page returns the page of a list that a rendering shows.
func (s *Sight) Page(key string) view.Page { return s.paged()[key] }

// paged converts the pages for a view.
func (s *Sight) paged() map[string]view.Page {
	if s.pages == nil {
		return nil
	}
	pages := map[string]view.Page{}
	for key, p := range s.pages {
		list, _ := s.seen[key].([]any)
		v := view.Page{From: p.From, To: p.From + len(list), Total: p.Total, Size: p.Size, Whole: s.whole[key]}
		if link := s.world.Link; link != nil {
			if v.To < p.Total {
				v.Next = link(key, v.To, p.After)
			}
			if p.From > 0 {
				v.Previous = link(key, max(0, p.From-p.Size), "")
			}
		}
		pages[key] = v
	}
	return pages
}

// Seen returns what the release's view sees of a pocket's settings. values must be complete.
func (r *Release) Seen(values setting.Values, lang string, now time.Time, w setting.World) view.Data {
	return r.data(r.See(values, w), lang, now)
}

func (r *Release) data(s *Sight, lang string, now time.Time) view.Data {
	lang = r.Language(lang)
	var totals map[string]view.Total
	for key, t := range s.world.Totals {
		if totals == nil {
			totals = map[string]view.Total{}
		}
		totals[key] = view.Total(t)
	}
	return view.Data{Settings: s.seen, Totals: totals, Pages: s.paged(), Prefix: s.Prefix, Calendar: s.world.Calendar, Messages: r.Messages[lang], Language: lang, Now: now}
}

// Show is the only place where settings become markup. values must be complete. Preview, script,
// page and frame all use it, so they always agree.
func (r *Release) Show(values setting.Values, lang string, now time.Time, w setting.World) (Shown, fault.List) {
	return r.ShowSight(r.See(values, w), lang, now)
}

// ShowSight renders a sight of this release, or of another with the same schema and the same
// assets.
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
