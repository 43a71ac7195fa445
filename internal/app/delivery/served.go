package delivery

import (
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

// VisitorsKeep is how long a visitor's browser may use its copy, in seconds. After that everybody
// has the newest publication. /s/KEY.js is sent with it.
const VisitorsKeep = 60 // seconds

// Served is what visitors receive at one address of a key. It is immutable.
type Served struct {
	Document    *render.Encoded // nil: nothing published, or withheld
	Publication int             // counts up; 0 for none
	Withheld    bool
	Ancestors   string // sources of frame-ancestors for the pocket's page; "" allows every page
	// Inputs are the objects on which this depends: what is here is current until one moves.
	Inputs []signal.Object
}
