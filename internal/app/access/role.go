package access

import (
	"fmt"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
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

// Rank counts down from the most powerful, 0; it is -1 for an unknown role.
func (r Role) Rank() int { return slices.Index(Roles, r) }

// OfCustomer reports whether the role is limited to one customer.
func (r Role) OfCustomer() bool { return r == CustomerEditor || r == CustomerViewer }

func UnknownRole(r Role) *problem.Error {
	names := make([]string, len(Roles))
	for i, each := range Roles {
		names[i] = string(each)
	}
	return &problem.Error{Kind: problem.Invalid, Code: "role-unknown", Field: "role", What: fmt.Sprintf("There is no role %q.", r), Hint: fault.DidYouMean(string(r), names)}
}
