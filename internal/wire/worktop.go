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

// WidgetDraft has the files of a widget on the worktop.
type WidgetDraft struct {
	Widget    string      `json:"widget"`
	Revision  int         `json:"revision"`
	Release   int         `json:"release"` // number of the last release with the same files, 0 for none
	CreatedAt time.Time   `json:"createdAt"`
	ChangedAt time.Time   `json:"changedAt"`
	ChangedBy string      `json:"changedBy"`
	Files     []DraftFile `json:"files,omitempty"` // by path; not in lists
}

// ReleaseFolder has the files of a release.
type ReleaseFolder struct {
	Release
	Files []File `json:"files"`
}

// DraftFile is a file of a draft. In requests, Was is the digest of the file before the change, ""
// for a new one.
type DraftFile struct {
	Path      string `json:"path"`
	Text      string `json:"text,omitempty"`
	Base64    []byte `json:"base64,omitempty"`
	Digest    string `json:"digest,omitempty"`
	Was       string `json:"was,omitempty"`
	Removed   bool   `json:"removed,omitempty"`
	Image     *Image `json:"image,omitempty"`     // of an asset
	ChangedBy string `json:"changedBy,omitempty"` // who last saved it; only in responses
}

// NewWidgetDraft creates a draft from the given files, or from a blank widget, or from a release:
// by default the newest of the widget itself.
type NewWidgetDraft struct {
	Blank   bool   `json:"blank,omitempty"`
	Title   string `json:"title,omitempty"` // of a blank widget, or of a copy
	Files   []File `json:"files,omitempty"`
	From    string `json:"from,omitempty"`
	Release int    `json:"release,omitempty"`
}

// WidgetDrafts is a page of drafts; Next is the cursor for the next one.
type WidgetDrafts struct {
	Drafts []WidgetDraft `json:"drafts"`
	Next   string        `json:"next,omitempty"`
}

// DraftFiles changes files of a draft, or replaces them for one request without saving.
type DraftFiles struct {
	Files []DraftFile `json:"files,omitempty"`
}

// PreviewWidget requests renderings of a draft, with unsaved files, in some cases.
type PreviewWidget struct {
	Files []DraftFile   `json:"files,omitempty"`
	Cases []widget.Case `json:"cases"`
}

// PreviewedWidget is a draft in the form for previews. It can be shown in spite of some faults.
type PreviewedWidget struct {
	Revision int           `json:"revision"`
	Faults   []fault.Fault `json:"faults"`
	Shown    []Shown       `json:"shown"` // by case; empty if nothing can be shown
	// Elements are those of view.html, by the marks in the markup. Places are in UTF-16 code units.
	Elements []view.Element   `json:"elements"`
	Map      string           `json:"map,omitempty"` // source map of the mount module
	Widget   *PreviewedFolder `json:"widget,omitempty"`
}

// Shown is a rendering of a draft in one case.
type Shown struct {
	Payload    *render.Payload `json:"payload,omitempty"` // without the author's stylesheet
	Script     string          `json:"script,omitempty"`  // body of the function that the loader calls
	ScriptLine int             `json:"scriptLine"`        // lines before the author's part
	Faults     []fault.Fault   `json:"faults,omitempty"`
}

// PreviewedFolder has the declarations of a draft, for its author's editor.
type PreviewedFolder struct {
	Title     map[string]string  `json:"title"`
	Languages []string           `json:"languages"`
	Starters  []widget.Starter   `json:"starters"`
	Settings  []*setting.Setting `json:"settings"`
	Floats    bool               `json:"floats"`
	ReadsPage bool               `json:"readsPage,omitempty"` // its script reads the scroll position
	Messages  []string           `json:"messages"`            // keys in the first language
	Mount     []string           `json:"mount"`               // keys of the settings for the mount module
	Functions []string           `json:"functions"`
	Types     []string           `json:"types"` // that a setting can have
	Images    map[string]Image   `json:"images"`
}

// Page requests a widget folder from an HTML page.
type Page struct {
	Name   string     `json:"name"`
	HTML   string     `json:"html"`
	Part   string     `json:"part,omitempty"`   // selector of the part to use; the whole body if missing
	Copies []PageCopy `json:"copies,omitempty"` // files for addresses that the page loads
	Keep   []string   `json:"keep,omitempty"`   // addresses that stay on their servers
	Leave  []string   `json:"leave,omitempty"`  // kinds of repairs to skip: ids, selectors, units, unused
}

// PageCopy is a file for an address.
type PageCopy struct {
	Address string `json:"address"`
	Path    string `json:"path"` // within the folder
	Base64  []byte `json:"base64"`
}

// ImportedPage is the result for a page. Nothing is stored.
type ImportedPage struct {
	Title   string            `json:"title"`
	Files   []File            `json:"files"`
	Notes   []intake.Note     `json:"notes"`
	Remotes []intake.Remote   `json:"remotes"`
	Parts   []intake.PagePart `json:"parts"`
	Faults  []fault.Fault     `json:"faults"` // that the folder still has
}

// NewRelease requests a release of files, or of the draft on the worktop.
type NewRelease struct {
	Files  []File `json:"files,omitempty"`
	Draft  bool   `json:"draft,omitempty"`
	Note   string `json:"note,omitempty"`
	Share  int    `json:"share,omitempty"`  // initial percentage of pockets; all if missing
	DryRun string `json:"dryRun,omitempty"` // the dry run that somebody reviewed; without it, one is made
	Breaks bool   `json:"breaks,omitempty"` // pockets that it breaks may keep the old release
}

// ChangeRelease withdraws a release, puts it back into use, or changes its share.
type ChangeRelease struct {
	Withdrawn *bool `json:"withdrawn,omitempty"`
	Share     *int  `json:"share,omitempty"`
}

// NewDryRun requests a dry run of files, or of the draft on the worktop.
type NewDryRun struct {
	Files []File `json:"files,omitempty"`
	Draft bool   `json:"draft,omitempty"`
}

// DryRun is the progress of a dry run. Pockets are the changed and broken ones; Next is the cursor
// for more of them.
type DryRun struct {
	ID        string      `json:"id"`
	Widget    string      `json:"widget"`
	Digest    string      `json:"digest"`
	After     int         `json:"after"` // number of the newest release at its start
	Of        int         `json:"of"`    // number of pockets that follow
	Done      int         `json:"done"`
	Identical int         `json:"identical"`
	Changed   int         `json:"changed"`
	Broken    int         `json:"broken"`
	Finished  bool        `json:"finished"`
	Cancelled bool        `json:"cancelled"`
	Stale     bool        `json:"stale"` // there is a newer release now
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

// BeforeAndAfter are the previews of one pocket in a dry run.
type BeforeAndAfter struct {
	Before *Picked `json:"before,omitempty"` // missing if it is not published
	After  *Picked `json:"after,omitempty"`  // missing if it would be broken
}

// Picked is everything that draws a rendering in a preview.
type Picked struct {
	Payload render.Payload `json:"payload"`
	Script  string         `json:"script,omitempty"`
}

// Differences are those between release Since and a draft, or between a release and the one before
// it.
type Differences struct {
	Since int `json:"since"` // 0 if there is none
	compare.Changes
}

// Packed is a widget's folder as a zip file.
type Packed struct {
	File   string `json:"file"` // name of the file
	Base64 []byte `json:"base64"`
}

// Origin describes the widget from which a draft was copied.
type Origin struct {
	Widget     string            `json:"widget"`
	Release    int               `json:"release"` // number of the release that was copied, or merged last
	Newest     int               `json:"newest"`
	Changes    compare.Changes   `json:"changes"`
	Files      []DraftFile       `json:"files"`      // the changes to the draft if it merged everything
	Collisions []merge.Collision `json:"collisions"` // where both changed the same lines; the draft keeps its own
}

// ReleaseUses are the pockets that withdrawing a release affects. Following: visitors would see
// Next instead, the newest other release in use, 0 for none. Pinned: visitors keep the release.
type ReleaseUses struct {
	Following UsedBy `json:"following"`
	Pinned    UsedBy `json:"pinned"`
	OfWidget  int    `json:"ofWidget"` // number of all pockets of the widget
	Next      int    `json:"next"`
	Stuck     Stuck  `json:"stuck"` // those of Following whose visitors would keep this release
}

// Stuck counts pockets that follow but cannot have the intended release, and names the first 50.
// Their visitors keep another.
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
