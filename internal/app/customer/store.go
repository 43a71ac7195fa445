package customer

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/asset"
	"glasspocket/internal/paging"
)

// Store is the storage that Customers needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	AddCustomer(ctx context.Context, c Customer, rec *audit.Record) error // ErrExists
	Customer(ctx context.Context, id string) (Customer, error)
	Customers(ctx context.Context, only, search string, p paging.Page) ([]Customer, error)
	WithholdCustomer(ctx context.Context, id string, w Withheld, rec *audit.Record) error // ErrNotFound
	// SaveCustomer replaces name, zone, language, sites and brand if the revision is still
	// revision. If not, it returns ErrChanged.
	SaveCustomer(ctx context.Context, c Customer, revision int, rec *audit.Record) error
	AddInvitation(ctx context.Context, n Invitation, digest string, rec *audit.Record) (int64, error)
	Invitations(ctx context.Context, customer string) ([]Invitation, error)                   // newest first
	Invitation(ctx context.Context, digest string) (Invitation, error)                        // ErrNotFound
	RevokeInvitation(ctx context.Context, customer string, id int64, rec *audit.Record) error // ErrNotFound
	// UseInvitation adds u and marks the invitation as used, or does neither. It returns ErrChanged
	// if it was used before, and ErrExists if there is such a user.
	UseInvitation(ctx context.Context, id int64, u user.User, at time.Time, rec *audit.Record) (int64, error)
	UsersOf(ctx context.Context, customer string) ([]user.User, error) // by name
	UserByName(ctx context.Context, name string) (user.User, error)
	DeleteUser(ctx context.Context, id int64, rec *audit.Record) error // ErrChanged as SaveUser
	AddAsset(ctx context.Context, made asset.Made, a Asset, rec *audit.Record) (fresh bool, err error)
	Assets(ctx context.Context, customer string, p paging.Page) ([]Asset, error) // by digest
	Asset(ctx context.Context, customer, digest string) (Asset, error)           // ErrNotFound
	AssetUses(ctx context.Context, customer, digest string) ([]string, error)    // keys of pockets, at most 100
	// DeleteAsset deletes an asset unless it has AssetUses, which it then returns. Error:
	// ErrNotFound.
	DeleteAsset(ctx context.Context, customer, digest string, rec *audit.Record) (uses []string, err error)
	Usage(ctx context.Context, customer string) (Usage, error)
}
