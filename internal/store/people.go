package store

import (
	"cmp"
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// AddCustomer implements app.Store.
func (s *Store) AddCustomer(ctx context.Context, c app.Customer, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error { return addCustomer(ctx, tx, c) })
}

func addCustomer(ctx context.Context, tx *sqlx.Tx, c app.Customer) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO customers (id, name, created_at, zone, language, sites, brand) VALUES (?, ?, ?, ?, ?, ?, ?)",
		c.ID, c.Name, utc(c.CreatedAt), cmp.Or(c.Zone, "UTC"), c.Language, listOf(c.Sites), listOf(c.Brand))
	return err
}

// listOf returns a JSON list, an empty one for nil.
func listOf(text json.RawMessage) []byte {
	if len(text) == 0 {
		return []byte("[]")
	}
	return text
}

// Customer implements app.Store.
func (s *Store) Customer(ctx context.Context, id string) (c app.Customer, err error) {
	return c, translated(s.read.GetContext(ctx, &c, "SELECT * FROM customers WHERE id = ?", id))
}

// HasCustomer implements app.Store.
func (s *Store) HasCustomer(ctx context.Context, id string) (there bool, err error) {
	return there, translated(s.read.GetContext(ctx, &there, "SELECT EXISTS (SELECT 1 FROM customers WHERE id = ?)", id))
}

// Customers implements app.Store.
func (s *Store) Customers(ctx context.Context, only, search string, p app.Page) (list []app.Customer, err error) {
	text := containing(search)
	return list, translated(s.read.SelectContext(ctx, &list, `SELECT * FROM customers WHERE (? = '' OR id = ?) AND id <> ? AND id > ? AND (? = '' OR name LIKE ? ESCAPE '\' OR id LIKE ? ESCAPE '\') ORDER BY id LIMIT ?`,
		only, only, app.NobodysCustomer, p.After, search, text, text, p.Limit))
}

// CustomerNames implements app.Store.
func (s *Store) CustomerNames(ctx context.Context, ids []string) (map[string]string, error) {
	names := map[string]string{}
	if len(ids) == 0 {
		return names, nil
	}
	query, args, err := sqlx.In("SELECT id, name FROM customers WHERE id IN (?)", ids)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		ID   string `db:"id"`
		Name string `db:"name"`
	}
	if err := s.read.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, translated(err)
	}
	for _, r := range rows {
		names[r.ID] = r.Name
	}
	return names, nil
}

// SaveCustomer implements app.Store.
func (s *Store) SaveCustomer(ctx context.Context, c app.Customer, revision int, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE customers SET name = ?, zone = ?, language = ?, sites = ?, brand = ?, brand_revision = ?, revision = revision + 1 WHERE id = ? AND revision = ?",
			c.Name, c.Zone, c.Language, []byte(c.Sites), []byte(c.Brand), c.BrandRevision, c.ID, revision)
		return oneRow(r, err, app.ErrChanged)
	})
}

// WithholdCustomer implements app.Store.
func (s *Store) WithholdCustomer(ctx context.Context, id string, w app.Withheld, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE customers SET withheld_at = ?, withheld_why = ? WHERE id = ?", utcOrNil(w.At), w.Why, id)
		return oneRow(r, err, app.ErrNotFound)
	})
}

const insertUser = "INSERT INTO users (name, role, customer_id, password_hash, created_at) SELECT ?, ?, ?, ?, ?"

func (s *Store) addUser(ctx context.Context, rec *app.Record, u app.User, where string) (id int64, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, insertUser+where, u.Name, u.Role, u.CustomerID, u.PasswordHash, utc(u.CreatedAt))
		if err := oneRow(r, err, app.ErrExists); err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

// AddUser implements app.Store.
func (s *Store) AddUser(ctx context.Context, u app.User, rec *app.Record) (int64, error) {
	return s.addUser(ctx, rec, u, "")
}

// AddFirstUser implements app.Store.
func (s *Store) AddFirstUser(ctx context.Context, u app.User) (int64, error) {
	return s.addUser(ctx, nil, u, " WHERE NOT EXISTS (SELECT 1 FROM users)")
}

// UserByName implements app.Store.
func (s *Store) UserByName(ctx context.Context, name string) (u app.User, err error) {
	return u, translated(s.read.GetContext(ctx, &u, "SELECT * FROM users WHERE name = ?", name))
}

// Users implements app.Store.
func (s *Store) Users(ctx context.Context, p app.Page) (list []app.User, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM users WHERE name > ? ORDER BY name LIMIT ?", p.After, p.Limit))
}

// UsersOf implements app.Store.
func (s *Store) UsersOf(ctx context.Context, customer string) (list []app.User, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM users WHERE customer_id = ? ORDER BY name", customer))
}

// AddInvitation implements app.Store.
func (s *Store) AddInvitation(ctx context.Context, n app.Invitation, digest string, rec *app.Record) (id int64, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO invitations (digest, customer_id, role, name, created_at, created_by, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
			digest, n.CustomerID, n.Role, n.Name, utc(n.CreatedAt), n.CreatedBy, utc(n.ExpiresAt))
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

// Invitations implements app.Store.
func (s *Store) Invitations(ctx context.Context, customer string) (list []app.Invitation, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT * FROM invitations WHERE customer_id = ? ORDER BY id DESC LIMIT 200", customer))
}

// Invitation implements app.Store.
func (s *Store) Invitation(ctx context.Context, digest string) (n app.Invitation, err error) {
	return n, translated(s.read.GetContext(ctx, &n, "SELECT * FROM invitations WHERE digest = ?", digest))
}

// RevokeInvitation implements app.Store.
func (s *Store) RevokeInvitation(ctx context.Context, customer string, id int64, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM invitations WHERE customer_id = ? AND id = ? AND used_at IS NULL", customer, id)
		return oneRow(r, err, app.ErrNotFound)
	})
}

// UseInvitation implements app.Store.
func (s *Store) UseInvitation(ctx context.Context, id int64, u app.User, at time.Time, rec *app.Record) (user int64, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE invitations SET used_at = ?, used_by = ? WHERE id = ? AND used_at IS NULL", utc(at), u.Name, id)
		if err := oneRow(r, err, app.ErrChanged); err != nil {
			return err
		}
		if r, err = tx.ExecContext(ctx, insertUser, u.Name, u.Role, u.CustomerID, u.PasswordHash, utc(u.CreatedAt)); err != nil {
			return err
		}
		user, err = r.LastInsertId()
		return err
	})
	return user, err
}

// someAdmin refuses a change that leaves no operator-admin.
func someAdmin(ctx context.Context, tx *sqlx.Tx) error {
	var n int
	if err := tx.GetContext(ctx, &n, "SELECT count(*) FROM users WHERE role = ?", app.OperatorAdmin); err != nil {
		return err
	}
	if n == 0 {
		return app.ErrChanged
	}
	return nil
}

// SaveUser implements app.Store.
func (s *Store) SaveUser(ctx context.Context, u app.User, keep int64, deleteTokens bool, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE users SET role = ?, customer_id = ?, password_hash = ? WHERE id = ?", u.Role, u.CustomerID, u.PasswordHash, u.ID)
		if err := oneRow(r, err, app.ErrNotFound); err != nil {
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

// DeleteUser implements app.Store.
func (s *Store) DeleteUser(ctx context.Context, id int64, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		for _, query := range []string{"DELETE FROM sessions WHERE user_id = ?", "DELETE FROM tokens WHERE user_id = ?"} {
			if _, err := tx.ExecContext(ctx, query, id); err != nil {
				return err
			}
		}
		r, err := tx.ExecContext(ctx, "DELETE FROM users WHERE id = ?", id)
		if err := oneRow(r, err, app.ErrNotFound); err != nil {
			return err
		}
		return someAdmin(ctx, tx)
	})
}

// AddSession implements app.Store. It also deletes expired sessions.
func (s *Store) AddSession(ctx context.Context, n app.Session, digest string) (id int64, err error) {
	err = s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE expires_at < ?", utc(n.CreatedAt)); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, "INSERT INTO sessions (digest, user_id, created_at, rotated_at, expires_at, client) VALUES (?, ?, ?, ?, ?, ?)",
			digest, n.UserID, utc(n.CreatedAt), utc(n.RotatedAt), utc(n.ExpiresAt), n.Client)
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

const sessionColumns = "id, user_id, created_at, rotated_at, expires_at, client"

// SessionUser implements app.Store.
func (s *Store) SessionUser(ctx context.Context, digest string, now time.Time) (u app.User, n app.Session, err error) {
	if err = s.read.GetContext(ctx, &n, "SELECT "+sessionColumns+" FROM sessions WHERE (digest = ? OR previous = ? AND rotated_at > ?) AND expires_at > ?",
		digest, digest, utc(now.Add(-app.RotationGrace)), utc(now)); err == nil {
		err = s.read.GetContext(ctx, &u, "SELECT * FROM users WHERE id = ?", n.UserID)
	}
	return u, n, translated(err)
}

// RotateSession implements app.Store.
func (s *Store) RotateSession(ctx context.Context, id int64, digest string, at time.Time) error {
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE sessions SET previous = digest, digest = ?, rotated_at = ? WHERE id = ?", digest, utc(at), id)
		return oneRow(r, err, app.ErrNotFound)
	})
}

// Sessions implements app.Store.
func (s *Store) Sessions(ctx context.Context, userID int64, now time.Time) (list []app.Session, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT "+sessionColumns+" FROM sessions WHERE user_id = ? AND expires_at > ? ORDER BY id", userID, utc(now)))
}

// RevokeSession implements app.Store.
func (s *Store) RevokeSession(ctx context.Context, userID, id int64, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE id = ? AND user_id = ?", id, userID)
		return oneRow(r, err, app.ErrNotFound)
	})
}

// AddToken implements app.Store.
func (s *Store) AddToken(ctx context.Context, t app.Token, digest string, rec *app.Record) (id int64, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "INSERT INTO tokens (digest, name, user_id, customer_id, role, created_at, expires_at, parent) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
			digest, t.Name, t.UserID, t.CustomerID, t.Role, utc(t.CreatedAt), utc(t.ExpiresAt), t.Parent)
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

const tokenColumns = "id, name, user_id, customer_id, role, created_at, expires_at, parent"

// TokenUser implements app.Store.
func (s *Store) TokenUser(ctx context.Context, digest string) (u app.User, t app.Token, err error) {
	if err = s.read.GetContext(ctx, &t, "SELECT "+tokenColumns+" FROM tokens WHERE digest = ?", digest); err == nil {
		err = s.read.GetContext(ctx, &u, "SELECT * FROM users WHERE id = ?", t.UserID)
	}
	return u, t, translated(err)
}

// Tokens implements app.Store.
func (s *Store) Tokens(ctx context.Context, userID int64) (list []app.Token, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT "+tokenColumns+" FROM tokens WHERE user_id = ? ORDER BY id", userID))
}

// RevokeToken implements app.Store.
func (s *Store) RevokeToken(ctx context.Context, userID, id int64, rec *app.Record) error {
	return s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM tokens WHERE id = ? AND user_id = ?", id, userID)
		return oneRow(r, err, app.ErrNotFound)
	})
}
