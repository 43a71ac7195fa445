package guest

import (
	"context"
	"time"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/user"
)

// Store is the storage that Guests needs. A write that returns nil is durable. Times are UTC.
type Store interface {
	AddGuestPocket(ctx context.Context, p pocket.Pocket, digest string, until time.Time, rec *audit.Record) error
	GuestPocket(ctx context.Context, digest string, now time.Time) (key string, err error) // ErrNotFound
	// ClaimGuestPocket moves a guest pocket to a customer. It adds the customer and the user if
	// given. Errors: ErrNotFound, ErrExists.
	ClaimGuestPocket(ctx context.Context, key, customer string, c *customer.Customer, u *user.User, rec *audit.Record) error
	DeleteExpiredGuestPockets(ctx context.Context, now time.Time) (int, error) // the expired ones
	UserByName(ctx context.Context, name string) (user.User, error)
}
