package wire

import (
	"glasspocket/internal/app/install"
	"glasspocket/internal/diagnose"
	"glasspocket/internal/host"
	"glasspocket/internal/onpage"
)

// TryOn shows how a pocket would look on a page: the page's address, or its HTML. Spot is an index
// into the spots of an earlier response; without it, the likely one is used.
type TryOn struct {
	Install install.Install `json:"install"`
	Address string          `json:"address,omitempty"`
	HTML    string          `json:"html,omitempty"`
	Spot    *int            `json:"spot,omitempty"`
}

// TriedOn is the result. Live and Still are addresses of pages for frames, kept for half an hour:
// with all scripts, and without any.
type TriedOn struct {
	Install  install.Install    `json:"install"`
	Guide    host.Guide         `json:"guide"`
	Outcome  host.Outcome       `json:"outcome"`
	Title    string             `json:"title"`
	Address  string             `json:"address,omitempty"`
	Spots    []onpage.Spot      `json:"spots"`
	Spot     int                `json:"spot"`
	Findings []diagnose.Finding `json:"findings"`
	Policy   string             `json:"policy,omitempty"` // the page's
	Add      string             `json:"add,omitempty"`    // what to add to the policy so that it allows the widget
	Live     string             `json:"live"`
	Still    string             `json:"still"`
}
