package guestsql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/customer/customersql"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/pocket/pocketsql"
	"glasspocket/internal/app/user"
	"glasspocket/internal/app/user/usersql"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddGuestPocket implements guest.Store.
func (s *GuestStore) AddGuestPocket(ctx context.Context, p pocket.Pocket, digest string, until time.Time, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if err := pocketsql.Add(ctx, s.DB.DB, tx, p); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO guest_pockets (key, digest, created_at, expires_at) VALUES (?, ?, ?, ?)", p.Key, digest, store.UTC(p.CreatedAt), store.UTC(until))
		return err
	})
}

// GuestPocket implements guest.Store.
func (s *GuestStore) GuestPocket(ctx context.Context, digest string, now time.Time) (key string, err error) {
	return key, store.Translated(s.Read.GetContext(ctx, &key, "SELECT key FROM guest_pockets WHERE digest = ? AND expires_at > ?", digest, store.UTC(now)))
}

// ClaimGuestPocket implements guest.Store.
func (s *GuestStore) ClaimGuestPocket(ctx context.Context, key, customer string, c *customer.Customer, u *user.User, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM guest_pockets WHERE key = ?", key)
		if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
			return err
		}
		if c != nil {
			if err := customersql.Add(ctx, tx, *c); err != nil {
				return err
			}
		}
		if u != nil {
			if _, err := tx.ExecContext(ctx, usersql.Insert, u.Name, u.Role, u.CustomerID, u.PasswordHash, store.UTC(u.CreatedAt)); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(ctx, "UPDATE uses SET customer_id = ? WHERE key = ?", customer, key); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE pockets SET customer_id = ? WHERE key = ?", customer, key)
		return err
	})
}

// DeleteExpiredGuestPockets implements guest.Store.
func (s *GuestStore) DeleteExpiredGuestPockets(ctx context.Context, now time.Time) (deleted int, err error) {
	var keys []string
	if err := s.Read.SelectContext(ctx, &keys, "SELECT key FROM guest_pockets WHERE expires_at <= ? LIMIT 1000", store.UTC(now)); err != nil || len(keys) == 0 {
		return 0, store.Translated(err)
	}
	err = s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		deleted = 0
		for _, key := range keys {
			var over int
			if err := tx.GetContext(ctx, &over, "SELECT count(*) FROM guest_pockets WHERE key = ? AND expires_at <= ?", key, store.UTC(now)); err != nil {
				return err
			}
			if over == 0 {
				continue // changed or claimed in the meantime
			}
			if err := pocketsql.Delete(ctx, tx, key); err != nil {
				return err
			}
			deleted++
		}
		return nil
	})
	return deleted, err
}
