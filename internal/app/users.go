package app

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"time"
	"unicode/utf8"

	"glasspocket/internal/fault"
)

// Limits of a password, in characters. The upper one limits what is hashed.
const (
	PasswordLeast = 12
	PasswordMost  = 200
)

// userNameMost is the longest name of a user, in characters; see userForm.
const userNameMost = 80

var userForm = regexp.MustCompile(`^[a-z0-9][a-z0-9._@+-]{1,79}$`)

// NewUser has the properties of a user. Without a password, a random one is set.
type NewUser struct {
	Name, Password string
	Role           Role
	CustomerID     string // for the customer roles
}

func noUser(name string) *Error {
	return notFound("user", name, "List the users to see their names.")
}

func noCustomer(id string) *Error {
	if id == "" {
		return &Error{Kind: Invalid, Code: "customer-needed", Field: "customer", What: "No customer is named.", Hint: "Name a customer. “List customers” shows their IDs."}
	}
	return notFound("customer", id, "List the customers to see their IDs.")
}

func unknownRole(r Role) *Error {
	names := make([]string, len(Roles))
	for i, each := range Roles {
		names[i] = string(each)
	}
	return &Error{Kind: Invalid, Code: "role-unknown", Field: "role", What: fmt.Sprintf("There is no role %q.", r), Hint: fault.DidYouMean(string(r), names)}
}

func lastAdmin() *Error {
	return &Error{Kind: Conflict, Code: "last-admin", What: "Nobody would be left who can administer the service.", Hint: "Make another operator-admin first."}
}

// checkPassword checks a password's length; a phrase of a few words is the easiest way to reach it
// (NIST SP 800-63B: length counts, composition rules do not).
func checkPassword(password, name string) error {
	n := utf8.RuneCountInString(password)
	switch {
	case n < PasswordLeast || n > PasswordMost:
		return &Error{Kind: Invalid, Code: "password-length", Field: "password", What: fmt.Sprintf("A password must have %d to %d characters. This one has %d.", PasswordLeast, PasswordMost, n), Hint: "Use a few unrelated words."}
	case password == name:
		return &Error{Kind: Invalid, Code: "password-guessable", Field: "password", What: "The password is the same as the name.", Hint: "Use a few unrelated words."}
	}
	return nil
}

// checkRole checks that role and customer match, and that the customer exists.
func (a *App) checkRole(ctx context.Context, role Role, customerID string) error {
	switch {
	case role.rank() < 0:
		return unknownRole(role)
	case role.ofCustomer() && customerID == "":
		return &Error{Kind: Invalid, Code: "customer-needed", Field: "customer", What: fmt.Sprintf("The role %s needs a customer.", role), Hint: "Name the customer."}
	case !role.ofCustomer() && customerID != "":
		return &Error{Kind: Invalid, Code: "customer-role", Field: "customer", What: fmt.Sprintf("The role %s is for the operator, not for a customer.", role), Hint: "Leave the customer out, or choose customer-editor or customer-viewer."}
	case customerID == "":
		return nil
	}
	if there, err := a.store.HasCustomer(ctx, customerID); err != nil || there {
		return err
	}
	return noCustomer(customerID)
}

// AddUser creates a user. The result is the only place where a random password appears.
func (a *App) AddUser(ctx context.Context, s Scope, n NewUser) (u User, password string, err error) {
	if err := s.require(manageUsers); err != nil {
		return u, "", err
	}
	if err := a.checkRole(ctx, n.Role, n.CustomerID); err != nil {
		return u, "", err
	}
	if password = n.Password; password == "" {
		password = Secret()[:20]
	}
	if u, err = newUser(n.Name, password, n.Role, n.CustomerID, a.now()); err != nil {
		return u, "", err
	}
	if u.ID, err = a.store.AddUser(ctx, u, newRecord(s, a.now(), Entry{CustomerID: u.CustomerID, Did: "add", Kind: "user", Of: u.Name, Note: string(u.Role)})); errors.Is(err, ErrExists) {
		return u, "", userExists(n.Name)
	}
	return u, password, err
}

// newUser checks the name and the password.
func newUser(name, password string, role Role, customer string, now time.Time) (u User, err error) {
	if !userForm.MatchString(name) {
		return u, &Error{Kind: Invalid, Code: "user-name", Field: "name", What: fmt.Sprintf("%q is not a valid user name.", name), Hint: "Use 2 to 80 lower-case letters, digits and . _ @ + -, for example an email address."}
	}
	if err := checkPassword(password, name); err != nil {
		return u, err
	}
	hash, err := hashPassword(password)
	return User{Name: name, Role: role, CustomerID: customer, PasswordHash: hash, CreatedAt: now}, err
}

func userExists(name string) *Error {
	return &Error{Kind: Conflict, Code: "user-exists", Field: "name", What: fmt.Sprintf("There already is a user %q.", name), Hint: "Choose another name."}
}

// Users lists all users.
func (a *App) Users(ctx context.Context, s Scope, p Page) ([]User, error) {
	if err := s.require(manageUsers); err != nil {
		return nil, err
	}
	return a.store.Users(ctx, p)
}

// ChangeUser changes a user's role. Their sessions end, so that none keeps the old role. Tokens are
// limited by the new role from now on.
func (a *App) ChangeUser(ctx context.Context, s Scope, name string, role Role, customerID string) (User, error) {
	u, err := a.user(ctx, s, name)
	if err != nil {
		return u, err
	}
	if err := a.checkRole(ctx, role, customerID); err != nil {
		return u, err
	}
	u.Role, u.CustomerID = role, customerID
	return u, a.saveUser(ctx, u, 0, false, newRecord(s, a.now(), Entry{CustomerID: customerID, Did: "change", Kind: "user", Of: name, Note: "now " + string(role)}))
}

func (a *App) user(ctx context.Context, s Scope, name string) (User, error) {
	if err := s.require(manageUsers); err != nil {
		return User{}, err
	}
	u, err := a.store.UserByName(ctx, name)
	if errors.Is(err, ErrNotFound) {
		return u, noUser(name)
	}
	return u, err
}

func (a *App) saveUser(ctx context.Context, u User, keep int64, deleteTokens bool, rec *Record) error {
	err := a.store.SaveUser(ctx, u, keep, deleteTokens, rec)
	if errors.Is(err, ErrChanged) {
		return lastAdmin()
	}
	return err
}

// ResetPassword sets a new random password and ends the user's sessions and tokens. It is for lost
// or exposed passwords.
func (a *App) ResetPassword(ctx context.Context, s Scope, name string) (password string, err error) {
	u, err := a.user(ctx, s, name)
	if err != nil {
		return "", err
	}
	password = Secret()[:20]
	if u.PasswordHash, err = hashPassword(password); err != nil {
		return "", err
	}
	return password, a.saveUser(ctx, u, 0, true, newRecord(s, a.now(), Entry{CustomerID: u.CustomerID, Did: "password", Kind: "user", Of: name}))
}

// ChangePassword changes the user's own password, and ends all their other sessions.
func (a *App) ChangePassword(ctx context.Context, s Scope, old, password string) error {
	if err := s.require(manageOneself); err != nil {
		return err
	}
	now, whose := a.now(), limit{"own password of " + s.Name, nameAttempts}
	refusal := &Error{Kind: TooMany, Code: "too-many-sign-ins", What: "There were too many wrong passwords for this name.", Hint: "Wait five minutes."}
	var u User
	if err := a.attempts.try(now, refusal, func() (failed bool, err error) {
		if u, err = a.store.UserByName(ctx, s.Name); err != nil {
			return false, err
		}
		fits, err := passwordFits(old, u.PasswordHash)
		if err == nil && !fits {
			return true, &Error{Kind: Invalid, Code: "password-wrong", Field: "old", What: "The current password is wrong.", Hint: "Check it, including capital letters."}
		}
		return false, err
	}, whose); err != nil {
		return err
	}
	if err := checkPassword(password, s.Name); err != nil {
		return err
	}
	var err error
	if u.PasswordHash, err = hashPassword(password); err != nil {
		return err
	}
	return a.saveUser(ctx, u, s.SessionID, false, newRecord(s, a.now(), Entry{CustomerID: u.CustomerID, Did: "password", Kind: "user", Of: u.Name}))
}

// DeleteUser deletes a user with their sessions and tokens.
func (a *App) DeleteUser(ctx context.Context, s Scope, name string) error {
	u, err := a.user(ctx, s, name)
	if err != nil {
		return err
	}
	if err := a.store.DeleteUser(ctx, u.ID, newRecord(s, a.now(), Entry{CustomerID: u.CustomerID, Did: "delete", Kind: "user", Of: name})); errors.Is(err, ErrChanged) {
		return lastAdmin()
	} else {
		return err
	}
}
