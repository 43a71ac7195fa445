package usersql

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddSession implements user.Store. It also deletes expired sessions.
func (s *UserStore) AddSession(ctx context.Context, n user.Session, digest string) (id int64, err error) {
	err = s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE expires_at < ?", store.UTC(n.CreatedAt)); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, "INSERT INTO sessions (digest, user_id, created_at, rotated_at, expires_at, client) VALUES (?, ?, ?, ?, ?, ?)",
			digest, n.UserID, store.UTC(n.CreatedAt), store.UTC(n.RotatedAt), store.UTC(n.ExpiresAt), n.Client)
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

const sessionColumns = "id, user_id, created_at, rotated_at, expires_at, client"

// SessionUser implements user.Store.
func (s *UserStore) SessionUser(ctx context.Context, digest string, now time.Time) (u user.User, n user.Session, err error) {
	if err = s.Read.GetContext(ctx, &n, "SELECT "+sessionColumns+" FROM sessions WHERE (digest = ? OR previous = ? AND rotated_at > ?) AND expires_at > ?",
		digest, digest, store.UTC(now.Add(-user.RotationGrace)), store.UTC(now)); err == nil {
		err = s.Read.GetContext(ctx, &u, "SELECT * FROM users WHERE id = ?", n.UserID)
	}
	return u, n, store.Translated(err)
}

// RotateSession implements user.Store.
func (s *UserStore) RotateSession(ctx context.Context, id int64, digest string, at time.Time) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE sessions SET previous = digest, digest = ?, rotated_at = ? WHERE id = ?", digest, store.UTC(at), id)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}

// Sessions implements user.Store.
func (s *UserStore) Sessions(ctx context.Context, userID int64, now time.Time) (list []user.Session, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT "+sessionColumns+" FROM sessions WHERE user_id = ? AND expires_at > ? ORDER BY id", userID, store.UTC(now)))
}

// RevokeSession implements user.Store.
func (s *UserStore) RevokeSession(ctx context.Context, userID, id int64, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE id = ? AND user_id = ?", id, userID)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}
