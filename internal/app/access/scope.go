package access

import (
	"time"

	"glasspocket/internal/problem"
	"glasspocket/internal/work"
)

// Scope is who makes a request, and what they can access. Every use case needs one. Other people's
// objects are reported as missing.
type Scope struct {
	Role       Role
	CustomerID string // for the customer roles
	UserID     int64
	SessionID  int64            // 0 for a token
	TokenID    int64            // 0 for a session
	Until      time.Time        // expiry of the token
	Narrowed   bool             // a token with fewer rights than its maker
	Key        string           // a guest's pocket
	Name       string           // name for the record
	Client     string           // "console", "token"
	Task       *work.Completion // of the task that the next write finishes, or nil
}

// Completing returns the scope for an action whose write also finishes a task, so that a task that is
// repeated after a crash does nothing twice. nil is for a change that a task needs but that does not
// finish it.
func (s Scope) Completing(c *work.Completion) Scope {
	s.Task = c
	return s
}

type Action int

const (
	SeePockets Action = iota
	SeeLists          // of everything
	EditPockets
	PublishPockets
	UploadAssets
	ConnectSources
	TrySources // see what an address offers, without connecting it
	SeeWidgets
	ReleaseWidgets
	WithdrawReleases
	ManageCustomers
	Withhold
	ManageUsers
	ManagePeople  // of one customer
	ManageTasks   // background work
	ManageOneself // the user's own sessions, tokens and password
)

var may = map[Role]map[Action]bool{
	OperatorAdmin: {SeePockets: true, SeeLists: true, PublishPockets: true, UploadAssets: true, ConnectSources: true, EditPockets: true, SeeWidgets: true, ReleaseWidgets: true, WithdrawReleases: true,
		ManageCustomers: true, Withhold: true, ManageUsers: true, ManagePeople: true, ManageTasks: true, ManageOneself: true},
	Developer:      {SeePockets: true, SeeLists: true, PublishPockets: true, UploadAssets: true, ConnectSources: true, EditPockets: true, SeeWidgets: true, ReleaseWidgets: true, WithdrawReleases: true, ManageTasks: true, ManageOneself: true},
	CustomerEditor: {SeePockets: true, SeeLists: true, PublishPockets: true, UploadAssets: true, ConnectSources: true, EditPockets: true, SeeWidgets: true, ManagePeople: true, ManageOneself: true},
	CustomerViewer: {SeePockets: true, SeeLists: true, SeeWidgets: true, ManageOneself: true},
	Guest:          {SeePockets: true, EditPockets: true, TrySources: true, SeeWidgets: true},
}

// Operator reports whether the scope includes every customer.
func (s Scope) Operator() bool { return s.Role == OperatorAdmin || s.Role == Developer }

// Narrow returns the scope of a token: never more than its maker's, whatever the maker's role is
// now.
func (s Scope) Narrow(role Role, customerID string) Scope {
	if role.Rank() > s.Role.Rank() {
		s.Role, s.Narrowed = role, true
	}
	if s.CustomerID == "" {
		s.CustomerID, s.Narrowed = customerID, s.Narrowed || customerID != ""
	} else if customerID != "" && customerID != s.CustomerID {
		s.Role = "" // created while the maker belonged to another customer
	}
	return s
}

// Only returns the customer to which a list is limited, "" for all.
func (s Scope) Only() string {
	if s.Operator() {
		return ""
	}
	return s.CustomerID
}

func (s Scope) Sees(customerID string) bool { return s.Operator() || s.CustomerID == customerID }

// AccountNeeded is the error for guests where an account is needed.
func AccountNeeded() *problem.Error {
	return &problem.Error{Kind: problem.Unauthenticated, Code: "account-needed", What: "This needs an account.", Hint: "Sign up or sign in. Your settings stay as they are."}
}

func (s Scope) Require(a Action) error {
	if s.Role == "" {
		return &problem.Error{Kind: problem.Unauthenticated, Code: "not-signed-in", What: "You are not signed in.", Hint: "Sign in, or send a token."}
	}
	if s.Role == Guest && !may[Guest][a] {
		return AccountNeeded()
	}
	if !may[s.Role][a] {
		return &problem.Error{Kind: problem.Forbidden, Code: "role-may-not", What: "The role " + string(s.Role) + " does not allow this.", Hint: "Ask the operator."}
	}
	if a == ManageOneself && s.Narrowed {
		return &problem.Error{Kind: problem.Forbidden, Code: "token-narrow", What: "A token with fewer rights than its user cannot manage that user's sign-in.", Hint: "Sign in, or use a token with your full rights."}
	}
	return nil
}

func NoCustomer(id string) *problem.Error {
	if id == "" {
		return &problem.Error{Kind: problem.Invalid, Code: "customer-needed", Field: "customer", What: "No customer is named.", Hint: "Name a customer. “List customers” shows their IDs."}
	}
	return problem.Missing("customer", id, "List the customers to see their IDs.")
}
