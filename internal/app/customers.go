package app

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"unicode/utf8"
)

var idForm = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{1,39}$`)

// AddCustomer makes a customer. An empty id is made from the name.
func (a *App) AddCustomer(ctx context.Context, s Scope, id, name string) (Customer, error) {
	if err := s.require(manageCustomers); err != nil {
		return Customer{}, err
	}
	if name = strings.TrimSpace(name); name == "" || utf8.RuneCountInString(name) > 120 {
		return Customer{}, &Error{Kind: Invalid, Code: "customer-name", Field: "name", What: "A customer needs a name of at most 120 characters.", Hint: "Write the name as the customer writes it."}
	}
	if err := showable("name", name); err != nil {
		return Customer{}, err
	}
	if id == "" {
		id = slug(name)
	}
	if !idForm.MatchString(id) {
		return Customer{}, &Error{Kind: Invalid, Code: "customer-id", Field: "id", What: fmt.Sprintf("%q cannot be a customer's id.", id), Hint: "Use 2 to 40 lower-case letters, digits and hyphens."}
	}
	c := Customer{ID: id, Name: name, CreatedAt: a.now()}
	if err := a.store.AddCustomer(a.noting(ctx, s, Entry{CustomerID: id, Did: "add", Kind: "customer", Of: id, Note: name}), c); errors.Is(err, ErrExists) {
		return Customer{}, &Error{Kind: Conflict, Code: "customer-exists", Field: "id", What: fmt.Sprintf("There is a customer %q already.", id), Hint: "Choose another id."}
	} else if err != nil {
		return Customer{}, err
	}
	return c, nil
}

// Customers lists the customers in reach.
func (a *App) Customers(ctx context.Context, s Scope, p Page) ([]Customer, error) {
	if err := s.require(seePockets); err != nil {
		return nil, err
	}
	return a.store.Customers(ctx, s.only(), p)
}

// slug makes a readable id: "Kelp & Kiln" becomes kelp-kiln.
func slug(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
	}
	s := strings.Trim(b.String(), "-")
	return strings.Trim(s[:min(len(s), 40)], "-")
}
