package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
)

// SourceSecret is a token or key that a source requires. It is never returned.
type SourceSecret struct {
	In    string `json:"in"`             // "bearer", "header" or "query"; "" removes the present one
	Name  string `json:"name,omitempty"` // of the header field or the parameter
	Value string `json:"value,omitempty"`
}

// SourceLook is what somebody enters to connect a source: an address, a @name@host, the name of a
// business, or a file. With Reader and Options, it is read in that way, to try a mapping.
type SourceLook struct {
	Text     string        `json:"text,omitempty"`
	File     []byte        `json:"file,omitempty"`
	FileName string        `json:"fileName,omitempty"`
	Secret   *SourceSecret `json:"secret,omitempty"`
	Reader   string        `json:"reader,omitempty"`
	Options  *feed.Options `json:"options,omitempty"`
	// Kinds and Needs are those of the list that the source is for, from the widget's schema.
	Kinds []string `json:"kinds,omitempty"`
	Needs []string `json:"needs,omitempty"`
}

// SourceFound is what the entered text could mean, the likeliest first.
type SourceFound struct {
	Candidates []SourceCandidate `json:"candidates"`
	Businesses []Business        `json:"businesses"` // for the name of a business
}

// SourceCandidate is a source that could be connected, with its first items.
type SourceCandidate struct {
	Name    string       `json:"name"` // suggested
	Reader  string       `json:"reader"`
	Form    string       `json:"form"` // the reader's name for people
	Address string       `json:"address,omitempty"`
	Options feed.Options `json:"options"`
	About   SourceAbout  `json:"about"`
	Items   []SourceItem `json:"items"`
	Count   int          `json:"count"`           // of all items
	Fits    int          `json:"fits"`            // how many of them the list can show
	Unfit   string       `json:"unfit,omitempty"` // why it cannot show the others, a sentence
	// Outline has the columns or values, if fields have to be mapped to them.
	Outline *feed.Outline `json:"outline,omitempty"`
}

// Business is an entry of a directory. Confirm it by its place and its number of reviews.
type Business struct {
	Name      string  `json:"name"`
	Place     string  `json:"place,omitempty"`
	Address   string  `json:"address"` // of its page
	Directory string  `json:"directory"`
	Rating    float64 `json:"rating,omitempty"` // of 5
	Reviews   int     `json:"reviews"`
}

// SourceAbout is what a source says about itself, and how it was read.
type SourceAbout struct {
	Title   string     `json:"title,omitempty"`
	Link    string     `json:"link,omitempty"`
	Place   string     `json:"place,omitempty"`
	Rated   feed.Rated `json:"rated,omitzero"`
	Repairs []string   `json:"repairs"` // what was wrong and how it was read anyway
	Skipped []string   `json:"skipped"` // what was left out
}

// SourceItem is an item in the form of settings.
type SourceItem struct {
	ID     string         `json:"id"`
	Source string         `json:"source,omitempty"` // ID of its source; missing for a typed-in item
	Seen   time.Time      `json:"seen,omitzero"`    // when the service first saw it
	Values map[string]any `json:"values"`
}

// NewSource connects a source: a candidate that somebody has chosen.
type NewSource struct {
	Name     string        `json:"name,omitempty"`
	Reader   string        `json:"reader"`
	Address  string        `json:"address,omitempty"`
	File     []byte        `json:"file,omitempty"`
	FileName string        `json:"fileName,omitempty"`
	Options  feed.Options  `json:"options,omitzero"`
	Secret   *SourceSecret `json:"secret,omitempty"`
}

// ChangeSource changes a source. Missing members stay unchanged.
type ChangeSource struct {
	Name     *string       `json:"name,omitempty"`
	Address  *string       `json:"address,omitempty"`
	Options  *feed.Options `json:"options,omitempty"`
	Secret   *SourceSecret `json:"secret,omitempty"`
	File     []byte        `json:"file,omitempty"`
	FileName string        `json:"fileName,omitempty"`
}

// Source is where content comes from.
type Source struct {
	ID        string       `json:"id"`
	Customer  string       `json:"customer"`
	Name      string       `json:"name"`
	Reader    string       `json:"reader"`
	Form      string       `json:"form"` // the reader's name for people
	Address   string       `json:"address,omitempty"`
	FileName  string       `json:"fileName,omitempty"`
	Options   feed.Options `json:"options"`
	SecretIn  string       `json:"secretIn,omitempty"` // how its token is sent; missing without one
	Revision  int          `json:"revision"`
	CreatedAt time.Time    `json:"createdAt"`
	CreatedBy string       `json:"createdBy"`
	Items     int          `json:"items"`
	About     SourceAbout  `json:"about"`
	State     string       `json:"state"`               // "current", "failing", "ended" or "file"
	CheckedAt *time.Time   `json:"checkedAt,omitempty"` // of the last response
	ChangedAt *time.Time   `json:"changedAt,omitempty"` // of the items
	NextAt    *time.Time   `json:"nextAt,omitempty"`
	// FailingSince is present while fetches fail. The last good items stay visible.
	FailingSince *time.Time `json:"failingSince,omitempty"`
	Why          string     `json:"why,omitempty"`
	Hint         string     `json:"hint,omitempty"`
	Pushed       bool       `json:"pushed"`           // it reports changes by itself (WebSub)
	UsedBy       []string   `json:"usedBy,omitempty"` // keys of pockets, if one source is requested
}

// Sources lists a customer's sources, by name.
type Sources struct {
	Sources []Source `json:"sources"`
	Next    string   `json:"next,omitempty"`
}

// SourceItems lists the items of a source, in the source's order.
type SourceItems struct {
	Items []SourceItem `json:"items"`
	Next  string       `json:"next,omitempty"`
}

// SourceRefreshed is what came of a fetch.
type SourceRefreshed struct {
	Source  Source `json:"source"`
	Added   int    `json:"added"`
	Changed int    `json:"changed"`
	Removed int    `json:"removed"`
	Failed  bool   `json:"failed"` // Source.Why says why
}

// SourceFetch is an entry of a source's history. Repeated results are one entry.
type SourceFetch struct {
	At      time.Time `json:"at"`
	LastAt  time.Time `json:"lastAt"`
	Times   int       `json:"times"`
	Status  int       `json:"status,omitempty"` // of HTTP
	Bytes   int       `json:"bytes"`
	Took    int       `json:"took"` // milliseconds
	Added   int       `json:"added"`
	Changed int       `json:"changed"`
	Removed int       `json:"removed"`
	By      string    `json:"by,omitempty"` // who asked for it
	Why     string    `json:"why,omitempty"`
}

// SourceFetches lists a source's history, the newest first.
type SourceFetches struct {
	Fetches []SourceFetch `json:"fetches"`
}

// NewSelection asks which items a list of a pocket would show. Without List, it is the draft's.
type NewSelection struct {
	List *item.Listing `json:"list,omitempty"`
	// Settings replace the draft's, for typed-in items that are not saved.
	Settings json.RawMessage `json:"settings,omitempty"`
}

// Selection says which items a list shows, and why it drops the others.
type Selection struct {
	List    item.Listing      `json:"list"`
	Total   int               `json:"total"`
	Shown   []SourceItem      `json:"shown"`
	Dropped []SourceDropped   `json:"dropped"`
	Rules   []SourceRule      `json:"rules"`           // of the rules in use
	Sources map[string]string `json:"sources"`         // names by ID
	Until   *time.Time        `json:"until,omitempty"` // when the selection changes by itself
}

// SourceDropped is an item that a list does not show.
type SourceDropped struct {
	Item    SourceItem     `json:"item"`
	Reasons []SourceReason `json:"reasons"`
}

// SourceReason says why a rule drops an item.
type SourceReason struct {
	Rule string `json:"rule"`
	Why  string `json:"why"`
}

// SourceRule is how many of all items a rule keeps and drops, whatever the other rules.
type SourceRule struct {
	Rule  string `json:"rule"`
	Label string `json:"label"`
	Keeps int    `json:"keeps"`
	Drops int    `json:"drops"`
}

// Lists are the sources and rules of a pocket's lists, by the key of the setting.
type Lists = content.Lists

// FailingSource is a source that could not be fetched.
type FailingSource struct {
	ID        string     `json:"id"`
	Name      string     `json:"name"`
	Customer  string     `json:"customer"`
	Since     time.Time  `json:"since"`               // the first failure in a row
	ChangedAt *time.Time `json:"changedAt,omitempty"` // of the items that visitors see
	Why       string     `json:"why"`
	Hint      string     `json:"hint,omitempty"`
	Ended     bool       `json:"ended,omitempty"` // it is not fetched any more
}

// FailingSources are the sources that have failed for a day, or have ended, the latest first.
type FailingSources struct {
	Sources []FailingSource `json:"sources"`
}
