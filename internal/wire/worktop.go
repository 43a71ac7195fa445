package wire

import (
	"time"

	"glasspocket/internal/compare"
	"glasspocket/internal/fault"
	"glasspocket/internal/intake"
	"glasspocket/internal/merge"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

// WidgetDraft is a widget's files being edited at the worktop.
type WidgetDraft struct {
	Widget    string      `json:"widget"`
	Revision  int         `json:"revision"`
	Release   int         `json:"release"` // number of the release that it was last the same as, 0 for none
	CreatedAt time.Time   `json:"createdAt"`
	ChangedAt time.Time   `json:"changedAt"`
	ChangedBy string      `json:"changedBy"`
	Files     []DraftFile `json:"files,omitempty"` // by path; left out in a list
}

// ReleaseFolder is the files of a release.
type ReleaseFolder struct {
	Release
	Files []File `json:"files"`
}

// DraftFile is a file of a draft. Was, when it is sent, is the digest of the file that it is
// a change of, "" for a new one.
type DraftFile struct {
	Path      string `json:"path"`
	Text      string `json:"text,omitempty"`
	Base64    []byte `json:"base64,omitempty"`
	Digest    string `json:"digest,omitempty"`
	Was       string `json:"was,omitempty"`
	Removed   bool   `json:"removed,omitempty"`
	Image     *Image `json:"image,omitempty"`     // of an asset
	ChangedBy string `json:"changedBy,omitempty"` // whoever saved it last; answers only
}

// NewWidgetDraft begins a draft with the files given, else with a blank widget, else with
// those of a release: the newest of the widget itself when nothing is named.
type NewWidgetDraft struct {
	Blank   bool   `json:"blank,omitempty"`
	Title   string `json:"title,omitempty"` // of a blank one, or of a copy
	Files   []File `json:"files,omitempty"`
	From    string `json:"from,omitempty"`
	Release int    `json:"release,omitempty"`
}

// WidgetDrafts is a page of drafts; Next is the cursor for the next one.
type WidgetDrafts struct {
	Drafts []WidgetDraft `json:"drafts"`
	Next   string        `json:"next,omitempty"`
}

// DraftFiles changes files of a draft, or goes before them without saving.
type DraftFiles struct {
	Files []DraftFile `json:"files,omitempty"`
}

// PreviewWidget asks for renderings of a draft, with files that are not saved, in some cases.
type PreviewWidget struct {
	Files []DraftFile   `json:"files,omitempty"`
	Cases []widget.Case `json:"cases"`
}

// PreviewedWidget is a draft as its previews show it. Faults need not keep it from being shown.
type PreviewedWidget struct {
	Revision int           `json:"revision"`
	Faults   []fault.Fault `json:"faults"`
	Shown    []Shown       `json:"shown"` // by case; empty when nothing can be shown
	// Elements are those of view.html, by the marks in the markup; places are counted in
	// UTF-16 code units.
	Elements []view.Element   `json:"elements"`
	Map      string           `json:"map,omitempty"` // source map of the mount module
	Widget   *PreviewedFolder `json:"widget,omitempty"`
}

// Shown is what a draft looks like in one case.
type Shown struct {
	Payload    *render.Payload `json:"payload,omitempty"` // without the author's stylesheet
	Script     string          `json:"script,omitempty"`  // body of the function that the loader takes
	ScriptLine int             `json:"scriptLine"`        // lines before the author's part
	Faults     []fault.Fault   `json:"faults,omitempty"`
}

// PreviewedFolder is what a draft declares, for whoever writes it.
type PreviewedFolder struct {
	Title     map[string]string  `json:"title"`
	Languages []string           `json:"languages"`
	Starters  []widget.Starter   `json:"starters"`
	Settings  []*setting.Setting `json:"settings"`
	Floats    bool               `json:"floats"`
	ReadsPage bool               `json:"readsPage,omitempty"` // its script reads how far the page is scrolled
	Messages  []string           `json:"messages"`            // keys, of the first language
	Mount     []string           `json:"mount"`               // keys of the settings that the mount module gets
	Functions []string           `json:"functions"`
	Types     []string           `json:"types"` // that a setting can have
	Images    map[string]Image   `json:"images"`
}

// Page asks for a widget folder of a whole HTML page.
type Page struct {
	Name   string     `json:"name"`
	HTML   string     `json:"html"`
	Part   string     `json:"part,omitempty"`   // selector of the part to take; all of the body without one
	Copies []PageCopy `json:"copies,omitempty"` // files brought for addresses that the page loads from
	Keep   []string   `json:"keep,omitempty"`   // addresses that stay with their servers
	Leave  []string   `json:"leave,omitempty"`  // kinds of fixing not to do: ids, selectors, units, unused
}

// PageCopy is a file that was brought for an address.
type PageCopy struct {
	Address string `json:"address"`
	Path    string `json:"path"` // within the folder
	Base64  []byte `json:"base64"`
}

// ImportedPage is what has come of a page. Nothing is kept of it.
type ImportedPage struct {
	Title   string            `json:"title"`
	Files   []File            `json:"files"`
	Notes   []intake.Note     `json:"notes"`
	Remotes []intake.Remote   `json:"remotes"`
	Parts   []intake.PagePart `json:"parts"`
	Faults  []fault.Fault     `json:"faults"` // that the folder still has
}

// NewRelease asks for a release of files, or of the draft on the worktop.
type NewRelease struct {
	Files  []File `json:"files,omitempty"`
	Draft  bool   `json:"draft,omitempty"`
	Note   string `json:"note,omitempty"`
	Share  int    `json:"share,omitempty"`  // to how many of a hundred pockets at first; all when left out
	DryRun string `json:"dryRun,omitempty"` // the dry run that has been looked at; one is made without
	Breaks bool   `json:"breaks,omitempty"` // pockets that it breaks may stay behind
}

// ChangeRelease takes a release out of use or brings it back, or rolls it out further.
type ChangeRelease struct {
	Withdrawn *bool `json:"withdrawn,omitempty"`
	Share     *int  `json:"share,omitempty"`
}

// NewDryRun asks for a dry run of files, or of the draft on the worktop.
type NewDryRun struct {
	Files []File `json:"files,omitempty"`
	Draft bool   `json:"draft,omitempty"`
}

// DryRun is how far a dry run has come. Pockets are the changed and broken ones; Next is the
// cursor for more of them.
type DryRun struct {
	ID        string      `json:"id"`
	Widget    string      `json:"widget"`
	Digest    string      `json:"digest"`
	After     int         `json:"after"` // number of the newest release when it began
	Of        int         `json:"of"`    // pockets that follow
	Done      int         `json:"done"`
	Identical int         `json:"identical"`
	Changed   int         `json:"changed"`
	Broken    int         `json:"broken"`
	Finished  bool        `json:"finished"`
	Cancelled bool        `json:"cancelled"`
	Stale     bool        `json:"stale"` // there is a newer release by now
	Pockets   []DryPocket `json:"pockets"`
	Next      string      `json:"next,omitempty"`
}

// DryPocket is a pocket that would change or break.
type DryPocket struct {
	Key      string        `json:"key"`
	Customer string        `json:"customer"`
	Title    string        `json:"title"`
	Verdict  string        `json:"verdict"` // changed or broken
	What     []string      `json:"what,omitempty"`
	Why      string        `json:"why,omitempty"`
	Faults   []fault.Fault `json:"faults,omitempty"`
}

// BeforeAndAfter are the pictures of one pocket of a dry run.
type BeforeAndAfter struct {
	Before *Picked `json:"before,omitempty"` // left out when it is not published
	After  *Picked `json:"after,omitempty"`  // left out when it would be broken
}

// Picked is everything that draws a rendering in a preview.
type Picked struct {
	Payload render.Payload `json:"payload"`
	Script  string         `json:"script,omitempty"`
}

// Differences are what a draft has otherwise than release Since, or a release than the one
// before it.
type Differences struct {
	Since int `json:"since"` // 0 when there is none before
	compare.Changes
}

// Packed is a widget's folder as a zip file.
type Packed struct {
	File   string `json:"file"` // what to call it
	Base64 []byte `json:"base64"`
}

// Origin is what has become of the widget that a draft is a copy of.
type Origin struct {
	Widget     string            `json:"widget"`
	Release    int               `json:"release"` // copied from, or taken over from last
	Newest     int               `json:"newest"`
	Changes    compare.Changes   `json:"changes"`
	Files      []DraftFile       `json:"files"`      // what the draft would have otherwise, if it took all over
	Collisions []merge.Collision `json:"collisions"` // where both have changed the same; the draft keeps its own
}

// ReleaseUses are the pockets that withdrawing a release affects. Following: visitors would get
// Next instead, the newest other release in use, 0 for none. Pinned: visitors keep the release.
type ReleaseUses struct {
	Following UsedBy `json:"following"`
	Pinned    UsedBy `json:"pinned"`
	OfWidget  int    `json:"ofWidget"` // how many pockets the widget has in all
	Next      int    `json:"next"`
	Stuck     Stuck  `json:"stuck"` // of Following: visitors would keep this release
}

// Stuck counts pockets that follow and cannot have the release that they should, and names the
// first 50 of them: their visitors keep another.
type Stuck struct {
	Count   int           `json:"count"`
	Pockets []StuckPocket `json:"pockets"`
}

// StuckPocket is one of them. Why is a sentence.
type StuckPocket struct {
	Key   string `json:"key"`
	Title string `json:"title"`
	Why   string `json:"why"`
}

// UsedBy counts pockets and names the first 50 of them.
type UsedBy struct {
	Count   int           `json:"count"`
	Pockets []NamedPocket `json:"pockets"`
}

// NamedPocket is a pocket by its key and its title.
type NamedPocket struct {
	Key   string `json:"key"`
	Title string `json:"title"`
}
