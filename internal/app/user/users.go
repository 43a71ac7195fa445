// Package user has users with their passwords, sessions and tokens.
package user

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
)

// Users manages users. It is safe for concurrent use.
type Users struct {
	store    Store
	attempts *access.Attempts
	hashes   *hasher
	now      func() time.Time
}

// New returns Users. cost is usually UsualCost.
func New(store Store, attempts *access.Attempts, cost Cost, now func() time.Time) *Users {
	return &Users{store, attempts, newHasher(cost), now}
}

// userNameMost is the longest name of a user, in characters; see userForm.
const userNameMost = 80

var userForm = regexp.MustCompile(`^[a-z0-9][a-z0-9._@+-]{1,79}$`)

// NewUser has the properties of a user. Without a password, a random one is set.
type NewUser struct {
	Name, Password string
	Role           access.Role
	CustomerID     string // for the customer roles
}

func Missing(name string) *problem.Error {
	return problem.Missing("user", name, "List the users to see their names.")
}

func lastAdmin() *problem.Error {
	return &problem.Error{Kind: problem.Conflict, Code: "last-admin", What: "Nobody would be left who can administer the service.", Hint: "Make another operator-admin first."}
}

// checkRole checks that role and customer match, and that the customer exists.
func (a *Users) checkRole(ctx context.Context, role access.Role, customerID string) error {
	switch {
	case role.Rank() < 0:
		return access.UnknownRole(role)
	case role.OfCustomer() && customerID == "":
		return &problem.Error{Kind: problem.Invalid, Code: "customer-needed", Field: "customer", What: fmt.Sprintf("The role %s needs a customer.", role), Hint: "Name the customer."}
	case !role.OfCustomer() && customerID != "":
		return &problem.Error{Kind: problem.Invalid, Code: "customer-role", Field: "customer", What: fmt.Sprintf("The role %s is for the operator, not for a customer.", role), Hint: "Leave the customer out, or choose customer-editor or customer-viewer."}
	case customerID == "":
		return nil
	}
	if there, err := a.store.HasCustomer(ctx, customerID); err != nil || there {
		return err
	}
	return access.NoCustomer(customerID)
}

// Add creates a user. The result is the only place where a random password appears.
func (a *Users) Add(ctx context.Context, s access.Scope, n NewUser) (u User, password string, err error) {
	if err := s.Require(access.ManageUsers); err != nil {
		return u, "", err
	}
	if err := a.checkRole(ctx, n.Role, n.CustomerID); err != nil {
		return u, "", err
	}
	if password = n.Password; password == "" {
		password = access.Secret()[:20]
	}
	if u, err = a.Prepare(n.Name, password, n.Role, n.CustomerID); err != nil {
		return u, "", err
	}
	if u.ID, err = a.store.AddUser(ctx, u, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: u.CustomerID, Did: "add", Kind: "user", Of: u.Name, Note: string(u.Role)})); errors.Is(err, problem.ErrExists) {
		return u, "", Exists(n.Name)
	}
	return u, password, err
}

// Prepare returns a new user, and saves nothing. It checks the name and the password.
func (a *Users) Prepare(name, password string, role access.Role, customer string) (u User, err error) {
	if !userForm.MatchString(name) {
		return u, &problem.Error{Kind: problem.Invalid, Code: "user-name", Field: "name", What: fmt.Sprintf("%q is not a valid user name.", name), Hint: "Use 2 to 80 lower-case letters, digits and . _ @ + -, for example an email address."}
	}
	if err := checkPassword(password, name); err != nil {
		return u, err
	}
	hash, err := a.hashes.hash(password)
	return User{Name: name, Role: role, CustomerID: customer, PasswordHash: hash, CreatedAt: a.now()}, err
}

func Exists(name string) *problem.Error {
	return &problem.Error{Kind: problem.Conflict, Code: "user-exists", Field: "name", What: fmt.Sprintf("There already is a user %q.", name), Hint: "Choose another name."}
}

// List lists all users.
func (a *Users) List(ctx context.Context, s access.Scope, p paging.Page) ([]User, error) {
	if err := s.Require(access.ManageUsers); err != nil {
		return nil, err
	}
	return a.store.Users(ctx, p)
}

// Change changes a user's role. Their sessions end, so that none keeps the old role. Tokens are
// limited by the new role from now on.
func (a *Users) Change(ctx context.Context, s access.Scope, name string, role access.Role, customerID string) (User, error) {
	u, err := a.user(ctx, s, name)
	if err != nil {
		return u, err
	}
	if err := a.checkRole(ctx, role, customerID); err != nil {
		return u, err
	}
	u.Role, u.CustomerID = role, customerID
	return u, a.saveUser(ctx, u, 0, false, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customerID, Did: "change", Kind: "user", Of: name, Note: "now " + string(role)}))
}

func (a *Users) user(ctx context.Context, s access.Scope, name string) (User, error) {
	if err := s.Require(access.ManageUsers); err != nil {
		return User{}, err
	}
	u, err := a.store.UserByName(ctx, name)
	if errors.Is(err, problem.ErrNotFound) {
		return u, Missing(name)
	}
	return u, err
}

func (a *Users) saveUser(ctx context.Context, u User, keep int64, deleteTokens bool, rec *audit.Record) error {
	err := a.store.SaveUser(ctx, u, keep, deleteTokens, rec)
	if errors.Is(err, problem.ErrChanged) {
		return lastAdmin()
	}
	return err
}

// ResetPassword sets a new random password and ends the user's sessions and tokens. It is for lost
// or exposed passwords.
func (a *Users) ResetPassword(ctx context.Context, s access.Scope, name string) (password string, err error) {
	u, err := a.user(ctx, s, name)
	if err != nil {
		return "", err
	}
	password = access.Secret()[:20]
	if u.PasswordHash, err = a.hashes.hash(password); err != nil {
		return "", err
	}
	return password, a.saveUser(ctx, u, 0, true, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: u.CustomerID, Did: "password", Kind: "user", Of: name}))
}

// ChangePassword changes the user's own password, and ends all their other sessions.
func (a *Users) ChangePassword(ctx context.Context, s access.Scope, old, password string) error {
	if err := s.Require(access.ManageOneself); err != nil {
		return err
	}
	now, whose := a.now(), access.Limit{Whose: "own password of " + s.Name, Most: access.NameAttempts}
	refusal := &problem.Error{Kind: problem.TooMany, Code: "too-many-sign-ins", What: "There were too many wrong passwords for this name.", Hint: "Wait five minutes."}
	var u User
	if err := a.attempts.Try(now, refusal, func() (failed bool, err error) {
		if u, err = a.store.UserByName(ctx, s.Name); err != nil {
			return false, err
		}
		fits, err := a.hashes.fits(old, u.PasswordHash)
		if err == nil && !fits {
			return true, &problem.Error{Kind: problem.Invalid, Code: "password-wrong", Field: "old", What: "The current password is wrong.", Hint: "Check it, including capital letters."}
		}
		return false, err
	}, whose); err != nil {
		return err
	}
	if err := checkPassword(password, s.Name); err != nil {
		return err
	}
	var err error
	if u.PasswordHash, err = a.hashes.hash(password); err != nil {
		return err
	}
	return a.saveUser(ctx, u, s.SessionID, false, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: u.CustomerID, Did: "password", Kind: "user", Of: u.Name}))
}

// Delete deletes a user with their sessions and tokens.
func (a *Users) Delete(ctx context.Context, s access.Scope, name string) error {
	u, err := a.user(ctx, s, name)
	if err != nil {
		return err
	}
	if err := a.store.DeleteUser(ctx, u.ID, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: u.CustomerID, Did: "delete", Kind: "user", Of: name})); errors.Is(err, problem.ErrChanged) {
		return lastAdmin()
	} else {
		return err
	}
}
