package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddGuestPocket implements app.Store.
func (s *Store) AddGuestPocket(ctx context.Context, p app.Pocket, digest string, until time.Time, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		if err := addPocket(ctx, tx, p); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO guest_pockets (key, digest, created_at, expires_at) VALUES (?, ?, ?, ?)", p.Key, digest, utc(p.CreatedAt), utc(until))
		return err
	})
}

// GuestPocket implements app.Store.
func (s *Store) GuestPocket(ctx context.Context, digest string, now time.Time) (key string, err error) {
	return key, translated(s.read.GetContext(ctx, &key, "SELECT key FROM guest_pockets WHERE digest = ? AND expires_at > ?", digest, utc(now)))
}

// KeepGuestPocket implements app.Store.
func (s *Store) KeepGuestPocket(ctx context.Context, key string, until time.Time) error {
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE guest_pockets SET expires_at = ? WHERE key = ?", utc(until), key)
		return err
	})
}

// ClaimGuestPocket implements app.Store.
func (s *Store) ClaimGuestPocket(ctx context.Context, key, customer string, c *app.Customer, u *app.User, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM guest_pockets WHERE key = ?", key)
		if err := oneRow(r, err, app.ErrNotFound); err != nil {
			return err
		}
		if c != nil {
			if err := addCustomer(ctx, tx, *c); err != nil {
				return err
			}
		}
		if u != nil {
			if _, err := tx.ExecContext(ctx, insertUser, u.Name, u.Role, u.CustomerID, u.PasswordHash, utc(u.CreatedAt)); err != nil {
				return err
			}
		}
		_, err = tx.ExecContext(ctx, "UPDATE pockets SET customer_id = ? WHERE key = ?", customer, key)
		return err
	})
}

// DeleteExpiredGuestPockets implements app.Store.
func (s *Store) DeleteExpiredGuestPockets(ctx context.Context, now time.Time) (deleted int, err error) {
	var keys []string
	if err := s.read.SelectContext(ctx, &keys, "SELECT key FROM guest_pockets WHERE expires_at <= ? LIMIT 1000", utc(now)); err != nil || len(keys) == 0 {
		return 0, translated(err)
	}
	err = s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		deleted = 0
		for _, key := range keys {
			var over int
			if err := tx.GetContext(ctx, &over, "SELECT count(*) FROM guest_pockets WHERE key = ? AND expires_at <= ?", key, utc(now)); err != nil {
				return err
			}
			if over == 0 {
				continue // changed or claimed in the meantime
			}
			if err := deletePocket(ctx, tx, key); err != nil {
				return err
			}
			deleted++
		}
		return nil
	})
	return deleted, err
}
