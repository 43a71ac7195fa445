package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/compare"
	"glasspocket/internal/content"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
)

// ChangePocket changes a pocket's properties other than settings. Missing members stay unchanged.
type ChangePocket struct {
	Title    string `json:"title,omitempty"`
	Language string `json:"language,omitempty"`
	Starter  string `json:"starter,omitempty"` // the starter to compare settings with; the settings stay unchanged
	content.Change
}

// Preview requests a rendering of settings instead of the draft's in some conditions, or of a
// publication by its number.
type Preview struct {
	Settings    json.RawMessage   `json:"settings,omitempty"`
	Sources     *content.Lists    `json:"sources,omitempty"` // instead of the draft's
	Conditions  pocket.Conditions `json:"conditions,omitempty"`
	Publication int               `json:"publication,omitempty"`
	// Brand replaces the customer's, if present.
	Brand []setting.BrandValue `json:"brand,omitempty"`
	// Live leaves out the widget's sample content, to show what publishing would show to visitors.
	Live bool `json:"live,omitempty"`
}

// Previewed is a rendering of a pocket. Elements in its markup have the mark of one of Parts in
// data-glass-part.
type Previewed struct {
	render.Payload
	Parts []view.Element `json:"parts"`
	// Shown has the indexes of the visible items, in order, for each setting with hidden or sorted
	// items, and for each with sources, whose indexes are those of its selection.
	Shown map[string][]int `json:"shown,omitempty"`
	// Samples are the settings without a value that show the widget's sample.
	Samples []string `json:"samples,omitempty"`
}

// PreviewCase is a named condition for viewing a pocket.
type PreviewCase struct {
	Name       string            `json:"name"`
	Conditions pocket.Conditions `json:"conditions"`
}

// PreviewCases are a pocket's preview cases, in order.
type PreviewCases struct {
	Cases []PreviewCase `json:"cases"`
}

// ChangeStarter changes to another starter of the widget. Values that somebody entered stay, except
// for the settings in Replace.
type ChangeStarter struct {
	Starter string   `json:"starter"`
	Replace []string `json:"replace,omitempty"`
}

// StarterDifferences list what another starter would change, and which values stay.
type StarterDifferences struct {
	Starter  string                `json:"starter"`
	Settings json.RawMessage       `json:"settings"` // the resulting draft
	Changes  []compare.ValueChange `json:"changes"`
	Kept     []compare.ValueChange `json:"kept"` // values that stay; After is the starter's
}

// PocketDifferences are the differences between two versions of a pocket. From is the number of a
// publication, 0 for none; To is one too, or 0 for the draft.
type PocketDifferences struct {
	From    int                   `json:"from"`
	To      int                   `json:"to"`
	Changes []compare.ValueChange `json:"changes"`
}

// NewSchedule publishes, restores or unpublishes a pocket at a moment with its zone:
// "2027-03-01T09:00[Europe/Berlin]". With Back, the version that is live now returns at that
// moment.
type NewSchedule struct {
	Does    string  `json:"does"`             // "publish", "restore" or "unpublish"
	Number  int     `json:"number,omitempty"` // number of the publication to restore
	Publish Publish `json:"publish,omitempty"`
	At      string  `json:"at"`
	Back    string  `json:"back,omitempty"`
}

// Schedule is a scheduled action for a pocket, or one that has run.
type Schedule struct {
	ID        int64      `json:"id"`
	Does      string     `json:"does"`
	Number    int        `json:"number,omitempty"` // number of the publication to restore
	Moment    string     `json:"moment"`
	Due       time.Time  `json:"due"`
	Odd       string     `json:"odd,omitempty"` // a change of clocks skips or repeats the moment: which one is meant
	CreatedAt time.Time  `json:"createdAt"`
	By        string     `json:"by"`
	Client    string     `json:"client"`
	Outcome   string     `json:"outcome"` // "" while it waits, "done", "cancelled" or "failed"
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	Why       string     `json:"why,omitempty"`
	Made      int        `json:"made,omitempty"` // number of the resulting publication
}

// Schedules lists a pocket's schedules, the newest first.
type Schedules struct {
	Schedules []Schedule `json:"schedules"`
	Next      string     `json:"next,omitempty"`
}

// Entry is an entry of the audit.
type Entry struct {
	ID       int64     `json:"id"`
	At       time.Time `json:"at"`
	Since    time.Time `json:"since"` // time of the first of several combined entries
	Customer string    `json:"customer,omitempty"`
	By       string    `json:"by"`
	Client   string    `json:"client"`
	Did      string    `json:"did"`
	Kind     string    `json:"kind"` // kind of the changed object
	Of       string    `json:"of"`   // its key, name or ID
	Names    []string  `json:"names,omitempty"`
	Number   int       `json:"number,omitempty"`
	Sentence string    `json:"sentence"`
}

// Audit lists who changed what, the newest first.
type Audit struct {
	Entries []Entry `json:"entries"`
	Next    string  `json:"next,omitempty"`
}
