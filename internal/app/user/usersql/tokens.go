package usersql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddToken implements user.Store.
func (s *UserStore) AddToken(ctx context.Context, t user.Token, digest string, rec *audit.Record) (id int64, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO tokens (digest, name, user_id, customer_id, role, created_at, expires_at, parent) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
			digest, t.Name, t.UserID, t.CustomerID, t.Role, store.UTC(t.CreatedAt), store.UTC(t.ExpiresAt), t.Parent)
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

const tokenColumns = "id, name, user_id, customer_id, role, created_at, expires_at, parent"

// TokenUser implements user.Store.
func (s *UserStore) TokenUser(ctx context.Context, digest string) (u user.User, t user.Token, err error) {
	if err = s.Read.GetContext(ctx, &t, "SELECT "+tokenColumns+" FROM tokens WHERE digest = ?", digest); err == nil {
		err = s.Read.GetContext(ctx, &u, "SELECT * FROM users WHERE id = ?", t.UserID)
	}
	return u, t, store.Translated(err)
}

// Tokens implements user.Store.
func (s *UserStore) Tokens(ctx context.Context, userID int64) (list []user.Token, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT "+tokenColumns+" FROM tokens WHERE user_id = ? ORDER BY id", userID))
}

// RevokeToken implements user.Store.
func (s *UserStore) RevokeToken(ctx context.Context, userID, id int64, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM tokens WHERE id = ? AND user_id = ?", id, userID)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}
