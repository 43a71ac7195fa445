package app

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	lots "math/rand/v2"
	"slices"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
)

// IsKey reports whether text has the form of a pocket's public key: 3 to 64 lower-case letters,
// digits and hyphens, not starting with a hyphen. It runs in every request, so it avoids a regular
// expression.
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

// newLot draws a pocket's lot at random.
func newLot() int { return lots.IntN(LotLast + 1) }

// NewPocket has the properties of a new pocket. Key can be empty; only the operator may choose one.
type NewPocket struct {
	CustomerID, Widget, Starter, Title, Language, Key string
}

// AddPocket creates a pocket whose draft has its starter's settings.
func (a *App) AddPocket(ctx context.Context, s Scope, n NewPocket) (Pocket, error) {
	if err := s.require(publishPockets); err != nil {
		return Pocket{}, err
	}
	if n.CustomerID == "" {
		n.CustomerID = s.CustomerID
	}
	if !s.sees(n.CustomerID) || n.CustomerID == NobodysCustomer {
		return Pocket{}, noCustomer(n.CustomerID)
	}
	if err := a.roomFor(ctx, s, n.CustomerID, 1); err != nil {
		return Pocket{}, err
	}
	p, err := a.newPocket(ctx, s, n)
	if err != nil {
		return p, err
	}
	if err := a.store.AddPocket(ctx, p, newRecord(s, a.now(), Entry{CustomerID: p.CustomerID, Did: "add", Kind: "pocket", Of: p.Key, Note: p.Title})); errors.Is(err, ErrExists) {
		return Pocket{}, &Error{Kind: Conflict, Code: "key-exists", Field: "key", What: fmt.Sprintf("The key %q is taken.", n.Key), Hint: "Choose another key, or leave it out."}
	} else if err != nil {
		return Pocket{}, err
	}
	return p, nil
}

// newPocket returns a new pocket with its defaults. It saves nothing.
func (a *App) newPocket(ctx context.Context, s Scope, n NewPocket) (Pocket, error) {
	owner, err := a.store.Customer(ctx, n.CustomerID)
	if errors.Is(err, ErrNotFound) {
		return Pocket{}, noCustomer(n.CustomerID)
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
			return Pocket{}, noStarter(w, n.Starter)
		}
		values = starter.Settings
	}
	if n.Language == "" && owner.Language != "" && slices.Contains(w.Release.Manifest.Languages, w.Release.Language(owner.Language)) {
		n.Language = w.Release.Language(owner.Language)
	}
	if n.Language, err = languageOf(w, n.Language); err != nil {
		return Pocket{}, err
	}
	brand, err := a.brandOf(ctx, n.CustomerID)
	if err != nil {
		return Pocket{}, err
	}
	values = w.Release.Schema.Branded(values, brand.Brand)
	if n.Title = strings.TrimSpace(n.Title); n.Title == "" {
		n.Title = w.Release.Manifest.Title.In(n.Language)
	}
	if err := checkTitle(n.Title); err != nil {
		return Pocket{}, err
	}
	if n.Key != "" {
		if !s.Operator() {
			return Pocket{}, &Error{Kind: Forbidden, Code: "key-not-chosen", Field: "key", What: "Only the operator can choose keys.", Hint: "Leave the key out. The service then creates one."}
		}
		if !IsKey(n.Key) {
			return Pocket{}, &Error{Kind: Invalid, Code: "key-form", Field: "key", What: fmt.Sprintf("%q is not a valid key.", n.Key), Hint: "Use 3 to 64 lower-case letters, digits and hyphens."}
		}
	} else {
		n.Key = newKey()
	}
	settings, _ := json.Marshal(values)
	now := a.now()
	p := Pocket{BrandDraft: spacedNames(w.Release.Schema.BrandUses(values)), Key: n.Key, CustomerID: n.CustomerID, Widget: n.Widget, Title: n.Title, Language: n.Language, Starter: n.Starter, Settings: settings, Revision: 1, Lot: newLot(), DraftAt: now, DraftBy: s.Name, CreatedAt: now}
	return p, nil
}

// showable refuses text that a page or a terminal could not show on one line.
func showable(field, text string) error {
	r, bad := setting.Unshowable(text)
	if i := strings.IndexAny(text, "\n\t"); !bad && i >= 0 {
		r, bad = rune(text[i]), true
	}
	if bad {
		return &Error{Kind: Invalid, Code: "character", Field: field, What: fmt.Sprintf("The %s contains the character U+%04X, which is not allowed.", field, r), Hint: "Delete the character, or type the text again instead of pasting it."}
	}
	return nil
}

// Pocket returns a visible pocket.
func (a *App) Pocket(ctx context.Context, s Scope, key string) (Pocket, error) {
	if err := s.require(seePockets); err != nil {
		return Pocket{}, err
	}
	if s.Role == Guest && s.Key != key {
		return Pocket{}, AccountNeeded() // the same whether the pocket exists or not
	}
	p, err := a.store.Pocket(ctx, key)
	if err == nil && s.sees(p.CustomerID) {
		return p, nil
	}
	if err == nil || errors.Is(err, ErrNotFound) {
		return Pocket{}, notFound("pocket", key, "List the pockets to see their keys.")
	}
	return Pocket{}, err
}

// ChangePocket has the changes to a pocket. "" leaves a field unchanged.
type ChangePocket struct {
	Title, Language string
	Starter         string // only its name: the starter to compare settings with
	Cues            *cue.Cues
}

// ChangePocket changes a pocket's name, language, starter or cues. They are part of its draft, and
// visitors see them when it is published.
func (a *App) ChangePocket(ctx context.Context, s Scope, key string, revision int, c ChangePocket) (Pocket, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.require(editPockets); err != nil {
		return p, err
	}
	if p.Revision != revision {
		return p, changedMeanwhile(p)
	}
	var names []string
	if c.Title = strings.TrimSpace(c.Title); c.Title != "" {
		if err := checkTitle(c.Title); err != nil {
			return p, err
		}
		p.Title, names = c.Title, append(names, "title")
	}
	if c.Language != "" {
		w, err := a.widgetFor(ctx, p.Widget, p.Lot)
		if err != nil {
			return p, err
		}
		if p.Language, err = languageOf(w, c.Language); err != nil {
			return p, err
		}
		names = append(names, "language")
	}
	if c.Starter != "" {
		w, err := a.widgetFor(ctx, p.Widget, p.Lot)
		if err != nil {
			return p, err
		}
		if _, ok := w.Release.Starter(c.Starter); !ok {
			return p, noStarter(w, c.Starter)
		}
		p.Starter, names = c.Starter, append(names, "starter")
	}
	if c.Cues != nil {
		cues, faults := c.Cues.Clean()
		if len(faults) > 0 {
			return p, faulty("cues-faulty", "Some addresses are not valid.", faults)
		}
		p.Cues = written(cues)
		names = append(names, "cues")
	}
	if names != nil {
		if p, err = a.savePocket(ctx, s, p, names); err != nil {
			return p, err
		}
	}
	if w, err := a.widgetFor(ctx, p.Widget, p.Lot); err == nil {
		p, _, err = a.seen(p, w.Release.Schema)
		return p, err
	}
	return p, nil
}

// written returns cues in their stored form: nothing if the pocket shows everywhere.
func written(c cue.Cues) string {
	if c.IsZero() {
		return ""
	}
	text, _ := json.Marshal(c)
	return string(text)
}

func checkTitle(title string) error {
	if utf8.RuneCountInString(title) > 120 {
		return &Error{Kind: Invalid, Code: "title-too-long", Field: "title", What: "A title can have at most 120 characters.", Hint: "Shorten it."}
	}
	return showable("title", title)
}

// languageOf returns the language of a new pocket: the requested one, or the widget's first.
func languageOf(w WidgetInfo, asked string) (string, error) {
	if asked == "" {
		return w.Release.Manifest.Languages[0], nil
	}
	if !message.ValidTag(asked) || w.Release.Language(asked) != asked {
		return "", &Error{Kind: Invalid, Code: "language-unknown", Field: "language", What: fmt.Sprintf("The widget %s is not available in %q.", w.Widget, asked), Hint: fault.DidYouMean(asked, w.Release.Manifest.Languages)}
	}
	return asked, nil
}

// PocketAudit lists who changed what in one pocket, like Audit. A deleted pocket has entries too.
func (a *App) PocketAudit(ctx context.Context, s Scope, q AuditQuery) ([]Entry, error) {
	list, err := a.Audit(ctx, s, q)
	if err == nil && len(list) == 0 && q.Before == 0 {
		_, err = a.Pocket(ctx, s, q.Of)
	}
	return list, err
}
