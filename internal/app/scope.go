package app

import (
	"slices"
	"time"
)

// Role is what a user may do.
type Role string

// The roles.
const (
	OperatorAdmin  Role = "operator-admin"  // everything
	Developer      Role = "developer"       // widgets, and every customer's pockets
	CustomerEditor Role = "customer-editor" // one customer's pockets
	CustomerViewer Role = "customer-viewer" // reads one customer's pockets
	// Guest is somebody without an account, if the gallery is open. Guests may view the widgets and
	// edit their own guest pocket.
	Guest Role = "guest"
)

// Roles lists the roles, the most powerful first.
var Roles = []Role{OperatorAdmin, Developer, CustomerEditor, CustomerViewer}

// rank counts down from the most powerful, 0; it is -1 for an unknown role.
func (r Role) rank() int { return slices.Index(Roles, r) }

// ofCustomer reports whether the role is limited to one customer.
func (r Role) ofCustomer() bool { return r == CustomerEditor || r == CustomerViewer }

// Scope is who makes a request, and what they can access. Every use case needs one. Other people's
// objects are reported as missing.
type Scope struct {
	Role       Role
	CustomerID string // for the customer roles
	UserID     int64
	SessionID  int64     // 0 for a token
	TokenID    int64     // 0 for a session
	Until      time.Time // expiry of the token
	Narrowed   bool      // a token with fewer rights than its maker
	Key        string    // a guest's pocket
	Name       string    // name for the record
	Client     string    // "console", "token"
	Item       *JobItem  // the item of a job that the next write finishes, or nil
}

// finishing returns the scope for an action whose write also finishes an item of a job, so that a
// job that continues after a restart does nothing twice. nil is for a change that an item needs
// but that does not finish it.
func (s Scope) finishing(i *JobItem) Scope {
	s.Item = i
	return s
}

type action int

const (
	seePockets action = iota
	seeLists          // of everything
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
	manageOneself // the user's own sessions, tokens and password
)

var may = map[Role]map[action]bool{
	OperatorAdmin: {seePockets: true, seeLists: true, publishPockets: true, uploadAssets: true, editPockets: true, seeWidgets: true, releaseWidgets: true, withdrawReleases: true,
		manageCustomers: true, withhold: true, manageUsers: true, managePeople: true, manageOneself: true},
	Developer:      {seePockets: true, seeLists: true, publishPockets: true, uploadAssets: true, editPockets: true, seeWidgets: true, releaseWidgets: true, withdrawReleases: true, manageOneself: true},
	CustomerEditor: {seePockets: true, seeLists: true, publishPockets: true, uploadAssets: true, editPockets: true, seeWidgets: true, managePeople: true, manageOneself: true},
	CustomerViewer: {seePockets: true, seeLists: true, seeWidgets: true, manageOneself: true},
	Guest:          {seePockets: true, editPockets: true, seeWidgets: true},
}

// Operator reports whether the scope includes every customer.
func (s Scope) Operator() bool { return s.Role == OperatorAdmin || s.Role == Developer }

// narrowed returns the scope of a token: never more than its maker's, whatever the maker's role is
// now.
func (s Scope) narrowed(role Role, customerID string) Scope {
	if role.rank() > s.Role.rank() {
		s.Role, s.Narrowed = role, true
	}
	if s.CustomerID == "" {
		s.CustomerID, s.Narrowed = customerID, s.Narrowed || customerID != ""
	} else if customerID != "" && customerID != s.CustomerID {
		s.Role = "" // created while the maker belonged to another customer
	}
	return s
}

// only returns the customer to which a list is limited, "" for all.
func (s Scope) only() string {
	if s.Operator() {
		return ""
	}
	return s.CustomerID
}

func (s Scope) sees(customerID string) bool { return s.Operator() || s.CustomerID == customerID }

// AccountNeeded is the error for guests where an account is needed.
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
