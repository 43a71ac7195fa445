package app

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// What a Store answers besides its own errors.
var (
	ErrNotFound = errors.New("not found")
	ErrExists   = errors.New("exists already")
	ErrChanged  = errors.New("changed meanwhile")
)

// Customer owns pockets.
type Customer struct {
	ID        string    `db:"id"` // readable, for life
	Name      string    `db:"name"`
	CreatedAt time.Time `db:"created_at"`
	Withheld
}

// Withheld says since when and why visitors get nothing; At is nil when they do.
type Withheld struct {
	At  *time.Time `db:"withheld_at"`
	Why string     `db:"withheld_why"`
}

// User can sign in.
type User struct {
	ID           int64     `db:"id"`
	Name         string    `db:"name"`
	Role         Role      `db:"role"`
	CustomerID   string    `db:"customer_id"` // "" for the operator's own
	PasswordHash string    `db:"password_hash"`
	CreatedAt    time.Time `db:"created_at"`
}

// Session is one sign-in through the console.
type Session struct {
	ID        int64     `db:"id"`
	UserID    int64     `db:"user_id"`
	CreatedAt time.Time `db:"created_at"`
	RotatedAt time.Time `db:"rotated_at"` // when its secret was last changed
	ExpiresAt time.Time `db:"expires_at"`
	Client    string    `db:"client"` // what the browser calls itself
}

// Token lets a program act as the user who made it, until it expires.
type Token struct {
	ID         int64     `db:"id"`
	Name       string    `db:"name"`
	UserID     int64     `db:"user_id"`
	CustomerID string    `db:"customer_id"` // narrower than the user's when the user has none
	Role       Role      `db:"role"`        // narrower than the user's, or ""
	CreatedAt  time.Time `db:"created_at"`
	ExpiresAt  time.Time `db:"expires_at"`
}

// ReleaseInfo is a release without its files.
type ReleaseInfo struct {
	ID        int64     `db:"id"`
	Widget    string    `db:"widget"`
	Number    int       `db:"number"` // 1, 2, … within the widget
	Digest    string    `db:"digest"`
	CreatedAt time.Time `db:"created_at"`
	CreatedBy string    `db:"created_by"`
	// WithdrawnAt is nil while the release may be used for something new.
	WithdrawnAt *time.Time `db:"withdrawn_at"`
	Note        string     `db:"note"`
	// Share is to how many of a hundred pockets it is rolled out; see Pocket.Lot.
	Share int `db:"share"`
}

// LotLast is the last lot: what is rolled out to it is rolled out to all.
const LotLast = 99

// Pocket is one customer's configured copy of a widget.
type Pocket struct {
	Key         string          `db:"key"`
	CustomerID  string          `db:"customer_id"`
	Widget      string          `db:"widget"`
	Title       string          `db:"title"`
	Language    string          `db:"language"`
	Starter     string          `db:"starter"`
	Settings    json.RawMessage `db:"settings"` // the draft: an object of checked values
	Revision    int             `db:"revision"` // counts the draft's changes, from 1
	DraftAt     time.Time       `db:"draft_at"`
	DraftBy     string          `db:"draft_by"` // who changed it last
	CreatedAt   time.Time       `db:"created_at"`
	Publication int             `db:"publication"`        // number of the current one, 0 for none
	Newest      int             `db:"newest"`             // number of the newest, in use or not
	PublishedAt time.Time       `db:"published_at"`       // of the current one
	PublishedOf int             `db:"published_revision"` // the draft revision that it was made of
	Release     int             `db:"release_number"`     // of the current publication
	Follow      bool            `db:"follow"`             // publications follow the newest release
	Lot         int             `db:"lot"`                // 0 to 99, drawn when it was made: a release with a greater share is rolled out to it
	Withheld
}

// Publication is an immutable snapshot of a pocket.
type Publication struct {
	Key        string          `db:"key"`
	Number     int             `db:"number"` // 1, 2, … within the pocket
	CustomerID string          `db:"customer_id"`
	ReleaseID  int64           `db:"release_id"`
	Release    int             `db:"release_number"`
	Settings   json.RawMessage `db:"settings"` // complete
	Language   string          `db:"language"`
	Title      string          `db:"title"`
	Heights    json.RawMessage `db:"heights"` // []widget.Height
	Revision   int             `db:"revision"`
	At         time.Time       `db:"at"`
	By         string          `db:"by"`
	Client     string          `db:"client"`
	Follow     bool            `db:"follow"`   // shown under the newest release that takes its settings
	Restores   int             `db:"restores"` // the number of the publication that it brings back, 0 for none
	Ends       bool            `db:"ends"`     // from here on visitors get nothing; it has no settings
	Schedule   int64           `db:"-"`        // id of the schedule that it fulfils, 0 for none
}

// Follower is the current publication of a pocket that follows its widget.
type Follower struct {
	Publication
	Wanted int64 `db:"wanted"` // id of the newest release that is rolled out to it
}

// Rendering is a stored delivery, each part compressed with brotli.
type Rendering struct {
	Key         string `db:"key"`
	Publication int    `db:"publication"`
	ReleaseID   int64  `db:"release_id"` // that made it
	Identity    string `db:"identity"`   // render.Site.Identity that made it
	Sums        string `db:"sums"`       // render.Delivery.Sums of what was stored; "" is not checked
	Script      []byte `db:"script"`
	JSON        []byte `db:"json"`
	Page        []byte `db:"page"`
}

// Current is everything that serving one document of a key needs.
type Current struct {
	Key         string `db:"key"`
	Publication int    `db:"publication"`
	ReleaseID   int64  `db:"release_id"`
	Identity    string `db:"identity"`
	Sums        string `db:"sums"`
	Document    []byte `db:"document"` // the part asked for
	CustomerID  string `db:"customer_id"`
	Widget      string `db:"widget"`
	Follow      bool   `db:"follow"`
	Withheld    bool   `db:"withheld"` // the pocket or its customer
	Newest      int64  `db:"newest"`   // id of the widget's newest release in use, 0 for none
}

// wanted is the id of the release that visitors are to get.
func (c Current) wanted() int64 {
	if c.Follow && c.Newest != 0 {
		return c.Newest
	}
	return c.ReleaseID
}

// Page asks for part of a list: at most Limit rows after the row named After.
type Page struct {
	After string
	Limit int
}

// Store keeps everything. A write has returned nil only when it is durable. Times are UTC.
type Store interface {
	Ping(ctx context.Context) error

	AddCustomer(ctx context.Context, c Customer) error // ErrExists
	Customer(ctx context.Context, id string) (Customer, error)
	Customers(ctx context.Context, only string, p Page) ([]Customer, error)
	WithholdCustomer(ctx context.Context, id string, w Withheld) error // ErrNotFound

	AddUser(ctx context.Context, u User) (int64, error) // ErrExists
	// AddFirstUser adds u only while there is nobody; else ErrExists.
	AddFirstUser(ctx context.Context, u User) (int64, error)
	UserByName(ctx context.Context, name string) (User, error)
	Users(ctx context.Context, p Page) ([]User, error) // by name
	// SaveUser replaces role, customer and password, and ends the user's sessions but keep,
	// and the tokens too when told. ErrChanged when nobody would be left to administer.
	SaveUser(ctx context.Context, u User, keep int64, endTokens bool) error
	EndUser(ctx context.Context, id int64) error // ErrChanged as SaveUser

	AddSession(ctx context.Context, s Session, digest string) (int64, error)
	SessionUser(ctx context.Context, digest string, now time.Time) (User, Session, error)
	RotateSession(ctx context.Context, id int64, digest string, at time.Time) error
	Sessions(ctx context.Context, userID int64, now time.Time) ([]Session, error)
	EndSession(ctx context.Context, userID, id int64) error // ErrNotFound

	AddToken(ctx context.Context, t Token, digest string) (int64, error)
	TokenUser(ctx context.Context, digest string) (User, Token, error) // expired ones too
	Tokens(ctx context.Context, userID int64) ([]Token, error)
	EndToken(ctx context.Context, userID, id int64) error

	// AddRelease adds the next release. newest is the number of the one that it is to follow,
	// -1 for whichever: ErrChanged when there is another by now.
	AddRelease(ctx context.Context, r *widget.Release, n NewRelease) (info ReleaseInfo, fresh bool, err error)
	NewestReleases(ctx context.Context) ([]ReleaseInfo, error) // one a widget, by name; of those in use
	// NewestReleaseFor is the newest in use that is rolled out to a lot.
	NewestReleaseFor(ctx context.Context, widget string, lot int) (ReleaseInfo, error)
	// ShareRelease rolls a release out to so many of a hundred pockets.
	ShareRelease(ctx context.Context, widget string, number, share int) (ReleaseInfo, error) // ErrNotFound
	Releases(ctx context.Context, widget string, before, limit int) ([]ReleaseInfo, error)   // newest first, withdrawn ones too
	ReleaseByNumber(ctx context.Context, widget string, number int) (ReleaseInfo, error)
	Withdraw(ctx context.Context, widget string, number int, at *time.Time) (ReleaseInfo, error) // nil at brings it back
	ReleaseByDigest(ctx context.Context, digest string) (int64, error)
	ReleaseFiles(ctx context.Context, id int64) (widget.Files, widget.Opened, error) // assets without their bytes

	// Followers are the current publications of pockets that follow a widget, by key.
	Followers(ctx context.Context, widget, after string, limit int) ([]Follower, error)
	CountFollowers(ctx context.Context, widget string) (int, error)
	ReleaseFolder(ctx context.Context, id int64) (widget.Files, error) // with the bytes of its assets

	AddWidgetDraft(ctx context.Context, d WidgetDraft, files []DraftFile) error // ErrExists
	// SaveWidgetDraft replaces the draft and the files given, if its revision is still revision; else ErrChanged.
	SaveWidgetDraft(ctx context.Context, d WidgetDraft, revision int, files []DraftFile) error
	WidgetDraft(ctx context.Context, widget string) (WidgetDraft, error)
	WidgetDrafts(ctx context.Context, p Page) ([]WidgetDraft, error) // by widget
	WidgetDraftFiles(ctx context.Context, widget string) (WidgetDraft, []DraftFile, error)
	EndWidgetDraft(ctx context.Context, widget string) error // ErrNotFound

	AddAsset(ctx context.Context, made asset.Made, a Asset) (fresh bool, err error)
	Assets(ctx context.Context, customer string, p Page) ([]Asset, error)     // by digest
	Asset(ctx context.Context, customer, digest string) (Asset, error)        // ErrNotFound
	AssetUses(ctx context.Context, customer, digest string) ([]string, error) // keys of pockets, at most 100
	// EndAsset takes an asset away unless AssetUses, which it then returns. ErrNotFound
	EndAsset(ctx context.Context, customer, digest string) (uses []string, err error)
	AssetFile(ctx context.Context, digest, name string) ([]byte, error) // ErrNotFound

	AddPocket(ctx context.Context, p Pocket) error // ErrExists
	Pocket(ctx context.Context, key string) (Pocket, error)
	Pockets(ctx context.Context, only string, p Page) ([]Pocket, error)
	// SavePocket replaces title, language and draft if the revision is still revision, which
	// then counts one more; else ErrChanged.
	SavePocket(ctx context.Context, p Pocket, revision int) error
	PreviewCases(ctx context.Context, key string) ([]PreviewCase, error)  // in their order
	SavePreviewCase(ctx context.Context, key string, c PreviewCase) error // replaces one of the same name
	EndPreviewCase(ctx context.Context, key, name string) error           // ErrNotFound

	WithholdPocket(ctx context.Context, key string, w Withheld) error // ErrNotFound

	// Publish stores p and r and points the key at them, if p.Number follows the newest one and
	// the schedule that it fulfils still waits; else ErrChanged. One that ends has no rendering.
	Publish(ctx context.Context, p Publication, r Rendering) error
	AddSchedules(ctx context.Context, list []Schedule) ([]int64, error)
	Schedules(ctx context.Context, key string, before int64, limit int) ([]Schedule, error) // newest first
	DueSchedules(ctx context.Context, now time.Time, limit int) ([]Schedule, error)         // that wait, the earliest first
	// EndSchedule ends one that waits; else ErrChanged.
	EndSchedule(ctx context.Context, id int64, at time.Time, outcome, why string) error
	Trail(ctx context.Context, q TrailQuery) ([]Entry, error)                               // newest first
	Publications(ctx context.Context, key string, before, limit int) ([]Publication, error) // newest first
	Publication(ctx context.Context, key string, number int) (Publication, error)
	Current(ctx context.Context, key string, part render.Part) (Current, error)
	SaveRendering(ctx context.Context, r Rendering) error
}
