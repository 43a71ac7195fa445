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

// Errors that a Store returns in addition to its own.
var (
	ErrNotFound = errors.New("not found")
	ErrExists   = errors.New("already exists")
	ErrChanged  = errors.New("changed by somebody else")
)

// Customer owns pockets.
type Customer struct {
	ID        string    `db:"id"` // readable, never changes
	Name      string    `db:"name"`
	CreatedAt time.Time `db:"created_at"`
	Withheld
	Revision      int             `db:"revision"` // counts changes of the fields below, from 1
	Zone          string          `db:"zone"`     // IANA name
	Language      string          `db:"language"` // of new pockets if the widget supports it; "" for the widget's first
	Sites         json.RawMessage `db:"sites"`    // []string: domains
	Brand         json.RawMessage `db:"brand"`    // setting.Brand
	BrandRevision int             `db:"brand_revision"`
}

// Withheld says since when and why nothing is served; At is nil if it is served.
type Withheld struct {
	At  *time.Time `db:"withheld_at"`
	Why string     `db:"withheld_why"`
}

// User can sign in.
type User struct {
	ID           int64     `db:"id"`
	Name         string    `db:"name"`
	Role         Role      `db:"role"`
	CustomerID   string    `db:"customer_id"` // "" for the operator's users
	PasswordHash string    `db:"password_hash"`
	CreatedAt    time.Time `db:"created_at"`
}

// Session is a sign-in through the console.
type Session struct {
	ID        int64     `db:"id"`
	UserID    int64     `db:"user_id"`
	CreatedAt time.Time `db:"created_at"`
	RotatedAt time.Time `db:"rotated_at"` // last change of its secret
	ExpiresAt time.Time `db:"expires_at"`
	Client    string    `db:"client"` // the browser's name for itself
}

// Token lets a program act for its maker, until it expires.
type Token struct {
	ID         int64     `db:"id"`
	Name       string    `db:"name"`
	UserID     int64     `db:"user_id"`
	CustomerID string    `db:"customer_id"` // limits it further than the user
	Role       Role      `db:"role"`        // limits it further than the user, or ""
	CreatedAt  time.Time `db:"created_at"`
	ExpiresAt  time.Time `db:"expires_at"`
	Parent     *int64    `db:"parent"` // the token that it was created with; nil for a session
}

// ReleaseInfo is a release without its files.
type ReleaseInfo struct {
	ID        int64     `db:"id"`
	Widget    string    `db:"widget"`
	Number    int       `db:"number"` // 1, 2, … within the widget
	Digest    string    `db:"digest"`
	CreatedAt time.Time `db:"created_at"`
	CreatedBy string    `db:"created_by"`
	// WithdrawnAt is nil unless the release is withdrawn.
	WithdrawnAt *time.Time `db:"withdrawn_at"`
	Note        string     `db:"note"`
	// Share is the percentage of pockets that it is rolled out to; see Pocket.Lot.
	Share int `db:"share"`
}

// LotLast is the last lot: a release that includes it is rolled out to all.
const LotLast = 99

// Pocket is a customer's configured copy of a widget.
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
	DraftBy     string          `db:"draft_by"` // who last changed it
	CreatedAt   time.Time       `db:"created_at"`
	Publication int             `db:"publication"`        // number of the live version, 0 for none
	Newest      int             `db:"newest"`             // number of the newest publication, live or not
	PublishedAt time.Time       `db:"published_at"`       // of the live version
	PublishedOf int             `db:"published_revision"` // the revision of the draft that was published
	Release     int             `db:"release_number"`     // of the live version
	Follow      bool            `db:"follow"`             // publications follow the newest release
	// Names of brand values in the draft and in the live version, with a space around each.
	BrandDraft     string `db:"brand_draft"`
	BrandPublished string `db:"brand_published"`
	// When and where it shows, as JSON, "" for everywhere: of the draft, and of the live version;
	// see cue.Read.
	Cues          string `db:"cues"`
	CuesPublished string `db:"cues_published"`
	Lot           int    `db:"lot"` // 0 to 99, random: a release with a larger share is rolled out to it
	Withheld
}

// Publication is an immutable snapshot of a pocket.
type Publication struct {
	Key         string          `db:"key"`
	Number      int             `db:"number"` // 1, 2, … within the pocket
	CustomerID  string          `db:"customer_id"`
	ReleaseID   int64           `db:"release_id"`
	Release     int             `db:"release_number"`
	Settings    json.RawMessage `db:"settings"` // complete
	Language    string          `db:"language"`
	Title       string          `db:"title"`
	Heights     json.RawMessage `db:"heights"` // []widget.Height
	Revision    int             `db:"revision"`
	At          time.Time       `db:"at"`
	By          string          `db:"by"`
	Client      string          `db:"client"`
	Follow      bool            `db:"follow"`      // shown with the newest release that accepts its settings
	Restores    int             `db:"restores"`    // number of the restored publication, 0 for none
	Unpublished bool            `db:"unpublished"` // it takes the pocket offline and has no settings
	Cues        string          `db:"cues"`        // when and where it shows, as JSON; "" for everywhere
	Brand       string          `db:"-"`           // names of brand values that it refers to, with a space around each
	Schedule    int64           `db:"-"`           // ID of its schedule, 0 for none
}

// Follower is the live version of a pocket that follows its widget.
type Follower struct {
	Publication
	Wanted int64 `db:"wanted"` // ID of the newest release that is rolled out to it
	Lot    int   `db:"lot"`    // of the pocket
}

// Rendering is a stored delivery, each part compressed with brotli.
type Rendering struct {
	Key         string `db:"key"`
	Publication int    `db:"publication"`
	ReleaseID   int64  `db:"release_id"` // of the release that made it
	Refused     int64  `db:"refused"`    // ID of the release that should have made it but does not accept the settings; 0 for none
	Identity    string `db:"identity"`   // the render.Site.Identity that made it
	Sums        string `db:"sums"`       // its render.Delivery.Sums; "" is not checked
	Brand       int    `db:"brand"`      // revision of the brand that it was made with; -1 if it refers to none
	Script      []byte `db:"script"`
	JSON        []byte `db:"json"`
	Page        []byte `db:"page"`
}

// Current has everything for serving one document of a key.
type Current struct {
	Key          string `db:"key"`
	Publication  int    `db:"publication"`
	ReleaseID    int64  `db:"release_id"`
	Identity     string `db:"identity"`
	Sums         string `db:"sums"`
	Document     []byte `db:"document"` // the requested part
	CustomerID   string `db:"customer_id"`
	Widget       string `db:"widget"`
	Follow       bool   `db:"follow"`
	Withheld     bool   `db:"withheld"`       // the pocket or its customer is withheld
	Brand        int    `db:"brand"`          // revision that the document was made with; -1 for none
	CurrentBrand int    `db:"brand_revision"` // the customer's
	Newest       int64  `db:"newest"`         // ID of the widget's newest release in use, 0 for none
	Cues         string `db:"cues_published"`
	Sites        []byte `db:"sites"` // the customer's, as a JSON list
}

// wanted returns the ID of the release that visitors should receive.
func (c Current) wanted() int64 {
	if c.Follow && c.Newest != 0 {
		return c.Newest
	}
	return c.ReleaseID
}

// brandFits reports whether the document was made with the customer's present brand, or needs none.
func (c Current) brandFits() bool { return c.Brand < 0 || c.Brand == c.CurrentBrand }

// Page selects a part of a list: at most Limit rows after the row named After.
type Page struct {
	After string
	Limit int
}

// Store is the storage. A write that returns nil is durable. Times are UTC.
type Store interface {
	Ping(ctx context.Context) error

	AddCustomer(ctx context.Context, c Customer, rec *Record) error // ErrExists
	Customer(ctx context.Context, id string) (Customer, error)
	HasCustomer(ctx context.Context, id string) (bool, error)
	Customers(ctx context.Context, only, search string, p Page) ([]Customer, error)
	CustomerNames(ctx context.Context, ids []string) (map[string]string, error)     // by ID
	WithholdCustomer(ctx context.Context, id string, w Withheld, rec *Record) error // ErrNotFound
	// SaveCustomer replaces name, zone, language, sites and brand if the revision is still
	// revision. If not, it returns ErrChanged.
	SaveCustomer(ctx context.Context, c Customer, revision int, rec *Record) error
	// Branded lists the pockets of a customer that refer to any of names, by key.
	Branded(ctx context.Context, customer string, names []string, p Page) ([]Pocket, error)
	AddGuestPocket(ctx context.Context, p Pocket, digest string, until time.Time, rec *Record) error
	GuestPocket(ctx context.Context, digest string, now time.Time) (key string, err error) // ErrNotFound
	KeepGuestPocket(ctx context.Context, key string, until time.Time) error
	// ClaimGuestPocket moves a guest pocket to a customer. It adds the customer and the user if
	// given. Errors: ErrNotFound, ErrExists.
	ClaimGuestPocket(ctx context.Context, key, customer string, c *Customer, u *User, rec *Record) error
	DeleteExpiredGuestPockets(ctx context.Context, now time.Time) (int, error) // the expired ones
	AddInvitation(ctx context.Context, n Invitation, digest string, rec *Record) (int64, error)
	Invitations(ctx context.Context, customer string) ([]Invitation, error)             // newest first
	Invitation(ctx context.Context, digest string) (Invitation, error)                  // ErrNotFound
	RevokeInvitation(ctx context.Context, customer string, id int64, rec *Record) error // ErrNotFound
	// UseInvitation adds u and marks the invitation as used, or does neither. It returns ErrChanged
	// if it was used before, and ErrExists if there is such a user.
	UseInvitation(ctx context.Context, id int64, u User, at time.Time, rec *Record) (int64, error)
	UsersOf(ctx context.Context, customer string) ([]User, error) // by name

	AddUser(ctx context.Context, u User, rec *Record) (int64, error) // ErrExists
	// AddFirstUser adds u only if there are no users. If there are, it returns ErrExists.
	AddFirstUser(ctx context.Context, u User) (int64, error)
	UserByName(ctx context.Context, name string) (User, error)
	Users(ctx context.Context, p Page) ([]User, error) // by name
	// SaveUser replaces role, customer and password. It deletes the user's sessions except keep,
	// and the tokens too if requested. It returns ErrChanged if no operator-admin would remain.
	SaveUser(ctx context.Context, u User, keep int64, deleteTokens bool, rec *Record) error
	DeleteUser(ctx context.Context, id int64, rec *Record) error // ErrChanged as SaveUser

	AddSession(ctx context.Context, s Session, digest string) (int64, error)
	SessionUser(ctx context.Context, digest string, now time.Time) (User, Session, error)
	RotateSession(ctx context.Context, id int64, digest string, at time.Time) error
	Sessions(ctx context.Context, userID int64, now time.Time) ([]Session, error)
	RevokeSession(ctx context.Context, userID, id int64, rec *Record) error // ErrNotFound

	AddToken(ctx context.Context, t Token, digest string, rec *Record) (int64, error)
	TokenUser(ctx context.Context, digest string) (User, Token, error) // including expired ones
	Tokens(ctx context.Context, userID int64) ([]Token, error)
	RevokeToken(ctx context.Context, userID, id int64, rec *Record) error

	// AddRelease adds the next release. newest is the number of its expected predecessor, -1 for
	// any. It returns ErrChanged if there is a newer one.
	AddRelease(ctx context.Context, r *widget.Release, n NewRelease, rec *Record) (info ReleaseInfo, fresh bool, err error)
	NewestReleases(ctx context.Context) ([]ReleaseInfo, error) // one per widget, by name; only those in use
	// NewestReleaseFor returns the newest release in use that is rolled out to a lot.
	NewestReleaseFor(ctx context.Context, widget string, lot int) (ReleaseInfo, error)
	// ShareRelease sets the percentage of pockets that a release is rolled out to.
	ShareRelease(ctx context.Context, widget string, number, share int, rec *Record) (ReleaseInfo, error) // ErrNotFound
	Releases(ctx context.Context, widget string, before, limit int) ([]ReleaseInfo, error)                // newest first, including withdrawn ones
	ReleaseByNumber(ctx context.Context, widget string, number int) (ReleaseInfo, error)
	ReleaselessWidgets(ctx context.Context) ([]string, error) // widgets whose releases have all been withdrawn, by name
	// ReleaseUses lists, at most limit each, the pockets whose visitors receive a release because
	// they follow, and those that were published with it.
	ReleaseUses(ctx context.Context, info ReleaseInfo, limit int) (ReleaseUses, error)
	// ServedReleases returns the numbers of the releases that visitors of following pockets
	// receive.
	ServedReleases(ctx context.Context, keys []string) (map[string]int, error)
	// Refuse records that a release does not accept a publication.
	Refuse(ctx context.Context, key string, publication int, release int64) error
	Withdraw(ctx context.Context, widget string, number int, at *time.Time, rec *Record) (ReleaseInfo, error) // nil at puts it back into use
	ReleaseByDigest(ctx context.Context, digest string) (int64, error)
	ReleaseFiles(ctx context.Context, id int64) (widget.Files, widget.Opened, error) // assets without their bytes

	// Followers returns the live versions of pockets that follow a widget, by key.
	Followers(ctx context.Context, widget, after string, limit int) ([]Follower, error)
	CountFollowers(ctx context.Context, widget string) (int, error)
	ReleaseFolder(ctx context.Context, id int64) (widget.Files, error) // with the bytes of its assets

	AddWidgetDraft(ctx context.Context, d WidgetDraft, files []DraftFile, rec *Record) error // ErrExists
	// SaveWidgetDraft replaces the draft and the given files if its revision is still revision. If
	// not, it returns ErrChanged.
	SaveWidgetDraft(ctx context.Context, d WidgetDraft, revision int, files []DraftFile, rec *Record) error
	WidgetDraft(ctx context.Context, widget string) (WidgetDraft, error)
	WidgetDrafts(ctx context.Context, p Page) ([]WidgetDraft, error) // by widget
	WidgetDraftFiles(ctx context.Context, widget string) (WidgetDraft, []DraftFile, error)
	DeleteWidgetDraft(ctx context.Context, widget string, rec *Record) error // ErrNotFound

	AddAsset(ctx context.Context, made asset.Made, a Asset, rec *Record) (fresh bool, err error)
	Assets(ctx context.Context, customer string, p Page) ([]Asset, error)     // by digest
	Asset(ctx context.Context, customer, digest string) (Asset, error)        // ErrNotFound
	AssetUses(ctx context.Context, customer, digest string) ([]string, error) // keys of pockets, at most 100
	// CopyAsset adds another customer's asset to a customer. Error: ErrNotFound.
	CopyAsset(ctx context.Context, from, to, digest, by string, at time.Time) error
	// DeleteAsset deletes an asset unless it has AssetUses, which it then returns. Error:
	// ErrNotFound.
	DeleteAsset(ctx context.Context, customer, digest string, rec *Record) (uses []string, err error)
	AssetFile(ctx context.Context, digest, name string) ([]byte, error) // ErrNotFound
	// VisibleFile returns the digest of the file of one form of an asset if visitors may have it:
	// if a release, a draft, or a customer who is not withheld has it. Error: ErrNotFound.
	VisibleFile(ctx context.Context, digest, name string) (file string, err error)
	FileBytes(ctx context.Context, file string) ([]byte, error) // ErrNotFound

	Usage(ctx context.Context, customer string) (Usage, error)
	AddPocket(ctx context.Context, p Pocket, rec *Record) error // ErrExists
	Pocket(ctx context.Context, key string) (Pocket, error)
	// Pockets returns one page of a list of pockets.
	Pockets(ctx context.Context, q PocketQuery) ([]Pocket, error)
	// DeletePocket deletes a pocket with everything that belongs to it. Errors: ErrNotFound, and
	// ErrChanged if it is published.
	DeletePocket(ctx context.Context, key string, rec *Record) error

	AddJob(ctx context.Context, j Job, items []JobItem, rec *Record) error
	Job(ctx context.Context, id string) (Job, error)                     // with its counts
	Jobs(ctx context.Context, customer string, limit int) ([]Job, error) // newest first, with their counts
	RunningJobs(ctx context.Context) ([]Job, error)                      // the oldest of each customer
	NextJobItem(ctx context.Context, job string) (JobItem, error)        // the first that waits; ErrNotFound
	JobItems(ctx context.Context, job, outcome string, after, limit int) ([]JobItem, error)
	FinishJobItem(ctx context.Context, i JobItem) error
	FinishJob(ctx context.Context, id, state, why string, at time.Time, rec *Record) error // ErrChanged if it is finished
	// SavePocket replaces title, language and draft if the revision is still revision, and
	// increments it. If not, it returns ErrChanged.
	SavePocket(ctx context.Context, p Pocket, revision int, rec *Record) error
	PreviewCases(ctx context.Context, key string) ([]PreviewCase, error)               // in order
	SavePreviewCase(ctx context.Context, key string, c PreviewCase, rec *Record) error // replaces one with the same name
	DeletePreviewCase(ctx context.Context, key, name string, rec *Record) error        // ErrNotFound

	WithholdPocket(ctx context.Context, key string, w Withheld, rec *Record) error // ErrNotFound

	AddSealed(ctx context.Context, s Sealed, rec *Record) error // no change if it is stored already
	SealedOf(ctx context.Context, key string) ([]Sealed, error) // newest first, without scripts
	// SealedScript returns a sealed script by its digest. It returns ErrNotFound also if its pocket
	// or the customer is withheld.
	SealedScript(ctx context.Context, digest, key string) ([]byte, error)

	AddHandover(ctx context.Context, h Handover, digest string, rec *Record) (int64, error)
	Handovers(ctx context.Context, key string) ([]Handover, error) // newest first
	// SeeHandover returns a handover by the digest of its secret, and records the visit. Error:
	// ErrNotFound.
	SeeHandover(ctx context.Context, digest string, at time.Time) (Handover, error)
	RevokeHandover(ctx context.Context, key string, id int64, rec *Record) error // ErrNotFound

	OwnHosts(ctx context.Context) ([]OwnHost, error) // by name
	// SaveOwnHost adds or replaces a profile whose revision is still revision, 0 for a new one. If
	// not, it returns ErrChanged.
	SaveOwnHost(ctx context.Context, h OwnHost, revision int, rec *Record) error
	DeleteOwnHost(ctx context.Context, name string, rec *Record) error // ErrNotFound
	SaveHostImage(ctx context.Context, host string, p HostImage, rec *Record) error
	HostImage(ctx context.Context, host, file string) (HostImage, error)       // ErrNotFound
	HostImages(ctx context.Context, host string) ([]string, error)             // names of files
	DeleteHostImage(ctx context.Context, host, file string, rec *Record) error // ErrNotFound

	// Publish stores p and r and makes them live under the key, if p.Number follows the newest one
	// and its schedule still waits. If not, it returns ErrChanged. A publication that takes the
	// pocket offline has no rendering.
	Publish(ctx context.Context, p Publication, r Rendering, rec *Record) error
	AddSchedules(ctx context.Context, list []Schedule, rec *Record) ([]int64, error)
	Schedules(ctx context.Context, key string, before int64, limit int) ([]Schedule, error) // newest first
	WaitingSchedules(ctx context.Context, key string) ([]Schedule, error)                   // newest first
	DueSchedules(ctx context.Context, now time.Time, limit int) ([]Schedule, error)         // those that wait, the earliest first
	// FinishSchedule finishes a waiting schedule. If it does not wait, it returns ErrChanged.
	FinishSchedule(ctx context.Context, id int64, at time.Time, outcome, why string, rec *Record) error
	Audit(ctx context.Context, q AuditQuery) ([]Entry, error)                               // newest first
	Publications(ctx context.Context, key string, before, limit int) ([]Publication, error) // newest first
	Publication(ctx context.Context, key string, number int) (Publication, error)
	Current(ctx context.Context, key string, part render.Part) (Current, error)
	SaveRendering(ctx context.Context, r Rendering) error
}
