package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/fault"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

// Conditions are those in which a pocket is previewed. The zero value is the usual case.
type Conditions struct {
	Width    int    `json:"width,omitempty"`    // CSS pixels of the page, 0 for all available space
	Page     string `json:"page,omitempty"`     // kind of page around it, see Pages
	Language string `json:"language,omitempty"` // "" for the pocket's own
	Turned   bool   `json:"turned,omitempty"`   // right-to-left text, whatever the language
	Content  string `json:"content,omitempty"`  // "none", "one", "many" or "long"; "" for unchanged content
	Still    bool   `json:"still,omitempty"`    // the visitor prefers reduced motion
	Visitor  string `json:"visitor,omitempty"`  // "new" or "returning"; "" shows everything opened
	Moment   string `json:"moment,omitempty"`   // date and time with a zone; "" for now
	Frozen   bool   `json:"frozen,omitempty"`   // the clock is stopped
	// Facts are stated by the page, by their names in the widget's manifest. A switch is on if it
	// is present.
	Facts map[string]string `json:"facts,omitempty"`
}

// Pages are the kinds of pages in a preview, the default first.
var Pages = []string{"light", "tinted", "dark", "photo", "column", "bar"}

// Limits of the page's width, in CSS pixels.
const (
	WidthLeast = 200
	WidthMost  = 3840
)

// FactMost is the longest fact, in characters.
const FactMost = 200

func (c Conditions) check(m widget.Manifest) error {
	languages := m.Languages
	wrong := func(field, what, hint string) error {
		return &Error{Kind: Invalid, Code: "conditions-faulty", Field: field, What: what, Hint: hint}
	}
	switch {
	case c.Width != 0 && (c.Width < WidthLeast || c.Width > WidthMost):
		return wrong("width", fmt.Sprintf("A page is %d to %d pixels wide, not %d.", WidthLeast, WidthMost, c.Width), "Leave the width out to use all the space.")
	case c.Page != "" && !slices.Contains(Pages, c.Page):
		return wrong("page", fmt.Sprintf("There is no sample page %q.", c.Page), fault.DidYouMean(c.Page, Pages))
	case c.Content != "" && !slices.Contains(setting.Contents, c.Content):
		return wrong("content", fmt.Sprintf("There is no amount of content %q.", c.Content), fault.DidYouMean(c.Content, setting.Contents))
	case !slices.Contains([]string{"", "new", "returning"}, c.Visitor):
		return wrong("visitor", fmt.Sprintf("The visitor must be new or returning, not %q.", c.Visitor), "Leave it out to see the pocket opened.")
	case c.Language != "" && !slices.Contains(languages, c.Language):
		return wrong("language", fmt.Sprintf("The widget is not available in %q.", c.Language), fault.DidYouMean(c.Language, languages))
	}
	for name, value := range c.Facts {
		names := make([]string, len(m.Facts))
		for i, f := range m.Facts {
			names[i] = f.Name
		}
		switch {
		case !slices.Contains(names, name):
			return wrong("facts", fmt.Sprintf("The widget has no fact %q.", name), fault.DidYouMean(name, names))
		case utf8.RuneCountInString(value) > FactMost:
			return wrong("facts", fmt.Sprintf("The fact %q has more than %d characters.", name, FactMost), "Shorten it. Pages cut longer values off.")
		}
	}
	if c.Moment != "" {
		if _, f := setting.ReadMoment(c.Moment); f != nil {
			return wrong("moment", f.What, f.Fix)
		}
	}
	return nil
}

// PreviewCase is a named condition for viewing a pocket.
type PreviewCase struct {
	Name string
	Conditions
}

// sound returns a case with a valid name and conditions.
func (c PreviewCase) sound(m widget.Manifest) (PreviewCase, error) {
	if c.Name = strings.TrimSpace(c.Name); c.Name == "" || utf8.RuneCountInString(c.Name) > 60 {
		return c, &Error{Kind: Invalid, Code: "case-name", Field: "name", What: "A preview case needs a name of at most 60 characters.", Hint: "Name it after its content."}
	}
	if err := showable("name", c.Name); err != nil {
		return c, err
	}
	return c, c.check(m)
}

// PreviewCasesMost is the largest number of a pocket's preview cases.
const PreviewCasesMost = 24

// PreviewCases lists a pocket's preview cases.
func (a *App) PreviewCases(ctx context.Context, s Scope, key string) ([]PreviewCase, error) {
	if _, err := a.Pocket(ctx, s, key); err != nil {
		return nil, err
	}
	return a.store.PreviewCases(ctx, key)
}

// SavePreviewCase saves a preview case. It replaces one with the same name.
func (a *App) SavePreviewCase(ctx context.Context, s Scope, key string, c PreviewCase) error {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.require(editPockets); err != nil {
		return err
	}
	w, err := a.widgetFor(ctx, p.Widget, p.Lot)
	if err != nil {
		return err
	}
	if c, err = c.sound(w.Release.Manifest); err != nil {
		return err
	}
	list, err := a.store.PreviewCases(ctx, key)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(list, func(other PreviewCase) bool { return reflect.DeepEqual(other, c) }) {
		return nil // it exists unchanged
	}
	there := slices.ContainsFunc(list, func(other PreviewCase) bool { return other.Name == c.Name })
	if !there && len(list) >= PreviewCasesMost {
		return &Error{Kind: Conflict, Code: "too-many-cases", What: fmt.Sprintf("A pocket can have at most %d preview cases.", PreviewCasesMost), Hint: "Delete one first."}
	}
	return a.store.SavePreviewCase(ctx, key, c, newRecord(s, a.now(), Entry{CustomerID: p.CustomerID, Did: "change", Kind: "pocket", Of: key, Names: []string{"preview case " + c.Name}}))
}

// DeletePreviewCase deletes a preview case.
func (a *App) DeletePreviewCase(ctx context.Context, s Scope, key, name string) error {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.require(editPockets); err != nil {
		return err
	}
	err = a.store.DeletePreviewCase(ctx, key, name, newRecord(s, a.now(), Entry{CustomerID: p.CustomerID, Did: "change", Kind: "pocket", Of: key, Note: "preview case " + name + " (deleted)"}))
	if errors.Is(err, ErrNotFound) {
		return notFound("case", name, "List the pocket's preview cases to see their names.")
	}
	return err
}

// Preview requests a rendering of a pocket as in the editor.
type Preview struct {
	Settings []byte // nil for the draft's
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
func (a *App) Preview(ctx context.Context, s Scope, key string, ask Preview) (out Previewed, err error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return out, err
	}
	if ask.Number != 0 {
		return a.previewPublication(ctx, p, ask)
	}
	w, err := a.widgetFor(ctx, p.Widget, p.Lot)
	if err != nil {
		return out, err
	}
	values := a.values(p, w.Release.Schema)
	if ask.Settings != nil {
		var faults fault.List
		if values, faults = w.Release.Schema.CheckJSON(ask.Settings); len(faults) > 0 {
			return out, faulty("settings-faulty", "Some settings are wrong.", faults)
		}
	}
	now, err := a.momentOf(ask.In)
	if err != nil {
		return out, err
	}
	if ask.Live {
		full, faults := w.Release.Schema.Complete(values)
		if len(faults) > 0 {
			return out, faulty("settings-missing", unpublishable, faults)
		}
		return a.seenIn(ctx, p, w.Release, full, p.Language, now, ask)
	}
	full, faults := w.Release.Preview(values, now)
	if len(faults) > 0 {
		return out, faulty("settings-missing", "Some settings have no value.", faults)
	}
	if out, err = a.seenIn(ctx, p, w.Release, full, p.Language, now, ask); ask.In.Content == "" {
		out.Samples = w.Release.Sampled(values, now)
	}
	return out, err
}

// momentOf returns the date and time of a preview.
func (a *App) momentOf(in Conditions) (time.Time, error) {
	if in.Moment == "" {
		return a.now(), nil
	}
	m, f := setting.ReadMoment(in.Moment)
	if f != nil {
		return time.Time{}, Conditions{Moment: in.Moment}.check(widget.Manifest{})
	}
	return m.At, nil
}

func (a *App) previewPublication(ctx context.Context, p Pocket, ask Preview) (out Previewed, err error) {
	pub, err := a.publication(ctx, p.Key, ask.Number)
	if err != nil {
		return out, err
	}
	if pub.Unpublished {
		return out, notFound("preview", fmt.Sprintf("%s %d", p.Key, ask.Number), "The pocket was unpublished at that point, so there is nothing to show.")
	}
	subject, err := a.subject(ctx, pub.ReleaseID, pub)
	if err != nil {
		return out, err
	}
	now, err := a.momentOf(ask.In)
	if err != nil {
		return out, err
	}
	return a.seenIn(ctx, p, subject.Release, subject.Settings, pub.Language, now, ask)
}

// seenIn renders complete settings in conditions, with marks.
func (a *App) seenIn(ctx context.Context, p Pocket, r *widget.Release, full setting.Values, language string, now time.Time, ask Preview) (out Previewed, err error) {
	if err := ask.In.check(r.Manifest); err != nil {
		return out, err
	}
	if ask.In.Content != "" {
		var faults fault.List
		if full, faults = r.Schema.Complete(r.Schema.With(full, ask.In.Content)); len(faults) > 0 {
			return out, faulty("settings-missing", "Some settings have no value.", faults)
		}
	}
	if ask.In.Language != "" {
		language = ask.In.Language
	}
	kept, err := a.brandOf(ctx, p.CustomerID)
	if err != nil {
		return out, err
	}
	brand := kept.Brand
	if ask.Brand != nil {
		text, _ := json.Marshal(ask.Brand)
		if brand, err = a.readBrand(ctx, p.CustomerID, text); err != nil {
			return out, err
		}
	}
	assets, faults, err := a.shownWith(ctx, p.CustomerID, r.Schema, full, brand)
	if err != nil {
		return out, err
	}
	if ask.Settings != nil && len(faults) > 0 {
		return out, faulty("settings-faulty", "Some settings are wrong.", faults)
	}
	marked, parts := a.marked(r)
	payload, faults := a.site.Show(render.Subject{Key: p.Key, Title: p.Title, Release: marked, Settings: full, Language: language, Now: now, Assets: assets, Brand: brand})
	if len(faults) > 0 {
		return out, faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	if ask.In.Turned {
		payload.Direction = "rtl"
	}
	out = Previewed{Payload: payload, Parts: parts, Shown: map[string][]int{}}
	for _, s := range r.Schema.Settings {
		items, _ := full[s.Key].([]any)
		if shown := s.Shown(full); len(shown) != len(items) || !slices.IsSorted(shown) {
			out.Shown[s.Key] = shown
		}
	}
	return out, nil
}

// marked returns a release whose renderings identify the view's elements. It is made once per
// release.
func (a *App) marked(r *widget.Release) (*widget.Release, []view.Element) {
	type marked struct {
		release *widget.Release
		parts   []view.Element
	}
	if m, ok := a.markeds.Load(r.Digest); ok {
		return m.(*marked).release, m.(*marked).parts
	}
	m := &marked{}
	m.release, m.parts = r.Marked()
	a.markeds.Store(r.Digest, m)
	return m.release, m.parts
}
