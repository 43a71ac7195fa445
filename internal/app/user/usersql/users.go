package usersql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// Insert adds a user.
const Insert = "INSERT INTO users (name, role, customer_id, password_hash, created_at) SELECT ?, ?, ?, ?, ?"

func (s *UserStore) addUser(ctx context.Context, rec *audit.Record, u user.User, where string) (id int64, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, Insert+where, u.Name, u.Role, u.CustomerID, u.PasswordHash, store.UTC(u.CreatedAt))
		if err := store.OneRow(r, err, problem.ErrExists); err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

// AddUser implements user.Store.
func (s *UserStore) AddUser(ctx context.Context, u user.User, rec *audit.Record) (int64, error) {
	return s.addUser(ctx, rec, u, "")
}

// AddFirstUser implements user.Store.
func (s *UserStore) AddFirstUser(ctx context.Context, u user.User) (int64, error) {
	return s.addUser(ctx, nil, u, " WHERE NOT EXISTS (SELECT 1 FROM users)")
}

// UserByName implements user.Store.
func (s *UserStore) UserByName(ctx context.Context, name string) (u user.User, err error) {
	return u, store.Translated(s.Read.GetContext(ctx, &u, "SELECT * FROM users WHERE name = ?", name))
}

// Users implements user.Store.
func (s *UserStore) Users(ctx context.Context, p paging.Page) (list []user.User, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM users WHERE name > ? ORDER BY name LIMIT ?", p.After, p.Limit))
}

// UsersOf implements user.Store.
func (s *UserStore) UsersOf(ctx context.Context, customer string) (list []user.User, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT * FROM users WHERE customer_id = ? ORDER BY name", customer))
}

// someAdmin refuses a change that leaves no operator-admin.
func someAdmin(ctx context.Context, tx *sqlx.Tx) error {
	var n int
	if err := tx.GetContext(ctx, &n, "SELECT count(*) FROM users WHERE role = ?", access.OperatorAdmin); err != nil {
		return err
	}
	if n == 0 {
		return problem.ErrChanged
	}
	return nil
}

// SaveUser implements user.Store.
func (s *UserStore) SaveUser(ctx context.Context, u user.User, keep int64, deleteTokens bool, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE users SET role = ?, customer_id = ?, password_hash = ? WHERE id = ?", u.Role, u.CustomerID, u.PasswordHash, u.ID)
		if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE user_id = ? AND id <> ?", u.ID, keep); err != nil {
			return err
		}
		if deleteTokens {
			if _, err := tx.ExecContext(ctx, "DELETE FROM tokens WHERE user_id = ?", u.ID); err != nil {
				return err
			}
		}
		return someAdmin(ctx, tx)
	})
}

// DeleteUser implements user.Store.
func (s *UserStore) DeleteUser(ctx context.Context, id int64, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		for _, query := range []string{"DELETE FROM sessions WHERE user_id = ?", "DELETE FROM tokens WHERE user_id = ?"} {
			if _, err := tx.ExecContext(ctx, query, id); err != nil {
				return err
			}
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM users WHERE id = ?", id)
		if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
			return err
		}
		return someAdmin(ctx, tx)
	})
}
