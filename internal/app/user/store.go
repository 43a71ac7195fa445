package user

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/paging"
)

// Store is the storage that Users needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	HasCustomer(ctx context.Context, id string) (bool, error)
	AddUser(ctx context.Context, u User, rec *audit.Record) (int64, error) // ErrExists
	// AddFirstUser adds u only if there are no users. If there are, it returns ErrExists.
	AddFirstUser(ctx context.Context, u User) (int64, error)
	UserByName(ctx context.Context, name string) (User, error)
	Users(ctx context.Context, p paging.Page) ([]User, error) // by name
	// SaveUser replaces role, customer and password. It deletes the user's sessions except keep,
	// and the tokens too if requested. It returns ErrChanged if no operator-admin would remain.
	SaveUser(ctx context.Context, u User, keep int64, deleteTokens bool, rec *audit.Record) error
	DeleteUser(ctx context.Context, id int64, rec *audit.Record) error // ErrChanged as SaveUser
	AddSession(ctx context.Context, s Session, digest string) (int64, error)
	SessionUser(ctx context.Context, digest string, now time.Time) (User, Session, error)
	RotateSession(ctx context.Context, id int64, digest string, at time.Time) error
	Sessions(ctx context.Context, userID int64, now time.Time) ([]Session, error)
	RevokeSession(ctx context.Context, userID, id int64, rec *audit.Record) error // ErrNotFound
	AddToken(ctx context.Context, t Token, digest string, rec *audit.Record) (int64, error)
	TokenUser(ctx context.Context, digest string) (User, Token, error) // including expired ones
	Tokens(ctx context.Context, userID int64) ([]Token, error)
	RevokeToken(ctx context.Context, userID, id int64, rec *audit.Record) error
}
