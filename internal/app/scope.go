package app

// Role is what somebody may do.
type Role string

// The roles.
const (
	OperatorAdmin  Role = "operator-admin"  // everything
	Developer      Role = "developer"       // widgets, and every customer's pockets
	CustomerEditor Role = "customer-editor" // the pockets of one customer
	CustomerViewer Role = "customer-viewer" // look at the pockets of one customer
)

// Roles lists the roles, the most powerful first.
var Roles = []Role{OperatorAdmin, Developer, CustomerEditor, CustomerViewer}

// Scope is who asks, and how far they reach. Every use case takes one; somebody else's
// object is as good as not there.
type Scope struct {
	Role       Role
	CustomerID string // for the customer roles
	UserID     int64
	Name       string // who, for the record
	Client     string // "console", "token"
}

type action int

const (
	seePockets action = iota
	editPockets
	seeWidgets
	releaseWidgets
	manageCustomers
	manageTokens
)

var may = map[Role]map[action]bool{
	OperatorAdmin:  {seePockets: true, editPockets: true, seeWidgets: true, releaseWidgets: true, manageCustomers: true, manageTokens: true},
	Developer:      {seePockets: true, editPockets: true, seeWidgets: true, releaseWidgets: true, manageTokens: true},
	CustomerEditor: {seePockets: true, editPockets: true, seeWidgets: true, manageTokens: true},
	CustomerViewer: {seePockets: true, seeWidgets: true},
}

// Operator tells whether the scope reaches every customer.
func (s Scope) Operator() bool { return s.Role == OperatorAdmin || s.Role == Developer }

// only is the customer that a list is narrowed to, "" for all.
func (s Scope) only() string {
	if s.Operator() {
		return ""
	}
	return s.CustomerID
}

func (s Scope) sees(customerID string) bool { return s.Operator() || s.CustomerID == customerID }

func (s Scope) require(a action) error {
	if s.Role == "" {
		return &Error{Kind: Unauthenticated, Code: "not-signed-in", What: "Nobody is signed in.", Hint: "Sign in, or send a token."}
	}
	if !may[s.Role][a] {
		return &Error{Kind: Forbidden, Code: "role-may-not", What: "The role " + string(s.Role) + " may not do this.", Hint: "Ask somebody of the operator."}
	}
	return nil
}
