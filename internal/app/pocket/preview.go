package pocket

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/source"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

// Unpublishable says that settings without a default have no value.
const Unpublishable = "The pocket cannot be published yet, because some settings have no value."

// Preview requests a rendering of a pocket as in the editor.
type Preview struct {
	Settings []byte         // nil for the draft's
	Lists    *content.Lists // nil for the draft's
	In       Conditions
	// Number, unless 0, selects a publication instead of the draft.
	Number int
	Brand  setting.Brand // nil for the customer's
	// Live leaves out the widget's sample, to show what visitors would see.
	Live bool
}

// Previewed is a rendering of a pocket, with the origin of each part.
type Previewed struct {
	render.Payload
	Parts []view.Element // by the marks of elements in the markup
	// Shown has the indexes of the visible items, in order, for settings with hidden or sorted
	// items; see setting.Setting.Shown.
	Shown map[string][]int
	// Samples are the keys of the settings whose values come from the widget's sample.
	Samples []string
}

// Preview renders a pocket with the given settings instead of its draft. Missing values come from
// the widget's sample, unless Live is set.
func (a *Pockets) Preview(ctx context.Context, s access.Scope, key string, ask Preview) (out Previewed, err error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return out, err
	}
	if ask.Number != 0 {
		return a.previewPublication(ctx, p, ask)
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return out, err
	}
	lists := p.Sources
	if ask.Lists != nil {
		lists = *ask.Lists
		if err := a.sources.Check(ctx, p.CustomerID, lists); err != nil {
			return out, err
		}
	}
	values, _ := w.Release.Schema.Carried(p.Settings)
	if ask.Settings != nil {
		var faults fault.List
		if values, faults = w.Release.Schema.CheckJSON(ask.Settings); len(faults) > 0 {
			return out, problem.Faulty("settings-faulty", "Some settings are wrong.", faults)
		}
	}
	now, err := a.momentOf(ask.In)
	if err != nil {
		return out, err
	}
	if ask.In.Content != "" { // another variation of the content is the widget's, not the sources'
		lists = nil
	}
	values = lists.Given(values)
	if ask.Live {
		full, faults := w.Release.Schema.Complete(values)
		if len(faults) > 0 {
			return out, problem.Faulty("settings-missing", Unpublishable, faults)
		}
		return a.seenIn(ctx, p, w.Release, full, lists, p.Language, now, ask)
	}
	full, faults := w.Release.Preview(values, now)
	if len(faults) > 0 {
		return out, problem.Faulty("settings-missing", "Some settings have no value.", faults)
	}
	if out, err = a.seenIn(ctx, p, w.Release, full, lists, p.Language, now, ask); ask.In.Content == "" {
		out.Samples = w.Release.Sampled(values, now)
	}
	return out, err
}

// momentOf returns the date and time of a preview.
func (a *Pockets) momentOf(in Conditions) (time.Time, error) {
	if in.Moment == "" {
		return a.now(), nil
	}
	m, f := setting.ReadMoment(in.Moment)
	if f != nil {
		return time.Time{}, Conditions{Moment: in.Moment}.check(widget.Manifest{})
	}
	return m.At, nil
}

func (a *Pockets) previewPublication(ctx context.Context, p Pocket, ask Preview) (out Previewed, err error) {
	pub, err := a.delivery.Publication(ctx, p.Key, ask.Number)
	if err != nil {
		return out, err
	}
	if pub.Unpublished {
		return out, problem.Missing("preview", fmt.Sprintf("%s %d", p.Key, ask.Number), "The pocket was unpublished at that point, so there is nothing to show.")
	}
	subject, err := a.delivery.Subject(ctx, pub.ReleaseID, pub)
	if err != nil {
		return out, err
	}
	now, err := a.momentOf(ask.In)
	if err != nil {
		return out, err
	}
	return a.seenIn(ctx, p, subject.Release, subject.Settings, pub.Sources, pub.Language, now, ask)
}

// seenIn renders complete settings in conditions, with marks.
func (a *Pockets) seenIn(ctx context.Context, p Pocket, r *widget.Release, full setting.Values, lists content.Lists, language string, now time.Time, ask Preview) (out Previewed, err error) {
	if err := ask.In.check(r.Manifest); err != nil {
		return out, err
	}
	if ask.In.Content != "" {
		var faults fault.List
		if full, faults = r.Schema.Complete(r.Schema.With(full, ask.In.Content)); len(faults) > 0 {
			return out, problem.Faulty("settings-missing", "Some settings have no value.", faults)
		}
	}
	if ask.In.Language != "" {
		language = ask.In.Language
	}
	kept, err := a.customers.BrandOf(ctx, p.CustomerID)
	if err != nil {
		return out, err
	}
	brand := kept.Brand
	if ask.Brand != nil {
		text, _ := json.Marshal(ask.Brand)
		if brand, err = a.customers.ReadBrand(ctx, p.CustomerID, text); err != nil {
			return out, err
		}
	}
	assets, faults, err := a.customers.ShownWith(ctx, p.CustomerID, r.Schema, full, brand)
	if err != nil {
		return out, err
	}
	if ask.Settings != nil && len(faults) > 0 {
		return out, problem.Faulty("settings-faulty", "Some settings are wrong.", faults)
	}
	filled, err := a.sources.Fill(ctx, source.Into{Customer: p.CustomerID, Schema: r.Schema, Values: full, Lists: lists, Language: language, Now: now})
	if err != nil {
		return out, err
	}
	marked, parts := a.marked(r)
	subject := render.Subject{Key: p.Key, Title: p.Title, Release: marked, Settings: full, Language: language, Now: now, Assets: assets, Brand: brand}
	filled.Dress(&subject)
	full = subject.Settings
	payload, faults := a.site.Show(subject)
	if len(faults) > 0 {
		return out, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	if ask.In.Turned {
		payload.Direction = "rtl"
	}
	out = Previewed{Payload: payload, Parts: parts, Shown: map[string][]int{}}
	for _, s := range r.Schema.Settings {
		items, _ := full[s.Key].([]any)
		if shown := s.Shown(full); len(shown) != len(items) || !slices.IsSorted(shown) || len(lists[s.Key].From) > 0 {
			out.Shown[s.Key] = shown
		}
	}
	return out, nil
}

// marked is a release with marks in its renderings.
type marked struct {
	release *widget.Release
	parts   []view.Element
}

// marked returns a release whose renderings identify the view's elements. It is made once per
// release.
func (a *Pockets) marked(r *widget.Release) (*widget.Release, []view.Element) {
	if m, ok := a.markeds.GetIfPresent(r.Digest); ok {
		return m.release, m.parts
	}
	m := &marked{}
	m.release, m.parts = r.Marked()
	a.markeds.Set(r.Digest, m)
	return m.release, m.parts
}
