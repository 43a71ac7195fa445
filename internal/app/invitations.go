package app

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"
)

// Invitation lets somebody join a customer, once.
type Invitation struct {
	ID         int64      `db:"id"`
	Digest     string     `db:"digest"`
	CustomerID string     `db:"customer_id"`
	Role       Role       `db:"role"`
	Name       string     `db:"name"` // the invited person, for people to read
	CreatedAt  time.Time  `db:"created_at"`
	CreatedBy  string     `db:"created_by"`
	ExpiresAt  time.Time  `db:"expires_at"`
	UsedAt     *time.Time `db:"used_at"`
	UsedBy     string     `db:"used_by"`
}

// InvitationLasts is the lifetime of an invitation.
const InvitationLasts = 14 * 24 * time.Hour

// Invite creates an invitation to a customer. The secret goes into a link, and appears only here.
func (a *App) Invite(ctx context.Context, s Scope, customer string, role Role, name string) (n Invitation, secret string, err error) {
	if err := a.reach(ctx, s, managePeople, customer); err != nil {
		return n, "", err
	}
	if !role.ofCustomer() {
		return n, "", &Error{Kind: Invalid, Code: "role-unknown", Field: "role", What: fmt.Sprintf("An invitation cannot have the role %q.", role), Hint: "Choose customer-editor or customer-viewer."}
	}
	if name = strings.TrimSpace(name); utf8.RuneCountInString(name) > 80 {
		return n, "", &Error{Kind: Invalid, Code: "name-too-long", Field: "name", What: "A name can have at most 80 characters.", Hint: "Shorten it."}
	}
	if err := showable("name", name); err != nil {
		return n, "", err
	}
	now := a.now()
	secret = Secret()
	n = Invitation{CustomerID: customer, Role: role, Name: name, CreatedAt: now, CreatedBy: s.Name, ExpiresAt: now.Add(InvitationLasts)}
	n.ID, err = a.store.AddInvitation(ctx, n, secretDigest(secret), newRecord(s, a.now(), Entry{CustomerID: customer, Did: "invite", Kind: "customer", Of: customer, Note: strings.TrimSpace(name + " as " + string(role))}))
	return n, secret, err
}

// Invitations lists a customer's invitations, the newest first.
func (a *App) Invitations(ctx context.Context, s Scope, customer string) ([]Invitation, error) {
	if err := a.reach(ctx, s, managePeople, customer); err != nil {
		return nil, err
	}
	return a.store.Invitations(ctx, customer)
}

// RevokeInvitation revokes an invitation.
func (a *App) RevokeInvitation(ctx context.Context, s Scope, customer string, id int64) error {
	if err := a.reach(ctx, s, managePeople, customer); err != nil {
		return err
	}
	err := a.store.RevokeInvitation(ctx, customer, id, newRecord(s, a.now(), Entry{CustomerID: customer, Did: "revoke", Kind: "invitation", Of: fmt.Sprint(id)}))
	if errors.Is(err, ErrNotFound) {
		return notFound("invitation", fmt.Sprint(id), "List the invitations to see their numbers. This one may have been used.")
	}
	return err
}

// Invited returns what an invitation is for, by its secret.
func (a *App) Invited(ctx context.Context, secret, address string) (n Invitation, c Customer, err error) {
	now, from := a.now(), limit{"from " + networkOf(address), addressAttempts}
	err = a.attempts.try(now, tooManyLinks(), func() (madeUp bool, err error) {
		n, err = a.store.Invitation(ctx, secretDigest(secret))
		return errors.Is(err, ErrNotFound), err
	}, from)
	switch {
	case errors.Is(err, ErrNotFound):
		return n, c, notFound("invitation", "of this link", "Ask the sender for a new one. It may have been revoked.")
	case err != nil:
		return n, c, err
	}
	switch {
	case n.UsedAt != nil:
		return n, c, invitationUsed(n)
	case !a.now().Before(n.ExpiresAt):
		return n, c, &Error{Kind: Conflict, Code: "invitation-expired", What: fmt.Sprintf("This invitation expired on %s.", n.ExpiresAt.Format("2 January 2006")), Hint: "Ask the sender for a new one."}
	}
	c, err = a.store.Customer(ctx, n.CustomerID)
	return n, c, err
}

func tooManyLinks() *Error {
	return &Error{Kind: TooMany, Code: "too-many-sign-ins", What: "There were too many failed attempts from this network.", Hint: "Wait five minutes."}
}

func invitationUsed(n Invitation) *Error {
	by := ""
	if n.UsedBy != "" {
		by = " by " + n.UsedBy
	}
	return &Error{Kind: Conflict, Code: "invitation-used", What: fmt.Sprintf("This invitation has already been used%s.", by), Hint: "If that was you, sign in. If not, ask for a new one."}
}

// Join accepts an invitation: it creates a user and signs them in.
func (a *App) Join(ctx context.Context, secret, name, password, address, client string) (scope Scope, session string, err error) {
	n, _, err := a.Invited(ctx, secret, address)
	if err != nil {
		return scope, "", err
	}
	u, err := newUser(name, password, n.Role, n.CustomerID, a.now())
	if err != nil {
		return scope, "", err
	}
	as := Scope{Role: n.Role, CustomerID: n.CustomerID, Name: name, Client: "console"}
	rec := newRecord(as, a.now(), Entry{CustomerID: n.CustomerID, Did: "join", Kind: "customer", Of: n.CustomerID, Note: string(n.Role)})
	u.ID, err = a.store.UseInvitation(ctx, n.ID, u, a.now(), rec)
	switch {
	case errors.Is(err, ErrChanged):
		if used, err := a.store.Invitation(ctx, secretDigest(secret)); err == nil {
			n = used
		}
		return scope, "", invitationUsed(n)
	case errors.Is(err, ErrExists):
		return scope, "", userExists(name)
	case err != nil:
		return scope, "", err
	}
	return a.startSession(ctx, u, client)
}

// People lists the users of a customer.
func (a *App) People(ctx context.Context, s Scope, customer string) ([]User, error) {
	if err := a.reach(ctx, s, seeLists, customer); err != nil {
		return nil, err
	}
	return a.store.UsersOf(ctx, customer)
}

// RevokeAccess revokes somebody's access to a customer at once.
func (a *App) RevokeAccess(ctx context.Context, s Scope, customer, name string) error {
	if err := a.reach(ctx, s, managePeople, customer); err != nil {
		return err
	}
	u, err := a.store.UserByName(ctx, name)
	if errors.Is(err, ErrNotFound) || err == nil && u.CustomerID != customer {
		return noUser(name)
	}
	if err != nil {
		return err
	}
	if u.ID == s.UserID {
		return &Error{Kind: Conflict, Code: "oneself", What: "You cannot revoke your own access.", Hint: "Ask another editor to do it."}
	}
	return a.store.DeleteUser(ctx, u.ID, newRecord(s, a.now(), Entry{CustomerID: customer, Did: "delete", Kind: "user", Of: name}))
}
