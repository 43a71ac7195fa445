package app

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	lots "math/rand/v2"
	"slices"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
)

// IsKey tells whether text looks like a pocket's public key: 3 to 64 lower-case letters,
// digits and hyphens, the first no hyphen. Every request asks, so it is no regular expression.
func IsKey(text string) bool {
	if len(text) < 3 || len(text) > 64 || text[0] == '-' {
		return false
	}
	for i := range len(text) {
		if c := text[i]; (c < 'a' || c > 'z') && (c < '0' || c > '9') && c != '-' {
			return false
		}
	}
	return true
}

// keyLetters leaves out letters that look alike.
const keyLetters = "abcdefghjkmnpqrstvwxyz23456789"

func newKey() string {
	b := make([]byte, 12)
	rand.Read(b)
	for i := range b {
		b[i] = keyLetters[int(b[i])%len(keyLetters)]
	}
	return string(b)
}

// NewPocket says what a pocket is made of. Key may be empty; only the operator chooses one.
type NewPocket struct {
	CustomerID, Widget, Starter, Title, Language, Key string
}

// AddPocket makes a pocket whose draft begins with its starter's settings.
func (a *App) AddPocket(ctx context.Context, s Scope, n NewPocket) (Pocket, error) {
	if err := s.require(editPockets); err != nil {
		return Pocket{}, err
	}
	if n.CustomerID == "" {
		n.CustomerID = s.CustomerID
	}
	if !s.sees(n.CustomerID) {
		return Pocket{}, notFound("customer", n.CustomerID, "List the customers to see which there are.")
	}
	if _, err := a.store.Customer(ctx, n.CustomerID); errors.Is(err, ErrNotFound) {
		return Pocket{}, notFound("customer", n.CustomerID, "List the customers to see which there are.")
	} else if err != nil {
		return Pocket{}, err
	}
	w, err := a.widget(ctx, n.Widget)
	if err != nil {
		return Pocket{}, err
	}
	values := setting.Values{}
	if n.Starter != "" {
		starter, ok := w.Release.Starter(n.Starter)
		if !ok {
			return Pocket{}, &Error{Kind: NotFound, Code: "starter-not-found", Field: "starter", What: fmt.Sprintf("The widget %s has no starter %q.", n.Widget, n.Starter), Hint: fault.DidYouMean(n.Starter, w.Release.StarterNames())}
		}
		values = starter.Settings
	}
	if n.Language == "" {
		n.Language = w.Release.Manifest.Languages[0]
	} else if !message.ValidTag(n.Language) || w.Release.Language(n.Language) != n.Language {
		return Pocket{}, &Error{Kind: Invalid, Code: "language-unknown", Field: "language", What: fmt.Sprintf("The widget %s does not speak %q.", n.Widget, n.Language), Hint: fault.DidYouMean(n.Language, w.Release.Manifest.Languages)}
	}
	if n.Title = strings.TrimSpace(n.Title); n.Title == "" {
		n.Title = w.Release.Manifest.Title.In(n.Language)
	}
	if utf8.RuneCountInString(n.Title) > 120 {
		return Pocket{}, &Error{Kind: Invalid, Code: "title-too-long", Field: "title", What: "A title has at most 120 characters.", Hint: "Shorten it."}
	}
	if err := showable("title", n.Title); err != nil {
		return Pocket{}, err
	}
	if n.Key != "" {
		if !s.Operator() {
			return Pocket{}, &Error{Kind: Forbidden, Code: "key-not-chosen", Field: "key", What: "Only the operator chooses keys.", Hint: "Leave the key out; one is made."}
		}
		if !IsKey(n.Key) {
			return Pocket{}, &Error{Kind: Invalid, Code: "key-form", Field: "key", What: fmt.Sprintf("%q cannot be a key.", n.Key), Hint: "Use 3 to 64 lower-case letters, digits and hyphens."}
		}
	} else {
		n.Key = newKey()
	}
	settings, _ := json.Marshal(values)
	now := a.now()
	p := Pocket{Key: n.Key, CustomerID: n.CustomerID, Widget: n.Widget, Title: n.Title, Language: n.Language, Starter: n.Starter, Settings: settings, Revision: 1, Lot: lots.IntN(LotLast + 1), DraftAt: now, CreatedAt: now}
	if err := a.store.AddPocket(ctx, p); errors.Is(err, ErrExists) {
		return Pocket{}, &Error{Kind: Conflict, Code: "key-exists", Field: "key", What: fmt.Sprintf("The key %q is taken.", n.Key), Hint: "Choose another, or leave it out."}
	} else if err != nil {
		return Pocket{}, err
	}
	return p, nil
}

// showable refuses a single line of text that a page or a terminal could not show as it is.
func showable(field, text string) error {
	r, bad := setting.Unshowable(text)
	if i := strings.IndexAny(text, "\n\t"); !bad && i >= 0 {
		r, bad = rune(text[i]), true
	}
	if bad {
		return &Error{Kind: Invalid, Code: "character", Field: field, What: fmt.Sprintf("The %s holds the character U+%04X.", field, r), Hint: "Remove it, or type the text again instead of pasting it."}
	}
	return nil
}

// Pocket returns one pocket in reach.
func (a *App) Pocket(ctx context.Context, s Scope, key string) (Pocket, error) {
	if err := s.require(seePockets); err != nil {
		return Pocket{}, err
	}
	p, err := a.store.Pocket(ctx, key)
	if err == nil && s.sees(p.CustomerID) {
		return p, nil
	}
	if err == nil || errors.Is(err, ErrNotFound) {
		return Pocket{}, notFound("pocket", key, "List the pockets to see which there are.")
	}
	return Pocket{}, err
}

// Pockets lists the pockets in reach; customer narrows the list when not "".
func (a *App) Pockets(ctx context.Context, s Scope, customer string, p Page) ([]Pocket, error) {
	if err := s.require(seePockets); err != nil {
		return nil, err
	}
	if only := s.only(); only != "" {
		if customer != "" && customer != only {
			return nil, nil
		}
		customer = only
	}
	return a.store.Pockets(ctx, customer, p)
}

// SaveDraft changes the draft of a pocket. The object change is merged into it as RFC 7396
// says (null takes a value away), or replaces it when whole is true. revision must be the
// draft's current one. Nothing is saved when anything in it is wrong.
func (a *App) SaveDraft(ctx context.Context, s Scope, key string, revision int, change []byte, whole bool) (Pocket, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.require(editPockets); err != nil {
		return p, err
	}
	w, err := a.widgetFor(ctx, p)
	if err != nil {
		return p, err
	}
	doc, faults := jsondoc.Read(change)
	if doc == nil {
		return p, faulty("settings-faulty", "The settings cannot be read.", faults)
	}
	values, more := w.Release.Schema.Check(doc)
	if faults = append(faults, more...); len(faults) > 0 {
		return p, faulty("settings-faulty", "Some settings are wrong; nothing was saved.", faults)
	}
	if _, faults, err := a.shown(ctx, p.CustomerID, w.Release.Schema, values); err != nil {
		return p, err
	} else if len(faults) > 0 {
		return p, faulty("settings-faulty", "Some settings are wrong; nothing was saved.", faults)
	}
	if p.Revision != revision {
		return p, changedMeanwhile(p)
	}
	schema := w.Release.Schema
	// What was typed under other releases stays beside what this one has.
	merged, err := carried(p.Settings, schema)
	if err != nil {
		return p, err
	}
	if whole {
		for key := range merged {
			if schema.Get(key) != nil || key == setting.SmallKey {
				delete(merged, key)
			}
		}
		for _, set := range schema.Settings {
			if _, given := values[set.Key]; !given {
				forget(merged, schema, set.Key)
			}
		}
		maps.Copy(merged, values)
		values = merged
	} else {
		for _, m := range doc.Members {
			switch {
			case m.Value.Kind == jsondoc.Null:
				forget(merged, schema, m.Key)
			case m.Key == setting.SmallKey:
				mergeSmall(merged, schema, m.Value, values)
			default:
				merged[m.Key] = values[m.Key]
			}
		}
		values = merged
	}
	p.Settings, _ = json.Marshal(values)
	p.DraftAt = a.now()
	if err := a.store.SaveDraft(ctx, key, revision, p.Settings, p.DraftAt); errors.Is(err, ErrChanged) {
		return p, changedMeanwhile(p)
	} else if err != nil {
		return p, err
	}
	p.Revision++
	seen, _, err := a.seen(p, schema)
	return seen, err
}

// carried is a stored draft with what it comes to under a release, whatever it has besides.
func carried(settings []byte, schema *setting.Schema) (setting.Values, error) {
	merged := setting.Values{}
	doc, faults := jsondoc.Read(settings)
	if len(faults) > 0 {
		return nil, faults
	}
	schema.Carry(doc, true)
	text, err := json.Marshal(doc.Plain())
	if err == nil {
		err = json.Unmarshal(text, &merged)
	}
	return merged, err
}

// forget takes a setting's value away, and those that would come to it from older releases.
func forget(merged setting.Values, schema *setting.Schema, key string) {
	delete(merged, key)
	for _, old := range schema.Sources(key) {
		delete(merged, old)
	}
}

// mergeSmall merges the settings for small screens one by one, as the others are.
func mergeSmall(merged setting.Values, schema *setting.Schema, change *jsondoc.Value, values setting.Values) {
	small, _ := merged[setting.SmallKey].(map[string]any)
	if small == nil {
		small = map[string]any{}
	}
	checked, _ := values[setting.SmallKey].(map[string]any)
	for _, m := range change.Members {
		if m.Value.Kind == jsondoc.Null {
			forget(small, schema, m.Key)
		} else {
			small[m.Key] = checked[m.Key]
		}
	}
	merged[setting.SmallKey] = small
	if len(small) == 0 {
		delete(merged, setting.SmallKey)
	}
}

func changedMeanwhile(p Pocket) *Error {
	return &Error{Kind: Precondition, Code: "draft-changed", What: fmt.Sprintf("The draft of %s has changed meanwhile; it is at revision %d.", p.Key, p.Revision), Hint: "Read it again, then make your change on top."}
}

// Values returns a pocket's draft as its widget's newest release sees it. What that
// release no longer takes is left out.
func (a *App) values(p Pocket, schema *setting.Schema) setting.Values {
	values, _ := schema.CarryJSON(p.Settings)
	return values
}

// Draft is a pocket whose settings are those that its widget's newest release sees, and what
// is kept aside: what was typed for a setting that this release does not have, or that it does
// not take.
func (a *App) Draft(ctx context.Context, s Scope, key string) (p Pocket, aside []string, err error) {
	if p, err = a.Pocket(ctx, s, key); err != nil {
		return p, nil, err
	}
	w, err := a.widgetFor(ctx, p)
	if err != nil {
		return p, nil, nil // nothing is in use: as it is stored
	}
	return a.seen(p, w.Release.Schema)
}

func (a *App) seen(p Pocket, schema *setting.Schema) (Pocket, []string, error) {
	values := a.values(p, schema)
	stored := map[string]json.RawMessage{}
	if err := json.Unmarshal(p.Settings, &stored); err != nil {
		return p, nil, err
	}
	var aside []string
	for key := range stored {
		moved := slices.ContainsFunc(schema.Changes, func(c setting.Change) bool { return c.From == key && c.Kind != "drop" })
		if _, taken := values[key]; !taken && !moved && key != setting.SmallKey {
			aside = append(aside, key)
		}
	}
	slices.Sort(aside)
	p.Settings, _ = json.Marshal(values)
	return p, aside, nil
}

// Preview renders a pocket with the settings given instead of its draft (nil for the
// draft). What is missing comes from the widget's sample.
func (a *App) Preview(ctx context.Context, s Scope, key string, settings []byte, language string) (render.Payload, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return render.Payload{}, err
	}
	w, err := a.widgetFor(ctx, p)
	if err != nil {
		return render.Payload{}, err
	}
	values := a.values(p, w.Release.Schema)
	if settings != nil {
		var faults fault.List
		if values, faults = w.Release.Schema.CheckJSON(settings); len(faults) > 0 {
			return render.Payload{}, faulty("settings-faulty", "Some settings are wrong.", faults)
		}
	}
	now := a.now()
	full, faults := w.Release.Preview(values, now)
	if len(faults) > 0 {
		return render.Payload{}, faulty("settings-missing", "Some settings have no value.", faults)
	}
	if language == "" {
		language = p.Language
	}
	assets, faults, err := a.shown(ctx, p.CustomerID, w.Release.Schema, full)
	if err != nil {
		return render.Payload{}, err
	}
	if settings != nil && len(faults) > 0 {
		return render.Payload{}, faulty("settings-faulty", "Some settings are wrong.", faults)
	}
	payload, faults := a.site.Show(render.Subject{Key: key, Title: p.Title, Release: w.Release, Settings: full, Language: language, Now: now, Assets: assets})
	if len(faults) > 0 {
		return render.Payload{}, faulty("view-stopped", "The widget's view stopped.", faults)
	}
	return payload, nil
}
