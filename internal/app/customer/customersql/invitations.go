package customersql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/user"
	"glasspocket/internal/app/user/usersql"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddInvitation implements customer.Store.
func (s *CustomerStore) AddInvitation(ctx context.Context, n customer.Invitation, digest string, rec *audit.Record) (id int64, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO invitations (digest, customer_id, role, name, created_at, created_by, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
			digest, n.CustomerID, n.Role, n.Name, store.UTC(n.CreatedAt), n.CreatedBy, store.UTC(n.ExpiresAt))
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

// Invitations implements customer.Store.
func (s *CustomerStore) Invitations(ctx context.Context, customer string) (list []customer.Invitation, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM invitations WHERE customer_id = ? ORDER BY id DESC LIMIT 200", customer))
}

// Invitation implements customer.Store.
func (s *CustomerStore) Invitation(ctx context.Context, digest string) (n customer.Invitation, err error) {
	return n, store.Translated(s.Read.GetContext(ctx, &n, "SELECT * FROM invitations WHERE digest = ?", digest))
}

// RevokeInvitation implements customer.Store.
func (s *CustomerStore) RevokeInvitation(ctx context.Context, customer string, id int64, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM invitations WHERE customer_id = ? AND id = ? AND used_at IS NULL", customer, id)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// UseInvitation implements customer.Store.
func (s *CustomerStore) UseInvitation(ctx context.Context, id int64, u user.User, at time.Time, rec *audit.Record) (user int64, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE invitations SET used_at = ?, used_by = ? WHERE id = ? AND used_at IS NULL", store.UTC(at), u.Name, id)
		if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
			return err
		}
		if r, err = tx.ExecContext(ctx, usersql.Insert, u.Name, u.Role, u.CustomerID, u.PasswordHash, store.UTC(u.CreatedAt)); err != nil {
			return err
		}
		user, err = r.LastInsertId()
		return err
	})
	return user, err
}
