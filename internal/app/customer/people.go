package customer

import (
	"context"
	"errors"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
)

// People lists the users of a customer.
func (a *Customers) People(ctx context.Context, s access.Scope, customer string) ([]user.User, error) {
	if err := a.Reach(ctx, s, access.SeeLists, customer); err != nil {
		return nil, err
	}
	return a.store.UsersOf(ctx, customer)
}

// RevokeAccess revokes somebody's access to a customer at once.
func (a *Customers) RevokeAccess(ctx context.Context, s access.Scope, customer, name string) error {
	if err := a.Reach(ctx, s, access.ManagePeople, customer); err != nil {
		return err
	}
	u, err := a.store.UserByName(ctx, name)
	if errors.Is(err, problem.ErrNotFound) || err == nil && u.CustomerID != customer {
		return user.Missing(name)
	}
	if err != nil {
		return err
	}
	if u.ID == s.UserID {
		return &problem.Error{Kind: problem.Conflict, Code: "oneself", What: "You cannot revoke your own access.", Hint: "Ask another editor to do it."}
	}
	return a.store.DeleteUser(ctx, u.ID, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customer, Did: "delete", Kind: "user", Of: name}))
}
