package customer

import (
	"context"
	"errors"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
)

// Reach checks that a scope may do something for a customer, and that the customer exists.
func (a *Customers) Reach(ctx context.Context, s access.Scope, do access.Action, customer string) error {
	if err := s.Require(do); err != nil {
		return err
	}
	if !s.Sees(customer) {
		return access.NoCustomer(customer)
	}
	if _, err := a.store.Customer(ctx, customer); errors.Is(err, problem.ErrNotFound) {
		return access.NoCustomer(customer)
	} else if err != nil {
		return err
	}
	return nil
}
