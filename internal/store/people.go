package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddCustomer implements app.Store.
func (s *Store) AddCustomer(ctx context.Context, c app.Customer) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO customers (id, name, created_at) VALUES (?, ?, ?)", c.ID, c.Name, utc(c.CreatedAt))
		return err
	})
}

// Customer implements app.Store.
func (s *Store) Customer(ctx context.Context, id string) (c app.Customer, err error) {
	return c, told(s.read.GetContext(ctx, &c, "SELECT * FROM customers WHERE id = ?", id))
}

// Customers implements app.Store.
func (s *Store) Customers(ctx context.Context, only string, p app.Page) (list []app.Customer, err error) {
	return list, told(s.read.SelectContext(ctx, &list, "SELECT * FROM customers WHERE (? = '' OR id = ?) AND id > ? ORDER BY id LIMIT ?", only, only, p.After, p.Limit))
}

// AddUser implements app.Store.
func (s *Store) AddUser(ctx context.Context, u app.User) (id int64, err error) {
	err = s.write.do(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO users (name, role, customer_id, password_hash) VALUES (?, ?, ?, ?)", u.Name, u.Role, u.CustomerID, u.PasswordHash)
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

// UserByName implements app.Store.
func (s *Store) UserByName(ctx context.Context, name string) (u app.User, err error) {
	return u, told(s.read.GetContext(ctx, &u, "SELECT * FROM users WHERE name = ?", name))
}

// CountUsers implements app.Store.
func (s *Store) CountUsers(ctx context.Context) (n int, err error) {
	return n, told(s.read.GetContext(ctx, &n, "SELECT count(*) FROM users"))
}

// AddSession implements app.Store; it also clears away sessions that have ended.
func (s *Store) AddSession(ctx context.Context, digest string, userID int64, expires time.Time) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE expires_at < ?", utc(expires.Add(-app.SessionLasts))); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO sessions (digest, user_id, expires_at) VALUES (?, ?, ?)", digest, userID, utc(expires))
		return err
	})
}

// SessionUser implements app.Store.
func (s *Store) SessionUser(ctx context.Context, digest string, now time.Time) (u app.User, err error) {
	return u, told(s.read.GetContext(ctx, &u, "SELECT users.* FROM sessions JOIN users ON users.id = user_id WHERE digest = ? AND expires_at > ?", digest, utc(now)))
}

// EndSession implements app.Store.
func (s *Store) EndSession(ctx context.Context, digest string) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE digest = ?", digest)
		return err
	})
}

// AddToken implements app.Store.
func (s *Store) AddToken(ctx context.Context, t app.Token, digest string) (id int64, err error) {
	err = s.write.do(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO tokens (digest, name, user_id, customer_id, created_at, expires_at) VALUES (?, ?, ?, ?, ?, ?)",
			digest, t.Name, t.UserID, t.CustomerID, utc(t.CreatedAt), utc(t.ExpiresAt))
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

const tokenColumns = "id, name, user_id, customer_id, created_at, expires_at"

// TokenUser implements app.Store.
func (s *Store) TokenUser(ctx context.Context, digest string) (u app.User, t app.Token, err error) {
	if err = s.read.GetContext(ctx, &t, "SELECT "+tokenColumns+" FROM tokens WHERE digest = ?", digest); err == nil {
		err = s.read.GetContext(ctx, &u, "SELECT * FROM users WHERE id = ?", t.UserID)
	}
	return u, t, told(err)
}

// Tokens implements app.Store.
func (s *Store) Tokens(ctx context.Context, userID int64) (list []app.Token, err error) {
	return list, told(s.read.SelectContext(ctx, &list, "SELECT "+tokenColumns+" FROM tokens WHERE user_id = ? ORDER BY id", userID))
}

// EndToken implements app.Store.
func (s *Store) EndToken(ctx context.Context, userID, id int64) error {
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM tokens WHERE id = ? AND user_id = ?", id, userID)
		return oneRow(r, err, app.ErrNotFound)
	})
}
