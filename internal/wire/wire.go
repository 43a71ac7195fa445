// Package wire holds the JSON of the manage API, which the service writes and the client
// reads. The OpenAPI document is made from these types.
package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Problem is an error, as RFC 9457 problem details.
type Problem struct {
	Type    string        `json:"type"` // "about:blank": Code tells them apart
	Title   string        `json:"title"`
	Status  int           `json:"status"`
	Detail  string        `json:"detail"`
	Code    string        `json:"code"`
	Hint    string        `json:"hint"`
	Field   string        `json:"field,omitempty"`
	Faults  []fault.Fault `json:"faults,omitempty"`
	Request string        `json:"request,omitempty"` // the request's id, as in the log
}

// SignIn asks for a session.
type SignIn struct {
	Name     string `json:"name"`
	Password string `json:"password"`
}

// Session is who is signed in.
type Session struct {
	Name       string `json:"name"`
	Role       string `json:"role"`
	Customer   string `json:"customer,omitempty"`
	PublicBase string `json:"publicBase"` // address that pockets are served from
	// GuestPocket is the key of the pocket that a guest, who has no account, has begun.
	GuestPocket string `json:"guestPocket,omitempty"`
	// Folder is the folder of this computer that the worktop works on; "" with a service.
	Folder string `json:"folder,omitempty"`
	// Widget is the one widget that there is, with a folder.
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

// Withheld says since when and why visitors get nothing.
type Withheld struct {
	At  time.Time `json:"at"`
	Why string    `json:"why,omitempty"`
}

// Withhold asks that visitors get nothing; Why is for the record.
type Withhold struct {
	Why string `json:"why,omitempty"`
}

// NewCustomer makes a customer; without an id one is made from the name.
type NewCustomer struct {
	ID   string `json:"id,omitempty"`
	Name string `json:"name"`
}

// Customers is a page of customers; Next is the cursor for the next one.
type Customers struct {
	Customers []Customer `json:"customers"`
	Next      string     `json:"next,omitempty"`
}

// File is one file of a widget folder: text, or base64 for what is not UTF-8.
type File struct {
	Path   string `json:"path"`
	Text   string `json:"text,omitempty"`
	Base64 []byte `json:"base64,omitempty"`
}

// Folder is a widget folder.
type Folder struct {
	Files []File `json:"files"`
}

// Checked says what is wrong with a widget folder: it is sound when Widget is given. Faults
// that are warnings stop nothing.
type Checked struct {
	Widget string        `json:"widget,omitempty"`
	Digest string        `json:"digest,omitempty"`
	Faults []fault.Fault `json:"faults"`
}

// Release is one immutable, numbered release.
type Release struct {
	Widget    string    `json:"widget"`
	Number    int       `json:"number"`
	Digest    string    `json:"digest"`
	CreatedAt time.Time `json:"createdAt"`
	CreatedBy string    `json:"createdBy"`
	Fresh     bool      `json:"fresh"` // false: the newest release has these very files
	// Warnings are what will bite later; told when the release is made.
	Warnings []fault.Fault `json:"warnings,omitempty"`
	// WithdrawnAt is set while the release is used for nothing new.
	WithdrawnAt *time.Time `json:"withdrawnAt,omitempty"`
	Note        string     `json:"note,omitempty"`
	// Share is to how many of a hundred pockets it is rolled out. The oldest release in use serves
	// all pockets that newer ones do not: its share is 100.
	Share int `json:"share"`
	// Stuck are the pockets that a change of what is in use should have reached and cannot.
	Stuck *Stuck `json:"stuck,omitempty"`
}

// Releases lists releases, the newest first; Next is the cursor for older ones.
type Releases struct {
	Releases []Release `json:"releases"`
	Next     string    `json:"next,omitempty"`
}

// Widget is a widget by its newest release.
type Widget struct {
	Name      string             `json:"name"`
	Title     message.Words      `json:"title"`
	Summary   message.Words      `json:"summary,omitempty"`
	Languages []string           `json:"languages"`
	Release   Release            `json:"release"`
	Starters  []widget.Starter   `json:"starters"`
	Groups    []setting.Group    `json:"groups"`
	Settings  []*setting.Setting `json:"settings"`
	Floats    bool               `json:"floats"` // it lies over the page and takes no room in it
	Slots     []widget.Slot      `json:"slots"`
	Facts     []widget.Fact      `json:"facts"`
	ReadsPage bool               `json:"readsPage,omitempty"` // its script reads how far the page is scrolled
	Images    map[string]Image   `json:"images"`              // the folder's own assets, by path
	// FromBrand tells, when a pocket was named, what begins with its customer's brand: by
	// starter, settings' keys with the names of the brand's values.
	FromBrand map[string]map[string]string `json:"fromBrand,omitempty"`
}

// Image is an asset as it can be shown in a form.
type Image struct {
	Kind    asset.Kind `json:"kind"`
	Name    string     `json:"name"`
	Address string     `json:"address"` // of its smallest form
}

// Asset is a picture, sound or font that a customer has uploaded. Settings name it by its
// digest.
type Asset struct {
	asset.Info
	Address   string    `json:"address"` // of its smallest form
	CreatedAt time.Time `json:"createdAt"`
	CreatedBy string    `json:"createdBy"`
	Fresh     bool      `json:"fresh"`            // false: this very content was there already
	UsedBy    []string  `json:"usedBy,omitempty"` // keys of the pockets that show it, when one asset was asked for
}

// NewAsset uploads a file.
type NewAsset struct {
	Name  string `json:"name"` // as people know it: "boat.jpg"
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
	// Releaseless names the widgets of which every release has been withdrawn; they are not among
	// Widgets.
	Releaseless []string `json:"releaseless,omitempty"`
}

// Pocket states.
const (
	Unpublished = "unpublished" // visitors get nothing
	Published   = "published"   // visitors get the draft as it is
	Changed     = "changed"     // visitors get an earlier state of the draft
)

// Pocket is one customer's configured copy of a widget.
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
	DraftBy     string     `json:"draftBy,omitempty"` // who changed the draft last
	Publication int        `json:"publication"`       // 0 for none
	Newest      int        `json:"newest"`            // number of the newest, in use or not
	PublishedAt *time.Time `json:"publishedAt,omitempty"`
	Release     int        `json:"release"` // that the publication was made with
	Follow      bool       `json:"follow"`  // visitors get the newest release that takes the settings
	Withheld    *Withheld  `json:"withheld,omitempty"`
	// Releaseless says that every release of its widget has been withdrawn: it can be changed and
	// unpublished, not published.
	Releaseless bool `json:"releaseless,omitempty"`
}

// NewPocket makes a pocket. The operator may choose its key.
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
	Customers map[string]string `json:"customers"` // the names of theirs, by id
	Next      string            `json:"next,omitempty"`
}

// Draft is the settings being edited. Its ETag is its revision.
type Draft struct {
	Revision  int             `json:"revision"`
	Settings  json.RawMessage `json:"settings"` // as the widget's newest release sees them
	ChangedAt time.Time       `json:"changedAt"`
	ChangedBy string          `json:"changedBy,omitempty"`
	Title     string          `json:"title"`
	Language  string          `json:"language"`
	Starter   string          `json:"starter,omitempty"`
	Cues      cue.Cues        `json:"cues"` // when and where it shows
	// Aside names settings that were set under another release and that this one does not have
	// or take: they are kept, and not shown.
	Aside []string `json:"aside,omitempty"`
}

// Publish asks for a publication. Revision, when not 0, must be the draft's current one.
// Heights are what a browser measured. Follow says whether it follows the widget's newest
// release; as before when left out.
type Publish struct {
	Revision int             `json:"revision,omitempty"`
	Heights  []widget.Height `json:"heights,omitempty"`
	Follow   *bool           `json:"follow,omitempty"`
}

// Restore asks that an older publication be published again.
type Restore struct {
	Number int `json:"number"`
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
	Restores    int             `json:"restores,omitempty"`    // the number of the one that it brings back
	Unpublished bool            `json:"unpublished,omitempty"` // from here on visitors got nothing
	// EverybodyAt is when every visitor's browser has asked again, and has it.
	EverybodyAt time.Time `json:"everybodyAt"`
	First       bool      `json:"first,omitempty"`   // nothing was published before; told in lists
	Changed     []string  `json:"changed,omitempty"` // labels of the settings that are others than before; likewise
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

// Token lets a program act as its maker. Secret is told once, when it is made.
type Token struct {
	ID        int64     `json:"id"`
	Name      string    `json:"name"`
	CreatedAt time.Time `json:"createdAt"`
	ExpiresAt time.Time `json:"expiresAt"`
	Role      string    `json:"role"`
	Customer  string    `json:"customer,omitempty"`
	Secret    string    `json:"secret,omitempty"`
}

// NewToken makes a token that lasts Days days. Role and Customer narrow what it may do;
// left out, it reaches as far as its maker.
type NewToken struct {
	Name     string `json:"name"`
	Days     int    `json:"days"`
	Role     string `json:"role,omitempty"`
	Customer string `json:"customer,omitempty"`
}

// Tokens lists the asker's tokens.
type Tokens struct {
	Tokens []Token `json:"tokens"`
}

// SignedIn is one session of the asker.
type SignedIn struct {
	ID        int64     `json:"id"`
	CreatedAt time.Time `json:"createdAt"`
	ExpiresAt time.Time `json:"expiresAt"`
	Client    string    `json:"client"` // what the browser calls itself
	Current   bool      `json:"current"`
}

// Sessions lists the asker's sessions.
type Sessions struct {
	Sessions []SignedIn `json:"sessions"`
}

// ChangePassword changes the asker's own password.
type ChangePassword struct {
	Old string `json:"old"`
	New string `json:"new"`
}

// NewPassword is a random password, told once.
type NewPassword struct {
	Password string `json:"password"`
}

// User can sign in. Password is told once, when it was made at random.
type User struct {
	Name      string    `json:"name"`
	Role      string    `json:"role"`
	Customer  string    `json:"customer,omitempty"`
	CreatedAt time.Time `json:"createdAt"`
	Password  string    `json:"password,omitempty"`
}

// NewUser makes a user; without a password a random one is made.
type NewUser struct {
	Name     string `json:"name"`
	Role     string `json:"role"`
	Customer string `json:"customer,omitempty"`
	Password string `json:"password,omitempty"`
}

// ChangeUser gives a user another role.
type ChangeUser struct {
	Role     string `json:"role"`
	Customer string `json:"customer,omitempty"`
}

// Users is a page of users; Next is the cursor for the next one.
type Users struct {
	Users []User `json:"users"`
	Next  string `json:"next,omitempty"`
}
