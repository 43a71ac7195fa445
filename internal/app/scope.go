package app

import (
	"slices"
	"time"
)

// Role is what somebody may do.
type Role string

// The roles.
const (
	OperatorAdmin  Role = "operator-admin"  // everything
	Developer      Role = "developer"       // widgets, and every customer's pockets
	CustomerEditor Role = "customer-editor" // the pockets of one customer
	CustomerViewer Role = "customer-viewer" // look at the pockets of one customer
	// Guest is somebody without an account, where the operator's gallery is open: they may look
	// at the widgets, and set the one pocket that they have begun.
	Guest Role = "guest"
)

// Roles lists the roles, the most powerful first.
var Roles = []Role{OperatorAdmin, Developer, CustomerEditor, CustomerViewer}

// rank counts down from the most powerful, 0, and is -1 for what is no role.
func (r Role) rank() int { return slices.Index(Roles, r) }

// ofCustomer tells whether the role is bound to one customer.
func (r Role) ofCustomer() bool { return r == CustomerEditor || r == CustomerViewer }

// Scope is who asks, and how far they reach. Every use case takes one; somebody else's
// object is as good as not there.
type Scope struct {
	Role       Role
	CustomerID string // for the customer roles
	UserID     int64
	SessionID  int64     // 0 for a token
	TokenID    int64     // 0 for a session
	Until      time.Time // when the token expires
	Narrowed   bool      // a token that reaches less far than its maker
	Key        string    // of a guest: the one pocket
	Name       string    // who, for the record
	Client     string    // "console", "token"
}

type action int

const (
	seePockets action = iota
	seeLists          // of what there is
	editPockets
	publishPockets
	uploadAssets
	seeWidgets
	releaseWidgets
	withdrawReleases
	manageCustomers
	withhold
	manageUsers
	managePeople  // of one customer
	manageOneself // one's own sessions, tokens and password
)

var may = map[Role]map[action]bool{
	OperatorAdmin: {seePockets: true, seeLists: true, publishPockets: true, uploadAssets: true, editPockets: true, seeWidgets: true, releaseWidgets: true, withdrawReleases: true,
		manageCustomers: true, withhold: true, manageUsers: true, managePeople: true, manageOneself: true},
	Developer:      {seePockets: true, seeLists: true, publishPockets: true, uploadAssets: true, editPockets: true, seeWidgets: true, releaseWidgets: true, withdrawReleases: true, manageOneself: true},
	CustomerEditor: {seePockets: true, seeLists: true, publishPockets: true, uploadAssets: true, editPockets: true, seeWidgets: true, managePeople: true, manageOneself: true},
	CustomerViewer: {seePockets: true, seeLists: true, seeWidgets: true, manageOneself: true},
	Guest:          {seePockets: true, editPockets: true, seeWidgets: true},
}

// Operator tells whether the scope reaches every customer.
func (s Scope) Operator() bool { return s.Role == OperatorAdmin || s.Role == Developer }

// narrowed is the scope of a token: never more than its maker's, whatever the maker has
// become since.
func (s Scope) narrowed(role Role, customerID string) Scope {
	if role.rank() > s.Role.rank() {
		s.Role, s.Narrowed = role, true
	}
	if s.CustomerID == "" {
		s.CustomerID, s.Narrowed = customerID, s.Narrowed || customerID != ""
	} else if customerID != "" && customerID != s.CustomerID {
		s.Role = "" // made when the maker belonged to somebody else
	}
	return s
}

// only is the customer that a list is narrowed to, "" for all.
func (s Scope) only() string {
	if s.Operator() {
		return ""
	}
	return s.CustomerID
}

func (s Scope) sees(customerID string) bool { return s.Operator() || s.CustomerID == customerID }

// AccountNeeded is what somebody without an account is told where one is needed.
func AccountNeeded() *Error {
	return &Error{Kind: Unauthenticated, Code: "account-needed", What: "This needs an account.", Hint: "Sign up or sign in. Your settings stay as they are."}
}

func (s Scope) require(a action) error {
	if s.Role == "" {
		return &Error{Kind: Unauthenticated, Code: "not-signed-in", What: "You are not signed in.", Hint: "Sign in, or send a token."}
	}
	if s.Role == Guest && !may[Guest][a] {
		return AccountNeeded()
	}
	if !may[s.Role][a] {
		return &Error{Kind: Forbidden, Code: "role-may-not", What: "The role " + string(s.Role) + " does not allow this.", Hint: "Ask the operator."}
	}
	if a == manageOneself && s.Narrowed {
		return &Error{Kind: Forbidden, Code: "token-narrow", What: "A token with fewer rights than its user cannot manage that user's sign-in.", Hint: "Sign in, or use a token with your full rights."}
	}
	return nil
}
