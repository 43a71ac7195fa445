// Package wire defines the JSON of the manage API, which the service writes and the client reads.
// The OpenAPI document is generated from these types.
package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Problem is an error, as RFC 9457 problem details.
type Problem struct {
	Type    string        `json:"type"` // "about:blank": Code identifies the problem
	Title   string        `json:"title"`
	Status  int           `json:"status"`
	Detail  string        `json:"detail"`
	Code    string        `json:"code"`
	Hint    string        `json:"hint"`
	Field   string        `json:"field,omitempty"`
	Faults  []fault.Fault `json:"faults,omitempty"`
	Request string        `json:"request,omitempty"` // the request's ID, as in the log
}

// SignIn creates a session.
type SignIn struct {
	Name     string `json:"name"`
	Password string `json:"password"`
}

// Session describes the signed-in user.
type Session struct {
	Name       string `json:"name"`
	Role       string `json:"role"`
	Customer   string `json:"customer,omitempty"`
	PublicBase string `json:"publicBase"` // address from which pockets are served
	// GuestPocket is the key of the pocket of a guest, who has no account.
	GuestPocket string `json:"guestPocket,omitempty"`
	// Folder is the folder on this computer that the worktop edits; "" with a service.
	Folder string `json:"folder,omitempty"`
	// Widget is the widget in the folder.
	Widget string `json:"widget,omitempty"`
}

// Customer owns pockets.
type Customer struct {
	ID        string    `json:"id"`
	Name      string    `json:"name"`
	CreatedAt time.Time `json:"createdAt"`
	Withheld  *Withheld `json:"withheld,omitempty"`
	Revision  int       `json:"revision"` // its ETag
	Zone      string    `json:"zone"`     // IANA name
	Language  string    `json:"language,omitempty"`
	Sites     []string  `json:"sites"` // domains
}

// Withheld says since when and why visitors see nothing.
type Withheld struct {
	At  time.Time `json:"at"`
	Why string    `json:"why,omitempty"`
}

// Withhold stops serving. Why is for the record.
type Withhold struct {
	Why string `json:"why,omitempty"`
}

// NewCustomer creates a customer. Without an ID, one is derived from the name.
type NewCustomer struct {
	ID   string `json:"id,omitempty"`
	Name string `json:"name"`
}

// Customers is a page of customers; Next is the cursor for the next one.
type Customers struct {
	Customers []Customer `json:"customers"`
	Next      string     `json:"next,omitempty"`
}

// File is a file of a widget folder: text, or base64 if it is not UTF-8.
type File struct {
	Path   string `json:"path"`
	Text   string `json:"text,omitempty"`
	Base64 []byte `json:"base64,omitempty"`
}

// Folder is a widget folder.
type Folder struct {
	Files []File `json:"files"`
}

// Checked reports what is wrong with a widget folder. It is valid if Widget is present. Faults that
// are warnings prevent nothing.
type Checked struct {
	Widget string        `json:"widget,omitempty"`
	Digest string        `json:"digest,omitempty"`
	Faults []fault.Fault `json:"faults"`
}

// Release is an immutable, numbered release.
type Release struct {
	Widget    string    `json:"widget"`
	Number    int       `json:"number"`
	Digest    string    `json:"digest"`
	CreatedAt time.Time `json:"createdAt"`
	CreatedBy string    `json:"createdBy"`
	Fresh     bool      `json:"fresh"` // false: the newest release has the same files
	// Warnings are what will cause problems later. They are included when the release is created.
	Warnings []fault.Fault `json:"warnings,omitempty"`
	// WithdrawnAt is set while the release is withdrawn.
	WithdrawnAt *time.Time `json:"withdrawnAt,omitempty"`
	Note        string     `json:"note,omitempty"`
	// Share is the percentage of pockets that it is rolled out to. The oldest release in use serves
	// all pockets that newer ones do not: its share is 100.
	Share int `json:"share"`
	// Stuck are the pockets that cannot follow a change of the releases in use.
	Stuck *Stuck `json:"stuck,omitempty"`
}

// Releases lists releases, the newest first; Next is the cursor for older ones.
type Releases struct {
	Releases []Release `json:"releases"`
	Next     string    `json:"next,omitempty"`
}

// Widget is a widget as in its newest release.
type Widget struct {
	Name      string             `json:"name"`
	Title     message.Words      `json:"title"`
	Summary   message.Words      `json:"summary,omitempty"`
	Languages []string           `json:"languages"`
	Release   Release            `json:"release"`
	Starters  []widget.Starter   `json:"starters"`
	Groups    []setting.Group    `json:"groups"`
	Settings  []*setting.Setting `json:"settings"`
	Floats    bool               `json:"floats"` // it is above the page and takes no space
	Slots     []widget.Slot      `json:"slots"`
	Facts     []widget.Fact      `json:"facts"`
	ReadsPage bool               `json:"readsPage,omitempty"` // its script reads the scroll position
	Images    map[string]Image   `json:"images"`              // the folder's own assets, by path
	// FromBrand lists which settings start with the customer's brand, if the request names a
	// pocket: by starter, the settings' keys with names of brand values.
	FromBrand map[string]map[string]string `json:"fromBrand,omitempty"`
	// Sample has the entries of lists that a preview shows while the pocket has none, by the
	// setting's key, if the request names a pocket.
	Sample map[string]any `json:"sample,omitempty"`
}

// Image is an asset for display in a form.
type Image struct {
	Kind    asset.Kind `json:"kind"`
	Name    string     `json:"name"`
	Address string     `json:"address"` // of its smallest form
}

// Asset is an image, sound or font that a customer uploaded. Settings refer to it by its digest.
type Asset struct {
	asset.Info
	Address   string    `json:"address"` // of its smallest form
	CreatedAt time.Time `json:"createdAt"`
	CreatedBy string    `json:"createdBy"`
	Fresh     bool      `json:"fresh"`            // false: the same content was there already
	UsedBy    []string  `json:"usedBy,omitempty"` // keys of the pockets that use it, when one asset is requested
}

// NewAsset uploads a file.
type NewAsset struct {
	Name  string `json:"name"` // the file's name for people: "boat.jpg"
	Bytes []byte `json:"bytes"`
}

// Assets is a page of assets; Next is the cursor for the next one.
type Assets struct {
	Assets []Asset `json:"assets"`
	Next   string  `json:"next,omitempty"`
}

// Widgets lists widgets by name.
type Widgets struct {
	Widgets []Widget `json:"widgets"`
	// Releaseless names widgets whose releases have all been withdrawn. They are not in Widgets.
	Releaseless []string `json:"releaseless,omitempty"`
}

// Pocket states.
const (
	Unpublished = "unpublished" // visitors see nothing
	Published   = "published"   // visitors see the draft
	Changed     = "changed"     // visitors see an earlier version of the draft
)

// Pocket is a customer's configured copy of a widget.
type Pocket struct {
	Key         string     `json:"key"`
	Customer    string     `json:"customer"`
	Widget      string     `json:"widget"`
	Title       string     `json:"title"`
	Language    string     `json:"language"`
	Starter     string     `json:"starter,omitempty"`
	State       string     `json:"state"`
	Revision    int        `json:"revision"`
	DraftAt     time.Time  `json:"draftAt"`
	CreatedAt   time.Time  `json:"createdAt"`
	DraftBy     string     `json:"draftBy,omitempty"` // who last changed the draft
	Publication int        `json:"publication"`       // 0 for none
	Newest      int        `json:"newest"`            // number of the newest publication, live or not
	PublishedAt *time.Time `json:"publishedAt,omitempty"`
	Release     int        `json:"release"` // number of the live version's release
	Follow      bool       `json:"follow"`  // visitors see the newest release that accepts the settings
	Withheld    *Withheld  `json:"withheld,omitempty"`
	// Releaseless says that all releases of its widget have been withdrawn: the pocket can be
	// changed and unpublished, but not published.
	Releaseless bool `json:"releaseless,omitempty"`
	// Failing are its sources that could not be fetched last time. Visitors keep seeing their last items.
	Failing []FailingSource `json:"failing,omitempty"`
}

// NewPocket creates a pocket. The operator can choose its key.
type NewPocket struct {
	Customer string `json:"customer,omitempty"`
	Widget   string `json:"widget"`
	Starter  string `json:"starter,omitempty"`
	Title    string `json:"title,omitempty"`
	Language string `json:"language,omitempty"`
	Key      string `json:"key,omitempty"`
}

// Pockets is a page of pockets; Next is the cursor for the next one.
type Pockets struct {
	Pockets   []Pocket          `json:"pockets"`
	Customers map[string]string `json:"customers"` // the customers' names by ID
	Next      string            `json:"next,omitempty"`
}

// Draft has the settings of a draft. Its ETag is its revision.
type Draft struct {
	Revision  int             `json:"revision"`
	Settings  json.RawMessage `json:"settings"` // for the widget's newest release
	ChangedAt time.Time       `json:"changedAt"`
	ChangedBy string          `json:"changedBy,omitempty"`
	Title     string          `json:"title"`
	Language  string          `json:"language"`
	Starter   string          `json:"starter,omitempty"`
	content.Extras
	// Aside lists settings of another release that this one does not have or accept. They are kept,
	// but not shown.
	Aside []string `json:"aside,omitempty"`
}

// Publish publishes a draft. Revision, unless 0, must be the draft's current one. Heights are
// measured by a browser. Follow says whether the pocket follows the widget's newest release; if
// missing, it stays unchanged.
type Publish struct {
	Revision int             `json:"revision,omitempty"`
	Heights  []widget.Height `json:"heights,omitempty"`
	Follow   *bool           `json:"follow,omitempty"`
}

// Restore publishes an older publication again. With After, only if that is still the newest.
type Restore struct {
	Number int `json:"number"`
	After  int `json:"after,omitempty"`
}

// Publication is an immutable snapshot of a pocket.
type Publication struct {
	Key         string          `json:"key"`
	Number      int             `json:"number"`
	Release     int             `json:"release"`
	Revision    int             `json:"revision"`
	Language    string          `json:"language"`
	Settings    json.RawMessage `json:"settings"`
	At          time.Time       `json:"at"`
	By          string          `json:"by"`
	Client      string          `json:"client"`
	Follow      bool            `json:"follow"`
	Restores    int             `json:"restores,omitempty"`    // the number of the restored publication
	Unpublished bool            `json:"unpublished,omitempty"` // the pocket was taken offline with it
	// EverybodyAt is when every visitor's browser has loaded it.
	EverybodyAt time.Time `json:"everybodyAt"`
	First       bool      `json:"first,omitempty"`   // nothing was published before; in lists
	Changed     []string  `json:"changed,omitempty"` // labels of the settings that changed; in lists
}

// Publications lists publications, the newest first; Next is the cursor for older ones.
type Publications struct {
	Publications []Publication `json:"publications"`
	Next         string        `json:"next,omitempty"`
}

// Snippets are the texts to paste for one pocket.
type Snippets struct {
	Snippets []host.Snippet `json:"snippets"`
}

// Token lets a program act for its maker. Secret appears only when it is created.
type Token struct {
	ID        int64     `json:"id"`
	Name      string    `json:"name"`
	CreatedAt time.Time `json:"createdAt"`
	ExpiresAt time.Time `json:"expiresAt"`
	Role      string    `json:"role"`
	Customer  string    `json:"customer,omitempty"`
	Secret    string    `json:"secret,omitempty"`
}

// NewToken creates a token for Days days. Role and Customer limit it; without them, it can do what
// its maker can do.
type NewToken struct {
	Name     string `json:"name"`
	Days     int    `json:"days"`
	Role     string `json:"role,omitempty"`
	Customer string `json:"customer,omitempty"`
}

// Tokens lists the user's tokens.
type Tokens struct {
	Tokens []Token `json:"tokens"`
}

// SignedIn is one of the user's sessions.
type SignedIn struct {
	ID        int64     `json:"id"`
	CreatedAt time.Time `json:"createdAt"`
	ExpiresAt time.Time `json:"expiresAt"`
	Client    string    `json:"client"` // the browser's name for itself
	Current   bool      `json:"current"`
}

// Sessions lists the user's sessions.
type Sessions struct {
	Sessions []SignedIn `json:"sessions"`
}

// ChangePassword changes the user's own password.
type ChangePassword struct {
	Old string `json:"old"`
	New string `json:"new"`
}

// NewPassword is a random password, which appears only once.
type NewPassword struct {
	Password string `json:"password"`
}

// User can sign in. Password appears only once, if it is random.
type User struct {
	Name      string    `json:"name"`
	Role      string    `json:"role"`
	Customer  string    `json:"customer,omitempty"`
	CreatedAt time.Time `json:"createdAt"`
	Password  string    `json:"password,omitempty"`
}

// NewUser creates a user, with a random password unless one is given.
type NewUser struct {
	Name     string `json:"name"`
	Role     string `json:"role"`
	Customer string `json:"customer,omitempty"`
	Password string `json:"password,omitempty"`
}

// ChangeUser changes a user's role.
type ChangeUser struct {
	Role     string `json:"role"`
	Customer string `json:"customer,omitempty"`
}

// Users is a page of users; Next is the cursor for the next one.
type Users struct {
	Users []User `json:"users"`
	Next  string `json:"next,omitempty"`
}
