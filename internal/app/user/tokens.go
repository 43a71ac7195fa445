package user

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/problem"
)

// ByToken returns the scope of a token.
func (a *Users) ByToken(ctx context.Context, secret string) (access.Scope, error) {
	u, t, err := a.store.TokenUser(ctx, access.Digest(secret))
	switch {
	case errors.Is(err, problem.ErrNotFound):
		return access.Scope{}, &problem.Error{Kind: problem.Unauthenticated, Code: "token-unknown", What: "This service does not know this token.", Hint: "Check that you copied all of it and that it belongs to this server. Or sign in again with “glasspocket signin NAME”."}
	case err != nil:
		return access.Scope{}, err
	case !a.now().Before(t.ExpiresAt):
		return access.Scope{}, &problem.Error{Kind: problem.Unauthenticated, Code: "token-expired", What: fmt.Sprintf("This token expired on %s.", t.ExpiresAt.Format("2 January 2006 at 15:04 UTC")), Hint: "Sign in again with “glasspocket signin NAME”."}
	}
	scope := scopeOf(u, Session{}, "token")
	scope.TokenID, scope.Until = t.ID, t.ExpiresAt
	return scope.Narrow(t.Role, t.CustomerID), nil
}

// NewToken has the properties of a token. Role and CustomerID limit it; "" means as much as its
// maker.
type NewToken struct {
	Name       string
	Lasts      time.Duration
	Role       access.Role
	CustomerID string
}

// MakeToken creates a token that acts for the user, with the same or fewer rights, for a limited
// time. A token that was created with another one depends on it: it expires no later, and is
// deleted with it.
func (a *Users) MakeToken(ctx context.Context, s access.Scope, n NewToken) (Token, string, error) {
	if err := s.Require(access.ManageOneself); err != nil {
		return Token{}, "", err
	}
	name, lasts := strings.TrimSpace(n.Name), n.Lasts
	if name == "" || utf8.RuneCountInString(name) > 80 {
		return Token{}, "", &problem.Error{Kind: problem.Invalid, Code: "token-name", Field: "name", What: "A token needs a name of at most 80 characters.", Hint: "Name it after the program that will use it."}
	}
	if err := problem.Showable("name", name); err != nil {
		return Token{}, "", err
	}
	if lasts <= 0 || lasts > TokenLongest {
		return Token{}, "", &problem.Error{Kind: problem.Invalid, Code: "token-lasts", Field: "days", What: "A token can last from 1 to 366 days.", Hint: "Choose a number in this range."}
	}
	if err := a.checkNarrower(ctx, s, n); err != nil {
		return Token{}, "", err
	}
	if n.Role == "" { // so that the token gains nothing when its maker gets a more powerful role
		n.Role = s.Role
	}
	if n.CustomerID == "" {
		n.CustomerID = s.CustomerID
	}
	now := a.now()
	t := Token{Name: name, UserID: s.UserID, CustomerID: n.CustomerID, Role: n.Role, CreatedAt: now, ExpiresAt: now.Add(lasts)}
	if s.TokenID != 0 {
		t.Parent = &s.TokenID
		if s.Until.Before(t.ExpiresAt) {
			t.ExpiresAt = s.Until
		}
	}
	secret := "pocket-" + access.Secret()
	var err error
	t.ID, err = a.store.AddToken(ctx, t, access.Digest(secret), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: s.CustomerID, Did: "add", Kind: "token", Of: name, Note: string(n.Role)}))
	return t, secret, err
}

// Tokens lists the user's tokens.
func (a *Users) Tokens(ctx context.Context, s access.Scope) ([]Token, error) {
	if err := s.Require(access.ManageOneself); err != nil {
		return nil, err
	}
	return a.store.Tokens(ctx, s.UserID)
}

// RevokeToken revokes one of the user's tokens at once.
func (a *Users) RevokeToken(ctx context.Context, s access.Scope, id int64) error {
	if err := s.Require(access.ManageOneself); err != nil {
		return err
	}
	if err := a.store.RevokeToken(ctx, s.UserID, id, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: s.CustomerID, Did: "revoke", Kind: "token", Of: fmt.Sprint(id)})); errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("token", fmt.Sprint(id), "List the tokens to see their numbers.")
	} else {
		return err
	}
}

// checkNarrower refuses a token with more rights than its maker.
func (a *Users) checkNarrower(ctx context.Context, s access.Scope, n NewToken) error {
	if n.Role != "" && n.Role.Rank() < 0 {
		return access.UnknownRole(n.Role)
	}
	if n.Role != "" && n.Role.Rank() < s.Role.Rank() {
		return &problem.Error{Kind: problem.Forbidden, Code: "token-too-wide", Field: "role", What: fmt.Sprintf("A token of %s cannot have the role %s.", s.Role, n.Role), Hint: "Leave the role out, or choose a lower one."}
	}
	if n.CustomerID == "" {
		if n.Role != "" && n.Role.OfCustomer() && s.CustomerID == "" {
			return &problem.Error{Kind: problem.Invalid, Code: "customer-needed", Field: "customer", What: fmt.Sprintf("The role %s needs a customer.", n.Role), Hint: "Name the customer."}
		}
		return nil
	}
	if role := n.Role; role == "" && !s.Role.OfCustomer() || role != "" && !role.OfCustomer() {
		return &problem.Error{Kind: problem.Invalid, Code: "customer-role", Field: "role", What: "A token for one customer must have the role customer-editor or customer-viewer.", Hint: "Choose one of the two."}
	}
	if !s.Sees(n.CustomerID) {
		return access.NoCustomer(n.CustomerID)
	}
	if there, err := a.store.HasCustomer(ctx, n.CustomerID); err != nil || there {
		return err
	}
	return access.NoCustomer(n.CustomerID)
}

// Token lets a program act for its maker, until it expires.
type Token struct {
	ID         int64       `db:"id"`
	Name       string      `db:"name"`
	UserID     int64       `db:"user_id"`
	CustomerID string      `db:"customer_id"` // limits it further than the user
	Role       access.Role `db:"role"`        // limits it further than the user, or ""
	CreatedAt  time.Time   `db:"created_at"`
	ExpiresAt  time.Time   `db:"expires_at"`
	Parent     *int64      `db:"parent"` // the token that it was created with; nil for a session
}
