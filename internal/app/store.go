package app

import (
	"context"
	"encoding/json"
	"errors"
	"time"

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
}

// User can sign in.
type User struct {
	ID           int64  `db:"id"`
	Name         string `db:"name"`
	Role         Role   `db:"role"`
	CustomerID   string `db:"customer_id"` // "" for the operator's own
	PasswordHash string `db:"password_hash"`
}

// Token lets a program act as the user who made it, until it expires.
type Token struct {
	ID         int64     `db:"id"`
	Name       string    `db:"name"`
	UserID     int64     `db:"user_id"`
	CustomerID string    `db:"customer_id"`
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
}

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
	CreatedAt   time.Time       `db:"created_at"`
	Publication int             `db:"publication"`        // number of the current one, 0 for none
	PublishedAt time.Time       `db:"published_at"`       // of the current one
	PublishedOf int             `db:"published_revision"` // the draft revision that it was made of
	Release     int             `db:"release_number"`     // of the current publication
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
}

// Rendering is a stored delivery, each part compressed with brotli.
type Rendering struct {
	Key         string `db:"key"`
	Publication int    `db:"publication"`
	Identity    string `db:"identity"` // render.Site.Identity that made it
	Script      []byte `db:"script"`
	JSON        []byte `db:"json"`
	Page        []byte `db:"page"`
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

	AddUser(ctx context.Context, u User) (int64, error) // ErrExists
	UserByName(ctx context.Context, name string) (User, error)
	CountUsers(ctx context.Context) (int, error)

	AddSession(ctx context.Context, digest string, userID int64, expires time.Time) error
	SessionUser(ctx context.Context, digest string, now time.Time) (User, error)
	EndSession(ctx context.Context, digest string) error

	AddToken(ctx context.Context, t Token, digest string) (int64, error)
	TokenUser(ctx context.Context, digest string) (User, Token, error) // expired ones too
	Tokens(ctx context.Context, userID int64) ([]Token, error)
	EndToken(ctx context.Context, userID, id int64) error

	AddRelease(ctx context.Context, r *widget.Release, at time.Time, by string) (info ReleaseInfo, fresh bool, err error)
	NewestReleases(ctx context.Context) ([]ReleaseInfo, error) // one a widget, by name
	NewestRelease(ctx context.Context, widget string) (ReleaseInfo, error)
	ReleaseByDigest(ctx context.Context, digest string) (int64, error)
	ReleaseFiles(ctx context.Context, id int64) (widget.Files, widget.Built, error)

	AddPocket(ctx context.Context, p Pocket) error // ErrExists
	Pocket(ctx context.Context, key string) (Pocket, error)
	Pockets(ctx context.Context, only string, p Page) ([]Pocket, error)
	// SaveDraft replaces the draft if its revision is still revision; else ErrChanged.
	SaveDraft(ctx context.Context, key string, revision int, settings json.RawMessage, at time.Time) error

	// Publish stores p and r and points the key at them, if p.Number follows the current one; else ErrChanged.
	Publish(ctx context.Context, p Publication, r Rendering) error
	Publications(ctx context.Context, key string, before, limit int) ([]Publication, error) // newest first
	Publication(ctx context.Context, key string, number int) (Publication, error)
	Rendering(ctx context.Context, key string) (Rendering, error)
	SaveRendering(ctx context.Context, r Rendering) error
}
