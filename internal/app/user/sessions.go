package user

import (
	"context"
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/problem"
)

// Lifetimes.
const (
	SessionLasts  = 12 * time.Hour
	SessionTurns  = time.Hour   // after that its secret changes
	RotationGrace = time.Minute // for concurrent requests with the previous secret
	TokenLongest  = 366 * 24 * time.Hour
)

// StartSession creates a session and returns its secret.
func (a *Users) StartSession(ctx context.Context, u User, client string) (scope access.Scope, secret string, err error) {
	now := a.now()
	secret = access.Secret()
	if r := []rune(client); len(r) > 200 {
		client = string(r[:200])
	}
	n := Session{UserID: u.ID, CreatedAt: now, RotatedAt: now, ExpiresAt: now.Add(SessionLasts), Client: client}
	if n.ID, err = a.store.AddSession(ctx, n, access.Digest(secret)); err != nil {
		return access.Scope{}, "", err
	}
	return scopeOf(u, n, "console"), secret, nil
}

func scopeOf(u User, n Session, client string) access.Scope {
	return access.Scope{Role: u.Role, CustomerID: u.CustomerID, UserID: u.ID, SessionID: n.ID, Name: u.Name, Client: client}
}

// Session returns the scope for a session's secret. turned, unless "", is the secret that replaces
// it; only rotate requests one.
func (a *Users) Session(ctx context.Context, secret string, rotate bool) (scope access.Scope, turned string, err error) {
	now := a.now()
	u, n, err := a.store.SessionUser(ctx, access.Digest(secret), now)
	if errors.Is(err, problem.ErrNotFound) {
		return access.Scope{}, "", &problem.Error{Kind: problem.Unauthenticated, Code: "session-ended", What: "Your session has expired.", Hint: "Sign in again."}
	}
	if err == nil && rotate && now.Sub(n.RotatedAt) >= SessionTurns {
		next := access.Secret()
		// If the store cannot write, the session stays unchanged.
		if a.store.RotateSession(ctx, n.ID, access.Digest(next), now) == nil {
			turned = next
		}
	}
	return scopeOf(u, n, "console"), turned, err
}

// Sessions lists the user's sessions.
func (a *Users) Sessions(ctx context.Context, s access.Scope) ([]Session, error) {
	if err := s.Require(access.ManageOneself); err != nil {
		return nil, err
	}
	return a.store.Sessions(ctx, s.UserID, a.now())
}

// RevokeSession revokes one of the user's sessions at once.
func (a *Users) RevokeSession(ctx context.Context, s access.Scope, id int64) error {
	if err := s.Require(access.ManageOneself); err != nil {
		return err
	}
	if err := a.store.RevokeSession(ctx, s.UserID, id, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: s.CustomerID, Did: "revoke", Kind: "session", Of: fmt.Sprint(id)})); errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("session", fmt.Sprint(id), "List the sessions to see their numbers.")
	} else {
		return err
	}
}

// Session is a sign-in through the console.
type Session struct {
	ID        int64     `db:"id"`
	UserID    int64     `db:"user_id"`
	CreatedAt time.Time `db:"created_at"`
	RotatedAt time.Time `db:"rotated_at"` // last change of its secret
	ExpiresAt time.Time `db:"expires_at"`
	Client    string    `db:"client"` // the browser's name for itself
}
