package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/app"
	"glasspocket/internal/compare"
	"glasspocket/internal/cue"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
)

// ChangePocket changes what is left out of a pocket's settings; what is left out here stays.
type ChangePocket struct {
	Title    string `json:"title,omitempty"`
	Language string `json:"language,omitempty"`
	Starter  string `json:"starter,omitempty"` // which starter its settings are held against; they stay as they are
	// Cues say when and where it shows; all of them together.
	Cues *cue.Cues `json:"cues,omitempty"`
}

// Preview asks for a rendering of settings instead of the draft's, in some conditions;
// or of a publication by its number.
type Preview struct {
	Settings    json.RawMessage `json:"settings,omitempty"`
	Conditions  app.Conditions  `json:"conditions,omitempty"`
	Publication int             `json:"publication,omitempty"`
	// Brand is shown instead of the customer's, when given.
	Brand []setting.BrandValue `json:"brand,omitempty"`
	// Live leaves the widget's sample content out: what publishing would show to visitors.
	Live bool `json:"live,omitempty"`
}

// Previewed is what a pocket looks like. Elements of its markup bear the mark of one of Parts,
// in data-glass-part.
type Previewed struct {
	render.Payload
	Parts []view.Element `json:"parts"`
	// Shown gives, for each setting of which items are hidden or sorted, the places of the items
	// that show, in their order.
	Shown map[string][]int `json:"shown,omitempty"`
	// Samples are the settings that have no value of their own and show the widget's sample.
	Samples []string `json:"samples,omitempty"`
}

// PreviewCase is a condition to see a pocket in, by a name.
type PreviewCase struct {
	Name       string         `json:"name"`
	Conditions app.Conditions `json:"conditions"`
}

// PreviewCases are the cases kept with a pocket, in their order.
type PreviewCases struct {
	Cases []PreviewCase `json:"cases"`
}

// ChangeStarter goes over to another starter of the widget. What was typed stays, but for the
// settings in Take.
type ChangeStarter struct {
	Starter string   `json:"starter"`
	Replace []string `json:"replace,omitempty"`
}

// StarterDifferences say what going over to another starter changes, and what stays as it was
// typed.
type StarterDifferences struct {
	Starter  string                `json:"starter"`
	Settings json.RawMessage       `json:"settings"` // the draft as it would be
	Changes  []compare.ValueChange `json:"changes"`
	Kept     []compare.ValueChange `json:"kept"` // typed; After is what the starter has
}

// PocketDifferences are what a state of a pocket has otherwise than another: From is the number
// of a publication, 0 for none; To likewise, 0 for the draft.
type PocketDifferences struct {
	From    int                   `json:"from"`
	To      int                   `json:"to"`
	Changes []compare.ValueChange `json:"changes"`
}

// NewSchedule asks that a pocket is published, restored or unpublished at a moment with its
// zone: "2027-03-01T09:00[Europe/Berlin]". With Back, visitors get at that moment what they get
// now.
type NewSchedule struct {
	Does    string  `json:"does"`             // "publish", "restore" or "unpublish"
	Number  int     `json:"number,omitempty"` // of the publication to restore
	Publish Publish `json:"publish,omitempty"`
	At      string  `json:"at"`
	Back    string  `json:"back,omitempty"`
}

// Schedule is something that is to happen to a pocket, or has.
type Schedule struct {
	ID        int64      `json:"id"`
	Does      string     `json:"does"`
	Number    int        `json:"number,omitempty"` // of the publication to restore
	Moment    string     `json:"moment"`
	Due       time.Time  `json:"due"`
	Odd       string     `json:"odd,omitempty"` // the moment's hour is skipped or comes twice: which is meant
	CreatedAt time.Time  `json:"createdAt"`
	By        string     `json:"by"`
	Client    string     `json:"client"`
	Outcome   string     `json:"outcome"` // "" while it waits, "done", "cancelled" or "failed"
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	Why       string     `json:"why,omitempty"`
	Made      int        `json:"made,omitempty"` // number of the publication that came of it
}

// Schedules lists what was scheduled for a pocket, the newest first.
type Schedules struct {
	Schedules []Schedule `json:"schedules"`
	Next      string     `json:"next,omitempty"`
}

// Entry is one line of the audit audit.
type Entry struct {
	ID       int64     `json:"id"`
	At       time.Time `json:"at"`
	Since    time.Time `json:"since"` // of the first of several that were taken together
	Customer string    `json:"customer,omitempty"`
	By       string    `json:"by"`
	Client   string    `json:"client"`
	Did      string    `json:"did"`
	Kind     string    `json:"kind"` // of what was changed
	Of       string    `json:"of"`   // its key, name or id
	Names    []string  `json:"names,omitempty"`
	Number   int       `json:"number,omitempty"`
	Sentence string    `json:"sentence"`
}

// Audit lists who has changed what, the newest first.
type Audit struct {
	Entries []Entry `json:"entries"`
	Next    string  `json:"next,omitempty"`
}
