package customer

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
)

// Invitation lets somebody join a customer, once.
type Invitation struct {
	ID         int64       `db:"id"`
	Digest     string      `db:"digest"`
	CustomerID string      `db:"customer_id"`
	Role       access.Role `db:"role"`
	Name       string      `db:"name"` // the invited person, for people to read
	CreatedAt  time.Time   `db:"created_at"`
	CreatedBy  string      `db:"created_by"`
	ExpiresAt  time.Time   `db:"expires_at"`
	UsedAt     *time.Time  `db:"used_at"`
	UsedBy     string      `db:"used_by"`
}

// InvitationLasts is the lifetime of an invitation.
const InvitationLasts = 14 * 24 * time.Hour

// Invite creates an invitation to a customer. The secret goes into a link, and appears only here.
func (a *Customers) Invite(ctx context.Context, s access.Scope, customer string, role access.Role, name string) (n Invitation, secret string, err error) {
	if err := a.Reach(ctx, s, access.ManagePeople, customer); err != nil {
		return n, "", err
	}
	if !role.OfCustomer() {
		return n, "", &problem.Error{Kind: problem.Invalid, Code: "role-unknown", Field: "role", What: fmt.Sprintf("An invitation cannot have the role %q.", role), Hint: "Choose customer-editor or customer-viewer."}
	}
	if name = strings.TrimSpace(name); utf8.RuneCountInString(name) > 80 {
		return n, "", &problem.Error{Kind: problem.Invalid, Code: "name-too-long", Field: "name", What: "A name can have at most 80 characters.", Hint: "Shorten it."}
	}
	if err := problem.Showable("name", name); err != nil {
		return n, "", err
	}
	now := a.now()
	secret = access.Secret()
	n = Invitation{CustomerID: customer, Role: role, Name: name, CreatedAt: now, CreatedBy: s.Name, ExpiresAt: now.Add(InvitationLasts)}
	n.ID, err = a.store.AddInvitation(ctx, n, access.Digest(secret), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customer, Did: "invite", Kind: "customer", Of: customer, Note: strings.TrimSpace(name + " as " + string(role))}))
	return n, secret, err
}

// Invitations lists a customer's invitations, the newest first.
func (a *Customers) Invitations(ctx context.Context, s access.Scope, customer string) ([]Invitation, error) {
	if err := a.Reach(ctx, s, access.ManagePeople, customer); err != nil {
		return nil, err
	}
	return a.store.Invitations(ctx, customer)
}

// RevokeInvitation revokes an invitation.
func (a *Customers) RevokeInvitation(ctx context.Context, s access.Scope, customer string, id int64) error {
	if err := a.Reach(ctx, s, access.ManagePeople, customer); err != nil {
		return err
	}
	err := a.store.RevokeInvitation(ctx, customer, id, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customer, Did: "revoke", Kind: "invitation", Of: fmt.Sprint(id)}))
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("invitation", fmt.Sprint(id), "List the invitations to see their numbers. This one may have been used.")
	}
	return err
}

// Invited returns what an invitation is for, by its secret.
func (a *Customers) Invited(ctx context.Context, secret, address string) (n Invitation, c Customer, err error) {
	now, from := a.now(), access.Limit{Whose: "from " + access.From(address), Most: access.AddressAttempts}
	err = a.attempts.Try(now, access.TooManyLinks(), func() (madeUp bool, err error) {
		n, err = a.store.Invitation(ctx, access.Digest(secret))
		return errors.Is(err, problem.ErrNotFound), err
	}, from)
	switch {
	case errors.Is(err, problem.ErrNotFound):
		return n, c, problem.Missing("invitation", "of this link", "Ask the sender for a new one. It may have been revoked.")
	case err != nil:
		return n, c, err
	}
	switch {
	case n.UsedAt != nil:
		return n, c, invitationUsed(n)
	case !a.now().Before(n.ExpiresAt):
		return n, c, &problem.Error{Kind: problem.Conflict, Code: "invitation-expired", What: fmt.Sprintf("This invitation expired on %s.", n.ExpiresAt.Format("2 January 2006")), Hint: "Ask the sender for a new one."}
	}
	c, err = a.store.Customer(ctx, n.CustomerID)
	return n, c, err
}

func invitationUsed(n Invitation) *problem.Error {
	by := ""
	if n.UsedBy != "" {
		by = " by " + n.UsedBy
	}
	return &problem.Error{Kind: problem.Conflict, Code: "invitation-used", What: fmt.Sprintf("This invitation has already been used%s.", by), Hint: "If that was you, sign in. If not, ask for a new one."}
}

// Join accepts an invitation: it creates a user and signs them in.
func (a *Customers) Join(ctx context.Context, secret, name, password, address, client string) (scope access.Scope, session string, err error) {
	n, _, err := a.Invited(ctx, secret, address)
	if err != nil {
		return scope, "", err
	}
	u, err := a.users.Prepare(name, password, n.Role, n.CustomerID)
	if err != nil {
		return scope, "", err
	}
	as := access.Scope{Role: n.Role, CustomerID: n.CustomerID, Name: name, Client: "console"}
	rec := audit.NewRecord(as, a.now(), audit.Entry{CustomerID: n.CustomerID, Did: "join", Kind: "customer", Of: n.CustomerID, Note: string(n.Role)})
	u.ID, err = a.store.UseInvitation(ctx, n.ID, u, a.now(), rec)
	switch {
	case errors.Is(err, problem.ErrChanged):
		if used, err := a.store.Invitation(ctx, access.Digest(secret)); err == nil {
			n = used
		}
		return scope, "", invitationUsed(n)
	case errors.Is(err, problem.ErrExists):
		return scope, "", user.Exists(name)
	case err != nil:
		return scope, "", err
	}
	return a.users.StartSession(ctx, u, client)
}
